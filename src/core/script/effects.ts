/**
 * What running a piece of code does besides giving a value. A declaration goes along with markup, and markup moves into a
 * component that is rendered later, only where nobody can tell that it runs at another moment.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import type { ScriptScopes, Variable } from './scopes.js';
import { bare, calleeName, isFunction, nodeWithin, runsNow, spanOf, walk, type FunctionNode } from './walk.js';

/** `none`: a value and nothing else; `writes`: something outside of it changes, for all that is seen; `unknown`: not seen. */
export type Effect = 'none' | 'unknown' | 'writes';

export interface Definition {
  readonly fn: FunctionNode;
  readonly scopes: ScriptScopes;
  /** Finds what names mean in the file of the function. */
  readonly open: Opener;
}

/** The function that a name stands for, where its text can be seen. */
export type Opener = (identifier: Node) => Definition | undefined;

const words = (text: string): ReadonlySet<string> => new Set(text.split(' '));

/** Methods that change what they are called on. */
const CHANGING = words(
  'sort reverse push pop shift unshift splice fill copyWithin set delete add clear append prepend remove setItem removeItem ' +
    'setAttribute removeAttribute appendChild dispatch emit publish next validate reset submit focus blur play pause ' +
    'scrollTo scrollIntoView replaceState pushState postMessage write log warn error info debug setState forceUpdate',
);
/** Those of them that lists have. */
const CHANGING_LISTS = words('sort reverse push pop shift unshift splice fill copyWithin');
/** Methods of lists, texts, numbers, dates, maps and promises that change nothing. */
const PURE_METHODS = words(
  'map flatMap filter find findIndex findLast findLastIndex some every reduce reduceRight includes indexOf lastIndexOf join ' +
    'slice concat flat at keys values entries has get toSorted toReversed toSpliced with charAt charCodeAt codePointAt ' +
    'startsWith endsWith match matchAll replace replaceAll search split substring substr toLowerCase toUpperCase ' +
    'toLocaleLowerCase toLocaleUpperCase trim trimStart trimEnd padStart padEnd repeat normalize localeCompare toString ' +
    'toFixed toPrecision toLocaleString toLocaleDateString toLocaleTimeString toISOString toJSON valueOf getTime getFullYear ' +
    'getMonth getDate getDay getHours getMinutes getSeconds hasOwnProperty bind test exec forEach call apply',
);
/** Methods whose result nobody else holds yet. */
const FRESH_METHODS = words(
  'map flatMap filter slice concat flat split toSorted toReversed toSpliced with keys values entries from of fromEntries',
);
const PURE_GLOBALS = words(
  'Number String Boolean BigInt Symbol parseInt parseFloat isNaN isFinite Array Object Date Map Set WeakMap WeakSet URL ' +
    'URLSearchParams RegExp Error Intl JSON Math encodeURIComponent decodeURIComponent encodeURI decodeURI structuredClone Promise',
);
/** Functions that the trade takes for calculations, by their names: translation, class names, formatters, selectors, questions. */
const CALCULATES =
  /^(?:t|i18n|_|__|_x|_n|_nx|cx|cn|clsx|classnames?|classNames?|sprintf|format|translate|css|gql|graphql|html|keyframes|(?:format|to|parse|select|translate|is|has|can|should|get|calc|calculate|compute|count|sum|sort|order|group|filter|map|find|pick|omit|uniq|round|clamp|capitalize|pluralize|truncate|humanize|stringify|resolve|derive|normalize|convert|make|create|build|with|theme|style|color|use)(?:[A-Z0-9_]\w*)?)$/;
/** Where a name of that form does more. */
const CALCULATES_NOT = /^(?:get|create|make)(?:Next|New|Unique)|Id$|random|uuid|nanoid/i;

const worst = (a: Effect, b: Effect): Effect => (a === 'writes' || b === 'writes' ? 'writes' : a === 'none' ? b : a);

