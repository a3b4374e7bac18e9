/**
 * Logic of a component that can become a unit of its own (a hook, a composable): an effect, the state that it fills, the
 * functions that it calls, and what only these use. What a framework calls what, and where the statements of a component
 * stand, is for its language to say.
 */
import { isProblem, type Problem } from '../../problems/problems.js';
import type { Variable } from '../../script/scopes.js';
import { bare, isFunction, nodeWithin } from '../../script/walk.js';
import type { Hooks, LogicGroup } from '../../language/hooking.js';
import type { Span } from '../../text/edits.js';
import { hookName } from '../naming.js';
import { subjectOf } from './subject.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import { gather, placeFor } from './placing.js';
import { bodyOf, holdsMarkup, readOutside, type Body, type LogicReader, type Statement } from './statements.js';

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
    if (!group || givesMarkup(group)) continue;
    for (const statement of group) taken.add(statement);
    found.push(groupOf(group, state.declared[0]!.name));
  }
  for (const long of body.statements) {
    const isAlone = long.isFunction || long.isWorkedOut || isLongQuestion(long, file.text);
    if (!isAlone || long.declared.length === 0 || taken.has(long) || body.height(long) < LONG) continue;
    const group = placedWithOwn(body, [long], taken);
    if (!group || isConstant(group) || givesMarkup(group)) continue;
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

/** Whether some of it gives markup back: that is a component, or a piece of one. */
function givesMarkup(group: readonly Statement[]): boolean {
  return group.some(({ node }) => holdsMarkup(node));
}

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
