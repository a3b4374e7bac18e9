/** State goes up: the statement that keeps it leaves the inner component for the outer one, which hands it down again. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { HomeRequest, Homing } from '../../../language/homing.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { calleeName, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { eventForState } from '../../events.js';
import { declaredBy } from '../../homes/leaving.js';
import { passingOf } from '../../homes/lifetime.js';
import { statementsOf } from '../../homes/statements.js';
import { addedImports, droppedImports, wholeLines } from '../../imports.js';
import { Substitution } from '../../substitution.js';
import { isHookName } from '../bindings.js';
import type { Crossing } from '../cut/crossing.js';
import { shapeInterface } from '../cut/interface.js';
import { Scene } from '../cut/scene.js';
import { needsOf } from '../inline/needs.js';
import { fixedIn } from '../inline/passed.js';
import { attributeText, changedAttributes, changedProps } from './props.js';
import { pairOf, withBlock, type Pair } from './scene.js';

export function up(request: HomeRequest): Homing | Problem {
  const pair = pairOf(request);
  if (isProblem(pair)) return pair;
  const { inner, outer } = pair;
  const at = { path: request.inner.file.path, span: request.inner.span };
  const found = statementsOf(inner.fn, request.names);
  if ('unknown' in found) return problem('home-unknown', at, found.unknown, request.inner.name, found.known);
  const around = passingOf(outer);
  const place = { path: outer.path, span: request.use };
  if (typeof around === 'string') return problem('home-place', place, request.inner.name, around);
  const passing = around.filter((p) => !p.harmless);
  const why = `<${request.inner.name}> goes and comes with ${passing[0]?.why ?? ''}, and ${request.names.join(', ')} would be kept; today it begins anew each time`;
  if (passing.length > 0 && !request.newLifetime) return problem('home-lifetime', place, why);
  const statements = [...found].sort((a, b) => a.range[0] - b.range[0]);
  const own = statements.flatMap((s) => declaredBy(inner, s));
  const stuck = statements.find((s) => readsInside(pair, s, own));
  if (stuck)
    return problem(
      'home-needs',
      { path: at.path, span: spanOf(stuck) },
      declaredBy(inner, stuck)[0]!.name,
      request.inner.name,
    );
  return new Up(request, pair, statements, own).run(passing.length > 0 ? why : undefined);
}

/** Whether a statement reads something that the inner component declares or is given. */
function readsInside({ inner }: Pair, statement: Node, own: readonly Variable[]): boolean {
  return inner.scopes.within(spanOf(statement)).some(({ resolved }) => {
    if (!resolved || resolved.defs.length === 0 || inner.scopes.isModuleLevel(resolved) || own.includes(resolved))
      return false;
    return resolved.scope.block === inner.fn;
  });
}

class Up {
  readonly #taken: Set<string>;

  constructor(
    readonly request: HomeRequest,
    readonly pair: Pair,
    readonly statements: readonly Node[],
    readonly own: readonly Variable[],
  ) {
    const { scopes, fn } = pair.outer;
    this.#taken = new Set(scopes.scopeAt(spanOf(fn.body)).variables.map((v) => v.name));
    for (const { identifier } of scopes.within(spanOf(fn)))
      this.#taken.add(String((identifier as { name?: unknown }).name));
  }

