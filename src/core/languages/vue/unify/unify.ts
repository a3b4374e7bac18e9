/**
 * One component for several places of Vue templates: the reference is cut out with the inputs in the place of what
 * differs, and every place gets a use of it that passes what it had.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Crossed, CutRequest, TypeName } from '../../../language/cutting.js';
import type {
  ExistingComponent,
  GivenInput,
  Passed,
  UnifyPlace,
  UnifyRequest,
  Unifying,
} from '../../../language/unifying.js';
import { within } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, relocated } from '../../../text/layout.js';
import { without } from '../../imports.js';
import { liftedEvent } from '../cut/events.js';
import { finish, prepare, type Prepared } from '../cut/cut.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { hostEdits } from '../cut/host.js';
import { attributesIn, outletsIn, sceneOf, type Scene } from '../cut/scene.js';
import { plainEvent } from '../../events.js';
import { functionFor } from '../../handed-functions.js';
import { moveStyles } from '../cut/styles.js';
import { writeUseAt, type PassedOn, type Typed } from '../cut/write.js';
import { defineOf } from '../definition.js';
import { camelized, isElement, spanOf } from '../markup.js';
import { regionAt } from '../lists.js';
import { markupOf } from '../read.js';
import { parseSfc } from '../sfc.js';
import type { TemplateChildNode } from '../template.js';
import { typeOf, typesAt } from './input-types.js';
import { writeList } from './list.js';
import { unifyLogic } from './logic.js';
import { attributeAt, codeOf, writeSite } from './sites.js';

export function unify(request: UnifyRequest): Unifying | Problem {
  if (request.kind === 'logic') return unifyLogic(request);
  const scenes = openScenes(request);
  if (isProblem(scenes)) return scenes;
  if (request.existing) return reuse(request, request.existing, scenes);
  const reference = scenes[request.reference]!;
  const asked = request.inputs.map((input) => (input.asked ? asEvent(input) : input));
  const trimmedInputs = asked.map((input) => trimmed(input, scenes, request.reference));
  const inputs = apart(reference, withRims(trimmedInputs, asked, reference));
  const crossed: Crossed[] = [];
  for (const input of inputs) {
    const one = crossedOf(request, reference, input);
    if (isProblem(one)) return one;
    crossed.push(one);
  }
  const { path } = reference.request.file;
  const here = scenes.filter((s) => s !== reference && s.request.file.path === path);
  const prepared = prepare({ ...reference.request, name: request.name, target: request.target, inputs: crossed }, here);
  if (isProblem(prepared)) return prepared;
  const stranger = strangerIn(request, scenes, prepared);
  if (stranger) return stranger;

  const passes = new Passes(request, scenes, inputs, prepared);
  const uses = new Map<string, Edit[]>();
  if (request.asList) {
    const passed = passes.at(request.reference);
    const list = isProblem(passed) ? passed : writeList(request, scenes, inputs, passed, prepared);
    if (isProblem(list)) return list;
    uses.set(path, list);
  }
  for (const [place, scene] of scenes.entries()) {
    const passed = passes.at(place);
    if (isProblem(passed)) return passed;
    if (request.asList) continue;
    const text = writeUseAt(scene, prepared.contents.habits, passed, request.name);
    const list = uses.get(scene.request.file.path) ?? [];
    uses.set(scene.request.file.path, [...list, { ...scene.region, text }]);
  }
  const goneAt = (scene: Scene) => without(scene.region, [...scene.stays, ...passes.keptAt(scenes.indexOf(scene))]);
  const cutting = finish(withOptional(prepared, passes.absent), uses.get(path)!, here.flatMap(goneAt));
  if (isProblem(cutting)) return cutting;
  const edits = new Map<string, readonly Edit[]>([[path, cutting.edits]]);
  for (const [other, list] of uses) {
    if (other === path) continue;
    const own = scenes.filter((s) => s.request.file.path === other);
    const linked = linkOther(own, prepared, own.flatMap(goneAt));
    if (isProblem(linked)) return linked;
    edits.set(other, [...list, ...linked]);
  }
  return { edits, files: cutting.files, name: request.name, seam: cutting.seam, notes: cutting.notes };
}

// Places

function openScenes(request: UnifyRequest): Scene[] | Problem {
  // Where the condition or the loop on a root differs, it is part of what is made one.
  const reference = openScene(request, request.places[request.reference]!, false);
  if (isProblem(reference)) return reference;
  const spans = request.inputs.flatMap((input) => input.sites.flatMap((s) => ('span' in s && s.span ? [s.span] : [])));
  const whole = spans.some((span) => reference.stays.some((stay) => within(span, stay)));
  const scenes: Scene[] = [];
  for (const place of request.places) {
    const scene = openScene(request, place, whole);
    if (isProblem(scene)) return scene;
    scenes.push(scene);
  }
  return scenes;
}

function openScene(request: UnifyRequest, { file, span }: UnifyPlace, whole: boolean): Scene | Problem {
  const { project, ports, name, target, types, alone, going, props = 'auto' } = request;
  const sfc = parseSfc(file, ports);
  if (isProblem(sfc)) return sfc;
  const roots = markupOf(sfc, defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program));
  const region = regionAt(roots, span, whole);
  if (!region) return problem('range-empty', { path: file.path, span });
  const asked = { ...(alone ? { alone } : {}), ...(going ? { going } : {}) };
  return sceneOf({ project, ports, file, region, name, target, props, types, ...asked } satisfies CutRequest);
}

/** White space around a text that every place has is no part of what differs. */
function trimmed(input: GivenInput, scenes: readonly Scene[], reference: number): GivenInput {
  const values = [...input.values, input.default].filter((v) => v !== undefined);
  const scene = scenes[reference]!;
  const isText = input.sites.every((s) => s.kind === 'whole' && !attributeAt(scene.sfc.shown, s.span));
  if (!isText || !values.every((v) => v.kind === 'string')) return input;
  const ends = new Set(values.map((v) => `${/^\s/.test(v.text)} ${/\s$/.test(v.text)}`));
  if (ends.size !== 1 || values.some((v) => !v.text.trim())) return input;
  const bare = (value: Passed | undefined) =>
    value?.kind === 'string' ? { ...value, text: value.text.trim() } : value;
  return {
    ...input,
    values: input.values.map(bare),
    default: bare(input.default),
    sites: input.sites.map((site) => {
      if (site.kind !== 'whole') return site;
      const text = scene.text.slice(site.span.start, site.span.end);
      const start = site.span.start + (text.length - text.trimStart().length);
      return { ...site, span: { start, end: site.span.end - (text.length - text.trimEnd().length) } };
    }),
  };
}