/** The members that code changes in place: `hive.name = …`, `delete hive.name`, `hive.notes.push(…)`. */
export function changedMembers(root: Node): ReadonlySet<string> {
  const names = new Set<string>();
  const note = (node: Node) => {
    const target = bare(node);
    if (target.type !== 'MemberExpression' || target.computed || target.property.type !== 'Identifier') return;
    const object = bare(target.object);
    // What a class or a ref keeps is no record, and what hangs on a function is set once.
    const isOwn =
      object.type === 'ThisExpression' ||
      (object.type === 'Identifier' && /^[A-Z]|^module$|^exports$/.test(object.name));
    if (!isOwn && target.property.name !== 'current') names.add(target.property.name);
  };
  walk(root, (node) => {
    if (node.type === 'AssignmentExpression') note(node.left);
    if (node.type === 'UpdateExpression' || (node.type === 'UnaryExpression' && node.operator === 'delete'))
      note(node.argument);
    if (node.type === 'CallExpression' && CHANGING_LISTS.has(calleeName(node) ?? '')) {
      const callee = bare(node.callee);
      if (callee.type === 'MemberExpression') note(callee.object);
    }
  });
  return names;
}

/** Variables whose value is changed in place while a function is run, but for the functions in it. */
export function changedWhileRendering(fn: FunctionNode, scopes: ScriptScopes): ReadonlySet<Variable> {
  const found = new Set<Variable>();
  const note = (node: Node) => {
    let at = bare(node);
    while (at.type === 'MemberExpression') at = bare(at.object);
    const variable = at.type === 'Identifier' ? scopes.variableOf(at) : undefined;
    if (variable) found.add(variable);
  };
  walk(fn.body, (node) => {
    if (isFunction(node)) return runsNow(node, scopes.parentOf(node));
    if (node.type === 'AssignmentExpression' && bare(node.left).type === 'MemberExpression') note(node.left);
    if (node.type === 'CallExpression' && CHANGING_LISTS.has(calleeName(node) ?? '')) {
      const callee = bare(node.callee);
      if (callee.type === 'MemberExpression' && !isFresh(callee.object, spanOf(fn.body), scopes)) note(callee.object);
    }
    return undefined;
  });
  return found;
}

/** Whether running a function gives a value and does nothing else; false for what is no function. */
export function worksOut(node: Node | undefined, scopes: ScriptScopes, open: Opener): boolean {
  return node !== undefined && isFunction(node) && !node.async && effectOf(node.body, scopes, open) === 'none';
}

/** What running `root` does. Functions in it count where they run at once. */
export function effectOf(root: Node, scopes: ScriptScopes, open: Opener, depth = 0): Effect {
  let effect: Effect = 'none';
  const own = spanOf(root);
  const note = (found: Effect) => {
    effect = worst(effect, found);
  };
  walk(root, (node) => {
    if (effect === 'writes') return false;
    if (node !== root && isFunction(node) && !runsNow(node, scopes.parentOf(node))) return false;
    switch (node.type) {
      case 'AssignmentExpression':
        note(targetEffect(node.left, own, scopes));
        break;
      case 'UpdateExpression':
        note(targetEffect(node.argument, own, scopes));
        break;
      case 'UnaryExpression':
        if (node.operator === 'delete') note(targetEffect(node.argument, own, scopes));
        break;
      case 'AwaitExpression':
      case 'YieldExpression':
      case 'ImportExpression':
        note('unknown');
        break;
      case 'NewExpression':
        note(node.callee.type === 'Identifier' && PURE_GLOBALS.has(node.callee.name) ? 'none' : newEffect(node));
        break;
      case 'TaggedTemplateExpression':
        note(isCalculating(nameIn(node.tag)) || node.tag.type === 'MemberExpression' ? 'none' : 'unknown');
        break;
      case 'CallExpression':
        note(callEffect(node, own, scopes, open, depth));
        break;
      default:
    }
    return undefined;
  });
  return effect;
}

function newEffect(node: TSESTree.NewExpression): Effect {
  const name = nameIn(node.callee);
  return name !== undefined && /(?:Format|Date|Collator|Rules|URL|Formatter)$/.test(name) ? 'none' : 'unknown';
}

