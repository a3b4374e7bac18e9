/**
 * Logic of a component that can become a hook of its own: an effect, the state that it fills, the functions that it
 * calls, and what only these use.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { EFFECTS, KEEPERS, mayChangePlaces } from '../../../script/quiet.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { bare, boundNames, calleeName, isFunction, nodeWithin, spanOf, walk, within } from '../../../script/walk.js';
import type { Gathered, Hooks, LogicGroup } from '../../../language/hooking.js';
import { applyEdits, movedOffset, type Edit, type Span } from '../../../text/edits.js';
import { lineEndOf, withComments } from '../../../text/layout.js';
import { isHookName } from '../bindings.js';
import { wholeLines } from '../../imports.js';
import { hookName } from '../../naming.js';
import { parseFile } from '../source.js';
import { subjectOf } from './subject.js';
import type { Ports, SourceFile } from '../../../language/ports.js';

const STATES = new Set(['useState', 'useReducer', 'useRef']);

interface Statement {
  readonly node: Node;
  readonly span: Span;
  readonly hook: string | undefined;
  readonly declared: readonly Variable[];
  /** Names of the component that it uses; `at once`: while the component is shown, not in a function that runs later. */
  readonly uses: ReadonlyMap<Variable, 'at once' | 'later'>;
}

export const hooks: Hooks = {
  groups,
  gather,
  nameFor: hookName,
};

function groups(file: SourceFile, ports: Ports, component: Span): readonly LogicGroup[] | Problem {
  const body = bodyOf(file, ports, component);
  if (isProblem(body)) return body;
  const taken = new Set<Statement>();
  const found: LogicGroup[] = [];
  for (const effect of body.statements) {
    if (!isEffect(effect) || taken.has(effect)) continue;
    const group = placed(body.statements, grown(body.statements, effect, taken));
    const subject = group && aboutWhat(group);
    if (!subject) continue;
    for (const statement of group) taken.add(statement);
    found.push(groupOf(group, subject.name));
  }
  for (const long of body.statements) {
    const isAlone = isFunctionLike(long) || isWorkedOut(long) || isLongQuestion(long, file.text);
    if (!isAlone || long.declared.length === 0 || taken.has(long) || body.height(long) < LONG) continue;
    const group = withOwn(body.statements, long, taken);
    if (placeFor(body.statements, group) === undefined) continue;
    for (const statement of group) taken.add(statement);
    found.push(groupOf(group, subjectOf(long.declared.map(({ name }) => name))));
  }
  return found.sort((a, b) => a.statements[0]!.start - b.statements[0]!.start);
}

/** A group that has a place: where it has none with its states, because they are read before, they are handed over. */
function placed(statements: readonly Statement[], group: readonly Statement[]): readonly Statement[] | undefined {
  const without = group.filter((s) => !isKept(s));
  return [group, without].find((g) => placeFor(statements, g) !== undefined);
}

function isKept({ hook }: Statement): boolean {
  return hook === 'useState' || hook === 'useReducer';
}

/** The state that is read most outside of a group; where it has none, what it gives beside the refs that it fills. */
function aboutWhat(group: readonly Statement[]): Variable | undefined {
  const outside = (s: Statement) => readOutside(group, s.declared[0]!);
  const states = group.filter(isKept).sort((a, b) => outside(b) - outside(a));
  if (states.length > 0 || !group.some(isRef)) return states[0]?.declared[0];
  return group.find((s) => !isRef(s) && s.declared.length > 0 && outside(s) > 0)?.declared[0];
}

/** A function, or a value that is worked out, of so many lines is logic by itself, whether it fills a state or not. */
const LONG = 15;

/** A hook that is given a function of so many lines: what it asks for is logic by itself, however much it gives. */
function isLongQuestion(statement: Statement, text: string): boolean {
  const init = statement.node.type === 'VariableDeclaration' ? statement.node.declarations[0]?.init : undefined;
  const call = init && bare(init);
  if (!isAsked(statement) || call?.type !== 'CallExpression') return false;
  return call.arguments.some((a) => isFunction(a) && text.slice(...a.range).split('\n').length >= LONG);
}

/** A value that is worked out from others while the component is shown, and holds no markup. */
function isWorkedOut(statement: Statement): boolean {
  const { node, hook } = statement;
  const isValue = node.type === 'VariableDeclaration' && !isFunctionLike(statement);
  if (!isValue || (hook !== undefined && hook !== 'useMemo')) return false;
  let plain = true;
  walk(node, (inner) => {
    if (inner.type === 'JSXElement' || inner.type === 'JSXFragment') plain = false;
    return plain;
  });
  return plain;
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
    keeps: group.some((s) => isWorkedOut(s) || (s.hook !== undefined && s.hook !== 'useCallback')),
  };
}

