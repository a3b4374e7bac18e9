/** A question that a component asks of one value in several places: what it is, or whether it is there at all. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, Program } from './parser.js';
import type { ScriptScopes, Variable } from './scopes.js';
import { bare, isFunction, nodeWithin, runsNow, spanOf, walk, type FunctionNode } from './walk.js';

export type Constant = string | number | boolean | null;

export interface Question {
  /** The value that is asked of, as it is written but for white space. */
  readonly subject: string;
  /** The one constant that counts; all that it is compared with, where it is left out. */
  readonly constant?: Constant;
}

/** What the value is: one constant, none of those that it is compared with, or whether it counts as true. */
export type Answer = { readonly is: Constant } | 'other' | boolean;

/** One place that asks. */
export interface Asking {
  /** The comparison, or the value itself where it is a condition. */
  readonly node: Node;
  readonly subject: Node;
  readonly constant?: Constant;
  /** `!==` */
  readonly isNot: boolean;
  /** The truth for which the value itself may be shown: `count && …` shows a count of nothing. */
  readonly shows?: boolean;
}

/** The question that a person wrote; undefined for what is no value that can be read again and again. */
export function questionOf(program: Program): Question | undefined {
  const [only, more] = program.body;
  if (only?.type !== 'ExpressionStatement' || more) return undefined;
  const compared = comparison(only.expression);
  const subject = compared?.subject ?? bare(only.expression);
  if (!isRead(subject)) return undefined;
  return { subject: written(subject), ...(compared ? { constant: compared.constant } : {}) };
}

/**
 * Where a piece of code asks while it is run, not in functions that run later, for a value that is known at `at` as well.
 * `booleans`: names of values that are only true and false.
 */
function askedIn(
  root: Node,
  at: Node,
  scopes: ScriptScopes,
  question: Question,
  booleans: ReadonlySet<string> = new Set(),
): readonly Asking[] {
  const found: Asking[] = [];
  const scope = scopes.scopeAt(spanOf(at));
  walk(root, (node) => {
    if (node !== root && isFunction(node) && !runsNow(node, scopes.parentOf(node))) return false;
    const compared = comparison(node);
    const subject = compared?.subject ?? (isCondition(node, scopes) ? bare(node) : undefined);
    if (!subject || !isRead(subject) || written(subject) !== question.subject) return undefined;
    // Of the same thing as at the place where it is to be asked once, which nobody sets in between.
    const isOther = namesIn(subject).some((id) => {
      const variable = scopes.variableOf(id);
      if (!variable) return false;
      return scopes.visibleIn(scope, variable.name) !== variable || isSetMeanwhile(variable, root, scopes);
    });
    if (isOther) return undefined;
    if (compared && question.constant !== undefined && compared.constant !== question.constant) return undefined;
    const parent = scopes.parentOf(node);
    const isShown = parent?.type === 'LogicalExpression' && !compared && !booleans.has(question.subject);
    found.push({
      isNot: false,
      ...compared,
      node,
      subject,
      ...(isShown ? { shows: parent.operator === '||' } : {}),
    });
    return false;
  });
  return found;
}

/** Where a component asks: in what it shows, and where it returns early. */
export function askedBy(
  fn: FunctionNode,
  scopes: ScriptScopes,
  question: Question,
  booleans?: ReadonlySet<string>,
): readonly Asking[] {
  const shown = shownBy(fn);
  if (!shown) return [];
  const roots = [shown, ...statementsOf(fn).filter((s) => earlyReturn(s))];
  return roots.flatMap((root) => askedIn(root, shown, scopes, question, booleans));
}

export function statementsOf({ body }: FunctionNode): readonly TSESTree.Statement[] {
  return body.type === 'BlockStatement' ? body.body : [];
}

/** What the last return gives. */
export function shownBy(fn: FunctionNode): Node | undefined {
  if (fn.body.type !== 'BlockStatement') return fn.body;
  const last = fn.body.body.at(-1);
  return last?.type === 'ReturnStatement' ? (last.argument ?? undefined) : undefined;
}

/** `if (…) return …;` */
export function earlyReturn(statement: Node): { readonly test: Node; readonly shown: Node } | undefined {
  if (statement.type !== 'IfStatement' || statement.alternate) return undefined;
  const { consequent } = statement;
  const [only, more] = consequent.type === 'BlockStatement' ? consequent.body : [consequent];
  if (only?.type !== 'ReturnStatement' || more || !only.argument) return undefined;
  return { test: statement.test, shown: only.argument };
}

