/** Whether a tag is shown as long as the component around it, and what a state loses or keeps where it is not. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../script/parser.js';
import { bare, isFunction, runsNow, spanOf, walk } from '../../script/walk.js';
import type { Variable } from '../../script/scopes.js';
import { ownStatementOf, type Host, type Leaving, type Setting } from './leaving.js';

/** Something that can take a tag away while the component around it stays. */
export interface Passing {
  readonly node: Node;
  /** For people: "a condition". */
  readonly why: string;
  /** It never takes anything away, and only the comparison has to know. */
  readonly harmless?: true;
  /** What decides, and whether the tag is shown where it holds. */
  readonly test?: Node;
  readonly shownIf?: boolean;
}

/** From the inside out; a string where the tag stands at no one place of the component. */
export function passingOf({ scopes, fn, use }: Host): Passing[] | string {
  const found: Passing[] = [];
  let inner: Node = use;
  if (keyed(use)) found.push({ node: use, why: 'a key' });
  for (const node of scopes.ancestorsOf(use)) {
    if (node === fn) break;
    if (isFunction(node)) return 'a function inside of it shows it, and may do so several times';
    if (node.type === 'VariableDeclarator') return 'it is held in a value first';
    if (node.type === 'JSXElement') {
      const why = keyed(node) ? 'an element with a key' : aroundWords(node);
      if (why !== undefined) found.push({ node, why, ...(keyed(node) || !isProvider(node) ? {} : { harmless: true }) });
    } else if (node.type === 'LogicalExpression') {
      const decides = node.operator === '&&' && node.right === inner;
      found.push({ node, why: 'a condition', ...(decides ? { test: node.left, shownIf: true } : {}) });
    } else if (node.type === 'ConditionalExpression') {
      found.push({ node, why: 'a condition', test: node.test, shownIf: node.consequent === inner });
    } else if (node.type === 'IfStatement') return 'a return under a condition shows it';
    inner = node;
  }
  const own = ownStatementOf({ fn }, use);
  const before =
    fn.body.type === 'BlockStatement' && own ? fn.body.body.slice(0, fn.body.body.indexOf(own as never)) : [];
  for (const statement of before)
    if (returnsIn(statement))
      found.push({
        node: statement,
        why: 'a return before it',
        ...(statement.type === 'IfStatement' && !statement.alternate ? { test: statement.test, shownIf: false } : {}),
      });
  return found;
}

function keyed({ openingElement }: TSESTree.JSXElement): boolean {
  return openingElement.attributes.some((a) => a.type === 'JSXAttribute' && a.name.name === 'key');
}

function isProvider({ openingElement: { name } }: TSESTree.JSXElement): boolean {
  return name.type === 'JSXMemberExpression' && name.property.name === 'Provider';
}

/** A component may leave its content away; a provider of a context never does. */
function aroundWords({ openingElement: { name } }: TSESTree.JSXElement): string | undefined {
  if (name.type === 'JSXMemberExpression')
    return /^(?:Fragment|StrictMode)$/.test(name.property.name) ? undefined : `<${name.property.name}>`;
  if (name.type !== 'JSXIdentifier' || !/^[A-Z]/.test(name.name) || /^(?:Fragment|StrictMode)$/.test(name.name))
    return undefined;
  return `<${name.name}>`;
}

function returnsIn(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    if (node.type === 'ReturnStatement' || node.type === 'ThrowStatement') found = true;
    return !found;
  });
  return found;
}

/**
 * Why what leaves would not be as it is when the tag comes back; undefined where the component sets it back today exactly
 * when the tag goes. Words to stand behind "… would live for another time: ".
 */
export function lostBy(host: Host, leaving: Leaving, passing: readonly Passing[], tag: string): string | undefined {
  if (passing.length === 0) return undefined;
  const names = leaving.statements.flatMap((s) => host.keeps(s));
  if (leaving.statements.some((s) => host.isEffect(s)))
    return `<${tag}> goes and comes with ${passing[0]!.why}, and an effect would run only while it is there`;
  if (names.length === 0) return undefined;
  const one = names.length === 1 ? 'it is' : 'they are';
  const [only] = passing;
  const state = only && passing.length === 1 && !isSetLate(host, leaving) ? stateBehind(host, only) : undefined;
  const back = resettersOf(host, leaving.resets);
  const undone =
    back.length > 0 ? `; ${back.join(', ')} would no longer set ${names.length === 1 ? 'it' : 'them'} back` : '';
  const today = `<${tag}> goes and comes with ${passing[0]!.why}, and ${names.join(', ')} would begin anew each time; today ${one} kept${undone}`;
  if (!only || !state) return today;
  for (const write of state.writes) {
    const beside = resetsBeside(host, [...leaving.resets, ...leaving.ownResets], write.call);
    const isWhole = names.every((name) => beside.some((reset) => reset.name === name));
    const shown = shownAfter(only, state, write);
    if (shown !== true && !isWhole) return today;
    const taken = shown === false ? [] : resetsBeside(host, leaving.resets, write.call);
    if (taken.length > 0)
      return `${fnName(host, write.call) ?? 'a function'} sets ${taken[0]!.name} back even where <${tag}> stays, and it would then be kept`;
  }
  const calls = state.writes.map((w) => w.call);
  const loose = leaving.resets.find((reset) => !calls.some((call) => isBeside(host, call, reset)));
  return loose ? `it is set back while <${tag}> stays, and would then be kept` : undefined;
}

