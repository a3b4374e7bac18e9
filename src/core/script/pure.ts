/** What runs between two reads of a value: as long as nothing does that could change it, it is the same whenever it is read. */
import type { Node } from './parser.js';
import { bare, isFunction, runsNow, walk } from './walk.js';

/** Methods of values that only give something. */
const GIVES = new Set(
  `at charAt concat endsWith entries every filter find findIndex flat flatMap format get getDate getFullYear getHours getMinutes getMonth
  getTime has includes indexOf join keys map match padEnd padStart reduce replace replaceAll slice some split startsWith substring test
  toFixed toISOString toJSON toLocaleDateString toLocaleLowerCase toLocaleString toLocaleUpperCase toLowerCase toSorted toString
  toUpperCase trim valueOf values`.split(/\s+/),
);
const OF_LANGUAGE = /^(?:JSON|Math|Object|Array|Number|String|Date|Intl)$/;
const PURE =
  /^(?:String|Number|Boolean|parseInt|parseFloat|isNaN|encodeURIComponent|decodeURIComponent|encodeURI|Date|URL|URLSearchParams|FormData|Headers|Blob|Error|AbortController|Map|Set)$/;

/** A method that only gives something, whatever it is called on. */
export function onlyGives(method: string): boolean {
  return GIVES.has(method);
}

/** Whether code runs something by itself that could change what somebody else holds. */
function mayChange(node: Node): boolean {
  switch (node.type) {
    case 'AwaitExpression':
    case 'YieldExpression':
    case 'AssignmentExpression':
    case 'UpdateExpression':
    case 'TaggedTemplateExpression':
      return true;
    case 'CallExpression':
    case 'NewExpression': {
      const callee = bare(node.callee);
      if (callee.type === 'Identifier') return !PURE.test(callee.name);
      if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier') return true;
      const isOfLanguage = callee.object.type === 'Identifier' && OF_LANGUAGE.test(callee.object.name);
      return !isOfLanguage && !GIVES.has(callee.property.name);
    }
    default:
      return false;
  }
}

/** Whether something in a function may have changed what others hold before a read in it happens. */
export function ranBefore(read: Node, fn: Node): boolean {
  let found = false;
  walk(fn, (node, above) => {
    const isAround = node.range[0] <= read.range[0] && node.range[1] >= read.range[1];
    if (node !== fn && isFunction(node)) {
      if (!isAround) return false;
      // What runs later, or again and again, may come behind anything of its own.
      found ||= !runsNow(node, above.at(-1)) || changes(node.body);
      return false;
    }
    const isLoop = isAround && /^(?:For|While|DoWhile)/.test(node.type);
    found ||= isLoop && changes(node);
    found ||= node.range[1] <= read.range[0] && mayChange(node);
    return !found;
  });
  return found;
}

function changes(root: Node): boolean {
  let found = false;
  walk(root, (node) => {
    found ||= mayChange(node);
    return !found;
  });
  return found;
}
