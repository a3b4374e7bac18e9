/** From the tree of a Vue template to the neutral markup tree. */
import type { Arm, Attribute, Code, Markup } from '../../markup/model.js';
import type { Node } from '../../script/parser.js';
import * as make from '../../script/make.js';
import { boundNames } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { isAsset } from './assets.js';
import { isHandler, type Pieces } from './expressions.js';
import { attributeOf } from './sfc.js';
import { DYNAMIC_OUTLET } from '../../markup/syntax.js';
import { attributeCode, codeSpan, directiveOf, dynamicArgument, isDirective, loopParts } from './pieces.js';
import {
  KIND,
  TAG,
  type AttributeNode,
  type CommentNode,
  type DirectiveNode,
  type ElementNode,
  type InterpolationNode,
  type TemplateChildNode,
  type TextNode,
} from './template.js';

const BRANCH = ['else-if', 'else'];

export function readMarkup(nodes: readonly TemplateChildNode[], text: string, pieces: Pieces): Markup[] {
  return new TemplateMarkup(text, pieces).siblings(nodes);
}

class TemplateMarkup {
  constructor(
    readonly text: string,
    readonly pieces: Pieces,
  ) {}

  siblings(nodes: readonly TemplateChildNode[]): Markup[] {
    const result: Markup[] = [];
    for (let i = 0; i < nodes.length; i++) {
      const node = nodes[i]!;
      if (!isElement(node)) {
        result.push(this.#leaf(node));
        continue;
      }
      const condition = directiveOf(node, 'if');
      if (!condition) {
        // Two of them behind one `v-if` are for a tool that takes one away.
        const stray = directiveOf(node, ...BRANCH);
        const reason = stray && `\`v-${stray.name}\` with no \`v-if\` in front of it`;
        result.push(reason ? { kind: 'opaque', ...spanOf(node), reason } : this.#looped(node));
        continue;
      }
      if (!this.#says(condition)) {
        result.push({ kind: 'opaque', ...spanOf(node), reason: '`v-if` with nothing to decide on' });
        continue;
      }
      // In a loop over what its condition reads, every turn decides for itself.
      if (this.#conditionReadsLoop(node, condition)) {
        result.push(this.#looped(node, condition));
        continue;
      }
      const arms = [this.#arm(node, condition)];
      let last = i;
      for (let j = i + 1; j < nodes.length; j++) {
        const next = nodes[j]!;
        if (next.type === (KIND.comment as number) || isBlank(next)) continue;
        const directive = isElement(next) ? directiveOf(next, ...BRANCH) : undefined;
        if (!directive || !isElement(next)) break;
        if (directive.name === 'else-if' && !this.#says(directive)) break;
        arms.push(this.#arm(next, directive));
        last = j;
        if (directive.name === 'else') break;
      }
      i = last;
      result.push({ kind: 'branch', start: arms[0]!.start, end: arms[arms.length - 1]!.end, arms });
    }
    return result;
  }

  #says(condition: DirectiveNode): boolean {
    const at = codeSpan(condition);
    return at !== undefined && this.#code(at) !== undefined;
  }

  #leaf(node: TemplateChildNode): Markup {
    const span = spanOf(node);
    if (node.type === (KIND.comment as number))
      return { kind: 'comment', ...span, text: (node as CommentNode).content.trim() };
    if (node.type === (KIND.interpolation as number)) {
      const { loc } = (node as InterpolationNode).content;
      const code = this.#code({ start: loc.start.offset, end: loc.end.offset });
      return code ? { kind: 'expression', ...span, code, parts: [] } : { kind: 'text', ...span, text: '' };
    }
    return { kind: 'text', ...span, text: (node as TextNode).content };
  }

  #arm(node: ElementNode, directive: DirectiveNode): Arm {
    const span = spanOf(node);
    const at = directive.name === 'else' ? undefined : codeSpan(directive);
    const condition = at && this.#code(at);
    const inner = this.#looped(node);
    const body = inner.kind === 'fragment' ? inner.children : [inner];
    return { ...span, ...(condition ? { condition } : {}), body };
  }

  #conditionReadsLoop(node: ElementNode, condition: DirectiveNode): boolean {
    const loop = this.#loop(node);
    const at = codeSpan(condition);
    return Boolean(
      loop &&
      at &&
      loop.items.some((name) =>
        new RegExp(`(?<![\\w$.])${name.replaceAll('$', '\\$')}(?![\\w$])`).test(this.text.slice(at.start, at.end)),
      ),
    );
  }

  #loop(node: ElementNode): { source: Code; binds: readonly Node[]; items: string[] } | undefined {
    const directive = directiveOf(node, 'for');
    const at = directive && codeSpan(directive);
    const parts = at && loopParts(this.text.slice(at.start, at.end));
    if (!parts) return undefined;
    const source = this.#code({ start: at.start + parts.source.start, end: at.start + parts.source.end });
    const binds = this.pieces.get(at.start + parts.names.start) ?? [];
    return source && { source, binds, items: binds.flatMap(boundNames) };
  }

  /** An element with the loop around it; `condition`: what each turn decides on. */
  #looped(node: ElementNode, condition?: DirectiveNode): Markup {
    const span = spanOf(node);
    const loop = this.#loop(node);
    const inner = this.#element(node);
    const plain = condition
      ? ({ kind: 'branch', ...span, arms: [this.#inTurn(inner, span, condition)] } satisfies Markup)
      : inner;
    if (!loop) return plain;
    const body = plain.kind === 'fragment' ? plain.children : [plain];
    return { kind: 'loop', ...span, ...loop, body };
  }

  #inTurn(inner: Markup, span: Span, condition: DirectiveNode): Arm {
    const code = this.#code(codeSpan(condition)!);
    return {
      ...span,
      ...(code ? { condition: code } : {}),
      body: inner.kind === 'fragment' ? inner.children : [inner],
    };
  }

  #element(node: ElementNode): Markup {
    const span = spanOf(node);
    const structural = directiveOf(node, 'if', 'else-if', 'else', 'for') !== undefined;
    const attributes = node.props.filter((p) => !isStructural(p)).map((p) => this.#attribute(p, node));
    if (node.tagType === TAG.slot) return this.#outlet(node, attributes);
    if (node.tag === 'template' && structural && !attributes.some((a) => a.kind !== 'key' && a.kind !== 'slot')) {
      const children = this.siblings(node.children);
      const key = attributes.find((a) => a.kind === 'key');
      if (!key) return { kind: 'fragment', ...span, children };
      return { kind: 'element', ...span, name: 'fragment', component: false, attributes: [key], children };
    }
    const component = node.tagType === TAG.component && node.tag !== 'component';
    const own = directiveOf(node, 'slot');
    const { slots, rest } = this.#slots(node);
    const children = this.siblings(rest);
    // From the directive on: all of the element may be the turn of a loop already, and two functions of one place are one.
    const inside = own && { start: spanOf(own).start, end: span.end - 1 };
    const all = own ? [...attributes, this.#slotContent(own, inside!, children)] : [...attributes, ...slots];
    return { kind: 'element', ...span, name: node.tag, component, attributes: all, children: own ? [] : children };
  }

  /** `<template #name>` among the children of a component is content for one of its outlets. */
  #slots(node: ElementNode): { slots: Attribute[]; rest: TemplateChildNode[] } {
    const slots: Attribute[] = [];
    const rest: TemplateChildNode[] = [];
    for (const child of node.children) {
      const directive = isElement(child) && child.tag === 'template' ? directiveOf(child, 'slot') : undefined;
      const older = isElement(child) && node.tagType === TAG.component ? this.#olderSlot(child) : undefined;
      if (older) {
        slots.push(older);
        continue;
      }
      if (!directive || !isElement(child)) {
        rest.push(child);
        continue;
      }
      const condition = directiveOf(child, 'if', 'else-if');
      const code = condition && this.#code(codeSpan(condition)!);
      const content = this.#slotContent(directive, spanOf(child), this.siblings(child.children), code);
      const loop = this.#loop(child);
      slots.push(loop ? { ...content, each: loop } : content);
    }
    return { slots, rest };
  }

  /** `slot="name"` and `slot-scope="{ hive }"` on a child: the way of Vue 2. */
  #olderSlot(child: ElementNode): Attribute | undefined {
    const name = attributeOf(child, 'slot');
    const scope =
      attributeOf(child, 'slot-scope') ?? (child.tag === 'template' ? attributeOf(child, 'scope') : undefined);
    if (!name && !scope) return undefined;
    const inner = scope && attributeCode(scope);
    const binds = (inner && this.pieces.get(inner.start)) ?? [];
    const parts = child.tag === 'template' ? this.siblings(child.children) : this.siblings([child]);
    const called = name?.value?.content ?? 'default';
    return { kind: 'slot', ...spanOf(child), name: called === 'default' ? 'children' : called, parts, binds };
  }

  #slotContent(directive: DirectiveNode, span: Span, parts: readonly Markup[], code?: Code): Attribute {
    const at = codeSpan(directive);
    const binds = (at && this.pieces.get(at.start)) ?? [];
    const name = directive.arg ? directive.arg.loc.source : 'default';
    const dynamic = dynamicArgument(directive);
    const named = dynamic && this.#code({ start: dynamic[0], end: dynamic[1] });
    return {
      kind: 'slot',
      ...span,
      name: name === 'default' ? 'children' : name,
      parts,
      binds,
      ...(code ? { code } : {}),
      ...(named ? { named } : {}),
    };
  }

