/**
 * Calls of new functions that stand for statements: what a component did itself and a module does for it now. The statements
 * stand where the call stands, and the call for what they come to.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { firstRun } from '../script/first-run.js';
import type { Node } from '../script/parser.js';
import type { ScriptScopes } from '../script/scopes.js';
import { isSettled, withoutAwait } from '../script/waiting.js';
import { isFunction, nodeWithin, spanOf, walk, type FunctionNode } from '../script/walk.js';
import { isTypeStatement } from './questions.js';
import type { Code } from './values.js';

/** A call that is opened where a statement begins with it. */
export interface Opened {
  readonly call: TSESTree.CallExpression;
  /** Its own statements, without what it gives back. */
  readonly inside: readonly Code[];
  /** What it comes to. */
  readonly answer: Code | undefined;
}

/** The call that a statement begins with, as far as `entered` knows its function. */
export function openedBy(
  statement: Node,
  scopes: ScriptScopes,
  entered: (call: TSESTree.CallExpression) => { readonly body: Code; readonly fn: FunctionNode } | undefined,
): Opened | undefined {
  let found: { readonly body: Code; readonly fn: FunctionNode } | undefined;
  const call = firstRun(statement, scopes, (node) => {
    if (node.type !== 'CallExpression' || node.callee.type !== 'Identifier') return false;
    found = entered(node);
    return found !== undefined;
  });
  if (call?.type !== 'CallExpression' || !found) return undefined;
  const { body, fn } = found;
  if (fn.generator || (fn.async && !isWaitedFor(call, scopes))) return undefined;
  if (body.node.type !== 'BlockStatement') return { call, inside: [], answer: body };
  const own = body.node.body.filter((s) => !isTypeStatement(s));
  const last = own.at(-1);
  const isGiving = last?.type === 'ReturnStatement';
  const before = isGiving ? own.slice(0, -1) : own;
  if (before.some(givesBack)) return undefined;
  const given = isGiving ? last.argument : undefined;
  // An asynchronous function gives what a promise comes to; so does whoever gives it on, or waits for it.
  const isSame =
    !fn.async || !given || isGivenOn(call, scopes) || isSettled(given, body.module.scopes) || isWaiting(call, scopes);
  if (!isSame) return undefined;
  return {
    call,
    inside: before.map((node) => ({ ...body, node })),
    answer: given ? { ...body, node: given } : undefined,
  };
}

/** Whether a call is waited for, or given back by an asynchronous function that no `try` watches. */
export function isWaitedFor(call: Node, scopes: ScriptScopes): boolean {
  return isWaiting(call, scopes) || isGivenOn(call, scopes);
}

function isWaiting(call: Node, scopes: ScriptScopes): boolean {
  return scopes.parentOf(call)?.type === 'AwaitExpression';
}

/** Whether a call is what an asynchronous function gives, so that what fails in it fails there. */
export function isGivenOn(call: Node, scopes: ScriptScopes): boolean {
  const parent = scopes.parentOf(call);
  const giving = parent?.type === 'AwaitExpression' ? scopes.parentOf(parent) : parent;
  if (giving?.type !== 'ReturnStatement') return false;
  const above = scopes.ancestorsOf(giving);
  const at = above.findIndex(isFunction);
  const fn = above[at];
  const isWatched = parent === giving && above.slice(0, at).some((n) => n.type === 'TryStatement');
  return fn !== undefined && isFunction(fn) && fn.async && !isWatched;
}

/** Whether a statement may end its function with something to give. */
function givesBack(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (node !== statement && isFunction(node)) return false;
    if (node.type === 'ReturnStatement') found = true;
    return !found;
  });
  return found;
}

/** What a declaration binds, where its value is nothing but the call. */
export function patternOf(statement: Node, call: Node): Node | undefined {
  if (statement.type !== 'VariableDeclaration' || statement.declarations.length !== 1) return undefined;
  const { id, init } = statement.declarations[0];
  return init && withoutAwait(init) === call ? id : undefined;
}

/** Whether a statement is nothing but the call. */
export function isOnly(statement: Node, call: Node): boolean {
  return statement.type === 'ExpressionStatement' && withoutAwait(statement.expression) === call;
}

/** Whether what a call comes to is names of its own statements. */
export function isOfOwn(given: Node, { call, inside, answer }: Opened, host: ScriptScopes): boolean {
  const { scopes } = answer!.module;
  // What is waited for is no promise any more.
  if (given.type === 'Identifier' && isWaiting(call, host) && !isSettled(given, scopes)) return false;
  const isOwn = (node: Node) =>
    node.type === 'Identifier' &&
    scopes.variableOf(node)?.identifiers.some((id) => inside.some((code) => nodeWithin(id, spanOf(code.node)))) ===
      true;
  if (given.type !== 'ObjectExpression') return isOwn(given);
  return given.properties.length > 0 && given.properties.every((p) => p.type === 'Property' && isOwn(p.value));
}
