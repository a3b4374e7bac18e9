/** What one use passes, as it is written where the component names it. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, ParsedScript } from '../../../script/parser.js';
import type { ScriptScopes } from '../../../script/scopes.js';
import { attributeName, bare, spanOf, walk } from '../../../script/walk.js';
import { relocated } from '../../../text/layout.js';
import { Unwritable, type Argument, type Substitution } from '../../substitution.js';
import type { Edit, Span } from '../../../text/edits.js';
import { wholeLines } from '../../imports.js';
import { isStyleProp } from '../../../markup/syntax.js';
import { isJsx } from '../markup.js';
import { renderedText } from '../text.js';
import { decodeHTMLStrict } from 'entities';
import type { Definition } from './definition.js';

export interface Place {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  readonly use: TSESTree.JSXElement;
}

export interface Passed {
  readonly values: ReadonlyMap<string, Argument>;
  readonly key: TSESTree.JSXAttribute | undefined;
}

/** `indentFor`: the indentation of a line of the component, at its new place; `unit`: one level of it; `taken`: what it takes. */
export function passedBy(
  place: Place,
  indentFor: (offset: number) => string,
  unit: string,
  taken: ReadonlySet<string>,
): Passed {
  const { text, scopes, use } = place;
  const values = new Map<string, Argument>();
  let key: TSESTree.JSXAttribute | undefined;
  const code = (node: Node): Argument => ({
    kind: 'code',
    node,
    scopes,
    source: text,
    write: (offset) => moved(text, spanOf(node), indentFor(offset), node),
    move: (part, edits, offset) => relocated(text, part, indentFor(offset), edits, fixedIn(node)),
  });
  for (const attribute of use.openingElement.attributes) {
    if (attribute.type === 'JSXSpreadAttribute') throw new Unwritable('a spread', attribute);
    const name = attributeName(attribute);
    if (name === 'ref') throw new Unwritable('a ref', attribute);
    if (isStyleProp(name) && !taken.has(name))
      throw new Unwritable(`${name}, which is turned into className`, attribute);
    if (name === 'key') key = attribute;
    else if (!attribute.value) values.set(name, { kind: 'constant', value: true });
    else if (attribute.value.type === 'Literal')
      values.set(name, {
        kind: 'constant',
        value: decodeHTMLStrict(text.slice(attribute.value.range[0] + 1, attribute.value.range[1] - 1)),
      });
    else if (attribute.value.type === 'JSXExpressionContainer') {
      const inner = bare(attribute.value.expression);
      if (inner.type === 'Literal' && typeof inner.value === 'string')
        values.set(name, { kind: 'constant', value: inner.value });
      else values.set(name, code(attribute.value.expression));
    } else values.set(name, code(attribute.value));
  }
  const content = contentOf(place, indentFor, unit);
  if (content) values.set('children', content);
  return { values, key };
}

/** What stands between the tags: one element, or several as a fragment where an expression is wanted. */
function contentOf(
  { text, scopes, use }: Place,
  indentFor: (offset: number) => string,
  unit: string,
): Argument | undefined {
  const shown = use.children.filter((c) => c.type !== 'JSXText' || renderedText(text.slice(...c.range)).text);
  if (shown.length === 0) return undefined;
  const first = use.children[0]!.range[0];
  const last = use.children.at(-1)!.range[1];
  const raw = text.slice(first, last);
  const start = first + /^\s*/.exec(raw)![0].length;
  const span = {
    start: /\n/.test(text.slice(first, start)) ? start : first,
    end: /\n\s*$/.test(raw) ? first + raw.trimEnd().length : last,
  };
  const isLong = text.slice(span.start, span.end).includes('\n');
  const content = (offset: number, alone = false) => {
    const outer = indentFor(offset);
    if (!alone || !isLong || span.start === first) return moved(text, span, outer, use);
    const inner = outer + unit;
    return `\n${inner}${moved(text, span, inner, use)}\n${outer}`;
  };
  const only = shown.length === 1 ? shown[0]! : undefined;
  const single = only?.type === 'JSXExpressionContainer' ? only.expression : only && isJsx(only) ? only : undefined;
  if (single && single.type !== 'JSXEmptyExpression')
    return {
      kind: 'code',
      node: single,
      scopes,
      source: text,
      write: (at) => moved(text, spanOf(single), indentFor(at), single),
      content,
    };
  return { kind: 'code', node: use, scopes, source: text, write: (at) => `<>${content(at)}</>`, content };
}

function moved(text: string, span: Span, to: string, within: Node): string {
  return relocated(text, span, to, [], fixedIn(within));
}

/** Strings over several lines, which are not moved. */
export function fixedIn(root: Node): Span[] {
  const result: Span[] = [];
  walk(root, (node) => {
    if (node.type === 'TemplateElement' || (node.type === 'Literal' && typeof node.value === 'string'))
      result.push(spanOf(node));
    return undefined;
  });
  return result;
}