/** Whether a state may be set by what was begun before the tag went: a promise, a timer, code behind an `await`. */
function isSetLate(host: Host, { statements, declared }: Leaving): boolean {
  return declared.some((variable) =>
    variable.references.some(({ identifier, init }) => {
      const own = ownStatementOf(host, identifier);
      if (init || !own || !statements.includes(own)) return false;
      const around = host.scopes.ancestorsOf(identifier);
      const inside = around.slice(0, around.indexOf(own) + 1).filter(isFunction);
      return inside.some((fn) => fn.async) || inside.filter((fn) => !runsNow(fn, host.scopes.parentOf(fn))).length > 1;
    }),
  );
}

/** Resets that a fresh start makes needless: those of `leaving.resets`, and those beside what takes the tag away. */
export function needlessResets(host: Host, leaving: Leaving, passing: readonly Passing[]): Leaving['resets'] {
  const [only] = passing;
  const state = only && passing.length === 1 ? stateBehind(host, only) : undefined;
  const away = state?.writes.filter((write) => shownAfter(only!, state, write) === false) ?? [];
  const own = leaving.ownResets.filter((reset) => away.some(({ call }) => isBeside(host, call, reset)));
  return [...leaving.resets, ...own];
}

function shownAfter(passing: Passing, state: State, { value }: State['writes'][number]): boolean | undefined {
  return value === undefined ? undefined : isShownAt(passing, state, value);
}

interface State {
  readonly variable: Variable;
  readonly writes: readonly Setting[];
}

/** The state that alone decides, with every call that sets it. */
function stateBehind({ scopes, settings }: Host, { test }: Passing): State | undefined {
  const names = test ? [...new Set(scopes.within(spanOf(test)).map((r) => r.resolved))] : [];
  const [variable] = names;
  const writes = variable && names.length === 1 ? settings(variable) : undefined;
  return variable && writes ? { variable, writes } : undefined;
}

/** Whether the tag is shown where the state has a value that is written out; undefined where that is not to be read off. */
function isShownAt({ test, shownIf }: Passing, { variable }: State, value: Node): boolean | undefined {
  const known = (node: Node): { value: unknown } | undefined => {
    const code = bare(node);
    if (code.type === 'Literal') return { value: code.value };
    return code.type === 'Identifier' && code.name === variable.name
      ? { value: (value as TSESTree.Literal).value }
      : undefined;
  };
  const truth = (node: Node): boolean | undefined => {
    const code = bare(node);
    if (code.type === 'UnaryExpression' && code.operator === '!') {
      const inner = truth(code.argument);
      return inner === undefined ? undefined : !inner;
    }
    if (code.type === 'BinaryExpression' && /^[!=]==?$/.test(code.operator)) {
      const [left, right] = [known(code.left), known(code.right)];
      return left && right ? (left.value === right.value) === code.operator.startsWith('=') : undefined;
    }
    const plain = known(code);
    return plain ? Boolean(plain.value) : undefined;
  };
  const holds = test && truth(test);
  return holds === undefined ? undefined : holds === shownIf;
}

/** The states that are set back in the same breath as a call. */
function resetsBeside(host: Host, resets: Leaving['resets'], call: Node): { name: string }[] {
  return resets
    .filter((reset) => isBeside(host, call, reset))
    .flatMap(({ expression }) => {
      const target = expression.type === 'CallExpression' ? expression.callee : undefined;
      const variable = target?.type === 'Identifier' ? host.scopes.variableOf(target) : undefined;
      const pattern = variable?.defs[0]?.type === 'Variable' ? variable.defs[0].node.id : undefined;
      const value = pattern?.type === 'ArrayPattern' ? pattern.elements[0] : undefined;
      return value?.type === 'Identifier' ? [{ name: value.name }] : [];
    });
}

/** Both are statements of one block, and nothing is waited for in it. */
function isBeside({ scopes, text }: Host, call: Node, reset: Node): boolean {
  const block = scopes.parentOf(reset);
  const statement = scopes.parentOf(call);
  return (
    block?.type === 'BlockStatement' &&
    statement?.type === 'ExpressionStatement' &&
    scopes.parentOf(statement) === block &&
    !/\bawait\b/.test(text.slice(...block.range))
  );
}

function fnName(host: Host, node: Node): string | undefined {
  const own = ownStatementOf(host, node);
  if (own?.type === 'FunctionDeclaration') return own.id?.name;
  const id = own?.type === 'VariableDeclaration' ? own.declarations[0].id : undefined;
  return id?.type === 'Identifier' ? id.name : undefined;
}

/** Names of the functions that set something back today. */
export function resettersOf(host: Host, resets: Leaving['resets']): string[] {
  return [...new Set(resets.flatMap((reset) => fnName(host, reset) ?? []))];
}
