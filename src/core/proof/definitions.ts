/** What stands behind a name, wherever in the project it is defined: the function or class of a tag, the function of a call. */
import type { TSESTree } from '@typescript-eslint/types';
import { BY_VARIABLE } from '../markup/syntax.js';
import { componentIn, type ComponentSource } from '../script/children.js';
import type { Definition } from '../script/effects.js';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { bare, isFunction } from '../script/walk.js';
import { type Meaning, type Side } from './side.js';
import type { ProofModule } from '../language/proof-module.js';

interface Found {
  readonly node: Node;
  readonly module: ProofModule;
}

export class Definitions {
  constructor(readonly side: Side) {}

  /** What a tag stands for; `true`: text that cannot be seen, and known to look at its children; `false`: nothing is known. */
  tag(module: ProofModule, element: TSESTree.JSXElement): ComponentSource | boolean {
    const name = element.openingElement.name;
    const found = name.type === 'JSXNamespacedName' ? undefined : this.#ofTag(module, name);
    const node = found && componentIn(found.node);
    if (!found || !node) return module.readsChildren?.(module.text.slice(...name.range)) !== undefined;
    return { node, scopes: found.module.scopes, tag: (inner) => this.tag(found.module, inner) };
  }

  /** The file that defines what a tag stands for. */
  moduleOf(module: ProofModule, { openingElement: { name } }: TSESTree.JSXElement): ProofModule | undefined {
    return name.type === 'JSXNamespacedName' ? undefined : this.#ofTag(module, name)?.module;
  }

  /** The function that a name of a module is. */
  call(module: ProofModule, identifier: Node): Definition | undefined {
    const found = this.#ofMeaning(this.side.meaningOf(module, identifier), 0);
    const fn = found && bare(found.node);
    if (!fn || !isFunction(fn)) return undefined;
    return { fn, scopes: found.module.scopes, open: (name) => this.call(found.module, name) };
  }

  #ofTag(module: ProofModule, name: TSESTree.JSXTagNameExpression): Found | undefined {
    if (name.type === 'JSXIdentifier')
      return /^[a-z]/.test(name.name) ? undefined : this.#ofMeaning(this.side.meaningOf(module, name), 0);
    if (name.type !== 'JSXMemberExpression' || name.object.type !== 'JSXIdentifier') return undefined;
    const object = this.side.meaningOf(module, name.object);
    const member = name.property.name;
    if (member === BY_VARIABLE) return this.#ofMeaning(object, 0);
    if (object.kind === 'outside' && object.key.endsWith('#*'))
      return this.#ofMeaning({ kind: 'outside', key: object.key.slice(0, -1) + member }, 0);
    const holder = this.#ofMeaning(object, 0);
    return holder && memberOf(holder, member, (id) => this.#ofMeaning(this.side.meaningOf(holder.module, id), 1));
  }

  #ofMeaning(meaning: Meaning, depth: number): Found | undefined {
    if (depth > 8 || meaning.kind === 'global') return undefined;
    if (meaning.kind === 'outside') {
      const at = meaning.key.lastIndexOf('#');
      const module = this.side.open(meaning.key.slice(0, at));
      return module && this.#exported(module, meaning.key.slice(at + 1), depth + 1);
    }
    return this.#ofVariable(meaning.module, meaning.variable, depth);
  }

  #ofVariable(module: ProofModule, variable: Variable, depth: number): Found | undefined {
    const definition = variable.defs[0];
    if (definition?.type === 'FunctionName' || definition?.type === 'ClassName')
      return { node: definition.node, module };
    if (definition?.type !== 'Variable' || !definition.node.init || definition.node.id.type !== 'Identifier')
      return undefined;
    return this.#ofValue(module, definition.node.init, depth);
  }

  /** A function or class, or what a wrapper such as `connect(…)(Name)` is given. */
  #ofValue(module: ProofModule, value: Node, depth: number): Found | undefined {
    const node = bare(value);
    if (node.type === 'Identifier') return this.#ofMeaning(this.side.meaningOf(module, node), depth + 1);
    if (node.type === 'CallExpression' && !componentIn(node)) {
      const name = node.arguments.find((a) => a.type === 'Identifier' && /^[A-Z]/.test(a.name));
      if (name) return this.#ofValue(module, name, depth + 1);
    }
    return { node, module };
  }

  #exported(module: ProofModule, name: string, depth: number): Found | undefined {
    const meaning = this.side.exportOf(module, name);
    if (meaning) return this.#ofMeaning(meaning, depth);
    for (const statement of module.script.program.body) {
      if (statement.type === 'ExportDefaultDeclaration' && name === 'default')
        return this.#ofValue(module, statement.declaration, depth);
      if (statement.type === 'ExportAllDeclaration' && !statement.exported && name !== 'default') {
        const found = this.#ofMeaning(this.side.exported(module.path, statement.source.value, name), depth);
        if (found) return found;
      }
    }
    return undefined;
  }
}

/** `Grid.Row = Row` beside a component, or the member of a record of components. */
function memberOf({ node, module }: Found, name: string, ofName: (id: Node) => Found | undefined): Found | undefined {
  const value = (code: Node): Found | undefined => (code.type === 'Identifier' ? ofName(code) : { node: code, module });
  const record = bare(node);
  if (record.type === 'ObjectExpression') {
    for (const p of record.properties)
      if (p.type === 'Property' && p.key.type === 'Identifier' && p.key.name === name) return value(p.value);
  }
  if (record.type === 'ClassDeclaration' || record.type === 'ClassExpression') {
    for (const p of record.body.body)
      if (p.type === 'PropertyDefinition' && p.static && p.value && p.key.type === 'Identifier' && p.key.name === name)
        return value(p.value);
  }
  for (const statement of module.script.program.body) {
    if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression') continue;
    const { left, right } = statement.expression;
    if (left.type === 'MemberExpression' && left.property.type === 'Identifier' && left.property.name === name)
      return value(right);
  }
  return undefined;
}
