/** Where a function that is a component stands in its file, and the forms that a class becomes. */
import type { Node, ParsedScript } from '../../../script/parser.js';
import { bare, calleeName, isFunction, walk, type FunctionNode } from '../../../script/walk.js';

export interface Found {
  readonly fn: FunctionNode;
  readonly isMemo: boolean;
  readonly statement: Node;
}

/** The function that is the component, at the top of a file. */
export function componentIn({ program }: ParsedScript, name: string): Found | undefined {
  for (const statement of program.body) {
    const it =
      statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration'
        ? statement.declaration
        : statement;
    if (it?.type === 'FunctionDeclaration' && it.id?.name === name) return { fn: it, isMemo: false, statement };
    const [declarator] = it?.type === 'VariableDeclaration' ? it.declarations : [];
    if (declarator?.id.type !== 'Identifier' || declarator.id.name !== name || !declarator.init) continue;
    const call = bare(declarator.init);
    const inner = call.type === 'CallExpression' && calleeName(call) === 'memo' ? call.arguments[0] : undefined;
    if (inner && isFunction(inner)) return { fn: inner, isMemo: true, statement };
  }
  return undefined;
}

/** Whether a statement gives a value back to whoever called its function. */
export function givesValue(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    found ||= node.type === 'ReturnStatement' && node.argument !== null;
    return !found;
  });
  return found;
}

/** What is hung on a component at the top of its file: `Scale.label = …`. */
export function hungOn({ program }: ParsedScript, component: string): { name: string; value: Node }[] {
  return program.body.flatMap((statement) => {
    const { expression } = statement.type === 'ExpressionStatement' ? statement : {};
    if (expression?.type !== 'AssignmentExpression' || expression.left.type !== 'MemberExpression') return [];
    const { object, property } = expression.left;
    const isOurs = object.type === 'Identifier' && object.name === component && property.type === 'Identifier';
    return isOurs ? [{ name: property.name, value: expression.right }] : [];
  });
}

/** Whether it is `(change) => set((current) => ({ ...current, ...change }))`. */
export function isChange(init: Node, set: string | undefined): boolean {
  if (init.type !== 'ArrowFunctionExpression' || init.params[0]?.type !== 'Identifier') return false;
  const { body } = init;
  if (body.type !== 'CallExpression' || body.callee.type !== 'Identifier' || body.callee.name !== set) return false;
  const [fn] = body.arguments;
  if (fn?.type !== 'ArrowFunctionExpression' || fn.params[0]?.type !== 'Identifier') return false;
  const record = bare(fn.body);
  if (record.type !== 'ObjectExpression' || record.properties.length !== 2) return false;
  const spread = record.properties.map((p) =>
    p.type === 'SpreadElement' && p.argument.type === 'Identifier' ? p.argument.name : '',
  );
  return spread.join() === `${fn.params[0].name},${init.params[0].name}`;
}
