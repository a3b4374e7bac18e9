/**
 * State goes down: the statements that keep it, and all that only they are for, leave the outer component for the inner one. What
 * the inner one was given of it is its own now; what they read of the outer one is handed down.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, type Problem } from '../../../problems/problems.js';
import type { HomeRequest, Homing } from '../../../language/homing.js';
import type { Node } from '../../../script/parser.js';
import type { ScriptScopes, Variable } from '../../../script/scopes.js';
import { attributeName, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { askedOf } from '../../homes/asked.js';
import { FreeNames } from '../../homes/free-names.js';
import type { Leaving, Need } from '../../homes/leaving.js';
import { needlessResets, resettersOf } from '../../homes/lifetime.js';
import { eventForState, eventNameFor } from '../../events.js';
import { wholeLines } from '../../imports.js';
import { Substitution, type Argument } from '../../substitution.js';
import type { Crossing } from '../cut/crossing.js';
import { isHandler, isSetter } from '../cut/crossings.js';
import { shapeInterface, type Interface } from '../cut/interface.js';
import { removals } from '../cut/link.js';
import { Scene } from '../cut/scene.js';
import { fixedIn } from '../inline/passed.js';
import { givenTo, type Given } from './given.js';
import { linked } from './linked.js';
import { attributeText, changedAttributes, changedProps } from './props.js';
import { pairOf, soleReturnLeft, withBlock, type Pair } from './scene.js';

export function down(request: HomeRequest): Homing | Problem {
  const pair = pairOf(request);
  if (isProblem(pair)) return pair;
  const asked = askedOf(request, pair.outer);
  if (isProblem(asked)) return asked;
  const { leaving, passing, lost } = asked;
  return new Down(request, pair, leaving, needlessResets(pair.outer, leaving, passing)).run(lost);
}

class Down {
  readonly #scene: Scene;
  /** Names of the outer component as the inner one has them. */
  readonly #renamed = new Map<Variable, string>();
  /** Names that are declared in the inner component or mean something in its file. */
  readonly #names: FreeNames;

  constructor(
    readonly request: HomeRequest,
    readonly pair: Pair,
    readonly leaving: Leaving,
    readonly needless: Leaving['resets'],
  ) {
    const { outer, inner, use } = request;
    const target = outer.file.path === inner.file.path ? undefined : inner.file.path;
    this.#scene = new Scene(
      { ...request, file: outer.file, region: { ...use, nodes: [] }, name: inner.name, target, props: 'members' },
      pair.outer.script,
    );
    this.#names = new FreeNames(namesOf(pair));
  }

  run(lost: string | undefined): Homing | Problem {
    const { request, pair, leaving } = this;
    const { inner, habits } = pair;
    const handed = givenTo(pair, leaving);
    const dropped = new Set(handed.map((g) => g.prop));
    // What is read by another name from now on leaves its own free.
    for (const { plain, variable, value } of handed)
      if ((plain ?? value) && variable && isOnlyOne(variable, pair)) this.#names.free(variable.name);
    for (const variable of leaving.declared) this.#renamed.set(variable, this.#names.take(variable.name));
    const given = handed.map((g) =>
      g.value && !g.site ? { ...g, local: this.#names.take(g.variable?.name ?? g.prop) } : g,
    );
    const inputs = leaving.needs.map((need) => this.#known(need, dropped));
    const shape = this.#interface(leaving.needs.filter((_, i) => inputs[i] === undefined));
    const added = shape.props.map((p) => ({ name: p.name, ...(p.type === undefined ? {} : { type: p.type }) }));
    const props = changedProps(inner, dropped, added, habits);
    const links = linked({ request, pair, leaving, scene: this.#scene, taken: this.#names }, shape, props);
    if (isProblem(links)) return links;

    const names = new Map<Node, string>();
    const fresh = added.map((p) => this.#written(p.name));
    leaving.needs.forEach(({ sites }, i) => {
      const name = inputs[i] ?? fresh.shift()!;
      for (const site of sites) names.set(site, name);
    });
    const innerEdits = [...links.inner, ...props, ...this.#innerEdits(given, names)];
    const resets = this.needless.map((reset) => wholeLines(pair.outer.text, spanOf(reset)));
    const passed = shape.props.map((p) => attributeText(p.name, p.crossing.value, habits));
    const outerEdits = [...links.outer, ...this.#outerEdits(passed, resets)];
    const own = request.outer.file.path === request.inner.file.path;
    return {
      edits: own
        ? new Map([[request.outer.file.path, [...outerEdits, ...innerEdits]]])
        : new Map([
            [request.outer.file.path, outerEdits],
            [request.inner.file.path, innerEdits],
          ]),
      files: links.files,
      moved: leaving.declared.map((v) => v.name),
      added,
      dropped: [...dropped],
      resets,
      names: request.names.map((name) => this.#renamed.get(leaving.declared.find((v) => v.name === name)!)!),
      notes: this.#notes(lost),
    };
  }

  /** `names`: what the inner component calls what is read of the outer one. */
  #innerEdits(given: readonly Given[], names: ReadonlyMap<Node, string>): Edit[] {
    const { outer } = this.pair;
    const outward = new Substitution(
      outer.text,
      outer.scopes,
      (node) => (names.has(node) ? code(node, outer.scopes, outer.text, names.get(node)!) : undefined),
      new Map([...this.#renamed].filter(([variable, name]) => variable.name !== name)),
    );
    const statements = [
      ...this.leaving.statements.map((s) => this.#statement(s, outward)),
      ...given.filter((g) => g.local !== undefined).map((g) => this.#local(g, outward)),
    ];
    return this.#placed(statements, this.#inward(given, outward));
  }

  #outerEdits(passed: readonly string[], resets: readonly Edit[]): Edit[] {
    const { outer, habits } = this.pair;
    const { statements, attributes } = this.leaving;
    const leaves = (edit: Edit) => statements.some((s) => s.range[0] <= edit.start && s.range[1] >= edit.end);
    const tag = changedAttributes(outer.text, outer.use, attributes, passed, habits.width);
    return [...resets.filter((reset) => !leaves(reset)), ...this.#left(tag)];
  }

  /** The outer component without the statements; an arrow function of which only the return is left gives what it returns. */
  #left(edits: readonly Edit[]): Edit[] {
    const { outer } = this.pair;
    const { statements } = this.leaving;
    const emptied = soleReturnLeft(outer, statements);
    return emptied ? [emptied(edits)] : [...removals(this.#scene, statements), ...edits];
  }

  #notes(lost: string | undefined): string[] {
    const { request, pair } = this;
    const notes = [...this.#renamed]
      .filter(([variable, name]) => variable.name !== name)
      .map(([variable, name]) => `${variable.name} is called ${name} in ${request.inner.name}`);
    if (this.needless.length > 0) {
      const by = resettersOf(pair.outer, this.needless).join(', ');
      notes.push(
        `${by || 'the host'} no longer sets it back: it begins anew whenever <${request.inner.name}> comes back`,
      );
    }
    return lost === undefined ? notes : [`asked for although ${lost}`, ...notes];
  }

  /** What the inner component calls a name that it is given already. */
  #known({ value }: Need, dropped: ReadonlySet<string>): string | undefined {
    const { inner, outer } = this.pair;
    for (const attribute of outer.use.openingElement.attributes) {
      if (attribute.type !== 'JSXAttribute' || attribute.value?.type !== 'JSXExpressionContainer') continue;
      const prop = attributeName(attribute);
      if (dropped.has(prop) || outer.text.slice(...attribute.value.expression.range) !== value) continue;
      const taken = [...inner.props].find(([, p]) => p.name === prop && !p.default)?.[0];
      if (taken) return taken.name;
      if (inner.whole) return `${inner.whole.name}.${prop}`;
    }
    return undefined;
  }

  #written(prop: string): string {
    const { whole, props } = this.pair.inner;
    return whole && props.size === 0 ? `${whole.name}.${prop}` : prop;
  }

  /** Names and types of what the inner component has to be given now. */
  #interface(needs: readonly Need[]): Interface {
    const { pair } = this;
    const crossings = needs.map((need): Crossing => {
      const [site] = need.sites;
      const last = /[\w$]+$/.exec(need.value)![0];
      const setter = need.value === need.variable.name && isSetter(need.variable);
      const event = need.value === need.variable.name && isHandler(need.variable, setter) && isHandedOn(need, pair);
      return {
        key: need.value,
        wanted: this.#names.take(!event ? last : setter ? eventForState(last) : eventNameFor(last)),
        value: need.value,
        event,
        slot: false,
        typed: spanOf(site!),
        extras: [],
        setter: event && setter,
        variable: need.variable,
        sites: [],
      };
    });
    const boundary = { crossings, types: [], moduleLevel: [], globals: new Set<string>() };
    return shapeInterface(this.#scene, boundary, new Set());
  }

  #statement(statement: Node, outward: Substitution): string {
    const { outer, inner, habits } = this.pair;
    const span = withComments(outer.text, spanOf(statement));
    const statements = this.leaving.statements;
    const resets = this.needless.map((reset) => wholeLines(outer.text, spanOf(reset)));
    const kept = outward.edits(statement).filter((e) => !resets.some((r) => r.start <= e.start && r.end >= e.end));
    const before = statements[statements.indexOf(statement) - 1];
    const apart = before && /\n[ \t]*\r?\n/.test(outer.text.slice(before.range[1], span.start));
    const indent = indentAt(inner.text, inner.fn.range[0]) + habits.indent;
    return (
      (apart ? habits.lineEnd : '') +
      indent +
      relocated(outer.text, span, indent, [...kept, ...resets], fixedIn(statement))
    );
  }

  /** `const onClose = () => setOpen(false);` for what the tag handed over. */
  #local({ local, value }: Given, outward: Substitution): string {
    const { outer, inner, habits } = this.pair;
    const indent = indentAt(inner.text, inner.fn.range[0]) + habits.indent;
    const text = relocated(outer.text, spanOf(value!), indent, outward.edits(value!), fixedIn(value!));
    return `${indent}const ${local!} = ${text}${habits.semi}`;
  }

  /** Edits of the inner component's own code: what it was given, by the names that it has now. */
  #inward(given: readonly Given[], outward: Substitution): Edit[] {
    const { inner, outer } = this.pair;
    const renamed = new Map<Variable, string>();
    const reads = new Map<Node, string>();
    const written = new Map<Node, Argument>();
    for (const { reads: sites, variable, plain, local, site, value } of given) {
      if (site && value)
        written.set(site, {
          ...code(value, outer.scopes, outer.text, ''),
          write: (at) =>
            relocated(outer.text, spanOf(value), indentAt(inner.text, at), outward.edits(value), fixedIn(value)),
        });
      const name = plain ? this.#renamed.get(plain)! : local;
      if (name === undefined) continue;
      if (variable && variable.name !== name) renamed.set(variable, name);
      for (const read of sites) if (read.type === 'MemberExpression') reads.set(read, name);
    }
    const substitution = new Substitution(
      inner.text,
      inner.scopes,
      (node) =>
        written.get(node) ?? (reads.has(node) ? code(node, inner.scopes, inner.text, reads.get(node)!) : undefined),
      renamed,
    );
    return [...inner.statements, ...(inner.returning ?? [inner.shown])].flatMap((node) => substitution.edits(node));
  }

  /** The statements at the head of the inner component. */
  #placed(statements: readonly string[], inward: readonly Edit[]): Edit[] {
    const { inner, habits } = this.pair;
    const { fn, text } = inner;
    const nl = habits.lineEnd;
    const block = statements.join(nl);
    if (fn.body.type !== 'BlockStatement') return [withBlock(text, fn, block, inward, habits)];
    const first = inner.statements[0] ?? inner.returning?.[0] ?? fn.body.body.at(-1)!;
    const at = withComments(text, spanOf(first)).start;
    const indent = indentAt(text, at);
    const apart = first.type === 'ReturnStatement' || block.includes(nl + nl) ? nl + nl : nl;
    return [{ start: at, end: at, text: `${block.slice(indent.length)}${apart}${indent}` }, ...inward];
  }
}

function code(node: Node, scopes: ScriptScopes, source: string, name: string): Argument & { kind: 'code' } {
  return { kind: 'code', node, scopes, source, write: () => name };
}

/** Whether a function is only called later, and its answer not taken: then it tells what happened. */
function isHandedOn({ sites }: Need, { outer: { scopes } }: Pair): boolean {
  return sites.every((site) => {
    const call = scopes.parentOf(site);
    const isCalled = call?.type === 'CallExpression' && call.callee === site;
    return isCalled && scopes.parentOf(call)?.type === 'ExpressionStatement';
  });
}

/** Whether all that is called so in the inner component is that variable. */
function isOnlyOne(variable: Variable, { inner: { scopes, fn } }: Pair): boolean {
  const named = scopes
    .within(spanOf(fn))
    .filter(({ identifier }) => (identifier as TSESTree.Identifier).name === variable.name);
  return named.every(({ resolved }) => resolved === variable);
}

/** Names that mean something in the inner component. */
function namesOf({ inner }: Pair): Set<string> {
  const { scopes, fn } = inner;
  const names = new Set<string>();
  for (const { identifier } of scopes.within(spanOf(fn))) names.add((identifier as TSESTree.Identifier).name);
  for (const variable of [...inner.props.keys()]) names.add(variable.name);
  for (const scope of [scopes.scopeAt(spanOf(fn.body))]) for (const { name } of scope.variables) names.add(name);
  return names;
}
