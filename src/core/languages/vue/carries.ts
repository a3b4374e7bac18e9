/** A tag goes through a component as content: it is written where the component is shown, with what that binds and listens to. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Carries, Carrying, CarryRequest } from '../../language/carrying.js';
import type { SourceFile } from '../../language/ports.js';
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import { attributeName, nodeWithin, spanOf } from '../../script/walk.js';
import { applyEdits, type Edit, type Span } from '../../text/edits.js';
import { indentAt, relocated } from '../../text/layout.js';
import { literally } from '../../text/pattern.js';
import { droppedImports, rebasedSource, type WantedImport } from '../imports.js';
import { readModuleTables } from '../modules.js';
import { habitsOf } from './cut/habits.js';
import { importingOf } from './cut/host.js';
import { staying, tagAt } from './cut/scene.js';
import { saidOf, unheld } from './home/macros.js';
import { changedTag } from './home/tag.js';
import { takenApart, type Definition } from './inline/definition.js';
import { importEdits } from './inline/linked.js';
import { useIn, type Place } from './inline/place.js';
import { lower } from './lower.js';
import { camelized, eventProp, spanOf as placeOf } from './markup.js';
import { isDirective } from './pieces.js';
import { rootsOf, restyles } from './restyled.js';
import { parseSfc } from './sfc.js';
import { pascal } from './definition.js';
import type { ElementNode } from './template.js';

export const carries: Carries = {
  together: false,
  asContent(request) {
    const { file, name, span } = request.component;
    const at = { path: file.path, span };
    const inner = takenApart(request.component, request.ports);
    if ('why' in inner) return problem('through-inner', at, name, inner.why);
    if (isProblem(inner)) return inner;
    const tag = tagAt(inner.sfc.shown, request.part.start);
    if (!tag) return undefined;
    if (!inner.sfc.setup) return problem('through-inner', at, name, 'it has no script setup');
    const given = givenTo(request, inner, tag);
    return isProblem(given) ? given : new Through(request, inner, tag, given).run();
  },
};

/** What the tag is given, by what the component takes. */
interface Given {
  /** As the tag calls it: `kilos`, `weigh`. */
  readonly name: string;
  readonly isEvent: boolean;
  /** As a use of the component writes it, lowered: `kilos`, `onWeigh`; undefined for what is the same everywhere. */
  readonly input: string | undefined;
  /** As it is written here. */
  readonly source: string;
}

function givenTo({ component }: CarryRequest, inner: Definition, tag: ElementNode): Given[] | Problem {
  const { propsLocal, emitLocal, props } = inner.lowered.definition;
  const refuse = (span: Span) =>
    problem('through-needs', { path: inner.path, span }, component.name, inner.text.slice(span.start, span.end));
  const stays = staying(tag);
  const given: Given[] = [];
  for (const prop of tag.props) {
    const span = placeOf(prop);
    if (stays.some((s) => s.start === span.start)) continue;
    if (!isDirective(prop)) {
      given.push({ name: prop.name, isEvent: false, input: undefined, source: prop.loc.source });
      continue;
    }
    const name = prop.arg?.loc.source;
    const code = (prop.exp?.loc.source ?? camelized(name ?? '')).trim();
    const isPlain = name !== undefined && !name.startsWith('[') && prop.modifiers.length === 0;
    if (!isPlain || (prop.name !== 'bind' && prop.name !== 'on')) return refuse(span);
    if (prop.name === 'on') {
      const event = eventSent(code, emitLocal);
      if (event === undefined) return refuse(span);
      given.push({ name, isEvent: true, input: eventProp(event), source: prop.loc.source });
      continue;
    }
    const own =
      propsLocal !== undefined && code.startsWith(`${propsLocal}.`) ? code.slice(propsLocal.length + 1) : code;
    const input = props.find((p) => p.name === own);
    if (!input) return refuse(span);
    given.push({ name, isEvent: false, input: own, source: prop.loc.source });
  }
  const content = tag.children.find((node) => node.loc.source.trim() !== '');
  return content ? refuse(placeOf(content)) : given;
}

/** The event that a handler does nothing but send on, with what it was sent with. */
function eventSent(code: string, emitLocal: string | undefined): string | undefined {
  const call = literally(emitLocal ?? '$emit');
  const sent = new RegExp(
    `^(?:\\(?([\\w$]*)\\)?\\s*=>\\s*)?(?:\\$emit|${call})\\(\\s*(['"\`])([\\w:-]+)\\2(?:,\\s*([\\w$]+))?\\s*\\)$`,
  );
  const [, parameter, , event, argument] = sent.exec(code) ?? [];
  return argument === (parameter ?? '$event') || (argument === undefined && parameter === '') ? event : undefined;
}

class Through {
  constructor(
    readonly request: CarryRequest,
    readonly inner: Definition,
    readonly part: ElementNode,
    readonly given: readonly Given[],
  ) {}

