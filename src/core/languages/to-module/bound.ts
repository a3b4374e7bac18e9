/** What ties code to the component that it stands in: as long as something does, it can stand nowhere else. */
import type { Node } from '../../script/parser.js';
import { onlyGives } from '../../script/pure.js';
import { isHookName } from '../../script/quiet.js';
import { bare, calleeName, isFunction, nodeWithin, spanOf, walk } from '../../script/walk.js';
import { identifierEnd, type Variable } from '../../script/scopes.js';
import type { Span } from '../../text/edits.js';
import { isOfFile, type ScriptHost } from './host.js';

export interface Tie {
  readonly node: Node;
  /** Words to stand behind "because". */
  readonly why: string;
}

/** The first thing that ties a piece of code to its component; `spans`: all that leaves with it; `isBody`: all that its function does. */
export function tieOf(host: ScriptHost, root: Node, spans: readonly Span[], isBody = false): Tie | undefined {
  let tie: Tie | undefined;
  // How many functions, and how many that have a `this` of their own, stand around the place.
  let functions = 0;
  let methods = 0;
  const count = (node: Node, by: 1 | -1) => {
    if (!isFunction(node)) return;
    functions += by;
    if (node.type !== 'ArrowFunctionExpression') methods += by;
  };
  walk(
    root,
    (node, ancestors) => {
      if (tie) return false;
      const isOfThis = methods === 0;
      const why =
        whyTied(host, node, spans, isOfThis) ??
        (functions === 0 ? whyNotApart(host, node, isBody || node === root, ancestors) : undefined);
      if (why !== undefined) tie = { node, why };
      count(node, 1);
      return undefined;
    },
    (node) => {
      count(node, -1);
    },
  );
  return tie ?? tiedName(host, root, spans);
}

function whyTied(host: ScriptHost, node: Node, spans: readonly Span[], isOfThis: boolean): string | undefined {
  switch (node.type) {
    case 'JSXElement':
    case 'JSXFragment':
      return 'it shows something';
    case 'Super':
      return 'it calls what its class is made from';
    case 'Identifier':
      return node.name === 'arguments' && isOfThis && !host.scopes.variableOf(node)
        ? 'it reads the arguments of its function'
        : undefined;
    case 'ThisExpression':
      return isOfThis ? whyTiedThis(host, node) : undefined;
    case 'AssignmentExpression':
      return whyTiedTarget(host, node.left, spans, isOfThis);
    case 'UpdateExpression':
      return whyTiedTarget(host, node.argument, spans, isOfThis);
    case 'UnaryExpression':
      return node.operator === 'delete' ? whyTiedTarget(host, node.argument, spans, isOfThis) : undefined;
    default:
      return undefined;
  }
}

/** What means something else where a function of its own stands around the code. */
function whyNotApart(host: ScriptHost, node: Node, mayReturn: boolean, ancestors: readonly Node[]): string | undefined {
  if (node.type === 'YieldExpression') return 'it hands values out one by one';
  if (node.type === 'ReturnStatement' && !mayReturn) return 'it leaves the function that it stands in';
  if (node.type === 'BreakStatement' || node.type === 'ContinueStatement')
    return ancestors.some((a) => /^(?:For|While|DoWhile|Switch)/.test(a.type)) ? undefined : 'it leaves a loop';
  const name = node.type === 'CallExpression' ? calleeName(node) : undefined;
  if (name === undefined || !(isHookName(name) || host.lives(name))) return undefined;
  return `it calls "${name}", which belongs in a component`;
}

function whyTiedThis(host: ScriptHost, node: Node): string | undefined {
  const { names } = membersBehind(host, node);
  const called = calledBehind(host, node);
  if (names.length === 0) return 'it hands on what its component is';
  if (called !== undefined && (names.length === 1 || !onlyGives(called)))
    return `it calls "this.${names.join('.')}" of its component`;
  return host.deedOfThis(names);
}