/** How often a name is read outside of a group. */
function readOutside(group: readonly Statement[], { references }: Variable): number {
  return references.filter((r) => !group.some((s) => nodeWithin(r.identifier, s.span))).length;
}

/** A function, and the functions and values that only it uses. */
function withOwn(statements: readonly Statement[], doing: Statement, taken: ReadonlySet<Statement>): Statement[] {
  const group = new Set([doing]);
  for (let again = true; again;) {
    again = false;
    for (const statement of statements) {
      const isPlain = statement.hook === undefined || KEEPERS.has(statement.hook);
      if (group.has(statement) || taken.has(statement) || !isPlain || statement.declared.length === 0) continue;
      if (!statement.declared.every((v) => v.references.length > 1 && readOutside([...group, statement], v) === 0))
        continue;
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
  for (let again = true; again;) {
    again = false;
    for (const statement of statements.filter(isFree)) {
      const used = [...group].flatMap((s) => statement.declared.filter((v) => s.uses.has(v)));
      const isState =
        STATES.has(statement.hook ?? '') &&
        used.some((v) => v !== statement.declared[0] || isRef(statement) || isSetByFunctions(statement, statements));
      // A value that several of them read.
      const isShared =
        isWorkedOut(statement) && [...group].filter((s) => statement.declared.some((v) => s.uses.has(v))).length > 1;
      const isDoing =
        (isFunctionLike(statement) || isAsked(statement)) && used.length > 0 && changes(statement, statements);
      const isOwn =
        (KEEPERS.has(statement.hook ?? '') || statement.hook === undefined) &&
        statement.declared.length > 0 &&
        used.length > 0 &&
        statement.declared.every((v) =>
          v.references.every((r) => [...group, statement].some((s) => nodeWithin(r.identifier, s.span))),
        );
      // A second effect that changes the same state.
      const isBeside = isEffect(statement) && [...statement.uses.keys()].some((v) => isSetterOf(v, group));
      if (!isState && !isShared && !isDoing && !isOwn && !isBeside) continue;
      group.add(statement);
      again = true;
    }
  }
  return statements.filter((s) => group.has(s));
}

function isRef(statement: Statement): boolean {
  return statement.hook === 'useRef';
}

function isSetterOf(variable: Variable, group: ReadonlySet<Statement>): boolean {
  return [...group].some((s) => STATES.has(s.hook ?? '') && !isRef(s) && s.declared.indexOf(variable) > 0);
}

/** Whether a state is set by functions of the component only, and never where something is shown. */
function isSetByFunctions({ declared }: Statement, statements: readonly Statement[]): boolean {
  const setter = declared[1];
  const functions = statements.filter(isFunctionLike);
  return (
    setter !== undefined &&
    setter.references.length > 1 &&
    setter.references.every(
      (r) =>
        (setter.identifiers as readonly Node[]).includes(r.identifier) ||
        functions.some((f) => nodeWithin(r.identifier, f.span)),
    )
  );
}

/** Whether a function changes state or a ref of the component. */
function changes(statement: Statement, statements: readonly Statement[]): boolean {
  return [...statement.uses.keys()].some((v) =>
    statements.some((s) => STATES.has(s.hook ?? '') && s.declared.includes(v) && (isRef(s) || s.declared[0] !== v)),
  );
}

/** The statement of a group in front of which all of it can stand; undefined where there is none. */
function placeFor(statements: readonly Statement[], group: readonly Statement[]): Statement | undefined {
  const declared = new Set(group.flatMap((s) => s.declared));
  const others = statements.filter((s) => !group.includes(s));
  return group.find((place) => {
    const at = place.span.start;
    const isBefore = (s: Statement) => s.span.start < at;
    return others.every((other) => {
      // What the group reads is declared before it, and what it declares is read at once only behind it.
      const isRead = other.declared.some((v) => group.some((s) => s.uses.has(v)));
      if (isRead && !isBefore(other)) return false;
      if (isBefore(other) && [...other.uses].some(([v, when]) => when === 'at once' && declared.has(v))) return false;
      // Effects and other calls keep their order.
      const passed = group.filter((s) => isBefore(other) !== other.span.start < s.span.start);
      return passed.every((s) => mayChangePlaces(s.node, other.node));
    });
  });
}

interface Body {
  readonly statements: readonly Statement[];
  readonly text: string;
  /** Lines of a statement. */
  readonly height: (statement: Statement) => number;
}

/** The statements of a component, up to the first that may end it. */
function bodyOf(file: SourceFile, ports: Ports, component: Span): Body | Problem {
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  const scopes = ScriptScopes.of(script);
  let block: Node | undefined;
  walk(script.program, (node) => {
    if (block || node.range[1] < component.start || node.range[0] > component.end) return false;
    if (isFunction(node) && within(spanOf(node), component) && node.body.type === 'BlockStatement') block = node.body;
    return undefined;
  });
  const list = block?.type === 'BlockStatement' ? block.body : [];
  const end = list.findIndex((s) => mayEnd(s));
  const statements = (end < 0 ? list : list.slice(0, end)).map((node) => statementOf(node, scopes));
  const start = list[0]?.range[0] ?? 0;
  const isLocal = (v: Variable) =>
    statements.some((s) => s.declared.includes(v)) || v.identifiers.some((id) => id.range[0] < start);
  return {
    text: file.text,
    height: ({ span }) => file.text.slice(span.start, span.end).split('\n').length,
    statements: statements.map((s) => ({ ...s, uses: new Map([...s.uses].filter(([v]) => isLocal(v))) })),
  };
}

function statementOf(node: Node, scopes: ScriptScopes): Statement {
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
  return { node, span, hook: isHookName(name) ? name : hookInside(node), declared: own, uses };
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
function hookInside(node: Node): string | undefined {
  let found: string | undefined;
  walk(node, (inner) => {
    if (isFunction(inner)) return false;
    const name = inner.type === 'CallExpression' ? calleeName(inner) : undefined;
    if (isHookName(name)) found ??= name;
    return undefined;
  });
  return found;
}

/** A hook of the project or of a package, which is given functions. */
function isAsked({ hook }: Statement): boolean {
  return hook !== undefined && !STATES.has(hook) && !KEEPERS.has(hook) && !EFFECTS.has(hook);
}

function isEffect({ node, hook }: Statement): boolean {
  return node.type === 'ExpressionStatement' && EFFECTS.has(hook ?? '');
}

function isFunctionLike({ node, hook }: Statement): boolean {
  if (node.type === 'FunctionDeclaration' || hook === 'useCallback') return true;
  const init = node.type === 'VariableDeclaration' ? node.declarations[0]?.init : undefined;
  return Boolean(init && isFunction(bare(init)));
}

function mayEnd(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (node.type === 'ReturnStatement' || node.type === 'ThrowStatement') found = true;
    return !found && !isFunction(node);
  });
  return found;
}

function gather(file: SourceFile, ports: Ports, wanted: readonly Span[]): Gathered | Problem {
  const at = { path: file.path, span: wanted[0] ?? { start: 0, end: 0 } };
  const around = { start: wanted[0]?.start ?? 0, end: wanted.at(-1)?.end ?? 0 };
  const component = componentAround(file, ports, around);
  if (isProblem(component)) return component;
  const body = bodyOf(file, ports, component);
  if (isProblem(body)) return body;
  const lies = (s: Statement, w: Span) => within(s.span, w);
  const group = body.statements.filter((s) => wanted.some((w) => lies(s, w)));
  const isWhole = (w: Span) => {
    const touched = body.statements.filter((s) => s.span.start < w.end && s.span.end > w.start);
    return touched.length > 0 && touched.every((s) => lies(s, w));
  };
  if (!wanted.every(isWhole))
    return problem('hook-statements', at, 'the lines hold no whole statements of one component');
  const place = placeFor(body.statements, group);
  if (!place) return problem('hook-statements', at, 'no place is left at which all of them would do what they did');
  const subject = group.find((s) => STATES.has(s.hook ?? ''))?.declared[0]?.name;
  return { ...broughtTogether(file.text, group, place), statements: group.map((s) => s.span), subject };
}

function componentAround(file: SourceFile, ports: Ports, span: Span): Span | Problem {
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  let found: Span | undefined;
  walk(script.program, (node) => {
    if (node.range[0] > span.start || node.range[1] < span.end) return false;
    if (!found && isFunction(node)) found = spanOf(node);
    return !found;
  });
  return found ?? problem('hook-statements', { path: file.path, span }, 'they stand in no component');
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
  for (const [index, statement] of group.entries()) {
    if (statement === place) continue;
    const span = withComments(text, statement.span);
    edits.push(wholeLines(text, span));
    const part = text.slice(span.start, span.end);
    const apart = part.includes('\n') ? nl : '';
    if (statement.span.start < place.span.start) pieces.before += `${part}${nl}${apart}${indent}`;
    else pieces.after += `${nl}${apart}${indent}${part}`;
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
