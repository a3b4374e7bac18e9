/**
 * What would cross the boundary of a region, told from the names alone, without cutting. Fast enough to be asked for
 * every region of a file; what a cut finds (types, events, what cannot be cut) is asked for the chosen ones only.
 */
import type { Span } from '../../text/edits.js';
import type { Resolved } from '../../analyze/uses.js';
import type { ComponentModel } from '../../markup/model.js';
import type { ScriptScopes, Variable } from '../../script/scopes.js';
import type { Node } from '../../script/parser.js';
import { isFunction, nodeWithin, spanOf, walk, within } from '../../script/walk.js';

export interface Boundary {
  /** Names of the host that the region reads or writes. */
  readonly names: readonly string[];
  /** Names of the host that only the region uses, and that go along. */
  readonly moved: readonly string[];
  /** The statements that declare them. */
  readonly statements: readonly Span[];
}

/** A state, by it or its setter, and where the markup names either. */
interface Shared {
  readonly name: string;
  readonly places: readonly number[];
}

interface Leaving {
  readonly region: Span;
  readonly lasting: boolean;
  readonly moved: ReadonlyMap<Variable, Span>;
  /** Declarations of this turn, which go together or not at all. */
  readonly going: Map<Variable, Span>;
}

/** Bindings that live and die with their component. */
const KEPT = new Set(['state', 'setter', 'ref', 'effect', 'context', 'hook']);

/** What a further member of a record that one knows is worth beside the record. */
const A_MEMBER = 0.25;
/** Translation, names of classes, functions of the framework's instance, what a table hands out for its parts. */
const HELPERS = /^(?:t|i18n|cn|cx|clsx|classNames|classes|styles|\$\w+|get\w+Props)$/;

export class Boundaries {
  /** `this.props.hive`, `this.remove` and the like, in text order. */
  readonly #members: readonly { readonly name: string; readonly at: number }[];
  readonly #kinds: ReadonlyMap<string, string>;
  #shared: readonly Shared[] | undefined;

  constructor(
    readonly module: Resolved,
    readonly component: ComponentModel,
  ) {
    this.#members = component.kind === 'class' ? instanceMembers(module, component) : [];
    this.#kinds = new Map(component.bindings.map((b) => [b.name, b.kind]));
  }