/**
 * Vue drops the white space between a tag and `{{ }}`, and keeps that between a tag and text. So a text at the rim of its
 * element whose white space is to stay is handed over as content, the first one between the tags.
 */
function withRims(inputs: readonly GivenInput[], as: readonly GivenInput[], scene: Scene): GivenInput[] {
  let isTaken = inputs.some((input) => input.kind === 'slot' && input.name === 'children');
  return inputs.map((input, i) => {
    const whole = as[i]!;
    const isTrimmed = input !== whole && input.default === undefined && !input.values.includes(undefined);
    if (!isTrimmed || !whole.sites.some((s) => s.kind === 'whole' && isAtRim(scene, s.span))) return input;
    const name = isTaken ? input.name : 'children';
    isTaken = true;
    const values = name === 'children' ? input.values : whole.values;
    return { ...input, kind: 'slot', name, values: values.map(asContent) };
  });
}

/** A text with white space towards the tag that opens or closes its element. */
function isAtRim({ sfc, text }: Scene, span: Span): boolean {
  const siblings = siblingsAround(sfc.shown, span);
  const [first, last] = [siblings[0], siblings.at(-1)].map((node) => node && spanOf(node));
  return (
    (first?.start === span.start && /\s/.test(text[span.start]!)) ||
    (last?.end === span.end && /\s/.test(text[span.end - 1]!))
  );
}

