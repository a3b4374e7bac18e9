/**
 * State goes down: the statements that keep it, and all that only they are for, leave the outer component for the inner one. What
 * the inner one was given of it is its own now; what they read of the outer one is handed down.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { HomeRequest, Homing } from '../../../language/homing.js';
import type { Node } from '../../../script/parser.js';
import type { ScriptScopes, Variable } from '../../../script/scopes.js';
import { attributeName, bare, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { leavingWith, type Leaving, type Need } from '../../homes/leaving.js';
import { statementsOf } from '../../homes/statements.js';
import { lostBy, needlessResets, passingOf, resettersOf } from '../../homes/lifetime.js';
import { eventForState, eventNameFor } from '../../events.js';
import { addedImports, droppedImports, wholeLines, type WantedImport } from '../../imports.js';
import { readModuleTables } from '../../modules.js';
import { originOf } from '../../origins.js';
import { Substitution, type Argument } from '../../substitution.js';
import type { Crossing } from '../cut/crossing.js';
import { isHandler, isSetter } from '../cut/crossings.js';
import { shapeInterface, type Interface } from '../cut/interface.js';
import { linkFiles, removals } from '../cut/link.js';
import { Scene } from '../cut/scene.js';
import { findSharing } from '../cut/sharing.js';
import { fixedIn } from '../inline/passed.js';
import { attributeText, changedAttributes, changedProps } from './props.js';
import { parseFile } from '../source.js';
import { pairOf, soleReturnLeft, withBlock, type Pair } from './scene.js';

export function down(request: HomeRequest): Homing | Problem {
  const pair = pairOf(request);
  if (isProblem(pair)) return pair;
  const first = statementsOf(pair.outer.fn, request.names);
  const at = { path: request.outer.file.path, span: request.outer.span };
  if ('unknown' in first) return problem('home-unknown', at, first.unknown, request.outer.name, first.known);
  const leaving = leavingWith(pair.outer, first);
  if ('by' in leaving)
    return problem(
      'home-shared',
      { path: at.path, span: spanOf(leaving.at) },
      leaving.name,
      leaving.by,
      request.inner.name,
    );
  const around = passingOf(pair.outer);
  if (typeof around === 'string')
    return problem('home-place', { path: at.path, span: request.use }, request.inner.name, around);
  const passing = around.filter((p) => !p.harmless);
  const lost = lostBy(pair.outer, leaving, passing, request.inner.name);
  if (lost !== undefined && !request.newLifetime)
    return problem('home-lifetime', { path: at.path, span: request.use }, lost);
  return new Down(request, pair, leaving, needlessResets(pair.outer, leaving, passing)).run(lost);
}

class Down {
  readonly #scene: Scene;
  /** Names of the outer component as the inner one has them. */
  readonly #renamed = new Map<Variable, string>();
  /** Names that are declared in the inner component or mean something in its file. */
  readonly #taken: Set<string>;

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
    this.#taken = namesOf(pair);
  }

  run(lost: string | undefined): Homing | Problem {
    const { request, pair, leaving } = this;
    const { inner, habits } = pair;
    const handed = this.#given();
    const dropped = new Set(handed.map((g) => g.prop));
    // What is read by another name from now on leaves its own free.
    for (const { plain, variable, value } of handed)
      if ((plain ?? value) && variable && isOnlyOne(variable, pair)) this.#taken.delete(variable.name);
    for (const variable of leaving.declared) this.#renamed.set(variable, this.#fresh(variable.name));
    const given = handed.map((g) =>
      g.value && !g.site ? { ...g, local: this.#fresh(g.variable?.name ?? g.prop) } : g,
    );
    const inputs = leaving.needs.map((need) => this.#known(need, dropped));
    const shape = this.#interface(leaving.needs.filter((_, i) => inputs[i] === undefined));
    const added = shape.props.map((p) => ({ name: p.name, ...(p.type === undefined ? {} : { type: p.type }) }));
    const props = changedProps(inner, dropped, added, habits);
    const linked = this.#linked(shape, props);
    if (isProblem(linked)) return linked;

    const names = new Map<Node, string>();
    let fresh = 0;
    leaving.needs.forEach((need, i) => {
      const name = inputs[i] ?? this.#written(added[fresh++]!.name);
      for (const site of need.sites) names.set(site, name);
    });
    const outward = new Substitution(
      pair.outer.text,
      pair.outer.scopes,
      (node) => (names.has(node) ? code(node, pair.outer.scopes, pair.outer.text, names.get(node)!) : undefined),
      new Map([...this.#renamed].filter(([variable, name]) => variable.name !== name)),
    );
    const locals = given.filter((g) => g.local !== undefined);
    const statements = [
      ...leaving.statements.map((s) => this.#statement(s, outward)),
      ...locals.map((g) => this.#local(g, outward)),
    ];
    const inward = this.#inward(given, outward);
    const innerEdits = [...linked.inner, ...props, ...this.#placed(statements, inward)];
    const resets = this.needless.map((reset) => wholeLines(pair.outer.text, spanOf(reset)));
    const outerEdits = [
      ...linked.outer,
      ...resets.filter(
        (reset) => !leaving.statements.some((s) => s.range[0] <= reset.start && s.range[1] >= reset.end),
      ),
      ...this.#left(
        changedAttributes(
          pair.outer.text,
          pair.outer.use,
          leaving.attributes,
          shape.props.map((p) => attributeText(p.name, p.crossing.value, habits)),
          habits.width,
        ),
      ),
    ];
    const own = request.outer.file.path === request.inner.file.path;
    return {
      edits: own
        ? new Map([[request.outer.file.path, [...outerEdits, ...innerEdits]]])
        : new Map([
            [request.outer.file.path, outerEdits],
            [request.inner.file.path, innerEdits],
          ]),
      files: linked.files,
      moved: leaving.declared.map((v) => v.name),
      added,
      dropped: [...dropped],
      resets,
      names: request.names.map((name) => this.#renamed.get(leaving.declared.find((v) => v.name === name)!)!),
      notes: this.#notes(lost),
    };
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

  /** What the tag hands over of what leaves, and what the inner component calls it. */
  #given(): Given[] {
    const { leaving, pair } = this;
    const { inner, outer } = pair;
    return leaving.attributes.map((attribute): Given => {
      const prop = attributeName(attribute);
      const variable = [...inner.props].find(([, p]) => p.name === prop)?.[0];
      const value = attribute.value?.type === 'JSXExpressionContainer' ? attribute.value.expression : undefined;
      const name = value && handedName(value, this.#isOnlyCalled(prop, variable));
      const plain = name && outer.scopes.variableOf(name);
      const isMoved = plain !== undefined && leaving.declared.includes(plain);
      const used = (variable?.references.some((r) => !r.init) ?? false) || this.#wholeReads(prop).length > 0;
      if (isMoved || !value || !used) return { prop, variable, ...(isMoved ? { plain } : {}) };
      const site = this.#onlySite(prop, variable);
      return { prop, variable, value, ...(site ? { site } : {}) };
    });
  }

  #readsOf(prop: string, variable: Variable | undefined): Node[] {
    const own = variable?.references.flatMap((r) => (r.init ? [] : [r.identifier])) ?? [];
    return [...own, ...this.#wholeReads(prop)];
  }

  #isOnlyCalled(prop: string, variable: Variable | undefined): boolean {
    const { scopes } = this.pair.inner;
    return this.#readsOf(prop, variable).every((read) => {
      const call = scopes.parentOf(read);
      return call?.type === 'CallExpression' && call.callee === read;
    });
  }

  /** Where the inner component has the one place that reads what it is handed, and hands it on. */
  #onlySite(prop: string, variable: Variable | undefined): Node | undefined {
    const { scopes } = this.pair.inner;
    const reads = [
      ...(variable?.references.flatMap((r) => (r.init ? [] : [r.identifier])) ?? []),
      ...this.#wholeReads(prop),
    ];
    const [only] = reads;
    return reads.length === 1 && only && scopes.parentOf(only)?.type === 'JSXExpressionContainer' ? only : undefined;
  }

  /** `props.query`, where the inner component takes all its props as one. */
  #wholeReads(prop: string): Node[] {
    const { whole, scopes } = this.pair.inner;
    return (whole?.references ?? []).flatMap(({ identifier }) => {
      const parent = scopes.parentOf(identifier);
      const isIt =
        parent?.type === 'MemberExpression' && parent.property.type === 'Identifier' && parent.property.name === prop;
      return isIt ? [parent] : [];
    });
  }

  /** The name itself where the inner component has room for it. */
  #fresh(name: string): string {
    for (let i = 1; ; i++) {
      const candidate = i === 1 ? name : `${name}${i}`;
      if (this.#taken.has(candidate)) continue;
      this.#taken.add(candidate);
      return candidate;
    }
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
        wanted: this.#fresh(!event ? last : setter ? eventForState(last) : eventNameFor(last)),
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

  /** What both files need once the statements have gone from one into the other. */
  #linked(
    shape: Interface,
    gone: readonly Edit[],
  ): { outer: readonly Edit[]; inner: readonly Edit[]; files: Map<string, string> } | Problem {
    const { request, pair, leaving } = this;
    const { inner, habits } = pair;
    const target = this.#scene.request.target;
    const wanted = leaving.moduleLevel.filter((v) => !this.#isSame(v));
    const isThere = (name: string) => (inner.scopes.moduleScope.set.get(name)?.defs.length ?? 0) > 0;
    const hidden = wanted.find((v) => this.#taken.has(v.name) || (target !== undefined && isThere(v.name)));
    const refuse = (name: string) =>
      problem('home-shadowed', { path: request.inner.file.path, span: request.inner.span }, name, request.inner.name);
    if (hidden) return refuse(hidden.name);
    const caught = [...leaving.globals].find((name) =>
      inner.scopes.visibleIn(inner.scopes.scopeAt(spanOf(inner.fn.body)), name),
    );
    if (caught !== undefined) return refuse(caught);
    const importing = {
      text: inner.text,
      script: inner.script,
      scopes: inner.scopes,
      request: { file: { path: inner.path } },
    };
    const needless = droppedImports(
      importing,
      gone.filter((e) => e.text === ''),
    );
    if (target === undefined) return { outer: [], inner: needless, files: new Map() };
    const goingSpans = [...leaving.statements, ...leaving.attributes].map(spanOf);
    const types = shape.typeVariables.filter((v) => this.#scene.scopes.isModuleLevel(v) && !this.#isSame(v));
    const sharing = findSharing(this.#scene, wanted, goingSpans, types);
    if (isProblem(sharing)) return sharing;
    if (sharing.circular !== undefined)
      return problem('home-circular', { path: request.inner.file.path }, sharing.circular, request.inner.name);
    let head: readonly string[] = [];
    const { edits, files } = linkFiles({
      scene: this.#scene,
      habits,
      sharing,
      target,
      goingSpans,
      hostEdits: [],
      hostLine: undefined,
      imports: sharing.imports,
      typeVariables: types,
      foreignTypes: shape.foreignTypes,
      sections: [],
      newFile: (sections) => {
        head = sections;
        return '';
      },
    });
    files.delete(target);
    const lines = head[1]?.trim() ?? '';
    const parsed = parseFile({ path: target, text: lines }, request.ports);
    const all: readonly WantedImport[] = isProblem(parsed) ? [] : readModuleTables(parsed.program, lines).imports;
    const imports = all.filter((wanted) => !this.#has(wanted));
    const before = inner.statement.range[0];
    const start = withComments(inner.text, { start: before, end: before }).start;
    const moved = head[2] ? [{ start, end: start, text: head[2] + habits.lineEnd + habits.lineEnd }] : [];
    return { outer: edits, inner: [...addedImports(importing, imports, habits, needless), ...moved], files };
  }

  /** Whether the inner file has an import by the same name of the same thing. */
  #has({ local, imported, source }: WantedImport): boolean {
    const { inner } = this.pair;
    const { resolver } = this.request.project;
    const there = inner.scopes.moduleScope.set.get(local);
    const target = resolver.resolve(inner.path, source);
    const origin = there && originOf(there, local, inner.path, inner.scopes, resolver);
    return origin === `${'path' in target ? target.path : source}#${imported}`;
  }

  /** Whether a name of the outer file means the same in the inner one. */
  #isSame(variable: Variable): boolean {
    const { inner, outer } = this.pair;
    const { resolver } = this.request.project;
    const there = inner.scopes.moduleScope.set.get(variable.name);
    if (!there || there.defs.length === 0) return false;
    const visible = inner.scopes.visibleIn(inner.scopes.scopeAt(spanOf(inner.fn.body)), variable.name);
    if (visible !== there) return false;
    if (outer.path === inner.path) return there.identifiers[0]?.range[0] === variable.identifiers[0]?.range[0];
    const was =
      originOf(variable, variable.name, outer.path, outer.scopes, resolver) ?? `${outer.path}#${variable.name}`;
    return was === (originOf(there, there.name, inner.path, inner.scopes, resolver) ?? `${inner.path}#${there.name}`);
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
    for (const { prop, variable, plain, local, site, value } of given) {
      if (site && value)
        written.set(site, {
          ...code(value, outer.scopes, outer.text, ''),
          write: (at) =>
            relocated(outer.text, spanOf(value), indentAt(inner.text, at), outward.edits(value), fixedIn(value)),
        });
      const name = plain ? this.#renamed.get(plain)! : local;
      if (name === undefined) continue;
      if (variable && variable.name !== name) renamed.set(variable, name);
      for (const read of this.#wholeReads(prop)) reads.set(read, name);
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

/** What the tag hands over of what leaves. */
interface Given {
  readonly prop: string;
  /** What the inner component calls it, where it takes its props apart. */
  readonly variable: Variable | undefined;
  /** A name that leaves, and nothing else. */
  readonly plain?: Variable;
  /** Code that becomes a constant of the inner component, and its name. */
  readonly value?: Node;
  readonly local?: string;
  /** The one place where the code is written itself. */
  readonly site?: Node;
}

function code(node: Node, scopes: ScriptScopes, source: string, name: string): Argument & { kind: 'code' } {
  return { kind: 'code', node, scopes, source, write: () => name };
}

/** The name that is handed over; of a function that does nothing but call it with what it is given, where that is called as well. */
function handedName(value: Node, isCalled: boolean): TSESTree.Identifier | undefined {
  const code = bare(value);
  if (code.type === 'Identifier') return code;
  if (!isCalled || code.type !== 'ArrowFunctionExpression' || code.async) return undefined;
  const call = bare(code.body);
  const isHandedOn =
    call.type === 'CallExpression' &&
    call.callee.type === 'Identifier' &&
    call.arguments.length === code.params.length &&
    call.arguments.every((a, i) => {
      const parameter = code.params[i]!;
      return a.type === 'Identifier' && parameter.type === 'Identifier' && a.name === parameter.name;
    });
  return isHandedOn ? (call.callee as TSESTree.Identifier) : undefined;
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
