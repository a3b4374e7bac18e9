/** Values that are worked out when they are read: the functions behind them, and what these read. */
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { bare, calleeName, isFunction, runsNow, walk, type FunctionNode } from '../script/walk.js';
import type { ProofModule } from '../language/proof-module.js';

const LOOKS_AROUND = /\$(?:parent|children|refs|el|root)\b|\b(?:document|window)\./;

/** The function behind a value that is worked out when it is read. */
export function lazyFunction({ defs }: Variable, { lazy }: ProofModule): FunctionNode | undefined {
  const init = defs[0]?.type === 'Variable' && defs[0].node.init ? bare(defs[0].node.init) : undefined;
  const isLazy = init?.type === 'CallExpression' && lazy?.has(calleeName(init) ?? '');
  const getter = isLazy ? init.arguments[0] : undefined;
  return getter && isFunction(bare(getter)) ? (bare(getter) as FunctionNode) : undefined;
}

/** All that working out a value reads, by way of other such values too; itself among it. */
export function readsOf(variable: Variable, module: ProofModule, met = new Set<Variable>()): Set<Variable> {
  if (met.has(variable)) return met;
  met.add(variable);
  const fn = lazyFunction(variable, module);
  if (fn) for (const read of variablesIn(fn.body, module)) readsOf(read, module, met);
  return met;
}

/** Whether working out a value looks around in the page: what is there, nobody is told when it changes. */
export function looksAround(variable: Variable, module: ProofModule): boolean {
  if (!module.lazy) return false;
  return [...readsOf(variable, module)].some((read) => {
    const fn = lazyFunction(read, module);
    return fn !== undefined && LOOKS_AROUND.test(module.text.slice(...fn.range));
  });
}

/** Names in code that runs at once. */
export function variablesIn(code: Node, { scopes }: ProofModule): ReadonlySet<Variable> {
  const found = new Set<Variable>();
  walk(code, (node) => {
    if (isFunction(node) && !runsNow(node, scopes.parentOf(node))) return false;
    const variable = node.type === 'Identifier' ? scopes.referenceOf(node)?.resolved : undefined;
    if (variable && variable.defs.length > 0) found.add(variable);
    return undefined;
  });
  return found;
}