  run(lost: string | undefined): Homing | Problem {
    const { request, pair, statements } = this;
    const { inner, outer, habits } = pair;
    const names = new Map(this.own.map((v) => [v, this.#free(v.name)]));
    const used = this.own.filter((v) => v.references.some((r) => !r.init));
    const scene = new Scene(
      {
        ...request,
        file: request.inner.file,
        region: { ...spanOf(inner.shown), nodes: [] },
        name: request.inner.name,
        target: undefined,
        props: 'members',
      },
      inner.script,
    );
    const place = { path: outer.path, text: outer.text, script: outer.script, scopes: outer.scopes, use: outer.use };
    const inlining = {
      ...request,
      component: request.inner,
      file: request.outer.file,
      brings: false,
      repeated: false,
      brought: new Set<string>(),
      returnsEarly: true,
    };
    const needs = needsOf(inlining, inner, place, statements.map(spanOf), (name) => this.#free(name));
    if (isProblem(needs)) return needs;
    const shape = shapeInterface(
      scene,
      { crossings: used.map(crossingOf), types: [], moduleLevel: [], globals: new Set() },
      new Set(),
    );
    const added = shape.props.map((p) => ({ name: p.name, ...(p.type === undefined ? {} : { type: p.type }) }));
    const from = inner.whole && inner.props.size === 0 ? `${inner.whole.name}.` : '';
    const renamed = new Map<Variable, string>();
    for (const { name, crossing } of shape.props)
      if (crossing.variable!.name !== from + name) renamed.set(crossing.variable!, from + name);
    const inward = new Substitution(inner.text, inner.scopes, () => undefined, renamed);
    const staying = inner.statements.filter((s) => !statements.includes(s));
    const gone = statements.map((s) => withComments(inner.text, spanOf(s)));
    const innerEdits: Edit[] = [
      ...changedProps(inner, new Set(), added, habits),
      ...gone.map((span) => wholeLines(inner.text, span)),
      ...[...staying, ...(inner.returning ?? [inner.shown])].flatMap((node) => inward.edits(node)),
      ...needs.ownEdits,
    ];
    const importing = {
      text: inner.text,
      script: inner.script,
      scopes: inner.scopes,
      request: { file: { path: inner.path } },
    };
    const isOne = outer.path === inner.path;
    if (!isOne) innerEdits.push(...droppedImports(importing, gone));
    const outward = new Substitution(
      inner.text,
      inner.scopes,
      () => undefined,
      new Map([...needs.renamed, ...[...names].filter(([variable, name]) => variable.name !== name)]),
    );
    const outerScene = { ...place, request: { file: { path: outer.path } } };
    const passed = shape.props.map((p) => attributeText(p.name, names.get(p.crossing.variable!)!, habits));
    const outerEdits = [
      ...this.#placed(
        statements.map((s) => this.#statement(s, outward)),
        changedAttributes(outer.text, outer.use, [], passed, habits.width),
      ),
      ...(isOne ? [] : addedImports(outerScene, needs.imports, habits, [])),
    ];
    return {
      edits: isOne
        ? new Map([[outer.path, [...outerEdits, ...innerEdits]]])
        : new Map([
            [outer.path, outerEdits],
            [inner.path, innerEdits],
          ]),
      files: new Map(),
      moved: this.own.map((v) => v.name),
      added,
      dropped: [],
      resets: [],
      names: request.names.map((name) => names.get(this.own.find((v) => v.name === name)!)!),
      notes: [
        ...(lost === undefined ? [] : [`asked for although ${lost}`]),
        ...[...names]
          .filter(([v, name]) => v.name !== name)
          .map(([v, name]) => `${v.name} is called ${name} in ${request.outer.name}`),
      ],
    };
  }

  #free(name: string): string {
    for (let i = 1; ; i++) {
      const candidate = i === 1 ? name : `${name}${i}`;
      if (this.#taken.has(candidate)) continue;
      this.#taken.add(candidate);
      return candidate;
    }
  }

  #statement(statement: Node, outward: Substitution): string {
    const { inner, outer, habits } = this.pair;
    const span = withComments(inner.text, spanOf(statement));
    const indent = indentAt(outer.text, outer.fn.range[0]) + habits.indent;
    return indent + relocated(inner.text, span, indent, outward.edits(statement), fixedIn(statement));
  }

  /** Behind the last state of the outer component, else at its head; `edits`: those of the tag. */
  #placed(statements: readonly string[], edits: readonly Edit[]): Edit[] {
    const { outer, habits } = this.pair;
    const { fn, text } = outer;
    const nl = habits.lineEnd;
    const block = statements.join(nl);
    if (fn.body.type !== 'BlockStatement') return [withBlock(text, fn, block, edits, habits)];
    const calls = (s: Node) => (s.type === 'VariableDeclaration' ? calleeName(s.declarations[0].init ?? s) : undefined);
    const last = fn.body.body.findLast((s) => /^use(?:State|Reducer)$/.test(calls(s) ?? ''));
    if (last) return [...edits, { start: last.range[1], end: last.range[1], text: nl + block }];
    const first = fn.body.body.find((s) => !isHookName(calls(s))) ?? fn.body.body.at(-1)!;
    const at = withComments(text, spanOf(first)).start;
    const indent = indentAt(text, at);
    const apart = first.type === 'ReturnStatement' ? nl : '';
    return [...edits, { start: at, end: at, text: `${block.slice(indent.length)}${nl}${apart}${indent}` }];
  }
}

function crossingOf(variable: Variable): Crossing {
  const id = variable.identifiers[0]!;
  const isSetter = /^set[A-Z]/.test(variable.name);
  return {
    key: variable.name,
    wanted: isSetter ? eventForState(variable.name) : variable.name,
    value: variable.name,
    event: isSetter,
    slot: false,
    typed: { start: id.range[0], end: id.range[1] },
    extras: [],
    setter: isSetter,
    variable,
    sites: [],
  };
}
