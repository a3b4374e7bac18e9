/**
 * Writes the template of a component in the place of a tag that shows it: what is passed in the place of what is taken,
 * content in the place of slots, what it declares in the script setup of the host.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { attributeName, isFunction, nodeWithin, spanOf, walk, within } from '../../../script/walk.js';
import type { Inlines, InlineRequest, Inlining } from '../../../language/inlining.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { Substitution, Unwritable, type Argument } from '../../substitution.js';
import { lower } from '../lower.js';
import { camelized, isElement, spanOf as placeOf } from '../markup.js';
import { outletProp } from '../../../markup/syntax.js';
import { attributeOf, parseSfc } from '../sfc.js';
import { codeSpan, directiveOf, isDirective } from '../pieces.js';
import { staying, tagAt } from '../cut/scene.js';
import { KIND, TAG, type DirectiveNode, type ElementNode, type TemplateChildNode } from '../template.js';
import { definitionOf, loweredIn, type Definition } from './definition.js';
import { HandedOver, scriptNames } from './handed.js';
import { linkHost, type Declared } from './linked.js';
import { fixedIn, isWorkedOut, useIn, type Place } from './place.js';
import { TemplateText } from './template.js';

export const inlining: Inlines = {
  inline(request) {
    const definition = definitionOf(request.component, request.ports);
    if (isProblem(definition)) return definition;
    const sfc = parseSfc(request.file, request.ports);
    if (isProblem(sfc)) return sfc;
    const at = { path: request.file.path, span: request.use };
    const tag = tagAt(sfc.shown, request.use.start);
    const lowered = lower(sfc);
    const use = useIn(lowered, request.use);
    if (!tag || !use) return problem('inline-use', at, request.component.name, 'it is no plain tag');
    try {
      return new Writing(request, definition, { sfc, lowered, tag, use, text: request.file.text }).run();
    } catch (error) {
      if (!(error instanceof Unwritable)) throw error;
      return problem('inline-use', at, request.component.name, error.reason);
    }
  },

  without(component, _ports, _brought, shared) {
    const { file, name, span } = component;
    return shared
      ? problem('inline-component', { path: file.path, span }, name, 'other files take something else from its file')
      : 'nothing';
  },
};

/** What a use has for a slot. */
interface Content {
  readonly name: string;
  readonly nodes: readonly TemplateChildNode[];
  /** Whether it takes what the slot hands over. */
  readonly binds: boolean;
}

/** What a template finds in every component. */
const EVERYWHERE = /^\$(?:event|t|tc|te|d|n|router|route|store|emit)$/;

class Writing {
  readonly #given: HandedOver;
  readonly #substitution: Substitution;
  readonly #template: TemplateText;
  readonly #indent: string;
  readonly #renamed: ReadonlyMap<Variable, string>;

