/** When statements of a component do something, and whether two of them may change places. */
import type { Node } from './parser.js';
import { bare, calleeName, isFunction, walk } from './walk.js';

/** Hooks that keep or look up a value, and do nothing else. */
export const KEEPERS: ReadonlySet<string> = new Set([
  'useState',
  'useReducer',
  'useRef',
  'useMemo',
  'useCallback',
  'useContext',
]);
/** Hooks whose function runs when all is shown. */
export const EFFECTS: ReadonlySet<string> = new Set(['useEffect', 'useLayoutEffect', 'useInsertionEffect']);

const LOUD = new Set([
  'NewExpression',
  'TaggedTemplateExpression',
  'AwaitExpression',
  'YieldExpression',
  'AssignmentExpression',
  'UpdateExpression',
  'ReturnStatement',
  'ThrowStatement',
]);

/** `now`: while the component is shown; `then`: when it has been; `both`: a hook of which nothing is known. */
type Running = 'never' | 'now' | 'then' | 'both';

/** Whether the order of two statements means nothing, but for names that one declares and the other reads. */
export function mayChangePlaces(a: Node, b: Node): boolean {
  const [x, y] = [runningOf(a), runningOf(b)];
  return x === 'never' || y === 'never' || (x === 'now' && y === 'then') || (x === 'then' && y === 'now');
}

function runningOf(statement: Node): Running {
  if (statement.type === 'FunctionDeclaration') return 'never';
  if (statement.type === 'ExpressionStatement') {
    const call = bare(statement.expression);
    const isEffect = call.type === 'CallExpression' && EFFECTS.has(calleeName(call) ?? '');
    // What it depends on is worked out at once.
    if (isEffect) return call.arguments.every((a) => isFunction(a) || inside(a) === 'never') ? 'then' : 'both';
  }
  return inside(statement);
}

function inside(node: Node): Running {
  let running: Running = 'never';
  walk(node, (inner) => {
    if (isFunction(inner)) return false;
    const name = inner.type === 'CallExpression' ? (calleeName(inner) ?? '') : undefined;
    if (name !== undefined && /^use(?:[A-Z]|$)/.test(name) && !KEEPERS.has(name)) running = 'both';
    else if (running === 'never' && ((name !== undefined && !KEEPERS.has(name)) || LOUD.has(inner.type)))
      running = 'now';
    return running !== 'both';
  });
  return running;
}
