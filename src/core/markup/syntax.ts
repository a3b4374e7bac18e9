/**
 * The markup tree as TS-ESTree with JSX nodes: the form in which names are resolved and the proof compares. A language
 * whose templates are written otherwise reads them into the model, and is lowered from there.
 *
 * A branch is a conditional expression, a loop a `map` over its source, an outlet a call of what was passed in, content
 * for an outlet a function that is run while rendering.
 */
import type { Node } from '../script/parser.js';
import * as make from '../script/make.js';
import type { Span } from '../text/edits.js';
import type { Attribute, ElementNode, Markup } from './model.js';

/** An attribute that the build turns into a class: a component that does not take it by this name takes it as `className`. */
export function isStyleProp(name: string): boolean {
  return name === 'css' || name === 'sx' || name === 'tw';
}

/** Behind the name of a variable that a tag stands for. */
export const BY_VARIABLE = '$';

/** The name of an outlet whose name only running tells; the code of it is among the attributes of the outlet. */
export const DYNAMIC_OUTLET = '[name]';

/** The name that an outlet's content is bound to. */
export function outletBinding(name: string): string {
  return `slot:${name}`;
}

/** The outlet whose content a name is bound to. */
export function outletNamed(binding: string): string {
  return binding.replace(/^slot:/, '');
}

/** The prop by which content for an outlet is handed over. */
export function outletProp(name: string): string {
  return name === 'children' ? name : outletBinding(name);
}

/** What a list of siblings shows, as one expression. */
export function shownBy(nodes: readonly Markup[], span: Span): Node {
  const children = childrenOf(nodes);
  const only = children.length === 1 ? children[0]! : undefined;
  if (only?.type === 'JSXElement') return only;
  return make.jsxFragment(children, span);
}

function childrenOf(nodes: readonly Markup[]): Node[] {
  return nodes.filter((node) => node.kind !== 'comment').map(childOf);
}

function childOf(node: Markup): Node {
  switch (node.kind) {
    case 'element':
      return make.jsxElement(tagOf(node, node), attributesOf(node.attributes), childrenOf(node.children), node);
    case 'fragment':
      return make.jsxFragment(childrenOf(node.children), node);
    case 'text':
      return make.container(make.literal(node.text, node), node);
    case 'opaque':
      return make.jsxElement(
        make.jsxName('opaque', node),
        [make.jsxAttribute('of', make.literal(node.reason, node), node)],
        [],
        node,
      );
    case 'comment':
      return make.jsxFragment([], node);
    default:
      return make.container(expressionOf(node), node);
  }
}

function expressionOf(node: Exclude<Markup, { kind: 'element' | 'fragment' | 'text' | 'opaque' | 'comment' }>): Node {
  switch (node.kind) {
    case 'expression':
      return node.code.syntax;
    case 'branch': {
      const last = node.arms[node.arms.length - 1]!;
      const start = last.condition ? (make.literal(null, make.at(node.end)) as Node) : shownBy(last.body, last);
      const arms = last.condition ? node.arms : node.arms.slice(0, -1);
      return arms.reduceRight(
        (rest, arm) =>
          make.conditional(arm.condition!.syntax, shownBy(arm.body, arm), rest, { start: arm.start, end: node.end }),
        start,
      );
    }
    case 'loop': {
      const turn = node.turn?.syntax ?? make.arrow(node.binds ?? [], shownBy(node.body, node), node);
      return make.call(make.member(node.source.syntax, 'map', node.source), [turn], node);
    }
    case 'outlet': {
      const given = make.object(
        (node.attributes ?? []).map((a) =>
          a.kind === 'spread' ? { spread: valueOf(a), span: a } : { key: a.name, value: valueOf(a), span: a },
        ),
        node,
      );
      const fallback = node.fallback?.length ? [content([], node.fallback, node)] : [];
      return make.call(
        make.identifier(outletBinding(node.name), { start: node.start, end: node.start }),
        [given, ...fallback],
        node,
      );
    }
  }
}

/** Content that somebody else shows, now and not later. */
function content(binds: readonly Node[], nodes: readonly Markup[], span: Span): Node {
  return Object.assign(make.arrow(binds, shownBy(nodes, span), span), { immediate: true });
}

function tagOf({ name, component, local }: ElementNode, span: Span): Node {
  const at = { start: span.start + 1, end: span.start + 1 + name.length };
  // A variable with a small letter is none that a tag could name by itself.
  if (local !== undefined) return make.jsxMember(`${local}.${BY_VARIABLE}`, at);
  // A native name with a capital letter is none that a scope should look up.
  return component ? make.jsxMember(name, at) : make.jsxName(name[0]!.toLowerCase() + name.slice(1), at);
}

function attributesOf(attributes: readonly Attribute[]): make.JsxAttribute[] {
  return attributes.map((attribute) => {
    if (attribute.kind === 'spread') return make.jsxSpread(valueOf(attribute), attribute);
    if (attribute.kind === 'slot' && (attribute.named ?? attribute.each))
      return make.jsxSpread(slotsOf(attribute), attribute);
    if (attribute.kind === 'slot') return make.jsxAttribute(outletProp(attribute.name), slotOf(attribute), attribute);
    const hasValue = attribute.code !== undefined || attribute.text !== undefined;
    return make.jsxAttribute(attribute.name, hasValue ? valueOf(attribute) : undefined, attribute);
  });
}

function slotOf(attribute: Attribute): Node {
  const shown = content(attribute.binds ?? [], attribute.parts, attribute);
  return attribute.code
    ? make.conditional(attribute.code.syntax, shown, make.literal(null, attribute), attribute)
    : shown;
}

/** Content for slots whose names only running tells. */
function slotsOf(attribute: Attribute): Node {
  const key = attribute.named?.syntax ?? outletProp(attribute.name);
  const content = make.object([{ key, value: slotOf(attribute), span: attribute }], attribute);
  const { each } = attribute;
  if (!each) return content;
  return make.call(
    make.member(each.source.syntax, 'map', each.source),
    [make.arrow(each.binds, content, attribute)],
    attribute,
  );
}

function valueOf(attribute: Attribute): Node {
  if (attribute.code) return attribute.code.syntax;
  const place = attribute.quoted ?? attribute;
  if (!attribute.asset) return make.literal(attribute.text ?? true, place);
  // `./comb.png 1x, ./large.png 2x`: each file with when it is taken.
  const files = attribute.text!.split(',').map((one) => make.loaded(make.literal(one.trim(), place), place));
  return files.length === 1 ? files[0]! : make.array(files, place);
}
