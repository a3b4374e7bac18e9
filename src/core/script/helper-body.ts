/** The body of a function that gives markup back, as one expression: what it works out first, when it shows nothing, what it shows. */
import type { TSESTree } from '@typescript-eslint/types';
import * as make from './make.js';
import type { Node } from './parser.js';
import { isHookName, isQuiet } from './quiet.js';
import type { ScriptScopes, Variable } from './scopes.js';
import { bare, calleeName, isFunction, nodeWithin, spanOf, walk, type FunctionNode } from './walk.js';

export interface HelperBody {
  /** What each constant stands for; of a record that is taken apart, a member. */
  readonly constants: ReadonlyMap<Variable, Node>;
  readonly guards: readonly Guard[];
  readonly shown: Node;
}

/** `if (test) return value;` */
export interface Guard {
  readonly test: Node;
  /** Undefined where it gives nothing back, not even `null`. */
  readonly value: Node | undefined;
  /** Whether that shows nothing. */
  readonly isNothing: boolean;
}

/** Why a body is no such thing: words to stand behind "it". */
export interface Closed {
  readonly why: string;
  readonly node: Node;
}

/** What a function shows in the end, whatever it does before. */
export function lastShown({ body }: FunctionNode): Node | undefined {
  if (body.type !== 'BlockStatement') return body;
  let last = body.body.at(-1);
  while (last?.type === 'IfStatement' && !last.alternate)
    last = last.consequent.type === 'BlockStatement' ? last.consequent.body.at(-1) : last.consequent;
  return last?.type === 'ReturnStatement' ? (last.argument ?? undefined) : undefined;
}

/** `passed`: what stands for the parameters, where that is known. */
export function helperBody(
  fn: FunctionNode,
  scopes: ScriptScopes,
  passed: ReadonlyMap<Variable, Node> = new Map(),
): HelperBody | Closed {
  if (fn.async || fn.generator) return { why: 'waits for something', node: fn };
  const hook = hookIn(fn.body);
  if (hook) return { why: 'keeps something by a hook', node: hook };
  const constants = new Map<Variable, Node>();
  const guards: Guard[] = [];
  const loud: Loud[] = [...passed]
    .filter(([, value]) => isLoud(value))
    .map(([variable]) => ({ variables: [variable], guards: 0 }));
  let shown: Node | undefined = fn.body.type === 'BlockStatement' ? undefined : fn.body;
  const statements: Node[] = fn.body.type === 'BlockStatement' ? [...fn.body.body] : [];
  while (statements.length > 0) {
    const statement = statements.shift()!;
    const isLast = statements.length === 0;
    if (isLast && statement.type === 'ReturnStatement' && statement.argument) {
      shown = statement.argument;
      break;
    }
    // A condition at the end, and nothing where it does not hold.
    if (isLast && statement.type === 'IfStatement' && !statement.alternate) {
      guards.push({ test: make.not(statement.test, spanOf(statement.test)), value: undefined, isNothing: true });
      statements.push(
        ...(statement.consequent.type === 'BlockStatement' ? statement.consequent.body : [statement.consequent]),
      );
      continue;
    }
    if (statement.type === 'IfStatement') {
      const guard = guardOf(statement);
      if (!guard) return { why: 'returns in several places', node: statement };
      guards.push(guard);
      continue;
    }
    if (statement.type !== 'VariableDeclaration')
      return { why: 'does more than work something out and show it', node: statement };
    for (const declarator of statement.declarations) {
      const names = constantsOf(declarator, scopes);
      if (!names) return { why: 'takes something apart in an unusual way', node: declarator };
      for (const [variable, value] of names) constants.set(variable, value);
      if (isLoud(declarator.init!)) loud.push({ variables: [...names.keys()], guards: guards.length });
    }
  }
  if (!shown) return { why: 'does not end in a return', node: fn };
  const body = { constants, guards, shown };
  const early = loud.find((l) => !isReadAtOnce(l, body, scopes));
  return early ? { why: `needs "${early.variables[0]?.name ?? ''}" at once and only once`, node: shown } : body;
}

/**
 * Whether one way of showing nothing is as good as another where an expression stands: between the tags of an element, or beside
 * something else; the only content of a component is handed to it as it is.
 */
export function showsAnyNothing(container: Node, scopes: ScriptScopes): boolean {
  const parent = container.type === 'JSXExpressionContainer' ? scopes.parentOf(container) : undefined;
  if (parent?.type === 'JSXFragment') return true;
  if (parent?.type !== 'JSXElement') return false;
  const { name } = parent.openingElement;
  const others = parent.children.filter((c) => c !== container && (c.type !== 'JSXText' || c.value.trim() !== ''));
  return (name.type === 'JSXIdentifier' && /^[a-z]/.test(name.name)) || others.length > 0;
}

/**
 * The condition under which something is shown, and the whole as one expression. `inMarkup`: `false` shows nothing where it
 * stands. What is negated is said the other way round.
 */