function siblingsAround(nodes: readonly TemplateChildNode[], span: Span): readonly TemplateChildNode[] {
  const inside = nodes.find((node) => isElement(node) && within(span, spanOf(node)));
  return inside && isElement(inside) ? siblingsAround(inside.children, span) : nodes;
}

function asContent(value: Passed | undefined): Passed | undefined {
  if (value?.kind !== 'string') return value;
  return { ...value, text: value.text.replace(/\s+/g, ' ').replaceAll('&', '&amp;').replaceAll('<', '&lt;') };
}

// Inputs

/** Content that differs goes by another name than the outlets that all places have. */
function apart(scene: Scene, inputs: readonly GivenInput[]): GivenInput[] {
  const outlets = new Set(outletsIn(scene).map((o) => o.name));
  return inputs.map((input) => {
    if (input.kind !== 'slot' || !outlets.has(input.name)) return input;
    let name = 'content';
    for (let i = 2; outlets.has(name); i++) name = `content${i}`;
    outlets.add(name);
    return { ...input, name };
  });
}

function crossedOf(request: UnifyRequest, scene: Scene, input: GivenInput): Crossed | Problem {
  const parameters = input.parameters[request.reference] ?? [];
  const parts = [];
  for (const site of input.sites) {
    const part = writeSite(scene, input, site, parameters);
    if (!part) return problem('unify-hole', { path: scene.request.file.path, span: scene.region }, `"${input.name}"`);
    parts.push(part);
  }
  const names = new Map<string, TypeName>();
  const takes = input.signature?.parameters.map(({ name, given }) => ({ name, type: typesAt(request, given, names) }));
  return {
    ...(takes ? { takes } : {}),
    ...(input.asked ? { asked: true } : {}),
    name: input.name,
    event: input.kind === 'event',
    slot: input.kind === 'slot',
    value: codeOf(input.values[request.reference], scene.text),
    sites: parts.flatMap((p) => p.sites),
    stays: parts.flatMap((p) => p.stays),
    type: typeOf(request, input, names),
    typeNames: [...names.values()],
    optional: input.default !== undefined || input.values.includes(undefined),
    default: input.default && codeOf(input.default, scene.text),
  };
}

/** `choose` for `onChoose`. */
function asEvent(input: GivenInput): GivenInput {
  const name = input.kind === 'event' ? plainEvent(input.name) : undefined;
  return name === undefined ? input : { ...input, name };
}

/** A name of the module that the region uses and that another file does not have as the same thing. */
function strangerIn(request: UnifyRequest, scenes: readonly Scene[], { boundary }: Prepared): Problem | undefined {
  const { resolver } = request.project;
  const reference = scenes[request.reference]!;
  const originOf = (scene: Scene, name: string) => {
    const model = request.project.model(scene.request.file.path);
    const entry = isProblem(model) ? undefined : model.imports.find((i) => i.local === name);
    return entry && JSON.stringify([resolver.resolve(scene.request.file.path, entry.source), entry.imported]);
  };
  for (const variable of boundary.moduleLevel) {
    for (const scene of scenes) {
      if (scene.request.file.path === reference.request.file.path) continue;
      if (originOf(scene, variable.name) !== originOf(reference, variable.name))
        return problem('unify-tag', { path: scene.request.file.path, span: scene.region }, variable.name);
    }
  }
  return undefined;
}

/** What each place passes. */
class Passes {
  /** What some place has nothing to pass for. */
  readonly absent = new Set<Typed>();
  readonly #kept: Span[][];

  constructor(
    readonly request: UnifyRequest,
    readonly scenes: readonly Scene[],
    readonly inputs: readonly GivenInput[],
    readonly prepared: Prepared,
  ) {
    this.#kept = scenes.map(() => []);
  }