  #outlet(node: ElementNode, attributes: readonly Attribute[]): Markup {
    const bound = attributes.some((a) => a.name === 'name' && a.kind === 'bound');
    const name = bound ? DYNAMIC_OUTLET : (attributeOf(node, 'name')?.value?.content ?? 'default');
    const given = attributes.filter((a) => a.name !== 'name' || a.kind === 'bound');
    const fallback = this.siblings(node.children);
    return {
      kind: 'outlet',
      ...spanOf(node),
      name: name === 'default' ? 'children' : name,
      ...(given.length ? { attributes: given } : {}),
      ...(fallback.length ? { fallback } : {}),
    };
  }

  #attribute(node: AttributeNode | DirectiveNode, element: ElementNode): Attribute {
    const span = spanOf(node);
    if (!isDirective(node)) {
      const kind = node.name === 'ref' || node.name === 'key' ? node.name : 'static';
      const { value } = node;
      const name = this.#propName(node.name, element);
      if (!value) return { kind, ...span, name, parts: [] };
      // Vue reads declarations one by one: on how many lines they stand means nothing.
      const text = node.name === 'style' ? value.content.trim().replace(/\s*\n\s*/g, ' ') : value.content;
      const asset = isAsset(element.tag, node) && { asset: true };
      return { kind, ...span, name, text, quoted: spanOf(value), parts: [], ...asset };
    }
    const modifiers = node.modifiers.map((m) => `.${m.content}`).join('');
    const at = codeSpan(node);
    const dynamic = dynamicArgument(node);
    const key = dynamic && this.pieces.get(dynamic[0])?.[0];
    const argument = node.arg && !dynamic ? node.arg.loc.source : '';
    switch (node.name) {
      case 'bind': {
        const sync = node.modifiers.some((m) => m.content === 'sync');
        if (sync && at)
          return { kind: 'two-way', ...span, name: `v-model:${camelized(argument)}`, code: this.#code(at)!, parts: [] };
        const code = at ? this.#code(at) : argument ? this.#sameName(argument, node) : undefined;
        if (key && code) return this.#spread(span, make.object([{ key, value: code.syntax, span }], span));
        if (!argument) return { kind: 'spread', ...span, name: '', ...(code ? { code } : {}), parts: [] };
        const kind = argument === 'key' || argument === 'ref' ? argument : 'bound';
        return {
          kind,
          ...span,
          name: this.#propName(argument, element) + modifiers,
          ...(code ? { code } : {}),
          parts: [],
        };
      }
      case 'on': {
        const code = at && this.#handler(at, !node.arg, element.tagType === TAG.component);
        const nothing = () => make.arrow([], make.block([], span), span);
        if (!node.arg || key) {
          const value = code?.syntax ?? nothing();
          const given = key ? make.object([{ key, value, span }], span) : value;
          return this.#spread(span, make.call(make.identifier('$on', make.at(span.start)), [given], span));
        }
        return {
          kind: 'event',
          ...span,
          name: eventProp(argument) + modifiers,
          code: code ?? lazily(span, nothing),
          parts: [],
        };
      }
      default: {
        const name =
          node.name === 'model'
            ? `v-model${modelName(argument, element)}`
            : `v-${node.name}${argument ? `:${argument}` : ''}`;
        const value = at && this.#code(at);
        const code = key ? argued(key, value, span) : value;
        const kind = node.name === 'model' ? 'two-way' : 'directive';
        return { kind, ...span, name: name + modifiers, ...(code ? { code } : {}), parts: [] };
      }
    }
  }

  /** Props may be written with hyphens; attributes of native elements mean themselves. */
  #propName(name: string, element: ElementNode): string {
    return element.tagType === TAG.component || element.tagType === TAG.slot ? camelized(name) : name;
  }

  #spread(span: Span, syntax: Node): Attribute {
    return { kind: 'spread', ...span, name: '', code: { ...span, syntax }, parts: [] };
  }

  #code(span: Span): Code | undefined {
    if (!this.pieces.has(span.start)) return undefined;
    return lazily(span, () => this.pieces.get(span.start)![0]!);
  }

  /** `:hive` is `:hive="hive"`. */
  #sameName(argument: string, { arg }: DirectiveNode): Code {
    const span = spanOf(arg!);
    return { ...span, syntax: make.identifier(camelized(argument), span) };
  }

  #handler(span: Span, whole: boolean, component: boolean): Code | undefined {
    if (!this.pieces.has(span.start)) return undefined;
    if (whole || isHandler(this.text.slice(span.start, span.end))) return this.#code(span);
    return lazily(span, () => this.#statements(span, component));
  }

  #statements(span: Span, component: boolean): Node {
    const nodes = this.pieces.get(span.start)!;
    const usesEvent = /(?<![\w.])\$event\b/.test(this.text.slice(span.start, span.end));
    const params = usesEvent ? [make.identifier('$event', make.at(span.start))] : [];
    // One expression gives its value back, several statements nothing.
    const only = nodes.length === 1 ? nodes[0]! : undefined;
    const body = only?.type === 'ExpressionStatement' ? only.expression : make.block(nodes, span);
    // A native event hands over one thing; a component may hand over more.
    return Object.assign(make.arrow(params, body, span), { native: !component });
  }
}

