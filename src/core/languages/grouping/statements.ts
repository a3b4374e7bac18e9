/** The statements of a component as the grouping sees them: what each declares, uses, keeps and changes. */
import { isProblem, type Problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import type { CallNames } from '../../script/quiet.js';
import type { Reference, ScriptScopes, Variable } from '../../script/scopes.js';
import { bare, boundNames, calleeName, isFunction, nodeWithin, spanOf, walk } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import type { Ports, SourceFile } from '../../language/ports.js';

/** What a framework calls the functions that keep, work out and wait. */
export interface LogicWords extends CallNames {
  /** What is given a function that runs by the life of the component, or when something changes. */
  readonly effects: ReadonlySet<string>;
  /** What keeps something that shows anew when it changes. */
  readonly states: ReadonlySet<string>;
  /** What keeps something that nobody is told about. */
  readonly refs: ReadonlySet<string>;
  /** What works a value out of others. */
  readonly derives: ReadonlySet<string>;
  /** What a function is wrapped in that stays the function. */
  readonly wraps: ReadonlySet<string>;
  /** The statements run once, and what they declare is there as long as the component is. */
  readonly lasting: boolean;
}

/** The statements that make a component. */
export interface LogicBody {
  readonly text: string;
  readonly scopes: ScriptScopes;
  /** In text order; what gives the markup back is the last one. */
  readonly statements: readonly Node[];
  /** Set where what the component is given is there from some place on only. */
  readonly givenFrom?: (name: Variable) => number;
  /** Set where some of them can stand nowhere else. */
  readonly stays?: (statement: Node) => boolean;
}

export interface LogicReader {
  readonly words: LogicWords;
  /** The component around a piece of a file, or in words why there is none that can give it away. */
  readonly around: (file: SourceFile, ports: Ports, piece: Span) => Span | string;
  readonly open: (file: SourceFile, ports: Ports, component: Span) => LogicBody | Problem;
  /**
   * Whether a use of a name changes what a statement keeps that declares these names: a use of the setter, or of the state
   * itself on the left of `=`.
   */
  readonly changes: (use: Reference, kept: Kept, scopes: ScriptScopes) => boolean;
}

interface Kept {
  readonly declared: readonly Variable[];
  readonly keeps: 'state' | 'ref' | undefined;
  /** It calls something of the project or of a package that may keep and do anything, and may be given functions. */
  readonly isAsked: boolean;
}

/** A statement by itself. */
export interface Read extends Kept {
  readonly node: Node;
  readonly span: Span;
  /** Names of the component that it uses; `at once`: while the component is shown, not in a function that runs later. */
  readonly uses: ReadonlyMap<Variable, 'at once' | 'later'>;
  readonly isEffect: boolean;
  readonly isFunction: boolean;
  /** It gives a value, or looks one up. */
  readonly isQuiet: boolean;
  /** A value that is worked out from others while the component is shown, and holds no markup. */
  readonly isWorkedOut: boolean;
  /** Its name is given another value in place, and means nothing where it is handed over. */
  readonly isVariable: boolean;
  /** It keeps, works out or waits for something, and is no function alone. */
  readonly isLogic: boolean;
  /** It calls something that keeps, works out or waits. */
  readonly calls: boolean;
}

/** A statement among those of its component. */
export interface Statement extends Read {
  /** What it uses, and what the functions use that it uses. */
  readonly reaches: ReadonlySet<Variable>;
  /** First names of what it changes. */
  readonly changes: ReadonlySet<Variable>;
  /** Whether what it keeps is changed by functions of the component only, and never where something is shown. */
  readonly isSetByFunctions: boolean;
}

export interface Body extends Pick<LogicBody, 'givenFrom'> {
  readonly words: LogicWords;
  readonly statements: readonly Statement[];
  readonly text: string;
  /** Lines of a statement. */
  readonly height: (statement: Read) => number;
}

/** The statements of a component, up to the first that may end it. */
export function bodyOf(
  { open, words, changes }: LogicReader,
  file: SourceFile,
  ports: Ports,
  component: Span,
): Body | Problem {
  const body = open(file, ports, component);
  if (isProblem(body)) return body;
  const { statements: list, scopes, text, stays } = body;
  const end = list.findIndex((s) => mayEnd(s));
  const read = (end < 0 ? list : list.slice(0, end)).map((node) => statementOf(node, scopes, words, stays));
  const start = list[0]?.range[0] ?? 0;
  const isLocal = (v: Variable) =>
    read.some((s) => s.declared.includes(v)) || v.identifiers.some((id) => id.range[0] < start);
  const kept = read.filter((s) => s.keeps);
  const functions = read.filter((s) => s.isFunction || words.lasting);
  const usesOf = ({ declared }: Read) =>
    declared.flatMap((v) => v.references.filter((r) => !(v.identifiers as readonly Node[]).includes(r.identifier)));
  const changing = new Map(kept.map((s) => [s, usesOf(s).filter((use) => changes(use, s, scopes))]));
  return {
    words,
    ...(body.givenFrom ? { givenFrom: body.givenFrom } : {}),
    text,
    height: ({ span }) => text.slice(span.start, span.end).split('\n').length,
    statements: read.map((s): Statement => {
      const uses = new Map([...s.uses].filter(([v]) => isLocal(v)));
      const own = changing.get(s) ?? [];
      const isIn = (other: Read) => (use: Reference) => nodeWithin(use.identifier, other.span);
      const changed = kept.filter((k) => changing.get(k)!.some(isIn(s))).map((k) => k.declared[0]!);
      return {
        ...s,
        uses,
        reaches: reachedFrom(uses.keys(), read),
        changes: new Set(changed),
        isSetByFunctions: own.length > 0 && own.every((use) => functions.some((f) => isIn(f)(use))),
      };
    }),
  };
}

/** Names, and what the functions use that some of them stand for. */
export function reachedFrom(names: Iterable<Variable>, statements: readonly Read[]): ReadonlySet<Variable> {
  const reached = new Set(names);
  for (const name of reached) {
    const fn = statements.find((s) => s.isFunction && s.declared.includes(name));
    for (const used of fn?.uses.keys() ?? []) reached.add(used);
  }
  return reached;
}

function statementOf(
  node: Node,
  scopes: ScriptScopes,
  words: LogicWords,
  stays: (statement: Node) => boolean = () => false,
): Read {
  const span = spanOf(node);
  const only = node.type === 'VariableDeclaration' && node.declarations.length === 1 ? node.declarations[0] : undefined;
  const call = node.type === 'ExpressionStatement' ? node.expression : only?.init;
  const value = call ? bare(call) : undefined;
  const name = value ? calleeName(value) : undefined;
  const uses = new Map<Variable, 'at once' | 'later'>();
  const declared =
    node.type === 'FunctionDeclaration' && node.id
      ? [scopes.variableOf(node.id)]
      : node.type === 'VariableDeclaration'
        ? namesIn(node).map((id) => scopes.variableOf(id))
        : [];
  const own = declared.filter((v): v is Variable => v !== undefined);
  for (const { resolved, identifier } of scopes.within(span)) {
    if (!resolved || resolved.defs.length === 0 || scopes.isModuleLevel(resolved) || own.includes(resolved)) continue;
    const later = scopes.ancestorsOf(identifier).some((a) => isFunction(a) && nodeWithin(a, span));
    if (!later || !uses.has(resolved)) uses.set(resolved, later ? 'later' : 'at once');
  }
  const hook = words.isHook(name) ? name : hookInside(node, words);
  const called = hook ?? '';
  const isDoing =
    node.type === 'FunctionDeclaration' ||
    words.wraps.has(called) ||
    Boolean(only?.init && isFunction(bare(only.init)));
  const isWorkedOut =
    node.type === 'VariableDeclaration' &&
    !isDoing &&
    (hook === undefined || words.derives.has(hook)) &&
    !holdsMarkup(node);
  const isAsked =
    hook !== undefined && ![words.states, words.refs, words.keepers, words.effects].some((w) => w.has(hook));
  const isVariable = node.type === 'VariableDeclaration' && node.kind !== 'const' && !stays(node);
  const isState = words.states.has(called) || (words.lasting && isAsked);
  const isRef = words.refs.has(called) || (words.lasting && isVariable);
  const keeps = isState ? 'state' : isRef ? 'ref' : undefined;
  const isFixed = isWaiting(node) || stays(node);
  return {
    node,
    span,
    declared: own,
    uses,
    keeps: own.length > 0 && !isFixed ? keeps : undefined,
    isVariable: words.lasting && isVariable,
    isEffect: words.effects.has(called) && node.type === 'ExpressionStatement' && !isFixed,
    isFunction: isDoing && !isFixed,
    isAsked: isAsked && !isFixed,
    isQuiet: (hook === undefined || words.keepers.has(hook)) && !isFixed,
    isWorkedOut: isWorkedOut && !isFixed,
    isLogic: isWorkedOut || (hook !== undefined && !words.wraps.has(hook)),
    calls: hook !== undefined,
  };
}

/** Whether the component waits there: what stands in a function of its own cannot do that for it. */
export function isWaiting(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (node.type === 'AwaitExpression') found = true;
    return !found && !isFunction(node);
  });
  return found;
}

