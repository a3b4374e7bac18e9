/** From a JSX syntax tree to the neutral markup tree. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Arm, Attribute, AttributeKind, Code, Markup } from '../../markup/model.js';
import type { Span } from '../../text/edits.js';
import type { Node } from '../../script/parser.js';
import { bare, boundNames, isFunction, spanOf, walk, type FunctionNode } from '../../script/walk.js';
import { outletNamed } from '../../markup/syntax.js';
import { JSX, type Dialect } from './dialect.js';

export function isJsx(node: Node): node is TSESTree.JSXElement | TSESTree.JSXFragment {
  return node.type === 'JSXElement' || node.type === 'JSXFragment';
}

/** Whether there is markup anywhere in a piece of code. */
export function holdsJsx(node: Node): boolean {
  let found = false;
  walk(node, (inner) => {
    found ||= isJsx(inner);
    return !found;
  });
  return found;
}

/** Tag as written: `div`, `Tabs.Panel`, `svg:use`. */
export function tagName(name: TSESTree.JSXTagNameExpression): string {
  switch (name.type) {
    case 'JSXIdentifier':
      return name.name;
    case 'JSXMemberExpression':
      return `${tagName(name.object)}.${name.property.name}`;
    default:
      return `${name.namespace.name}:${name.name.name}`;
  }
}

export function isComponentTag(name: TSESTree.JSXTagNameExpression): boolean {
  if (name.type === 'JSXIdentifier') return /^[^a-z]/.test(name.name);
  return name.type === 'JSXMemberExpression';
}

/** Reads expressions that hold JSX; `holdsJsx` answers quickly whether a span does. */
export class JsxMarkup {
  constructor(
    readonly text: string,
    readonly holdsJsx: (span: Node) => boolean,
    /** Components of the file: what they show is theirs, and is left out of what stands around them. */
    readonly components: ReadonlySet<Node> = new Set(),
    readonly dialect: Pick<Dialect, 'rendered' | 'own'> = JSX,
  ) {}

  /** Markup for an expression that is shown; `span` is what the node takes up among its siblings. */
  expression(node: Node, span: Span = spanOf(node)): Markup {
    const inner = bare(node);
    const at = { start: span.start, end: span.end };
    if (isJsx(inner)) return this.element(inner, at);
    if (!this.holdsJsx(inner)) return this.#plain(inner, at);
    if (inner.type === 'ConditionalExpression') {
      const arms: Arm[] = [];
      this.#conditionalArms(inner, arms);
      return { kind: 'branch', ...at, arms };
    }
    const outlet = inner.type === 'LogicalExpression' ? outletWithin(inner) : undefined;
    if (outlet) return { kind: 'outlet', ...at, name: outlet.name, fallback: this.#fallback(outlet.inside) };
    if (inner.type === 'LogicalExpression') {
      const condition = codeOf(inner.left);
      const arms: Arm[] =
        inner.operator === '&&'
          ? [{ ...spanOf(inner.right), condition, body: [this.expression(inner.right)] }]
          : [
              {
                ...spanOf(inner.left),
                condition,
                body: this.holdsJsx(inner.left) ? [this.expression(inner.left)] : [],
              },
              { ...spanOf(inner.right), body: [this.expression(inner.right)] },
            ];
      return { kind: 'branch', ...at, arms };
    }
    const loop = loopOf(inner);
    if (loop && this.holdsJsx(loop.fn)) {
      return {
        kind: 'loop',
        ...at,
        source: codeOf(loop.source),
        turn: codeOf(loop.fn),
        items: loop.fn.params.flatMap(boundNames),
        body: this.functionBody(loop.fn),
      };
    }
    return { kind: 'expression', ...at, code: codeOf(inner), parts: this.parts(inner) };
  }

  #fallback(inside: Node): Markup[] {
    const shown = this.expression(inside);
    return shown.kind === 'fragment' ? [...shown.children] : [shown];
  }