  /** Spans of a place that its use keeps. */
  keptAt(place: number): readonly Span[] {
    return this.#kept[place]!;
  }

  at(place: number): PassedOn[] | Problem {
    const passed: PassedOn[] = [];
    for (const crossing of this.prepared.contents.crossings) {
      const one = crossing.given ? this.#input(place, crossing) : this.#crossing(place, crossing);
      if (isProblem(one)) return one;
      if (one) passed.push({ crossing, ...one });
      else this.absent.add(crossing);
    }
    return passed;
  }

  #input(place: number, crossing: Typed): Omit<PassedOn, 'crossing'> | undefined {
    const input = this.inputs.find((i) => i.name === crossing.given!.name)!;
    const value = input.values[place];
    if (!value) return undefined;
    const scene = this.scenes[place]!;
    const written = handler(input, value) ?? functionFor(input, place);
    if (written !== undefined) return { value: written };
    if ('span' in value) this.#kept[place]!.push(value.span);
    const parameters = input.parameters[place] ?? [];
    if (value.kind === 'markup') {
      const to = indentAt(scene.text, scene.region.start) + this.prepared.contents.habits.indent;
      const text = relocated(scene.text, value.span, to, [], []).trim();
      return { value: text, ...(parameters.length ? { scope: `{ ${parameters.join(', ')} }` } : {}) };
    }
    if (crossing.kind === 'slot')
      return { value: value.kind === 'string' ? value.text : `{{ ${codeOf(value, scene.text)} }}` };
    if (value.kind === 'string' && parameters.length === 0 && crossing.kind === 'prop')
      return { value: value.text, text: true };
    const code = codeOf(value, scene.text);
    return {
      value: parameters.length ? `(${parameters.join(', ')}) => ${code.startsWith('{') ? `(${code})` : code}` : code,
    };
  }

  #crossing(place: number, crossing: Typed): Omit<PassedOn, 'crossing'> | Problem | undefined {
    if (place === this.request.reference) {
      if (crossing.code) this.#kept[place]!.push(crossing.code);
      return { value: crossing.value };
    }
    const scene = this.scenes[place]!;
    if (crossing.kind === 'event') return this.#event(place, crossing);
    // An outlet that keeps what it shows by itself has nothing that would be replaced: it is known by its name.
    if (crossing.kind === 'slot' && crossing.sites.every(({ span }) => span.start === span.end))
      return outletsIn(scene).some(({ name }) => name === crossing.name) ? { value: crossing.value } : undefined;
    const spans = crossing.sites.map((s) => this.request.counterpart(place, s.span)).filter((s) => s !== undefined);
    if (spans.length === 0) return undefined;
    const texts = new Set(spans.map((s) => camelized(scene.text.slice(s.start, s.end).trim())));
    const [text] = texts;
    const isSame = crossing.kind !== 'slot' || text === this.#referenceText(crossing);
    if (texts.size === 1 && isSame) return { value: crossing.kind === 'slot' ? crossing.value : text! };
    return problem('unify-crossing', { path: scene.request.file.path, span: spans[0]! }, crossing.value);
  }

  #referenceText({ sites }: Typed): string {
    const { span } = sites[0]!;
    return camelized(this.scenes[this.request.reference]!.text.slice(span.start, span.end).trim());
  }

  #event(place: number, crossing: Typed): Omit<PassedOn, 'crossing'> | Problem | undefined {
    const scene = this.scenes[place]!;
    const code = crossing.code!;
    // Where the handlers differ as a whole, what differs is the counterpart.
    const input = this.inputs.find((i) => i.sites.some((s) => s.kind === 'whole' && within(code, s.span)));
    const value = input?.values[place];
    const span = value && 'span' in value ? value.span : this.request.counterpart(place, code);
    if (!span) return undefined;
    const found = attributesIn(scene).find(({ attribute }) => attribute.code?.start === span.start);
    if (!found) return problem('unify-crossing', { path: scene.request.file.path, span }, crossing.value);
    const { draft } = liftedEvent(scene, found.attribute, found.element, new Map());
    if (draft.args.length !== crossing.args.length || draft.event !== crossing.event)
      return problem('unify-crossing', { path: scene.request.file.path, span }, draft.value);
    this.#kept[place]!.push(found.attribute.code!);
    return { value: draft.value };
  }
}