function isCalculating(name: string | undefined): boolean {
  return name !== undefined && CALCULATES.test(name) && !CALCULATES_NOT.test(name);
}

function nameIn(callee: Node): string | undefined {
  const node = bare(callee);
  if (node.type === 'Identifier') return node.name;
  if (node.type === 'MemberExpression' && !node.computed && node.property.type === 'Identifier')
    return node.property.name;
  return undefined;
}

function callEffect(
  call: TSESTree.CallExpression,
  own: { start: number; end: number },
  scopes: ScriptScopes,
  open: Opener,
  depth: number,
): Effect {
  const callee = bare(call.callee);
  if (isFunction(callee)) return 'none';
  const name = nameIn(callee);
  if (callee.type === 'Identifier') {
    const variable = scopes.variableOf(callee);
    if (!variable || variable.defs.length === 0) {
      if (PURE_GLOBALS.has(callee.name) || isCalculating(callee.name)) return 'none';
      return /^(?:alert|confirm|prompt|fetch|setTimeout|setInterval|clearTimeout|clearInterval|requestAnimationFrame|queueMicrotask|postMessage)$/.test(
        callee.name,
      )
        ? 'writes'
        : 'unknown';
    }
    const made = depth < 4 ? open(callee) : undefined;
    // A function that is called while it is being looked at adds nothing to what is known of it.
    if (made)
      return nodeWithin(call, spanOf(made.fn)) ? 'none' : effectOf(made.fn.body, made.scopes, made.open, depth + 1);
    return isCalculating(name) ? 'none' : 'unknown';
  }
  if (callee.type !== 'MemberExpression' || name === undefined) return 'unknown';
  const object = bare(callee.object);
  if (object.type === 'Identifier' && !scopes.variableOf(object)?.defs.length) {
    if (object.name === 'console') return 'writes';
    if (object.name === 'Object' && (name === 'assign' || /^(?:define|set|freeze|seal)/.test(name)))
      return call.arguments[0] && isFresh(call.arguments[0], own, scopes) ? 'none' : 'writes';
    if (PURE_GLOBALS.has(object.name)) return name === 'random' || name === 'now' ? 'unknown' : 'none';
  }
  if (CHANGING.has(name)) return isFresh(object, own, scopes) ? 'none' : isLogging(object, name) ? 'unknown' : 'writes';
  return PURE_METHODS.has(name) || isCalculating(name) ? 'none' : 'unknown';
}

/** `error.log` of some object is not what `items.push` is. */
function isLogging(object: Node, name: string): boolean {
  const surely =
    /^(?:sort|reverse|push|pop|shift|unshift|splice|fill|copyWithin|setItem|removeItem|appendChild|dispatch)$/;
  return object.type !== 'Identifier'
    ? !surely.test(name)
    : !surely.test(name) && !/^(?:set|delete|add|clear|validate|reset|submit|next|emit|append|remove)$/.test(name);
}

/** Whether nobody else holds what an expression gives, so that changing it changes nothing else. */
function isFresh(code: Node, own: { start: number; end: number }, scopes: ScriptScopes): boolean {
  const node = bare(code);
  switch (node.type) {
    case 'ArrayExpression':
    case 'ObjectExpression':
    case 'NewExpression':
    case 'TemplateLiteral':
    case 'Literal':
      return true;
    case 'CallExpression': {
      const name = calleeName(node);
      if (name === undefined) return false;
      const callee = bare(node.callee);
      if (FRESH_METHODS.has(name)) return true;
      return CHANGING.has(name) && callee.type === 'MemberExpression' && isFresh(callee.object, own, scopes);
    }
    case 'Identifier': {
      const variable = scopes.variableOf(node);
      const definition = variable?.defs[0];
      if (!variable || !isWithin(variable, own)) return false;
      if (definition?.type === 'Variable') return !definition.node.init || isFresh(definition.node.init, own, scopes);
      return definition?.type === 'Parameter' && isAccumulator(definition.node, definition.name, own, scopes);
    }
    case 'MemberExpression':
      return isFresh(node.object, own, scopes);
    default:
      return false;
  }
}