  element(node: TSESTree.JSXElement | TSESTree.JSXFragment, at: Span = spanOf(node)): Markup {
    const span = { start: at.start, end: at.end };
    const children: Markup[] = [];
    for (const child of node.children) {
      if (isJsx(child)) children.push(this.element(child));
      else children.push(...this.#child(child));
    }
    if (node.type === 'JSXFragment') return { kind: 'fragment', ...span, children };
    return {
      kind: 'element',
      ...span,
      name: tagName(node.openingElement.name),
      component: isComponentTag(node.openingElement.name),
      attributes: node.openingElement.attributes.map((attribute) => this.#attribute(attribute)),
      children,
    };
  }

  /** What a function that shows something can return. */
  functionBody(fn: FunctionNode): Markup[] {
    if (fn.body.type !== 'BlockStatement') return [this.expression(fn.body)];
    return this.parts(fn.body);
  }

  /** The outermost pieces of markup under a node that is not itself markup, each read as far up as it can be. */
  parts(node: Node): Markup[] {
    const result: Markup[] = [];
    const shown = (value: Node) => result.push(this.expression(value));
    walk(node, (child) => {
      if (child !== node && (this.components.has(child) || !this.holdsJsx(child))) return false;
      if (isJsx(child)) {
        shown(child);
        return false;
      }
      if (child.type === 'ReturnStatement' && child.argument) {
        shown(child.argument);
        return false;
      }
      if (child.type === 'ArrowFunctionExpression' && child.body.type !== 'BlockStatement') {
        shown(child.body);
        return false;
      }
      return undefined;
    });
    return result;
  }

  #plain(node: Node, at: Span): Markup {
    const outlet = outletName(node);
    if (outlet) return { kind: 'outlet', ...at, name: outlet };
    return { kind: 'expression', ...at, code: codeOf(node), parts: [] };
  }

  #conditionalArms(node: TSESTree.ConditionalExpression, arms: Arm[]): void {
    arms.push({ ...spanOf(node.consequent), condition: codeOf(node.test), body: this.#arm(node.consequent) });
    const alternate = bare(node.alternate);
    if (alternate.type === 'ConditionalExpression') this.#conditionalArms(alternate, arms);
    else arms.push({ ...spanOf(node.alternate), body: this.#arm(node.alternate) });
  }

  #arm(node: Node): Markup[] {
    const inner = bare(node);
    const empty =
      (inner.type === 'Literal' && (inner.value === null || typeof inner.value === 'boolean')) ||
      (inner.type === 'Identifier' && inner.name === 'undefined');
    return empty ? [] : [this.expression(node)];
  }

  #child(child: TSESTree.JSXChild): Markup[] {
    if (child.type === 'JSXText') {
      const raw = this.text.slice(child.range[0], child.range[1]);
      const rendered = this.dialect.rendered(raw);
      if (!rendered.text) return [];
      const start = child.range[0] + rendered.start;
      return [{ kind: 'text', start, end: child.range[0] + rendered.end, text: rendered.text }];
    }
    if (child.type === 'JSXExpressionContainer') {
      if (child.expression.type === 'JSXEmptyExpression') {
        const text = this.text
          .slice(child.range[0] + 1, child.range[1] - 1)
          .replace(/^!--|--$/g, '')
          .trim();
        return [{ kind: 'comment', ...spanOf(child), text }];
      }
      return [this.expression(child.expression, spanOf(child))];
    }
    if (child.type === 'JSXSpreadChild') return [{ kind: 'opaque', ...spanOf(child), reason: 'spread children' }];
    return [this.element(child)];
  }

  #attribute(node: TSESTree.JSXAttribute | TSESTree.JSXSpreadAttribute): Attribute {
    const span = spanOf(node);
    if (node.type === 'JSXSpreadAttribute') {
      return { kind: 'spread', ...span, name: '', code: codeOf(node.argument), parts: this.#partsOf(node.argument) };
    }
    const name = node.name.type === 'JSXIdentifier' ? node.name.name : tagName(node.name);
    const value = node.value;
    if (!value) return { kind: 'static', ...span, name, parts: [] };
    if (value.type === 'Literal') {
      return {
        kind: this.#isKey(name) ? 'key' : 'static',
        ...span,
        name,
        text: String(value.value),
        quoted: spanOf(value),
        parts: [],
      };
    }
    const code = value.type === 'JSXExpressionContainer' ? value.expression : value;
    const kind = this.#isKey(name) ? 'key' : attributeKind(name);
    return { kind, ...span, name, code: codeOf(code), parts: this.#partsOf(code) };
  }

  /** Only some languages take the key of an element for themselves. */
  #isKey(name: string): boolean {
    return name === 'key' && this.dialect.own === 'key';
  }

  #partsOf(node: Node): Markup[] {
    if (!this.holdsJsx(node)) return [];
    return isFunction(node) ? this.functionBody(node) : [this.expression(node)];
  }
}

function codeOf(node: Node): Code {
  return { ...spanOf(node), syntax: node };
}

function attributeKind(name: string): AttributeKind {
  if (name === 'ref') return name;
  return /^on[A-Z]/.test(name) ? 'event' : 'bound';
}

/** `children`, `props.children`, `this.props.children`. */
function outletName(node: Node): string | undefined {
  if (node.type === 'Identifier')
    return node.name === 'children' || node.name.startsWith('slot:') ? outletNamed(node.name) : undefined;
  if (node.type !== 'MemberExpression' || node.computed || node.property.type !== 'Identifier') return undefined;
  return node.property.name === 'children' ? 'children' : undefined;
}

/** A tag that shows what was passed in, or else what stands in it: its name takes up the head of the tag. */
function outletWithin(node: TSESTree.LogicalExpression): { readonly name: string; readonly inside: Node } | undefined {
  const name = outletName(node.left);
  // Between two operands stands an operator, and between the head of a tag and what is in it nothing.
  const isTag = node.left.range[1] === node.right.range[0];
  return isTag && name !== undefined ? { name, inside: node.right } : undefined;
}

interface LoopParts {
  readonly source: Node;
  readonly fn: FunctionNode;
}

/** `list.map(fn)` and `Array.from(list, fn)`, also behind `?.`; whatever filters or sorts before it is the source. */
export function loopOf(node: Node): LoopParts | undefined {
  const call = node.type === 'ChainExpression' ? node.expression : node;
  if (call.type !== 'CallExpression') return undefined;
  const callee = bare(call.callee);
  if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier') return undefined;
  const last = call.arguments[call.arguments.length - 1];
  if (callee.property.name === 'from' && call.arguments.length === 2 && last && isFunction(last)) {
    return { source: call.arguments[0]!, fn: last };
  }
  const first = call.arguments[0];
  if ((callee.property.name === 'map' || callee.property.name === 'flatMap') && first && isFunction(first)) {
    return { source: callee.object, fn: first };
  }
  // React.Children.map(children, fn)
  if (callee.property.name === 'map' && call.arguments.length === 2 && last && isFunction(last)) {
    return { source: call.arguments[0]!, fn: last };
  }
  return undefined;
}