  /** How many names of components and functions a reader has to know at a place; names of the module are not counted. */
  namesAt(span: Span): number {
    const { scopes } = this.module;
    const members = new Set(this.#members.map((m) => m.name)).size;
    let count = members;
    for (let scope = scopes.scopeAt(span); scope !== scopes.moduleScope && scope.upper; scope = scope.upper)
      count += scope.variables.filter((v) => v.defs.length > 0).length;
    return count;
  }

  /**
   * How many things there are to know in a list of host names, as a reader counts: the first member of a record is one, every
   * further one a quarter; a state is one with its setter; helpers that only pass through are one record together.
   */
  ideasIn(region: Span, names: readonly string[]): number {
    return this.recordsIn(region, names).reduce((sum, { length }) => sum + 1 + (length - 1) * A_MEMBER, 0);
  }

  /** The names by the record that they are members of, the largest first; most are alone. `passable`: not the instance itself. */
  recordsIn(region: Span, names: readonly string[], passable = false): readonly (readonly string[])[] {
    const scope = this.module.scopes.scopeAt(region);
    const records = new Map<string, string[]>();
    for (const name of names) {
      const record = this.#recordOf(scope, name);
      if (!passable || record !== 'this')
        records.set(record, [...(records.get(record) ?? []), name.replace(/^(?:this|props|state)\./, '')]);
    }
    return [...records.values()].sort((a, b) => b.length - a.length);
  }

  /** What a name is a member of: the instance, the props, what one call gave; its own where it is none. */
  #recordOf(scope: ReturnType<ScriptScopes['scopeAt']>, name: string): string {
    const own = /^(this|props|state)\./.exec(name)?.[1];
    if (own) return own;
    if (HELPERS.test(name)) return 'helpers';
    if (this.component.kind === 'class' && this.#members.some((m) => m.name === name)) return 'this';
    const definition = this.module.scopes.visibleIn(scope, name)?.defs[0];
    const isTaken = (node: { readonly type: string } | null | undefined) =>
      /^(?:Object|Array)Pattern$/.test(node?.type ?? '');
    if (definition?.type === 'Variable' && isTaken(definition.node.id)) return `from ${definition.node.range[0]}`;
    if (definition?.type === 'Parameter' && definition.node.params.some(isTaken))
      return `of ${definition.node.range[0]}`;
    return name;
  }

  /** `lasting`: the region lives exactly as long as its component, so that state can go along. */
  of(region: Span, lasting: boolean): Boundary {
    const crossing = this.#crossing([region]);
    const moved = new Map<Variable, Span>();
    for (let again = true; again;) {
      again = false;
      for (const variable of crossing) {
        if (moved.has(variable)) continue;
        const going = new Map<Variable, Span>();
        const brought = this.#follow(variable, { region, lasting, moved, going });
        if (!going.has(variable)) continue;
        const freed = [...going.keys()].filter((v) => v !== variable && crossing.has(v)).length;
        const added = [...brought].filter((v) => !crossing.has(v));
        if (added.length > Math.max(1, freed)) continue;
        for (const [name, span] of going) moved.set(name, span);
        for (const name of added) crossing.add(name);
        again = true;
      }
    }
    const spans = [region, ...moved.values()];
    const names = new Set([...crossing].filter((v) => !moved.has(v)).map((v) => v.name));
    for (const { name, at } of this.#members) if (spans.some((s) => at >= s.start && at < s.end)) names.add(name);
    return {
      names: [...names],
      moved: [...moved.keys()].map((v) => v.name),
      statements: [...new Map([...moved.values()].map((span) => [span.start, span])).values()],
    };
  }

  /**
   * Takes a declaration along, and with it what only it and the region use; answers with what else it uses. A function
   * and the state that only it changes go together.
   */
  #follow(variable: Variable, leaving: Leaving): Set<Variable> {
    const brought = new Set<Variable>();
    const { region, moved, going, lasting } = leaving;
    const declared = this.#movable(variable, lasting);
    const spans = [region, ...moved.values(), ...going.values(), ...(declared ? [declared] : [])];
    const isHere = (v: Variable) => v.references.every((r) => spans.some((s) => nodeWithin(r.identifier, s)));
    if (!declared || !this.#declaredIn(variable, declared).every(isHere)) return brought.add(variable);
    for (const name of this.#declaredIn(variable, declared)) going.set(name, declared);
    for (const used of this.#crossing([declared])) {
      if (moved.has(used) || going.has(used)) continue;
      for (const name of this.#follow(used, leaving)) brought.add(name);
    }
    return brought;
  }

  /** For each state that the markup names, where it names it or its setter. */
  shared(markup: readonly Span[]): readonly Shared[] {
    if (this.#shared) return this.#shared;
    const byStatement = new Map<number, { readonly name: string; readonly places: number[] }>();
    for (const { resolved, identifier } of markup.flatMap((span) => this.module.scopes.within(span))) {
      const definition = resolved?.defs[0];
      if (!resolved || definition?.type !== 'Variable') continue;
      const kind = this.#kinds.get(resolved.name);
      if (kind !== 'state' && kind !== 'setter') continue;
      const at = definition.parent.range[0];
      const known = byStatement.get(at) ?? { name: resolved.name, places: [] };
      known.places.push(identifier.range[0]);
      byStatement.set(at, known);
    }
    return (this.#shared = [...byStatement.values()]);
  }

  #declaredIn(variable: Variable, statement: Span): Variable[] {
    return variable.scope.variables.filter((v) => v.identifiers.some((id) => nodeWithin(id, statement)));
  }

  /** Variables of the component that spans use and do not bind. */
  #crossing(spans: readonly Span[]): Set<Variable> {
    const { scopes } = this.module;
    const found = new Set<Variable>();
    for (const span of spans)
      for (const { resolved } of scopes.within(span))
        if (
          resolved &&
          resolved.defs.length > 0 &&
          !scopes.isModuleLevel(resolved) &&
          !resolved.identifiers.some((id) => spans.some((s) => within(spanOf(id), s)))
        )
          found.add(resolved);
    return found;
  }

  /** The statement that declares a name and nothing else, where it may go along. */
  #movable(variable: Variable, lasting: boolean): Span | undefined {
    const definition = variable.defs.length === 1 ? variable.defs[0]! : undefined;
    const statement = definition?.type === 'Variable' ? definition.parent : definition?.node;
    if (definition?.type !== 'Variable' && definition?.type !== 'FunctionName') return undefined;
    if (!statement || this.module.scopes.isReassigned(variable) || waits(statement)) return undefined;
    const kind = this.#kinds.get(variable.name.replace(/^(?:this|props)\./, ''));
    return kind !== undefined && KEPT.has(kind) && !lasting ? undefined : spanOf(statement);
  }
}

/** What is waited for is waited for where it stands. */
function waits(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (node.type === 'AwaitExpression') found = true;
    return !found && !isFunction(node);
  });
  return found;
}

/** What a class reads from its instance: props and state by their names, all else by its first one. */
function instanceMembers({ script, scopes }: Resolved, component: ComponentModel): { name: string; at: number }[] {
  const found: { name: string; at: number }[] = [];
  walk(script.program, (node) => {
    if (node.range[1] < component.start || node.range[0] > component.end) return false;
    if (node.type !== 'ThisExpression') return undefined;
    const first = scopes.parentOf(node);
    if (first?.type !== 'MemberExpression' || first.property.type !== 'Identifier') return undefined;
    const second = scopes.parentOf(first);
    const { name } = first.property;
    const isRecord = name === 'props' || name === 'state';
    const inner =
      isRecord && second?.type === 'MemberExpression' && second.property.type === 'Identifier'
        ? `${name}.${second.property.name}`
        : name;
    found.push({ name: inner, at: node.range[0] });
    return undefined;
  });
  return found;
}
