/** A loop over a list that is written out in the module: as many turns as there are entries. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import { isListOfRecords, unkept } from '../script/literals.js';
import type { Variable } from '../script/scopes.js';
import { bare, isFunction } from '../script/walk.js';
import { Mismatch } from './mismatch.js';
import type { Meaning, Side } from './side.js';
import { attributeNamed, attributeValue, soleExpression } from './questions.js';
import { knownOf } from './known.js';
import type { Code, Env, Value } from './values.js';

export interface Turns {
  /** The constant that holds the list. */
  readonly variable: Variable;
  readonly bodies: readonly Code[];
}

/** Undefined where the code is no such loop. `isNew` says whether the change made a constant. */
export function turnsOf(code: Code, side: Side, isNew: (meaning: Meaning) => boolean): Turns | undefined {
  const call = bare(code.node);
  if (call.type !== 'CallExpression' || call.arguments.length !== 1) return undefined;
  const callee = bare(call.callee);
  const fn = call.arguments[0]!;
  if (callee.type !== 'MemberExpression' || callee.computed || callee.object.type !== 'Identifier') return undefined;
  if (callee.property.type !== 'Identifier' || callee.property.name !== 'map' || !isFunction(fn)) return undefined;
  const parameter = fn.params[0];
  if (fn.params.length !== 1 || parameter?.type !== 'Identifier') return undefined;
  const meaning = side.meaningOf(code.module, callee.object);
  if ((meaning.kind !== 'module' && meaning.kind !== 'local') || !isNew(meaning)) return undefined;
  const definition = meaning.variable.defs[0];
  const list = definition?.type === 'Variable' && definition.node.init ? unkept(definition.node.init) : undefined;
  const body = fn.body.type === 'BlockStatement' ? soleExpression(fn.body) : fn.body;
  const variable = code.module.scopes.variableOf(parameter);
  if (list?.type !== 'ArrayExpression' || !body || !variable) return undefined;
  if (meaning.kind === 'local' && !isListOfRecords(list)) return undefined;
  const bodies = list.elements.map((element): Code => {
    if (!element || element.type === 'SpreadElement')
      throw new Mismatch('list-unwritten', 'the list is not written out', undefined, {
        module: meaning.module,
        node: list,
      });
    const value: Value = { kind: 'code', code: { node: element, module: meaning.module, env: undefined } };
    const env: Env = {
      owner: fn,
      module: code.module,
      component: false,
      values: new Map([[variable, value]]),
      parent: code.env,
      later: code.env?.later ?? 0,
      turn: true,
    };
    return { node: body, module: code.module, env };
  });
  checkKeys(bodies);
  return { variable: meaning.variable, bodies };
}

/**
 * A statement of a component without the lists of records of literals that it declares under names that `isNew` says are new:
 * they do nothing by themselves, and what shows them is compared where it stands. Undefined where nothing else is left of it.
 */
export function withoutNewLists(statement: Node, isNew: (name: string) => boolean): Node | undefined {
  if (statement.type !== 'VariableDeclaration') return statement;
  const isList = ({ id, init }: TSESTree.VariableDeclarator) =>
    id.type === 'Identifier' && init && isListOfRecords(init) && isNew(id.name);
  const others = (statement.declarations as readonly TSESTree.VariableDeclarator[]).filter((d) => !isList(d));
  if (others.length === statement.declarations.length) return statement;
  return others.length > 0 ? ({ ...statement, declarations: others } as Node) : undefined;
}

/** Entries of one key would take each other's place. */
function checkKeys(bodies: readonly Code[]): void {
  const seen = new Set<unknown>();
  for (const body of bodies) {
    const node = bare(body.node);
    const key = node.type === 'JSXElement' ? attributeNamed(node, 'key') : undefined;
    const value = key && attributeValue(key);
    const known = value && knownOf({ ...body, node: value });
    if (!known || seen.has(known.value))
      throw new Mismatch('list-keys', 'two entries of the list have the same key', undefined, {
        module: body.module,
        node,
      });
    seen.add(known.value);
  }
}
