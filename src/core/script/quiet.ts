/** When statements of a component do something, and whether two of them may change places. */
import type { Node } from './parser.js';
import { bare, calleeName, isFunction, walk } from './walk.js';

/** The calls in a component that mean something for the order of its statements. */
export interface CallNames {
  /** What keeps or looks up a value, and does nothing else. */
  readonly keepers: ReadonlySet<string>;
  /** What is given a function that runs when all is shown. */
  readonly afterwards: ReadonlySet<string>;
  readonly isHook: (name: string | undefined) => boolean;
}

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

export function isHookName(name: string | undefined): boolean {
  return name !== undefined && /^use(?:[A-Z]|$)/.test(name);
}

const HOOKS: CallNames = {
  keepers: KEEPERS,
  afterwards: EFFECTS,
  isHook: isHookName,
};

const LOUD = new Set([
  'NewExpression',
  'TaggedTemplateExpression',
  'YieldExpression',
  'AssignmentExpression',
  'UpdateExpression',
  'ReturnStatement',
  'ThrowStatement',
]);

/** `now`: while the component is shown; `then`: when it has been; `both`: a hook of which nothing is known. */
type Running = 'never' | 'now' | 'then' | 'both';

/** Whether the order of two statements means nothing, but for names that one declares and the other reads. */
export function mayChangePlaces(a: Node, b: Node, names: CallNames = HOOKS): boolean {
  const [x, y] = [runningOf(a, names), runningOf(b, names)];
  return x === 'never' || y === 'never' || (x === 'now' && y === 'then') || (x === 'then' && y === 'now');
}

/** An effect that says what it depends on: how often its component is rendered means nothing to it. */
export function isEffect(statement: Node): boolean {
  if (statement.type !== 'ExpressionStatement') return false;
  const call = bare(statement.expression);
  return (
    call.type === 'CallExpression' &&
    EFFECTS.has(calleeName(call) ?? '') &&
    call.arguments.length === 2 &&
    call.arguments[1]!.type === 'ArrayExpression'
  );
}

/** Whether a statement calls and changes nothing while the component is shown. */
export function isQuiet(statement: Node, names?: CallNames): boolean {
  return runningOf(statement, names ?? HOOKS) === 'never';
}

function runningOf(statement: Node, names: CallNames): Running {
  if (statement.type === 'FunctionDeclaration') return 'never';
  if (statement.type === 'ExpressionStatement') {
    const call = bare(statement.expression);
    const isEffect = call.type === 'CallExpression' && names.afterwards.has(calleeName(call) ?? '');
    // What it depends on is worked out at once.
    if (isEffect) return call.arguments.every((a) => isFunction(a) || inside(a, names) === 'never') ? 'then' : 'both';
  }
  return inside(statement, names);
}

function inside(node: Node, { keepers, isHook }: CallNames): Running {
  let running: Running = 'never';
  walk(node, (inner) => {
    if (isFunction(inner)) return false;
    const name = inner.type === 'CallExpression' ? (calleeName(inner) ?? '') : undefined;
    if (inner.type === 'AwaitExpression' || (name !== undefined && isHook(name) && !keepers.has(name)))
      running = 'both';
    else if (running === 'never' && ((name !== undefined && !keepers.has(name)) || LOUD.has(inner.type)))
      running = 'now';
    return running !== 'both';
  });
  return running;
}