export function guarded<T>(guards: readonly Guard[], inMarkup: boolean, write: Writes<T>, shown: T): T {
  // One after another that shows nothing reads well; among others it would be lost.
  const isPlain = inMarkup && guards.every(({ test, isNothing }) => isNothing && turned(test).isSure);
  return guards.reduceRight((rest, { test, value, isNothing }) => {
    const { positive, isTurned } = turned(test);
    if (isPlain) return write.and(positive, rest);
    const other = isNothing && inMarkup ? 'null' : (value ?? 'undefined');
    return isTurned ? write.choice(positive, rest, other) : write.choice(test, other, rest);
  }, shown);
}

/** Words of the language for what shows nothing. */
export type Nothing = 'null' | 'undefined';

export interface Writes<T> {
  and(test: Node, shown: T): T;
  choice(test: Node, shown: T | Node | Nothing, otherwise: T | Node | Nothing): T;
}

const OTHERWISE: Readonly<Record<string, string>> = { '===': '!==', '!==': '===', '==': '!=', '!=': '==' };

/** A condition the other way round; `isSure`: it comes to `true` or `false`; `isTurned`: it lost a sign rather than taking one. */
function turned(test: Node): { positive: Node; isSure: boolean; isTurned: boolean } {
  const node = bare(test);
  if (node.type === 'UnaryExpression' && node.operator === '!') {
    const positive = bare(node.argument);
    return { positive, isSure: isBoolean(positive), isTurned: true };
  }
  if (node.type === 'BinaryExpression' && node.operator in OTHERWISE)
    return { positive: { ...node, operator: OTHERWISE[node.operator]! } as Node, isSure: true, isTurned: true };
  return { positive: make.not(test, spanOf(test)), isSure: true, isTurned: false };
}

function isBoolean(node: Node): boolean {
  if (node.type === 'UnaryExpression') return node.operator === '!';
  if (node.type === 'LogicalExpression') return isBoolean(bare(node.left)) && isBoolean(bare(node.right));
  return node.type === 'BinaryExpression' && /^(?:[=!]==?|[<>]=?|in|instanceof)$/.test(node.operator);
}

function hookIn(body: Node): Node | undefined {
  let found: Node | undefined;
  walk(body, (node) => {
    if (node.type === 'CallExpression' && isHookName(calleeName(node))) found = node;
    return !found;
  });
  return found;
}

function guardOf({ test, consequent, alternate }: TSESTree.IfStatement): Guard | undefined {
  const only = consequent.type === 'BlockStatement' && consequent.body.length === 1 ? consequent.body[0]! : consequent;
  if (alternate || only.type !== 'ReturnStatement') return undefined;
  const value = only.argument ? bare(only.argument) : undefined;
  const isNothing =
    !value ||
    (value.type === 'Literal' && (value.value === null || value.value === false)) ||
    (value.type === 'Identifier' && value.name === 'undefined');
  return { test, value, isNothing };
}

/** The names of `const { a, b: c } = record`, each with its value. */
function constantsOf({ id, init }: TSESTree.VariableDeclarator, scopes: ScriptScopes): Map<Variable, Node> | undefined {
  const names = new Map<Variable, Node>();
  const take = (target: Node, value: Node) => {
    const variable = target.type === 'Identifier' ? scopes.variableOf(target) : undefined;
    if (!variable || scopes.isReassigned(variable)) return false;
    names.set(variable, value);
    return true;
  };
  if (!init) return undefined;
  if (id.type !== 'ObjectPattern') return take(id, init) ? names : undefined;
  const isTaken = id.properties.every(
    (p) =>
      p.type === 'Property' &&
      !p.computed &&
      p.key.type === 'Identifier' &&
      take(p.value, make.member(init, p.key.name, spanOf(p))),
  );
  return isTaken ? names : undefined;
}

/** Names of one value that is worked out by a call, and how many guards stand before it. */
interface Loud {
  readonly variables: readonly Variable[];
  readonly guards: number;
}

function isLoud(value: Node): boolean {
  return !isFunction(bare(value)) && !isQuiet(value);
}

/** Whether what a call works out is read once, whenever it is worked out, and right away. */
function isReadAtOnce({ variables, guards }: Loud, body: HelperBody, scopes: ScriptScopes): boolean {
  const reads = variables.flatMap((v) => v.references.filter((r) => !r.init));
  const [read] = reads;
  if (!read || reads.length > 1) return false;
  const place = body.guards[guards]?.test ?? body.shown;
  if (!nodeWithin(read.identifier, spanOf(place))) {
    // It may be part of another constant, which is read itself.
    const further = [...body.constants].find(([, value]) => nodeWithin(read.identifier, spanOf(value)))?.[0];
    return further !== undefined && isReadAtOnce({ variables: [further], guards }, body, scopes);
  }
  for (let node: Node = read.identifier; node !== place;) {
    const parent: Node | undefined = scopes.parentOf(node);
    if (!parent || isFunction(parent)) return false;
    if (parent.type === 'LogicalExpression' && parent.right === node) return false;
    if (parent.type === 'ConditionalExpression' && parent.test !== node) return false;
    node = parent;
  }
  return true;
}
