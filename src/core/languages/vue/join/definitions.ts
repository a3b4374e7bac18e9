/** Components that a plain script defines: what is registered, mounted, exported or held in a variable, with their objects. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, ParsedScript } from '../../../script/parser.js';
import type { ScriptScopes } from '../../../script/scopes.js';
import { bare, spanOf, walk } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { literalText } from '../../../plain/written.js';
import { keyName, pascal, propertyOf } from '../definition.js';

export interface Defined {
  readonly name: string;
  readonly object: TSESTree.ObjectExpression;
  /** The expression that the object stands in for its component: the object, or `defineComponent` around it. */
  readonly whole: Span;
  /** How it is written: the statement goes, or its value is replaced. */
  readonly form: 'variable' | 'value' | 'root';
  readonly statement: TSESTree.ProgramStatement;
  /** What the object says of its template, and where it is mounted. */
  readonly template: Node | undefined;
  readonly mount: string | undefined;
}

const WRAPPERS = new Set(['defineComponent', 'extend']);

export function definedIn(script: ParsedScript, scopes: ScriptScopes): Defined[] {
  const found: Defined[] = [];
  const known = new Set<Node>();
  const add = (
    name: string,
    value: Node | undefined,
    form: Defined['form'],
    statement: TSESTree.ProgramStatement,
    mount?: string,
  ) => {
    const object = value && objectOf(value);
    if (!object || known.has(object)) return;
    known.add(object);
    found.push({
      name,
      object,
      whole: spanOf(value),
      form,
      statement,
      template: propertyOf(object, 'template'),
      mount,
    });
  };
  for (const statement of script.program.body) {
    walk(statement, (node) => {
      if (node.type === 'NewExpression' && isVue(node.callee) && node.arguments[0]) {
        const object = objectOf(node.arguments[0]);
        const el = object && propertyOf(object, 'el');
        add('App', node.arguments[0], 'root', statement, el ? literal(el) : mountOf(node, scopes));
      }
      if (node.type !== 'CallExpression') return;
      const name = lastName(node.callee);
      const [first, second] = node.arguments;
      const registered = first && literal(first);
      if (name === 'component' && registered !== undefined && second)
        add(pascal(registered), second, 'value', statement);
      if (name === 'createApp' && first) add('App', first, 'root', statement, mountOf(node, scopes));
    });
    if (statement.type === 'ExportDefaultDeclaration') add('', statement.declaration, 'value', statement);
  }
  for (const statement of script.program.body) {
    const declaration = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    if (declaration?.type !== 'VariableDeclaration' || declaration.declarations.length !== 1) continue;
    const [{ id, init }] = declaration.declarations;
    const object = init && objectOf(init);
    if (id.type === 'Identifier' && object && propertyOf(object, 'template'))
      add(pascal(id.name), init, 'variable', statement);
  }
  return found.sort((a, b) => a.whole.start - b.whole.start);
}

function objectOf(value: Node): TSESTree.ObjectExpression | undefined {
  const inner = bare(value);
  if (inner.type === 'ObjectExpression') return inner;
  if (inner.type !== 'CallExpression' || !WRAPPERS.has(lastName(inner.callee) ?? '') || inner.arguments.length !== 1)
    return undefined;
  return objectOf(inner.arguments[0]!);
}

function lastName(callee: Node): string | undefined {
  const inner = bare(callee);
  if (inner.type === 'MemberExpression') return keyName(inner.property);
  return inner.type === 'Identifier' ? inner.name : undefined;
}

function isVue(callee: Node): boolean {
  return callee.type === 'Identifier' && callee.name === 'Vue';
}

export function literal(node: Node): string | undefined {
  return literalText(bare(node));
}

/** The selector of `.mount('#app')` on the application, at once or by its variable. */
function mountOf(app: Node, scopes: ScriptScopes): string | undefined {
  let node: Node | undefined = app;
  for (;;) {
    const parent: Node | undefined = scopes.parentOf(node);
    if (parent?.type === 'MemberExpression' && parent.object === node) {
      const call: Node | undefined = scopes.parentOf(parent);
      if (call?.type !== 'CallExpression') return undefined;
      if (/^\$?mount$/.test(keyName(parent.property) ?? '')) return call.arguments[0] && literal(call.arguments[0]);
      node = call;
      continue;
    }
    if (parent?.type !== 'VariableDeclarator' || parent.id.type !== 'Identifier') return undefined;
    const uses = scopes.variableOf(parent.id)?.references ?? [];
    for (const { identifier } of uses) {
      const selector = identifier === parent.id ? undefined : mountFrom(identifier, scopes);
      if (selector !== undefined) return selector;
    }
    return undefined;
  }
}

function mountFrom(identifier: Node, scopes: ScriptScopes): string | undefined {
  const member = scopes.parentOf(identifier);
  return member?.type === 'MemberExpression' && member.object === identifier ? mountOf(identifier, scopes) : undefined;
}