  run(): Carrying | Problem | undefined {
    const { request, inner, given } = this;
    const inputs = given.flatMap(({ input }) => input ?? []);
    const dropped = new Set(inputs.filter((name) => this.#isForPart(name)));
    const roots = rootsOf(request.project, inner.path, this.part.tag);
    if (restyles(inner.sfc, request.ports, roots, true))
      return problem(
        'through-inner',
        { path: inner.path, span: placeOf(this.part) },
        request.component.name,
        'its styles reach what it hands on',
      );
    const own = this.#innerEdits(dropped);
    if (isProblem(own)) return own;
    const edits = new Map<string, Edit[]>([[inner.path, own]]);
    const places = new Map<string, Place>();
    let isHandedOver = inputs.length === 0;
    for (const { file, span } of request.uses) {
      const place = this.#placeOf(file, span);
      if ('code' in place) return place;
      if (restyles(place.sfc, request.ports, roots, false))
        return this.#refuse(file.path, span, 'has styles that would reach what goes through');
      const hidden = this.#isHidden(place, file);
      if (hidden) return undefined;
      const put = this.#put(place, file.path, dropped);
      if ('code' in put) return put;
      isHandedOver ||= place.use.openingElement.attributes.some(
        (a) => a.type === 'JSXAttribute' && inputs.includes(attributeName(a)),
      );
      if (hidden === false && !places.has(file.path))
        edits.set(file.path, [...(edits.get(file.path) ?? []), ...this.#imported(place, file)]);
      places.set(file.path, place);
      edits.set(file.path, [...(edits.get(file.path) ?? []), put]);
    }
    if (!isHandedOver)
      return problem('through-idle', { path: inner.path, span: placeOf(this.part) }, request.component.name, inputs);
    return { edits, dropped: [...dropped], notes: [] };
  }

  #refuse(path: string, span: Span, why: string): Problem {
    return problem('through-use', { path, span }, this.request.component.name, why);
  }

  /** Whether the component reads or sends something for the tag alone. */
  #isForPart(name: string): boolean {
    const { props, lowered } = this.inner;
    const part = placeOf(this.part);
    const variables = [...props].flatMap(([variable, prop]) => (prop.name === name ? [variable] : []));
    const uses = variables.flatMap((v) => v.references.filter((r) => !r.init).map((r) => r.identifier));
    if (!uses.every((use) => nodeWithin(use, part))) return false;
    // The whole of the props, handed on or watched.
    const { propsLocal } = lowered.definition;
    const names = [...lowered.scopes.references]
      .map((r) => r.identifier)
      .filter((id) => 'name' in id && id.name === propsLocal);
    return propsLocal === undefined || names.every((id) => nodeWithin(id, part) || this.#isDeclared(id.range[0]));
  }

  #isDeclared(at: number): boolean {
    const call = this.inner.lowered.definition.macros.get('defineProps');
    return (
      call !== undefined &&
      at < call.range[0] &&
      this.inner.text.slice(at, call.range[0]).trim().split(/\s+/).length <= 2
    );
  }

  #innerEdits(dropped: ReadonlySet<string>): Edit[] | Problem {
    const { inner, part, request } = this;
    const { text, sfc, lowered } = inner;
    const habits = habitsOf(sfc, request.project.files);
    const span = placeOf(part);
    const kept = staying(part).map(({ start, end }) => text.slice(start, end));
    const name = request.slot === undefined ? [] : [`name="${request.slot}"`];
    const outlet = `<${['slot', ...kept, ...name].join(' ')} />`;
    const said = saidOf(inner, dropped, [], false, habits);
    if (typeof said === 'string')
      return problem('through-inner', { path: inner.path, span }, request.component.name, said);
    const importing = importingOf({ text, lowered, request: { file: { path: inner.path } } });
    const edits = [{ ...span, text: outlet }, ...said.edits, ...droppedImports(importing, [span])];
    return [...edits, ...unheld(text, lowered.definition, edits)];
  }

  #placeOf(file: SourceFile, span: Span): Place | Problem {
    const sfc = parseSfc(file, this.request.ports);
    if (isProblem(sfc)) return sfc;
    const lowered = lower(sfc);
    const tag = tagAt(sfc.shown, span.start);
    const use = useIn(lowered, span);
    if (!tag || !use) return this.#refuse(file.path, span, 'shows it by no plain tag');
    if (!sfc.setup) return this.#refuse(file.path, span, 'has no script setup');
    return { sfc, lowered, tag, use, text: sfc.text };
  }

