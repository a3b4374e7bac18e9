/**
 * Logic of a component that can become a unit of its own (a hook, a composable): an effect, the state that it fills, the
 * functions that it calls, and what only these use. What a framework calls what, and where the statements of a component
 * stand, is for its language to say.
 */
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import { isQuiet, mayChangePlaces, type CallNames } from '../../script/quiet.js';
import type { Reference, ScriptScopes, Variable } from '../../script/scopes.js';
import { bare, boundNames, calleeName, isFunction, nodeWithin, spanOf, walk, within } from '../../script/walk.js';
import type { Gathered, Hooks, LogicGroup } from '../../language/hooking.js';
import { applyEdits, movedOffset, type Edit, type Span } from '../../text/edits.js';
import { lineEndOf, withComments } from '../../text/layout.js';
import { wholeLines } from '../imports.js';
import { hookName } from '../naming.js';
import { subjectOf } from './subject.js';
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
interface Read extends Kept {
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
interface Statement extends Read {
  /** What it uses, and what the functions use that it uses. */
  readonly reaches: ReadonlySet<Variable>;
  /** First names of what it changes. */
  readonly changes: ReadonlySet<Variable>;
  /** Whether what it keeps is changed by functions of the component only, and never where something is shown. */
  readonly isSetByFunctions: boolean;
}

/** Logic in units of its own, for a framework that is read so. */
export function hooksOf(reader: LogicReader): Hooks {
  return {
    groups: (file, ports, component) => groups(reader, file, ports, component),
    gather: (file, ports, statements) => gather(reader, file, ports, statements),
    nameFor: hookName,
  };
}

function groups(reader: LogicReader, file: SourceFile, ports: Ports, component: Span): readonly LogicGroup[] | Problem {
  const body = bodyOf(reader, file, ports, component);
  if (isProblem(body)) return body;
  const taken = new Set<Statement>();
  const found: LogicGroup[] = [];
  for (const effect of body.statements) {
    if (!effect.isEffect || taken.has(effect)) continue;
    const group = placed(body, grown(body.statements, effect, taken));
    const subject = group && aboutWhat(group);
    if (!subject) continue;
    for (const statement of group) taken.add(statement);
    found.push(groupOf(group, subject.name));
  }
  for (const state of body.statements) {
    const doing = taken.has(state) ? [] : changing(body, state, taken);
    const group = placedWithOwn(body, doing, taken);
    if (!group) continue;
    for (const statement of group) taken.add(statement);
    found.push(groupOf(group, state.declared[0]!.name));
  }
  for (const long of body.statements) {
    const isAlone = long.isFunction || long.isWorkedOut || isLongQuestion(long, file.text);
    if (!isAlone || long.declared.length === 0 || taken.has(long) || body.height(long) < LONG) continue;
    const group = placedWithOwn(body, [long], taken);
    if (!group || isConstant(group) || group.some(({ node }) => holdsMarkup(node))) continue;
    for (const statement of group) taken.add(statement);
    found.push(groupOf(group, subjectOf(long.declared.map(({ name }) => name))));
  }
  return found.sort((a, b) => a.statements[0]!.start - b.statements[0]!.start);
}

/** A group that has a place: where it has none with its states, because they are read before, they are handed over. */
function placed(body: Body, group: readonly Statement[]): readonly Statement[] | undefined {
  const without = group.filter((s) => s.keeps !== 'state');
  return [group, without].find((g) => placeFor(body, g) !== undefined);
}

/** The state that is read most outside of a group; where it has none, what it gives beside the refs that it fills. */
function aboutWhat(group: readonly Statement[]): Variable | undefined {
  const outside = (s: Statement) => readOutside(group, s.declared[0]!);
  const isChanged = (s: Statement) => Number(group.some((g) => s.declared.some((v) => g.changes.has(v))));
  const states = group
    .filter((s) => s.keeps === 'state')
    .sort((a, b) => isChanged(b) - isChanged(a) || outside(b) - outside(a));
  const isRef = (s: Statement) => s.keeps === 'ref';
  if (states.length > 0 || !group.some(isRef)) return states[0]?.declared[0];
  return group.find((s) => !isRef(s) && s.declared.length > 0 && outside(s) > 0)?.declared[0];
}

/** A function, or a value that is worked out, of so many lines is logic by itself, whether it fills a state or not. */
const LONG = 15;

/** Whether statements hold values that nothing of the component is in: those are for the top of a module. */
function isConstant(group: readonly Statement[]): boolean {
  const declared = group.flatMap((s) => s.declared);
  return group.every((s) => !s.calls && s.isWorkedOut && [...s.uses.keys()].every((v) => declared.includes(v)));
}

/** Functions of so many lines that change one state are a job by themselves, with that state. */
const LONG_TOGETHER = 30;

/** A state and the functions that change it; nothing where that is no job by itself. */
function changing({ statements, height }: Body, state: Statement, taken: ReadonlySet<Statement>): Statement[] {
  const isFree = (s: Statement) => !taken.has(s);
  const doing = statements.filter((s) => s.isFunction && isFree(s) && s.changes.has(state.declared[0]!));
  const lines = doing.reduce((n, s) => n + height(s), 0);
  if (state.keeps !== 'state' || state.isAsked || doing.length < 2 || lines < LONG_TOGETHER) return [];
  return [state, ...doing];
}

/** A hook that is given a function of so many lines: what it asks for is logic by itself, however much it gives. */
function isLongQuestion({ node, isAsked }: Statement, text: string): boolean {
  const init = node.type === 'VariableDeclaration' ? node.declarations[0]?.init : undefined;
  const call = init && bare(init);
  if (!isAsked || call?.type !== 'CallExpression') return false;
  return call.arguments.some((a) => isFunction(a) && text.slice(...a.range).split('\n').length >= LONG);
}

function groupOf(group: readonly Statement[], subject: string): LogicGroup {
  const declared = group.flatMap((s) => s.declared);
  const inputs = new Set(group.flatMap((s) => [...s.uses.keys()]).filter((v) => !declared.includes(v)));
  const names = (list: Iterable<Variable>) => [...list].map((v) => v.name);
  return {
    statements: group.map((s) => s.span),
    subject,
    inputs: names(inputs),
    results: names(declared.filter((v) => readOutside(group, v) > 0)),
    declared: names(declared),
    keeps: group.some((s) => s.isLogic),
  };
}

/** How often a name is read outside of a group. */
function readOutside(group: readonly Statement[], { references }: Variable): number {
  return references.filter((r) => !group.some((s) => nodeWithin(r.identifier, s.span))).length;
}

/** Statements with what only they use, where all of that has a place; without it where it has none. */
function placedWithOwn(
  body: Body,
  doing: readonly Statement[],
  taken: ReadonlySet<Statement>,
): readonly Statement[] | undefined {
  if (doing.length === 0) return undefined;
  const inOrder = body.statements.filter((s) => doing.includes(s));
  return [withOwn(body.statements, doing, taken), inOrder].find((group) => placeFor(body, group) !== undefined);
}

/** Functions, and the functions and values that only they use. */
function withOwn(
  statements: readonly Statement[],
  doing: readonly Statement[],
  taken: ReadonlySet<Statement>,
): Statement[] {
  const group = new Set(doing);
  for (let again = true; again;) {
    again = false;
    for (const statement of statements) {
      if (group.has(statement) || taken.has(statement) || !statement.isQuiet || statement.declared.length === 0)
        continue;
      const isOwn = (v: Variable) => v.references.some((r) => !r.init) && readOutside([...group, statement], v) === 0;
      if (!statement.declared.every(isOwn)) continue;
      group.add(statement);
      again = true;
    }
  }
  return statements.filter((s) => group.has(s));
}

/** What belongs to an effect: state that it or its functions change, and whatever only they use. */
function grown(statements: readonly Statement[], effect: Statement, taken: ReadonlySet<Statement>): Statement[] {
  const group = new Set([effect]);
  const isFree = (s: Statement) => !group.has(s) && !taken.has(s);
  const isChanged = (s: Statement) => [...group].some((g) => s.declared.some((v) => g.changes.has(v)));
  for (let again = true; again;) {
    again = false;
    for (const statement of statements.filter(isFree)) {
      const used = [...group].flatMap((s) => statement.declared.filter((v) => s.uses.has(v)));
      const isState =
        statement.keeps !== undefined && used.length > 0 && (isChanged(statement) || statement.isSetByFunctions);
      // A value that several of them read.
      const isShared =
        statement.isWorkedOut && [...group].filter((s) => statement.declared.some((v) => s.uses.has(v))).length > 1;
      const isDoing =
        (statement.isFunction || statement.isAsked || statement.isWorkedOut) &&
        used.length > 0 &&
        statement.changes.size > 0;
      const isOwn =
        statement.isQuiet &&
        statement.declared.length > 0 &&
        used.length > 0 &&
        statement.declared.every((v) =>
          v.references.every((r) => [...group, statement].some((s) => nodeWithin(r.identifier, s.span))),
        );
      // A second effect that changes the same state.
      const isBeside =
        statement.isEffect &&
        [...group].some((s) => s.keeps === 'state' && s.declared.some((v) => statement.changes.has(v)));
      if (!isState && !isShared && !isDoing && !isOwn && !isBeside) continue;
      group.add(statement);
      again = true;
    }
  }
  return statements.filter((s) => group.has(s));
}

/** The statement of a group in front of which all of it can stand; undefined where there is none. */
function placeFor({ statements, words, givenFrom }: Body, group: readonly Statement[]): Statement | undefined {
  const declared = new Set(group.flatMap((s) => s.declared));
  const others = statements.filter((s) => !group.includes(s));
  const isShared = (s: Statement) =>
    s.isVariable && (group.includes(s) ? others : group).some((o) => s.declared.some((v) => o.uses.has(v)));
  if (statements.some(isShared)) return undefined;
  // What a function names it asks for when it is called, and nothing in between calls any.
  const mayWait = (other: Statement, place: Statement) => {
    const atOnce = [...other.uses].flatMap(([v, when]) => (when === 'at once' ? [v] : []));
    const isNeeded = [...reachedFrom(atOnce, statements)].some((v) => declared.has(v));
    const between = statements.slice(statements.indexOf(other), statements.indexOf(place));
    return !isNeeded && between.every((s) => group.includes(s) || isQuiet(s.node, words));
  };
  const from = Math.max(0, ...group.flatMap((s) => [...s.reaches].map((v) => givenFrom?.(v) ?? 0)));
  return group.find((place) => {
    const at = place.span.start;
    if (at < from) return false;
    const isBefore = (s: Statement) => s.span.start < at;
    return others.every((other) => {
      // What the group reads is declared before it, and what it declares is read at once only behind it.
      const isRead = other.declared.some((v) => group.some((s) => s.reaches.has(v)));
      // A function declaration is there from the start; what it names is asked for on its own.
      if (isRead && !isBefore(other) && other.node.type !== 'FunctionDeclaration') return false;
      if (isBefore(other) && [...other.reaches].some((v) => declared.has(v)) && !mayWait(other, place)) return false;
      // Effects and other calls keep their order.
      const passed = group.filter((s) => isBefore(other) !== other.span.start < s.span.start);
      return passed.every((s) => mayChangePlaces(s.node, other.node, words));
    });
  });
}

interface Body extends Pick<LogicBody, 'givenFrom'> {
  readonly words: LogicWords;
  readonly statements: readonly Statement[];
  readonly text: string;
  /** Lines of a statement. */
  readonly height: (statement: Read) => number;
}

/** The statements of a component, up to the first that may end it. */
function bodyOf(
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
  const functions = read.filter((s) => s.isFunction || (words.lasting && !isGiven(s)));
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
function reachedFrom(names: Iterable<Variable>, statements: readonly Read[]): ReadonlySet<Variable> {
  const reached = new Set(names);
  for (const name of reached) {
    const fn = statements.find((s) => s.isFunction && s.declared.includes(name));
    for (const used of fn?.uses.keys() ?? []) reached.add(used);
  }
  return reached;
}

/** Whether a statement is what a component shows or gives back. */
function isGiven({ node }: Read): boolean {
  return node.type === 'ReturnStatement';
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

function holdsMarkup(node: Node): boolean {
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

function gather(reader: LogicReader, file: SourceFile, ports: Ports, wanted: readonly Span[]): Gathered | Problem {
  const at = { path: file.path, span: wanted[0] ?? { start: 0, end: 0 } };
  const around = { start: wanted[0]?.start ?? 0, end: wanted.at(-1)?.end ?? 0 };
  const component = reader.around(file, ports, around);
  if (typeof component === 'string') return problem('hook-statements', { path: file.path, span: around }, component);
  const body = bodyOf(reader, file, ports, component);
  if (isProblem(body)) return body;
  const lies = (s: Statement, w: Span) => within(s.span, w);
  const group = body.statements.filter((s) => wanted.some((w) => lies(s, w)));
  const isWhole = (w: Span) => {
    const touched = body.statements.filter((s) => s.span.start < w.end && s.span.end > w.start);
    return touched.length > 0 && touched.every((s) => lies(s, w));
  };
  if (!wanted.every(isWhole))
    return problem('hook-statements', at, 'the lines hold no whole statements of one component');
  const place = placeFor(body, group);
  if (!place) return problem('hook-statements', at, 'no place is left at which all of them would do what they did');
  const given = group.flatMap((s) => s.declared).filter((v) => readOutside(group, v) > 0);
  const told = given.length > 0 ? subjectOf(given.map((v) => v.name)) : undefined;
  const kept = (how: 'state' | 'ref') => group.find((s) => s.keeps === how)?.declared[0]?.name;
  const subject = kept('state') ?? told ?? kept('ref');
  return { ...broughtTogether(file.text, group, place), statements: group.map((s) => s.span), subject };
}

/** Moves every other statement to the one at the place, in text order, with the comments right above it. */
function broughtTogether(
  text: string,
  group: readonly Statement[],
  place: Statement,
): Pick<Gathered, 'edits' | 'span' | 'before'> {
  const nl = lineEndOf(text);
  const own = withComments(text, place.span);
  const edits: Edit[] = [];
  const moved: { readonly from: Span; readonly index: number }[] = [];
  const pieces = { before: '', after: '' };
  const indent = text.slice(text.lastIndexOf('\n', own.start - 1) + 1, own.start);
  let isLong = text.slice(own.start, own.end).includes('\n');
  for (const [index, statement] of group.entries()) {
    if (statement === place) continue;
    const span = withComments(text, statement.span);
    const lines = wholeLines(text, span);
    // Two of them may both take the blank line in between.
    edits.push({ ...lines, start: Math.max(lines.start, edits.at(-1)?.end ?? 0) });
    const part = text.slice(span.start, span.end);
    const several = part.includes('\n');
    if (statement.span.start < place.span.start) pieces.before += `${part}${nl}${several ? nl : ''}${indent}`;
    else {
      pieces.after += `${nl}${several || isLong ? nl : ''}${indent}${part}`;
      isLong = several;
    }
    moved.push({ from: span, index });
  }
  edits.push({ start: own.start, end: own.start, text: pieces.before });
  edits.push({ start: own.end, end: own.end, text: pieces.after });
  const after = applyEdits(text, edits);
  // Insertions right at the edges of the place belong to the run.
  const shifted = (offset: number) =>
    movedOffset(
      edits.filter((e) => e.end <= own.start && e.text === ''),
      offset,
    );
  const start = shifted(own.start);
  const end = start + pieces.before.length + (own.end - own.start) + pieces.after.length;
  const spans = [...moved.map((m) => m.from), own].map((from) => {
    const piece = text.slice(from.start, from.end);
    const ahead = from.start < own.start || from === own ? start : start + pieces.before.length + own.end - own.start;
    return { from, to: after.indexOf(piece, from === own ? start + pieces.before.length : ahead) };
  });
  const before = (span: Span) => {
    const home = spans.find(({ from, to }) => span.start >= to && span.end <= to + (from.end - from.start));
    return home && { start: span.start - home.to + home.from.start, end: span.end - home.to + home.from.start };
  };
  return { edits: edits.filter((e) => e.start < e.end || e.text !== ''), span: { start, end }, before };
}