/** Code whose tree is made when it is asked for. */
function lazily({ start, end }: Span, make: () => Node): Code {
  let made: Node | undefined;
  return {
    start,
    end,
    get syntax() {
      return (made ??= make());
    },
  };
}

/** `onClick` for `click`, `onUpdate:query` for `update:query`. */
export function eventProp(event: string): string {
  const name = camelized(event);
  return `on${name[0]!.toUpperCase()}${name.slice(1)}`;
}

export function camelized(name: string): string {
  return name.replace(/-(\w)/g, (_, letter: string) => letter.toUpperCase());
}

function modelName(argument: string, element: ElementNode): string {
  if (argument) return `:${camelized(argument)}`;
  return element.tagType === TAG.component ? ':modelValue' : '';
}

function isStructural(prop: ElementNode['props'][number]): boolean {
  if (!isDirective(prop)) return prop.name === 'slot' || prop.name === 'slot-scope';
  return ['if', 'else-if', 'else', 'for', 'slot'].includes(prop.name);
}

export function isElement(node: TemplateChildNode): node is ElementNode {
  return node.type === (KIND.element as number);
}

function isBlank(node: TemplateChildNode): boolean {
  return node.type === (KIND.text as number) && !(node as TextNode).content.trim();
}

export function spanOf({ loc }: { readonly loc: TextNode['loc'] }): Span {
  return { start: loc.start.offset, end: loc.end.offset };
}

/** The value of a directive together with an argument that is code. */
function argued(key: Node, value: Code | undefined, span: Span): Code {
  const given = make.object([{ key, value: value?.syntax ?? make.literal(true, span), span }], span);
  return { ...span, syntax: given };
}