  constructor(
    readonly request: InlineRequest,
    readonly definition: Definition,
    readonly place: Place,
  ) {
    this.#indent = indentAt(place.text, placeOf(place.tag).start);
    const names = { inTemplate: () => new Map(), inScript: (node: Node) => scriptNames(place, node) };
    this.#given = new HandedOver(definition, place, names);
    this.#pass();
    this.#renamed = this.#clashes();
    this.#substitution = new Substitution(
      definition.text,
      definition.lowered.scopes,
      (node) => this.#given.argument(node),
      this.#renamed,
      (node, self) => this.#given.special(node, self),
    );
    this.#template = new TemplateText(definition.text, definition.fn, this.#substitution, (node, condition) =>
      this.#outlet(node, condition),
    );
  }

  run(): Inlining | Problem {
    const { request, definition, place } = this;
    this.#checkNames();
    const shown = this.#shown();
    const declared = this.#declared();
    const { start, end } = placeOf(place.tag);
    const linked = linkHost(request, definition, place, declared, { start, end, text: shown });
    if (isProblem(linked)) return linked;
    return {
      edits: [{ start, end, text: shown }, ...linked],
      ownEdits: [],
      brought: [],
      notes: [...this.#renamed].map(([v, to]) => `${v.name} of ${request.component.name} is called ${to} now`),
    };
  }

  #pass(): void {
    const { use } = this.place;
    const { values } = this.#given;
    const taken = new Set([...this.definition.props.values()].map((p) => p.name));
    const stays = staying(this.place.tag);
    for (const attribute of use.openingElement.attributes) {
      const span = spanOf(attribute);
      if (stays.some((s) => within(span, s))) continue;
      if (attribute.type === 'JSXSpreadAttribute') throw new Unwritable('it is given a spread', attribute);
      const name = attributeName(attribute);
      if (name === 'children' || name.startsWith('slot:')) continue;
      if (name === 'ref') throw new Unwritable('it is reached by a ref', attribute);
      if (!taken.has(name)) throw new Unwritable(`it does not take "${name}", which lands on its element`, attribute);
      const { value } = attribute;
      if (!value) values.set(name, { kind: 'constant', value: true });
      else if (value.type === 'Literal') values.set(name, { kind: 'constant', value: String(value.value) });
      else {
        const node = (value as TSESTree.JSXExpressionContainer).expression;
        values.set(name, this.#given.code(node));
      }
    }
  }

  /** Names that loops and slots of the component bind and that would catch a name in what is passed; and what it declares. */
  #clashes(): Map<Variable, string> {
    const { definition, place } = this;
    const { lowered, fn, text } = definition;
    const { scopes } = lowered;
    const inHost = new Set([
      ...place.lowered.scopes.references.map((r) => String((r.identifier as { name?: unknown }).name)),
      ...place.lowered.scopes.moduleScope.set.keys(),
      ...place.lowered.definition.members.map((m) => m.name),
      ...place.lowered.definition.props.map((p) => p.name),
    ]);
    const clashing = new Set<Variable>();
    for (const { node: own } of definition.declared)
      for (const statement of loweredIn(definition, spanOf(own)))
        walk(statement, (node) => {
          const variable = node.type === 'Identifier' ? scopes.variableOf(node) : undefined;
          if (variable?.scope.block === fn && inHost.has(variable.name) && !definition.props.has(variable))
            clashing.add(variable);
          return undefined;
        });
    for (const { identifier, resolved } of scopes.within(spanOf(fn))) {
      const prop = resolved && definition.props.get(resolved);
      const value = prop && this.#given.values.get(prop.name);
      if (value?.kind !== 'code') continue;
      const free = new Set(
        value.scopes
          .within(spanOf(value.node))
          .map((r) => String((r.identifier as { name?: unknown }).name).replace(/^(?:props|this)\./, '')),
      );
      let node = scopes.parentOf(identifier);
      for (; node && node !== fn; node = scopes.parentOf(node)) {
        if (!isFunction(node)) continue;
        for (const parameter of node.params)
          walk(parameter, (id) => {
            const bound: Variable | undefined = id.type === 'Identifier' ? scopes.variableOf(id) : undefined;
            if (bound && bound.name !== '$event' && free.has(bound.name)) clashing.add(bound);
            return undefined;
          });
      }
    }
    const taken = new Set([...inHost, ...(text.match(/[\w$]+/g) ?? [])]);
    const own = this.request.component.name;
    return new Map(
      [...clashing].map((variable) => {
        const longer = own[0]!.toLowerCase() + own.slice(1) + variable.name[0]!.toUpperCase() + variable.name.slice(1);
        let name = longer;
        for (let i = 2; taken.has(name); i++) name = `${longer}${i}`;
        taken.add(name);
        return [variable, name];
      }),
    );
  }

  /** Names that mean something else in another component. */
  #checkNames(): void {
    const { lowered, sfc, text } = this.definition;
    for (const { identifier } of lowered.scopes.unresolved()) {
      const { name } = identifier as TSESTree.Identifier;
      if (
        name.startsWith('$') &&
        !name.includes(':') &&
        !EVERYWHERE.test(name) &&
        sfc.template &&
        nodeWithin(identifier, sfc.template.inner)
      )
        throw new Unwritable(`it uses "${name}", which means something else in another component`, identifier);
    }
    if (lowered.undeclared.length > 0)
      throw new Unwritable(`it uses "${lowered.undeclared[0]!}", which its file does not declare`, this.place.use);
    if (/\{\{\s*this\b|"this\./.test(sfc.template ? text.slice(sfc.template.inner.start, sfc.template.inner.end) : ''))
      throw new Unwritable('it uses "this"', this.place.use);
  }

  #shown(): string {
    const { definition, place } = this;
    const { roots, text, lowered } = definition;
    const start = placeOf(roots[0]!).start;
    const end = placeOf(roots.at(-1)!).end;
    const edits = this.#template.edits(roots);
    const stays = staying(place.tag).map((s) => place.text.slice(s.start, s.end));
    const from = indentAt(text, start);
    const elements = roots.filter(isElement);
    const only = roots.length === 1 && elements.length === 1 ? elements[0]! : undefined;
    const clashes = only && staying(only).length > 0;
    const wraps = stays.length > 0 && (!only || clashes || only.tagType === TAG.slot);
    if (stays.length > 0 && !wraps) {
      const at = placeOf(only!).start + 1 + only!.tag.length;
      edits.push({ start: at, end: at, text: ` ${stays.join(' ')}` });
    }
    const unit = place.sfc.template ? '  ' : '';
    const to = this.#indent + (wraps ? unit : '');
    const fixed = fixedIn(roots, lowered);
    const body = relocated(text, { start, end }, to, edits, fixed, from);
    return wraps ? `<template ${stays.join(' ')}>\n${to}${body}\n${this.#indent}</template>` : body;
  }

  #outlet(node: ElementNode, condition: string | undefined): Edit[] {
    const { text } = this.definition;
    const { start, end } = placeOf(node);
    const isOpen = node.props.some((p) => isDirective(p) && p.name === 'bind' && !p.arg);
    if (isOpen || directiveOf(node, 'for'))
      throw new Unwritable('a slot of it stands in a loop, or takes a record', this.place.use);
    const content = this.#content(attributeOf(node, 'name')?.value?.content ?? 'default');
    if (content) return [{ start, end, text: this.#under(condition, content, this.#moved(content, node)) }];
    if (condition !== undefined) throw new Unwritable('a slot of it stands under a condition', this.place.use);
    const shown = node.children.filter((c) => isElement(c) || text.slice(placeOf(c).start, placeOf(c).end).trim());
    if (shown.length === 0) return [this.#template.gone(node)];
    return [
      { start, end: placeOf(shown[0]!).start, text: '' },
      ...this.#template.edits(node.children),
      { start: placeOf(shown.at(-1)!).end, end, text: '' },
    ];
  }

  /** Content that is only shown under a condition: that of its one element, where it has none of its own. */
  #under(condition: string | undefined, { nodes }: Content, moved: string): string {
    if (condition === undefined) return moved;
    const shown = nodes.filter((n) => this.place.text.slice(placeOf(n).start, placeOf(n).end).trim() !== '');
    const [only] = shown;
    if (shown.length !== 1 || !only || !isElement(only) || staying(only).length > 0)
      return `<template ${condition}>${moved}</template>`;
    const head = 1 + only.tag.length;
    return `${moved.slice(0, head)} ${condition}${moved.slice(head)}`;
  }

  /** What the use has for a slot. */
  #content(name: string): Content | undefined {
    const { tag } = this.place;
    const { text } = this.place;
    const isShown = (node: TemplateChildNode) =>
      node.type !== (KIND.comment as number) && text.slice(placeOf(node).start, placeOf(node).end).trim() !== '';
    const templates = tag.children.filter(isElement).filter((c) => c.tag === 'template' && directiveOf(c, 'slot'));
    for (const template of templates) {
      const directive = directiveOf(template, 'slot')!;
      if ((directive.arg?.loc.source ?? 'default') !== name) continue;
      if (directiveOf(template, 'if', 'for'))
        throw new Unwritable('content for a slot is there under a condition', this.place.use);
      return { name, nodes: template.children, binds: codeSpan(directive) !== undefined };
    }
    const own = directiveOf(tag, 'slot');
    const isOwn = (own?.arg?.loc.source ?? 'default') === name;
    const rest = tag.children.filter((c) => !templates.includes(c as ElementNode));
    if (!isOwn || !rest.some(isShown)) return undefined;
    return { name, nodes: rest, binds: own !== undefined && codeSpan(own) !== undefined };
  }

  /** Content of the use, at the place of a slot, with what the slot hands to it. */
  #moved(content: Content, outlet: ElementNode): string {
    const { text, lowered } = this.place;
    const shown = content.nodes.filter((n) => text.slice(placeOf(n).start, placeOf(n).end).trim());
    const start = placeOf(shown[0]!).start;
    const end = placeOf(shown.at(-1)!).end;
    const whole = text.slice(start, end);
    const span = { start: start + /^\s*/.exec(whole)![0].length, end: start + whole.trimEnd().length };
    const root = indentAt(this.definition.text, placeOf(this.definition.roots[0]!).start);
    const own = indentAt(this.definition.text, placeOf(outlet).start);
    const to = this.#indent + (own.startsWith(root) ? own.slice(root.length) : '');
    const edits = content.binds ? this.#handed(content, outlet) : [];
    return relocated(text, span, to, edits, fixedIn(content.nodes, lowered), indentAt(text, span.start));
  }

  /** What the slot hands over, in the place of the names that the content has for it. */
  #handed(content: Content, outlet: ElementNode): Edit[] {
    const { text, lowered, use } = this.place;
    const prop = outletProp(content.name === 'default' ? 'children' : content.name);
    const attribute = use.openingElement.attributes.find((a) => a.type === 'JSXAttribute' && attributeName(a) === prop);
    const value =
      attribute?.type === 'JSXAttribute' && attribute.value?.type === 'JSXExpressionContainer'
        ? attribute.value.expression
        : undefined;
    const pattern = value && isFunction(value) ? value.params[0] : undefined;
    if (pattern?.type !== 'ObjectPattern')
      throw new Unwritable('the content of a slot takes all that it is handed as one', use);
    const given = new Map<Variable, Argument>();
    for (const property of pattern.properties) {
      const variable =
        property.type === 'Property' && property.value.type === 'Identifier'
          ? lowered.scopes.variableOf(property.value)
          : undefined;
      if (property.type !== 'Property' || property.key.type !== 'Identifier' || !variable)
        throw new Unwritable('the content of a slot takes apart what it is handed', use);
      given.set(variable, this.#handedAs(property.key.name, outlet));
    }
    const substitution = new Substitution(text, lowered.scopes, (node) => {
      const variable = node.type === 'Identifier' ? lowered.scopes.referenceOf(node)?.resolved : undefined;
      return variable ? given.get(variable) : undefined;
    });
    const template = new TemplateText(text, value!, substitution);
    return template.edits(content.nodes);
  }

  #handedAs(name: string, outlet: ElementNode): Argument {
    const { text, lowered } = this.definition;
    const plain = attributeOf(outlet, name);
    if (plain) return { kind: 'constant', value: plain.value?.content ?? '' };
    const bound = outlet.props.find(
      (p): p is DirectiveNode => isDirective(p) && p.name === 'bind' && camelized(p.arg?.loc.source ?? '') === name,
    );
    const at = bound && codeSpan(bound);
    const node = at && this.#template.nodeOf(at);
    if (!bound) return { kind: 'constant', value: undefined };
    if (!node) throw new Unwritable('a slot is handed something by its name alone', this.place.use);
    const settled = this.#substitution.settle(node);
    if (settled.kind === 'argument') return settled.argument;
    return { kind: 'code', node, scopes: lowered.scopes, source: text, write: () => this.#template.textOf(at) };
  }

  /** What the component declares, with what was passed; by the option that it stands in, where it has options. */
  #declared(): Declared[] {
    const { definition, place, request } = this;
    if (definition.declared.length === 0) return [];
    const api = place.sfc.script && !place.sfc.setup ? 'options' : 'setup';
    if (definition.lowered.definition.api !== api && definition.sfc.script !== undefined)
      throw new Unwritable('it has options, and the host has none', place.use);
    if (definition.lowered.definition.api !== api)
      throw new Unwritable('it declares something, and the host has options', place.use);
    const why = this.#homeTrouble();
    if (why !== undefined) throw new Unwritable(why, place.use);
    if (request.repeated && !request.returnsEarly)
      throw new Unwritable('it declares something of its own, and is shown in several places', place.use);
    return definition.declared.map(({ node, option }): Declared => {
      const span = withComments(definition.text, spanOf(node));
      const edits = loweredIn(definition, spanOf(node)).flatMap((n) => this.#substitution.edits(n));
      const text = relocated(definition.text, span, '', edits, [], indentAt(definition.text, span.start));
      return { text, ...(option === undefined ? {} : { option }) };
    });
  }

  /** Why what the component keeps cannot stand in the host. */
  #homeTrouble(): string | undefined {
    const { place, definition } = this;
    if (definition.declared.every((d) => isWorkedOut(d.node))) return undefined;
    const { scopes } = place.lowered;
    for (let node = scopes.parentOf(place.use); node; node = scopes.parentOf(node)) {
      if (node.type === 'ConditionalExpression') return 'it keeps something, and is shown under a condition';
      if (node.type === 'ArrowFunctionExpression') return 'it keeps something, and is shown in a loop or a slot';
    }
    return undefined;
  }
}