  /** How a file imports the tag; undefined for what is known everywhere. */
  #wanted(path: string): WantedImport | undefined {
    const { inner, part } = this;
    const { imports } = readModuleTables(inner.sfc.setup!.script.program, inner.text);
    const entry = imports.find((i) => !i.typeOnly && pascal(i.local) === pascal(part.tag));
    return entry && { ...entry, source: rebasedSource(entry.source, inner.path, path) };
  }

  /** Whether a file has the name for something else; `undefined`: for the same. */
  #isHidden({ sfc, lowered }: Place, { path }: SourceFile): boolean | undefined {
    const wanted = this.#wanted(path);
    if (!wanted) return false;
    const { resolver } = this.request.project;
    const target = (one: string) => {
      const found = resolver.resolve(path, one);
      return found.kind === 'file' ? found.path : one;
    };
    const there = readModuleTables(sfc.setup!.script.program, sfc.text).imports.find((i) => i.local === wanted.local);
    if (there)
      return there.imported === wanted.imported && target(there.source) === target(wanted.source) ? undefined : true;
    return lowered.definition.members.some((m) => pascal(m.name) === pascal(this.part.tag));
  }

  #imported({ sfc, lowered, text }: Place, file: SourceFile): Edit[] {
    const wanted = this.#wanted(file.path);
    if (!wanted) return [];
    const block = sfc.setup!;
    const importing = importingOf({ text, lowered, request: { file } });
    const body = importing.script.program.body.filter((s) => nodeWithin(s, block.inner));
    const scene = { ...importing, script: { ...importing.script, program: { ...importing.script.program, body } } };
    return importEdits(scene, block.inner, [wanted], [], habitsOf(sfc, this.request.project.files), { text });
  }

  /** The use with the tag in it, and without what is no longer taken. */
  #put(place: Place, path: string, dropped: ReadonlySet<string>): Edit | Problem {
    const { text, tag, use } = place;
    const { slot } = this.request;
    const habits = habitsOf(place.sfc, this.request.project.files);
    const attributes = use.openingElement.attributes.filter((a) => a.type === 'JSXAttribute');
    const span = placeOf(tag);
    if (attributes.length < use.openingElement.attributes.length)
      return this.#refuse(path, span, 'hands on what it does not name');
    const content = tag.children.filter((node) => node.loc.source.trim() !== '');
    if (slot === undefined && content.length > 0) return this.#refuse(path, span, 'has content there already');
    const margin = indentAt(text, span.start);
    const outer = margin + habits.indent;
    const inner = slot === undefined ? outer : outer + habits.indent;
    const written = this.#written(place, path, attributes, inner);
    if (typeof written !== 'string') return written;
    const gone = attributes.filter((a) => dropped.has(attributeName(a)));
    const edits = changedTag(place, gone, new Map(), habits).map((e) => ({
      ...e,
      start: e.start - span.start,
      end: e.end - span.start,
    }));
    const whole = applyEdits(text.slice(span.start, span.end), edits);
    const nl = habits.lineEnd;
    const piece =
      slot === undefined
        ? `${nl}${outer}${written}`
        : `${nl}${outer}<template #${slot}>${nl}${inner}${written}${nl}${outer}</template>`;
    const close = `</${tag.tag}>`;
    if (tag.isSelfClosing) return { ...span, text: `${whole.replace(/\s*\/>$/, '>')}${piece}${nl}${margin}${close}` };
    const head = whole.slice(0, whole.lastIndexOf('</')).trimEnd();
    return { ...span, text: `${head}${piece}${nl}${margin}${close}` };
  }

  /** The tag as it is written where the component is shown. */
  #written(
    { text }: Place,
    path: string,
    attributes: readonly TSESTree.JSXAttribute[],
    indent: string,
  ): string | Problem {
    const parts = [this.part.tag];
    for (const { name, isEvent, input, source } of this.given) {
      const passed = input === undefined ? undefined : attributes.find((a) => attributeName(a) === input);
      if (input === undefined) parts.push(source);
      else if (passed) {
        const own = relocated(text, spanOf(passed), indent, [], []);
        const called = renamedTo(own, name, isEvent);
        if (called === undefined) return this.#refuse(path, spanOf(passed), `hands ${input} over in an unusual way`);
        parts.push(called);
      } else if (attributes.some((a) => attributeName(a) === `v-model:${input}`))
        return this.#refuse(path, spanOf(attributes[0]!), `hands ${input} over both ways (v-model)`);
      else if (!isEvent && this.#hasDefault(input))
        return this.#refuse(path, placeOf(this.part), `leaves ${input} out, for which it has a default`);
    }
    return `<${parts.join(' ')} />`;
  }

  #hasDefault(name: string): boolean {
    const prop = this.inner.lowered.definition.props.find((p) => p.name === name);
    return prop?.defaultNode !== undefined;
  }
}

/** An attribute under another name, its value as it is. */
function renamedTo(source: string, name: string, isEvent: boolean): string | undefined {
  const found = /^(v-bind:|:|v-on:|@)?([\w:.-]+)(?=[\s=]|$)([\s\S]*)$/.exec(source);
  if (!found) return undefined;
  const [, prefix = '', was = '', rest = ''] = found;
  if ((prefix === '@' || prefix === 'v-on:') !== isEvent) return undefined;
  // `:kilos` alone means the value of that name.
  if (rest === '' && prefix !== '' && was !== name) return undefined;
  return prefix + name + rest;
}
