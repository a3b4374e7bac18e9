/** State goes up: the statement that keeps it leaves the inner component for the outer one, which hands it down again. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { HomeRequest, Homing } from '../../../language/homing.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { calleeName, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { eventForState } from '../../events.js';
import { FreeNames } from '../../homes/free-names.js';
import { declaredBy } from '../../homes/leaving.js';
import { passingOf } from '../../homes/lifetime.js';
import { statementsOf } from '../../homes/statements.js';
import { addedImports, droppedImports, wholeLines } from '../../imports.js';
import { Substitution } from '../../substitution.js';
import { isHookName } from '../../../script/quiet.js';
import type { Crossing } from '../cut/crossing.js';
import { shapeInterface, type Interface } from '../cut/interface.js';
import { Scene } from '../cut/scene.js';
import { needsOf, type Needs } from '../inline/needs.js';
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
  readonly #names: FreeNames;

  constructor(
    readonly request: HomeRequest,
    readonly pair: Pair,
    readonly statements: readonly Node[],
    readonly own: readonly Variable[],
  ) {
    const { scopes, fn } = pair.outer;
    const used = scopes.within(spanOf(fn)).map(({ identifier }) => String((identifier as { name?: unknown }).name));
    this.#names = new FreeNames([...scopes.scopeAt(spanOf(fn.body)).variables.map((v) => v.name), ...used]);
  }

  run(lost: string | undefined): Homing | Problem {
    const { request, pair } = this;
    const { inner, outer } = pair;
    const names = new Map(this.own.map((v) => [v, this.#names.take(v.name)]));
    const needs = this.#needs();
    if (isProblem(needs)) return needs;
    const { props } = this.#interface();
    const added = props.map((p) => ({ name: p.name, ...(p.type === undefined ? {} : { type: p.type }) }));
    const innerEdits = [...this.#innerEdits(props, added), ...needs.ownEdits];
    const outerEdits = this.#outerEdits(props, names, needs);
    const isOne = outer.path === inner.path;
    const otherwise = [...names].filter(([variable, name]) => variable.name !== name);
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
        ...otherwise.map(([v, name]) => `${v.name} is called ${name} in ${request.outer.name}`),
      ],
    };
  }

  /** What the outer file has to import or say otherwise for the statements to stand there. */
  #needs(): Needs | Problem {
    const { request, pair, statements } = this;
    const { path, text, script, scopes, use } = pair.outer;
    const inlining = {
      ...request,
      component: request.inner,
      file: request.outer.file,
      brings: false,
      repeated: false,
      brought: new Set<string>(),
      returnsEarly: true,
    };
    const place = { path, text, script, scopes, use };
    return needsOf(inlining, pair.inner, place, statements.map(spanOf), (name) => this.#names.take(name));
  }

  /** Names and types of what the inner component is given instead. */
  #interface(): Interface {
    const { request } = this;
    const { script, shown } = this.pair.inner;
    const { file, name } = request.inner;
    const region = { ...spanOf(shown), nodes: [] };
    const scene = new Scene({ ...request, file, region, name, target: undefined, props: 'members' }, script);
    const crossings = this.own.filter((v) => v.references.some((r) => !r.init)).map(crossingOf);
    return shapeInterface(scene, { crossings, types: [], moduleLevel: [], globals: new Set() }, new Set());
  }

  #innerEdits(props: Interface['props'], added: Homing['added']): Edit[] {
    const { statements } = this;
    const { inner, outer, habits } = this.pair;
    const { path, text, script, scopes, statements: all, returning, shown } = inner;
    const from = inner.whole && inner.props.size === 0 ? `${inner.whole.name}.` : '';
    const renamed = new Map<Variable, string>();
    for (const { name, crossing } of props)
      if (crossing.variable!.name !== from + name) renamed.set(crossing.variable!, from + name);
    const inward = new Substitution(text, scopes, () => undefined, renamed);
    const staying = all.filter((s) => !statements.includes(s));
    const gone = statements.map((s) => withComments(text, spanOf(s)));
    const importing = { text, script, scopes, request: { file: { path } } };
    return [
      ...changedProps(inner, new Set(), added, habits),
      ...gone.map((span) => wholeLines(text, span)),
      ...[...staying, ...(returning ?? [shown])].flatMap((node) => inward.edits(node)),
      ...(outer.path === path ? [] : droppedImports(importing, gone)),
    ];
  }

  /** `names`: what the variables are called in the outer component. */
  #outerEdits(props: Interface['props'], names: ReadonlyMap<Variable, string>, needs: Needs): Edit[] {
    const { inner, outer, habits } = this.pair;
    const { path, text, script, scopes, use } = outer;
    const renamed = [...names].filter(([variable, name]) => variable.name !== name);
    const outward = new Substitution(
      inner.text,
      inner.scopes,
      () => undefined,
      new Map([...needs.renamed, ...renamed]),
    );
    const passed = props.map((p) => attributeText(p.name, names.get(p.crossing.variable!)!, habits));
    const placed = this.#placed(
      this.statements.map((s) => this.#statement(s, outward)),
      changedAttributes(text, use, [], passed, habits.width),
    );
    if (path === inner.path) return placed;
    return [
      ...placed,
      ...addedImports({ text, script, scopes, request: { file: { path } } }, needs.imports, habits, []),
    ];
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