/** What a listener runs that needs no function around it. */
function handler({ kind, signature }: GivenInput, value: Passed): string | undefined {
  if (kind !== 'event' || !signature || value.kind !== 'source') return undefined;
  const [only, ...more] = signature.parameters;
  if (more.length > 0) return undefined;
  // The first of what an event hands out has this name in a listener.
  if (!only || only.name === '$event') return value.text;
  const target = /^([\w$.]+)\s*=\s*([\w$]+)$/.exec(value.text);
  return target?.[2] === only.name ? `${target[1]!} = $event` : undefined;
}

function withOptional(prepared: Prepared, absent: ReadonlySet<Typed>): Prepared {
  if (absent.size === 0) return prepared;
  const crossings = prepared.contents.crossings.map((c) => (absent.has(c) ? { ...c, optional: true } : c));
  return { ...prepared, contents: { ...prepared.contents, crossings } };
}

/** The link of another file, and its style rules, which must be those that the component took along. */
function linkOther(own: readonly Scene[], prepared: Prepared, removed: readonly Span[]): Edit[] | Problem {
  const scene = own[0]!;
  const habits = habitsOf(scene.sfc, scene.request.project.files);
  const styles = moveStyles(scene, habits, own.slice(1));
  const bare = (blocks: readonly string[]) => blocks.map((b) => b.replace(/\s+/g, ' ')).join();
  if (bare(styles.blocks) !== bare(prepared.styles.blocks))
    return problem('unify-styles', { path: scene.request.file.path, span: scene.region });
  const linked = hostEdits(scene, habits, prepared.target, removed);
  return isProblem(linked) ? linked : [...linked, ...styles.edits];
}

// A component that is there already

function reuse(request: UnifyRequest, existing: ExistingComponent, scenes: readonly Scene[]): Unifying | Problem {
  const edits = new Map<string, Edit[]>();
  for (const [place, scene] of scenes.entries()) {
    if (place === existing.place) continue;
    const { path } = scene.request.file;
    const habits: Habits = habitsOf(scene.sfc, request.project.files);
    const passed = [...existing.passes[place]!].map(([name, value]): PassedOn => {
      const kind = name === 'children' || value.kind === 'markup' ? 'slot' : 'prop';
      const crossing: Typed = {
        kind,
        name,
        value: '',
        args: [],
        event: 'none',
        typed: undefined,
        variable: undefined,
        sites: [],
        local: name,
      };
      return value.kind === 'string'
        ? { crossing, value: value.text, text: kind === 'prop' }
        : { crossing, value: codeOf(value, scene.text) };
    });
    const kept = [...existing.passes[place]!.values()].flatMap((v) => ('span' in v ? [v.span] : []));
    const named: Scene = { ...scene, request: { ...scene.request, name: existing.name } };
    const linked = hostEdits(named, habits, existing.path, without(scene.region, [...scene.stays, ...kept]));
    if (isProblem(linked)) return linked;
    if (edits.has(path) || moveStyles(scene, habits).blocks.length > 0)
      return problem('unify-styles', { path, span: scene.region });
    edits.set(path, [...linked, { ...scene.region, text: writeUseAt(scene, habits, passed, existing.name) }]);
  }
  const props = [...existing.passes[existing.place]!.keys()].map((name) => ({ name }));
  const note = `${existing.name} in ${existing.path} is this already: it is used, and stays as it is`;
  return { edits, files: new Map(), name: existing.name, seam: { props, events: [], slots: [] }, notes: [note] };
}