function whyTiedTarget(host: ScriptHost, target: Node, spans: readonly Span[], isOfThis: boolean): string | undefined {
  let at = bare(target);
  // Names themselves are asked one by one.
  if (at.type !== 'MemberExpression') return undefined;
  while (at.type === 'MemberExpression') at = bare(at.object);
  if (at.type === 'ThisExpression') return isOfThis ? 'it writes to a member of its component' : undefined;
  const variable = at.type === 'Identifier' ? host.scopes.variableOf(at) : undefined;
  const isOther = variable && variable.defs.length > 0 && !isOfFile(host, variable) && !isIn(variable, spans);
  return isOther ? `it writes to "${variable.name}"` : undefined;
}

export function isIn(variable: Variable, spans: readonly Span[]): boolean {
  return variable.identifiers.some((id) => spans.some((span) => nodeWithin(id, span)));
}

function tiedName(host: ScriptHost, root: Node, spans: readonly Span[]): Tie | undefined {
  for (const reference of host.scopes.within(spanOf(root))) {
    const { identifier, resolved: variable } = reference;
    if (!variable || variable.defs.length === 0 || isIn(variable, spans)) continue;
    const { name } = variable;
    if (!reference.isValueReference) {
      if (host.scopes.isModuleLevel(variable)) continue;
      return { node: identifier, why: `it names the type "${name}" of its function` };
    }
    if (reference.isWrite()) return { node: identifier, why: `it writes "${name}"` };
    const why = isOfFile(host, variable) ? undefined : whyDone(host, identifier, variable);
    if (why !== undefined) return { node: identifier, why };
  }
  return undefined;
}

/** Why reading a name of the component does something there. */
function whyDone(host: ScriptHost, identifier: Node, variable: Variable): string | undefined {
  const { name } = variable;
  const { names } = membersBehind(host, identifier);
  const called = calledBehind(host, identifier);
  if (called !== undefined && (names.length === 0 || !onlyGives(called)))
    return `it calls "${[name, ...names].join('.')}" of its component`;
  return host.deedOf(variable, names);
}

/** The last of the names behind one, or that itself, where it is called; empty for a call of the name itself. */
function calledBehind(host: ScriptHost, root: Node): string | undefined {
  const { names, nodes } = membersBehind(host, root);
  const last = nodes.at(-1) ?? root;
  const parent = host.scopes.parentOf(last);
  return parent?.type === 'CallExpression' && parent.callee === last ? (names.at(-1) ?? '') : undefined;
}

interface Members {
  readonly names: readonly string[];
  /** The node that ends with each of them. */
  readonly nodes: readonly Node[];
}

/** The plain members that are read behind a name or `this`: `hive`, `id` of `this.hive.id`. */
export function membersBehind(host: ScriptHost, root: Node): Members {
  const names: string[] = [];
  const nodes: Node[] = [];
  for (let at = root; ;) {
    const parent = host.scopes.parentOf(at);
    if (parent?.type !== 'MemberExpression' || parent.object !== at || parent.computed || parent.optional) break;
    if (parent.property.type !== 'Identifier') break;
    names.push(parent.property.name);
    nodes.push(parent);
    at = parent;
  }
  return { names, nodes };
}

/** The same without a method that is called on what stands before it. */
export function valueBehind(host: ScriptHost, root: Node): Members {
  const { names, nodes } = membersBehind(host, root);
  const last = nodes.at(-1);
  const parent = last && host.scopes.parentOf(last);
  const isCalled = parent?.type === 'CallExpression' && parent.callee === last;
  return isCalled ? { names: names.slice(0, -1), nodes: nodes.slice(0, -1) } : { names, nodes };
}

/** Where a name stands, without its annotation. */
export function nameSpan(node: Node): Span {
  return node.type === 'Identifier' ? { start: node.range[0], end: identifierEnd(node) } : spanOf(node);
}