/** The first parameter of a function that `reduce` is given, beside a first value of its own. */
function isAccumulator(fn: Node, parameter: Node, own: { start: number; end: number }, scopes: ScriptScopes): boolean {
  const call = scopes.parentOf(fn);
  if (!isFunction(fn) || fn.params[0] !== parameter || call?.type !== 'CallExpression') return false;
  const name = calleeName(call);
  return (
    (name === 'reduce' || name === 'reduceRight') &&
    call.arguments[1] !== undefined &&
    isFresh(call.arguments[1], own, scopes)
  );
}

function isWithin(variable: Variable, own: { start: number; end: number }): boolean {
  return variable.identifiers.some((id) => nodeWithin(id, own));
}

function targetEffect(target: Node, own: { start: number; end: number }, scopes: ScriptScopes): Effect {
  const node = bare(target);
  if (node.type === 'Identifier') {
    const variable = scopes.variableOf(node);
    return variable && isWithin(variable, own) ? 'none' : 'writes';
  }
  if (node.type === 'MemberExpression') return isFresh(node.object, own, scopes) ? 'none' : 'writes';
  let effect: Effect = 'none';
  walk(node, (inner) => {
    if (inner.type === 'Identifier' && scopes.variableOf(inner))
      effect = worst(effect, targetEffect(inner, own, scopes));
  });
  return effect;
}

/**
 * Something that a component reads while it is rendered and that changes without rendering it: a ref, a clock, chance, the
 * page, a variable of a module that is written; or an effect that runs after every rendering. Such a component has to be
 * rendered as often as before. `known`: code that counts for nothing.
 */
export function momentIn(
  fn: FunctionNode,
  scopes: ScriptScopes,
  counts: (node: Node) => boolean,
  what: 'all' | 'effects' = 'all',
): Node | undefined {
  let found: Node | undefined;
  walk(fn.body, (node) => {
    if (found || !counts(node)) return false;
    if (isFunction(node)) return runsNow(node, scopes.parentOf(node));
    if (node.type === 'CallExpression' && isEveryTime(node)) found = node;
    if (what === 'effects') return !found;
    if (node.type === 'MemberExpression' && !node.computed && node.property.type === 'Identifier') {
      if (node.property.name === 'current' && !isWritten(node, scopes)) found = node;
      const object = bare(node.object);
      if (object.type === 'Identifier' && !scopes.variableOf(object)?.defs.length) {
        if (/^(?:window|document|localStorage|sessionStorage|navigator|location|history)$/.test(object.name))
          found = node;
        if (object.name === 'performance' || `${object.name}.${node.property.name}` === 'Math.random') found = node;
        if (`${object.name}.${node.property.name}` === 'Date.now') found = node;
      }
    }
    if (
      node.type === 'NewExpression' &&
      node.callee.type === 'Identifier' &&
      node.callee.name === 'Date' &&
      node.arguments.length === 0
    )
      found = node;
    if (node.type === 'Identifier') {
      const variable = scopes.referenceOf(node)?.resolved;
      if (variable && scopes.isModuleLevel(variable) && variable.defs.length > 0 && scopes.isReassigned(variable))
        found = node;
    }
    return !found;
  });
  return found;
}

/** An effect without dependencies runs whenever its component is rendered. */
function isEveryTime(call: TSESTree.CallExpression): boolean {
  const name = calleeName(call) ?? '';
  return /^use(?:Layout|Insertion)?Effect$/.test(name)
    ? call.arguments.length === 1
    : name === 'useImperativeHandle' && call.arguments.length === 2;
}

function isWritten(node: Node, scopes: ScriptScopes): boolean {
  const parent = scopes.parentOf(node);
  return parent?.type === 'AssignmentExpression' && parent.left === node && parent.operator === '=';
}