/** How markup takes what was passed; everything else is code. */
export function inMarkup({ text }: Pick<Definition, 'text'>): (node: Node, self: Substitution) => Edit[] | undefined {
  return (node, self) => {
    if (node.type === 'JSXAttribute') return attribute(node, self);
    if (node.type === 'JSXIdentifier' || node.type === 'JSXMemberExpression') return tag(node, self);
    if (node.type !== 'JSXExpressionContainer' || node.expression.type === 'JSXEmptyExpression') return undefined;
    const parent = self.scopes.parentOf(node);
    return parent && isJsx(parent) ? child(text, node, parent, self) : undefined;
  };
}

function tag(node: Node, self: Substitution): Edit[] | undefined {
  if (node.type === 'JSXMemberExpression') return self.edits(node.object);
  const argument = self.argumentOf(node);
  if (!argument) return undefined;
  if (argument.kind === 'constant' || !/^[A-Z][\w.$]*$/.test(argument.write(node.range[0])))
    throw new Unwritable('a component that has no name', node);
  return undefined;
}

function attribute(node: TSESTree.JSXAttribute, self: Substitution): Edit[] {
  if (node.value?.type !== 'JSXExpressionContainer' || node.value.expression.type === 'JSXEmptyExpression') return [];
  const { expression } = node.value;
  const settled = self.settle(expression);
  if (settled.kind === 'argument' && settled.argument.kind === 'constant') {
    const { value } = settled.argument;
    if (value === undefined) {
      const before = /\s*$/.exec(self.text.slice(0, node.range[0]))![0].length;
      return [{ start: node.range[0] - before, end: node.range[1], text: '' }];
    }
    const written = value === true ? '' : typeof value === 'string' ? inQuotes(value) : `={${String(value)}}`;
    return [{ start: node.name.range[1], end: node.range[1], text: written }];
  }
  // What a decided condition leaves.
  const left = settled.kind === 'own' && settled.node !== expression ? bare(settled.node) : undefined;
  const isWord = left?.type === 'Literal' && typeof left.value === 'string';
  const word = isWord ? left.value : self.wordOf(expression);
  if (word !== undefined) return [{ start: node.name.range[1], end: node.range[1], text: inQuotes(word) }];
  return self.edits(expression);
}

function inQuotes(value: string): string {
  if (/[\n\r"&]/.test(value)) return `={${JSON.stringify(value)}}`;
  return `="${value}"`;
}

function child(
  text: string,
  node: TSESTree.JSXExpressionContainer,
  parent: TSESTree.JSXElement | TSESTree.JSXFragment,
  self: Substitution,
): Edit[] | undefined {
  const { expression } = node;
  const settled = self.settle(expression);
  const whole = (content: string): Edit[] => [{ ...spanOf(node), text: content }];
  const nothing = (): Edit[] => [wholeLines(text, spanOf(node))];
  if (settled.kind === 'argument') {
    const { argument } = settled;
    if (argument.kind === 'constant')
      return typeof argument.value === 'string' ? whole(asText(text, argument.value, node, parent)) : nothing();
    const isAlone = parent.children.length === 1;
    if (argument.content) return whole(argument.content(node.range[0], isAlone));
    if (isJsx(bare(argument.node))) return whole(argument.write(node.range[0]));
    return undefined;
  }
  if (settled.node === expression) return undefined;
  const left = bare(settled.node);
  if (isJsx(left)) {
    // Among other markup a fragment is no more than what it holds.
    const isFragment = left.type === 'JSXFragment';
    const [start, end] = isFragment ? [left.openingFragment.range[1], left.closingFragment.range[0]] : left.range;
    return [
      { start: node.range[0], end: start, text: '' },
      ...self.edits(left),
      { start: end, end: node.range[1], text: '' },
    ];
  }
  const isNothing = left.type === 'Literal' && (left.value === null || typeof left.value === 'boolean');
  return isNothing || (left.type === 'Identifier' && left.name === 'undefined') ? nothing() : undefined;
}

/** Words between tags, as they are where the language reads them so. */
function asText(text: string, value: string, node: Node, parent: TSESTree.JSXElement | TSESTree.JSXFragment): string {
  const at = (parent.children as readonly Node[]).indexOf(node);
  const folds = [parent.children[at - 1], parent.children[at + 1]].some((c, i) => {
    if (c?.type !== 'JSXText') return false;
    const raw = text.slice(...c.range);
    return raw.trim() !== '' && (i === 0 ? /\n\s*$/ : /^\s*\n/).test(raw);
  });
  const isPlain = value !== '' && value === value.trim() && !/[{}<>&\n\r]/.test(value);
  return isPlain && !folds ? value : `{${JSON.stringify(value)}}`;
}