/** All answers that make a difference, in the order in which the constants are asked for. */
export function answersTo(asked: readonly Asking[], { constant }: Question): readonly Answer[] {
  const constants = constant !== undefined ? [constant] : asked.flatMap((a) => ('constant' in a ? [a.constant!] : []));
  return constants.length > 0 ? [...[...new Set(constants)].map((is) => ({ is })), 'other'] : [true, false];
}

/** What an answer makes of one place that asks; undefined where it says nothing of it. */
export function decided({ constant, isNot }: Asking, answer: Answer): boolean | undefined {
  if (constant === undefined) {
    if (answer === 'other') return undefined;
    return typeof answer === 'boolean' ? answer : Boolean(answer.is);
  }
  if (typeof answer === 'boolean') return undefined;
  return (answer !== 'other' && answer.is === constant) !== isNot;
}

function comparison(node: Node): { subject: Node; constant: Constant; isNot: boolean } | undefined {
  const inner = bare(node);
  if (inner !== node || inner.type !== 'BinaryExpression') return undefined;
  if (inner.operator !== '===' && inner.operator !== '!==') return undefined;
  const [left, right] = [bare(inner.left), bare(inner.right)];
  const [subject, literal] = right.type === 'Literal' ? [left, right] : [right, left];
  if (literal.type !== 'Literal' || 'regex' in literal || typeof literal.value === 'bigint') return undefined;
  return { subject, constant: literal.value, isNot: inner.operator === '!==' };
}

/** Whether only the truth of it counts, or what stands behind it. */
function isCondition(node: Node, scopes: ScriptScopes): boolean {
  const parent = scopes.parentOf(node);
  if (parent?.type === 'ConditionalExpression' || parent?.type === 'IfStatement') return parent.test === node;
  if (parent?.type === 'LogicalExpression') return parent.left === node && parent.operator !== '??';
  return parent?.type === 'UnaryExpression' && parent.operator === '!';
}

/** A name, or a member of one by its name. */
function isRead(node: Node): boolean {
  if (node.type === 'MemberExpression') return !node.computed && isRead(bare(node.object));
  return node.type === 'Identifier';
}

/** `visit.kind`; made names of a language stand for what is written. */
function written(node: Node): string {
  if (node.type === 'MemberExpression') return `${written(bare(node.object))}.${written(node.property)}`;
  return node.type === 'Identifier' ? node.name.replace(/^(?:props|this)\./, '') : '';
}

function namesIn(subject: Node): Node[] {
  return subject.type === 'MemberExpression' ? namesIn(bare(subject.object)) : [subject];
}

/** Whether a variable is set where the code runs, rather than before it or in a function for later. */
function isSetMeanwhile(variable: Variable, root: Node, scopes: ScriptScopes): boolean {
  return variable.references.some((reference) => {
    const { identifier, init } = reference;
    if (init || !reference.isWrite() || !nodeWithin(identifier, spanOf(root))) return false;
    const above = scopes.ancestorsOf(identifier);
    return !above.slice(0, above.indexOf(root)).some((n) => isFunction(n) && !runsNow(n, scopes.parentOf(n)));
  });
}

/** What stands for code that an answer decides, where it does. */
export function argumentFor(
  places: readonly Asking[],
  node: Node,
  answer: Answer,
): { readonly kind: 'constant'; readonly value: boolean } | undefined {
  const asking = places.find((p) => p.node === node);
  const value = asking && decided(asking, answer);
  return value !== undefined && value !== asking!.shows ? { kind: 'constant', value } : undefined;
}

/** The condition that an answer is told by. */
export function conditionOf(places: readonly Asking[], answer: Answer, text: string): string {
  const subject = text.slice(...places[0]!.subject.range);
  if (typeof answer === 'boolean') return answer ? subject : `!${subject}`;
  if (answer === 'other') return '';
  const own = places.find((p) => !p.isNot && p.constant === answer.is);
  return own ? text.slice(...own.node.range) : `${subject} === ${spelled(answer.is)}`;
}

function spelled(value: Constant): string {
  return typeof value === 'string' ? `'${value.replace(/[\\']/g, '\\$&')}'` : String(value);
}
