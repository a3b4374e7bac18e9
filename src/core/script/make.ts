/** Making syntax that stands nowhere in the text. Each node is given the place of what it was made from. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import type { Span } from '../text/edits.js';

type Parts = Record<string, unknown>;

// eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters -- the caller says what it makes
function make<T extends Node>(type: string, { start, end }: Span, parts: Parts): T {
  return { type, start, end, range: [start, end], ...parts } as unknown as T;
}

export const at = (offset: number): Span => ({ start: offset, end: offset });

export function identifier(name: string, span: Span): TSESTree.Identifier {
  return make('Identifier', span, { name, optional: false, decorators: [] });
}

export function literal(value: string | number | boolean | null, span: Span): TSESTree.Literal {
  return make('Literal', span, { value, raw: JSON.stringify(value) });
}

export function member(object: Node, property: string, span: Span): TSESTree.MemberExpression {
  return make('MemberExpression', span, {
    object,
    property: identifier(property, at(span.end)),
    computed: false,
    optional: false,
  });
}

export function call(callee: Node, args: readonly Node[], span: Span): TSESTree.CallExpression {
  return make('CallExpression', span, { callee, arguments: args, optional: false });
}

/** A file that is asked for by its path. */
export function loaded(source: Node, span: Span): TSESTree.ImportExpression {
  return make('ImportExpression', span, { source, options: null });
}

export function arrow(params: readonly Node[], body: Node, span: Span): TSESTree.ArrowFunctionExpression {
  const expression = body.type !== 'BlockStatement';
  return make('ArrowFunctionExpression', span, { params, body, expression, async: false, generator: false, id: null });
}

export function block(body: readonly Node[], span: Span): TSESTree.BlockStatement {
  return make('BlockStatement', span, { body });
}

export function statement(expression: Node, span: Span): TSESTree.ExpressionStatement {
  return make('ExpressionStatement', span, { expression });
}

export function returned(argument: Node, span: Span): TSESTree.ReturnStatement {
  return make('ReturnStatement', span, { argument });
}

export function array(elements: readonly Node[], span: Span): TSESTree.ArrayExpression {
  return make('ArrayExpression', span, { elements });
}

export function conditional(test: Node, consequent: Node, alternate: Node, span: Span): TSESTree.ConditionalExpression {
  return make('ConditionalExpression', span, { test, consequent, alternate });
}

export function logical(operator: '&&' | '||' | '??', left: Node, right: Node, span: Span): TSESTree.LogicalExpression {
  return make('LogicalExpression', span, { operator, left, right });
}

export function not(argument: Node, span: Span): TSESTree.UnaryExpression {
  return make('UnaryExpression', span, { operator: '!', prefix: true, argument });
}

/** `spread` stands for `...argument`. */
export type Entry =
  | { readonly key: string | Node; readonly value: Node; readonly span: Span }
  | { readonly spread: Node; readonly span: Span };

export function object(entries: readonly Entry[], span: Span): TSESTree.ObjectExpression {
  const properties = entries.map((entry) =>
    'spread' in entry
      ? make('SpreadElement', entry.span, { argument: entry.spread })
      : property(entry.key, entry.value, entry.span),
  );
  return make('ObjectExpression', span, { properties });
}

function property(key: string | Node, value: Node, span: Span): TSESTree.Property {
  const computed = typeof key !== 'string';
  return make('Property', span, {
    key: computed ? key : identifier(key, at(span.start)),
    value,
    kind: 'init',
    computed,
    method: false,
    shorthand: false,
    optional: false,
  });
}

/** A parameter that is taken apart; a value can be an identifier or an assignment pattern. */
export function pattern(
  entries: readonly { readonly key: string; readonly value: Node }[],
  span: Span,
): TSESTree.ObjectPattern {
  const properties = entries.map(({ key, value }) =>
    property(key, value, { start: value.range[0], end: value.range[1] }),
  );
  return make('ObjectPattern', span, { properties, decorators: [], optional: false });
}

export function rest(argument: Node): TSESTree.RestElement {
  return make(
    'RestElement',
    { start: argument.range[0], end: argument.range[1] },
    { argument, decorators: [], optional: false },
  );
}

export function withDefault(left: Node, right: Node): TSESTree.AssignmentPattern {
  return make(
    'AssignmentPattern',
    { start: left.range[0], end: right.range[1] },
    { left, right, decorators: [], optional: false },
  );
}

export function declaration(kind: 'const' | 'let', id: Node, init: Node, span: Span): TSESTree.VariableDeclaration {
  const declarator = make('VariableDeclarator', span, { id, init, definite: false });
  return make('VariableDeclaration', span, { kind, declarations: [declarator], declare: false });
}

export function functionDeclaration(
  name: TSESTree.Identifier,
  params: readonly Node[],
  body: Node,
  span: Span,
): TSESTree.FunctionDeclaration {
  return make('FunctionDeclaration', span, {
    id: name,
    params,
    body,
    async: false,
    generator: false,
    expression: false,
    declare: false,
  });
}

export function exportDefault(node: Node, span: Span): TSESTree.ExportDefaultDeclaration {
  return make('ExportDefaultDeclaration', span, { declaration: node, exportKind: 'value' });
}

export function assignment(left: Node, right: Node, span: Span): TSESTree.AssignmentExpression {
  return make('AssignmentExpression', span, { operator: '=', left, right });
}

// Markup

export type JsxAttribute = TSESTree.JSXAttribute | TSESTree.JSXSpreadAttribute;

export function jsxName(name: string, span: Span): TSESTree.JSXIdentifier {
  return make('JSXIdentifier', span, { name });
}

/** `motion.line` as a tag. */
export function jsxMember(name: string, span: Span): TSESTree.JSXMemberExpression | TSESTree.JSXIdentifier {
  const dot = name.lastIndexOf('.');
  if (dot < 0) return jsxName(name, span);
  const middle = span.start + dot;
  return make('JSXMemberExpression', span, {
    object: jsxMember(name.slice(0, dot), { start: span.start, end: middle }),
    property: jsxName(name.slice(dot + 1), { start: middle + 1, end: span.end }),
  });
}

export function jsxAttribute(name: string, value: Node | undefined, span: Span): TSESTree.JSXAttribute {
  const shown = !value
    ? null
    : value.type === 'Literal' && typeof value.value === 'string'
      ? value
      : container(value, { start: value.range[0], end: value.range[1] });
  return make('JSXAttribute', span, { name: jsxName(name, at(span.start)), value: shown });
}

export function jsxSpread(argument: Node, span: Span): TSESTree.JSXSpreadAttribute {
  return make('JSXSpreadAttribute', span, { argument });
}

export function container(expression: Node, span: Span): TSESTree.JSXExpressionContainer {
  return make('JSXExpressionContainer', span, { expression });
}

export function jsxElement(
  name: Node,
  attributes: readonly JsxAttribute[],
  children: readonly Node[],
  span: Span,
): TSESTree.JSXElement {
  const openingElement = make('JSXOpeningElement', span, { name, attributes, selfClosing: true });
  return make('JSXElement', span, { openingElement, closingElement: null, children });
}

export function jsxFragment(children: readonly Node[], span: Span): TSESTree.JSXFragment {
  return make('JSXFragment', span, {
    openingFragment: make('JSXOpeningFragment', at(span.start), {}),
    closingFragment: make('JSXClosingFragment', at(span.end), {}),
    children,
  });
}

export function jsxText(value: string, span: Span): TSESTree.JSXText {
  return make('JSXText', span, { value, raw: value });
}