export function holdsMarkup(node: Node): boolean {
  let found = false;
  walk(node, (inner) => {
    if (inner.type === 'JSXElement' || inner.type === 'JSXFragment') found = true;
    return !found;
  });
  return found;
}

function namesIn(node: Node): Node[] {
  const ids: Node[] = [];
  if (node.type !== 'VariableDeclaration') return ids;
  for (const { id } of node.declarations) {
    const names = new Set(boundNames(id));
    walk(id, (inner) => {
      if (inner.type === 'Identifier' && names.has(inner.name)) ids.push(inner);
      return inner.type !== 'TSTypeAnnotation';
    });
  }
  return ids;
}

/** A hook that is called somewhere in a statement, whatever is done with what it gives. */
function hookInside(node: Node, words: LogicWords): string | undefined {
  let found: string | undefined;
  walk(node, (inner) => {
    if (isFunction(inner)) return false;
    const name = inner.type === 'CallExpression' ? calleeName(inner) : undefined;
    if (words.isHook(name)) found ??= name;
    return undefined;
  });
  return found;
}

function mayEnd(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (node.type === 'ReturnStatement' || node.type === 'ThrowStatement') found = true;
    return !found && !isFunction(node);
  });
  return found;
}

/** How often a name is read outside of a group. */
export function readOutside(group: readonly Statement[], { references }: Variable): number {
  return references.filter((r) => !group.some((s) => nodeWithin(r.identifier, s.span))).length;
}
