/**
 * What a person wants of a boundary, as inputs that a language can write: an expression of the host under a name of the part, an
 * event that says what happened, content that stays written in the host.
 */
import type { Ports, SourceFile } from '../language/ports.js';
import type { Language } from '../language/language.js';
import type { GivenInput, InputSite, Passed, Signature } from '../language/unifying.js';
import { walkMarkup } from '../markup/walk.js';
import type { BranchNode, Code, LoopNode, Markup } from '../markup/model.js';
import { snap, type Region } from '../markup/region.js';
import { isProblem, problem, type Problem } from '../problems/problems.js';
import { matching, type Holes, type Pattern } from '../script/matching.js';
import type { Node } from '../script/parser.js';
import type { ProofModule } from '../language/proof-module.js';
import { isFunction, nodeWithin, spanOf, walk, within } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import { isDone, openIn, readWanted, type Wanted } from './wanted-code.js';

/**
 * What a person wants to cross, and how. Names of inputs and events may take parameters, which stand for any code where the
 * expression is looked for: `choose(id)` is `setChosen(id)`.
 */
export interface WantedSeam {
  /** Expressions of the host by the name that the part has for them. */
  readonly inputs?: Readonly<Record<string, string>>;
  /** What the host does, by the name of what happened. */
  readonly events?: Readonly<Record<string, string>>;
  /** Pieces of the region that stay written in the host, by the slot that takes them; `children` stands between the tags. */
  readonly slots?: Readonly<Record<string, Span>>;
  /** Names of the host that stay there, though only the region uses them. */
  readonly stays?: readonly string[];
  /** Names of the host that go along, though the boundary is narrower without. */
  readonly along?: readonly string[];
}

/** The file, and the region of it that is cut out. */
export interface Place {
  readonly file: SourceFile & { readonly language: Language };
  readonly region: Region;
  readonly ports: Ports;
}

export function hasInputs({ inputs, events, slots }: WantedSeam): boolean {
  return [inputs, events, slots].some((one) => one && Object.keys(one).length > 0);
}

/** The inputs that a person asks for, or why one of them cannot be. */
export function wantedInputs(place: Place, seam: WantedSeam): GivenInput[] | Problem {
  const { file, region, ports } = place;
  const module = file.language.prove?.(file, ports);
  if (!module || isProblem(module)) return module ?? problem('file-language', { path: file.path }, file.language.label);
  const model = file.language.read(file, ports);
  if (isProblem(model)) return model;
  const seen = new Pieces(place, module, [...model.components.flatMap((c) => c.markup), ...model.mounts]);
  const result: GivenInput[] = [];
  // What fits less comes first: `setKeeper(null)` is not what `setKeeper(who)` is about where both are asked for, nor is a part
  // of something where the whole is, nor an entry of a record.
  const inOrder = (codes: Readonly<Record<string, string>> = {}) =>
    Object.entries(codes).sort(([a, x], [b, y]) => openIn(a, x) - openIn(b, y) || y.length - x.length);
  const asked = [
    ...Object.entries(seam.slots ?? {}).map(
      ([name, span]) =>
        () =>
          seen.slot(name, span),
    ),
    ...inOrder(seam.events).map(
      ([name, code]) =>
        () =>
          seen.coded(name, code, 'event'),
    ),
    ...inOrder(seam.inputs).map(
      ([name, code]) =>
        () =>
          seen.coded(name, code, 'prop'),
    ),
  ];
  for (const ask of asked) {
    const input = ask();
    if (isProblem(input)) return input;
    if (result.some(({ name }) => name === input.name))
      return problem('seam-format', { path: file.path, span: region }, input.name, 'two inputs have this name');
    result.push({ ...input, asked: true });
  }
  return result;
}

/** A place in the region where the wanted code stands. */
interface Found {
  readonly span: Span;
  readonly holes: Holes;
  /** Names that the region binds around it and that it uses, with the place of the first use. */
  readonly names: ReadonlyMap<string, Span>;
}

/** The region piece by piece: what was taken for one input is not looked at for the next. */
class Pieces {
  readonly #taken: Span[];
  /** Code in the text of the region that says whether or how often it is there. */
  readonly #outside: readonly Span[];
  /** Names that a loop around the region binds, where it is written on the region's own tag. */
  readonly #turns: readonly Span[];

  constructor(
    readonly place: Place,
    readonly module: ProofModule,
    readonly markup: readonly Markup[],
  ) {
    const { around, turns } = aroundOf(place.region, markup);
    const codes = around.flatMap((node) => (node.kind === 'loop' ? [node.source] : conditionsOf(node)));
    const keys = place.region.nodes.flatMap((node) => (node.kind === 'element' ? node.attributes : []));
    this.#outside = [...codes, ...keys.flatMap(({ kind, code }) => (kind === 'key' && code ? [code] : []))];
    this.#taken = [...this.#outside];
    this.#turns = turns;
  }

  slot(asked: string, range: Span): GivenInput | Problem {
    const { file, region, ports } = this.place;
    const lists = file.language.lists(file, ports);
    if (isProblem(lists)) return lists;
    const snapped = snap(file.text, range, lists);
    const at = { path: file.path, span: range };
    if (!snapped) return problem('seam-slot', at, asked);
    // What says on its own tag whether or how often it is there is one piece with that, and with what is there else.
    const [whole] = aroundOf(snapped, this.markup).around;
    const inner: Region = whole ? { nodes: [whole], start: whole.start, end: whole.end } : snapped;
    const isAll = inner.start === region.start && inner.end === region.end;
    if (!within(inner, region)) return problem('seam-slot', { path: file.path, span: region }, asked);
    if (isAll || this.#isTaken(inner)) return problem('seam-slot', at, asked);
    if (inner.nodes.some((node) => node.kind === 'opaque')) return problem('region-opaque', at, 'what is kept whole');
    this.#taken.push(inner);
    const names = [...this.#namesIn(inner, [])];
    const value: Passed = { kind: 'markup', span: { start: inner.start, end: inner.end }, form: formOf(inner.nodes) };
    return {
      name: asked === 'children' && this.#showsContent() ? 'content' : asked,
      kind: 'slot',
      sites: [{ kind: 'whole', span: value.span, head: '', tail: '' }],
      values: [value],
      default: undefined,
      parameters: names.length > 0 ? [names.map(([name]) => name)] : [],
      parameterSpans: names.map(([, span]) => span),
    };
  }

  coded(asked: string, code: string, kind: 'prop' | 'event'): GivenInput | Problem {
    const { file, region, ports } = this.place;
    const wanted = readWanted(asked, code, ports.script, { path: file.path, span: region });
    if (isProblem(wanted)) return wanted;
    const found = this.#find(wanted);
    const { name } = wanted;
    if (found.length > 0) this.#taken.push(...found.map(({ span }) => span));
    const record = found.length === 0 && kind === 'prop' ? this.#record(wanted) : undefined;
    if (record) return record;
    const [first] = found;
    const { path } = this.place.file;
    if (!first) {
      const outside = this.#outside.find((span) => this.#stands(wanted, span));
      return outside
        ? problem('seam-outside', { path, span: outside }, name, code)
        : problem('seam-missing', { path, span: this.place.region }, name, code);
    }
    const own = [...new Map(found.flatMap((f) => [...f.names]))];
    if (wanted.parameters.length + own.length > 0 || (kind === 'event' && isDone(wanted)))
      return this.#function(wanted, kind, found, own);
    const value: Passed = { kind: 'code', span: first.span };
    const sites = found.map(({ span }): InputSite => ({ kind: 'whole', span, head: '', tail: '' }));
    return { name, kind, sites, values: [value], default: undefined, parameters: [], parameterSpans: [] };
  }

  /** Something that is done, or worked out of what the region knows: a function of that. */
  #function(
    { name, parameters, code, several }: Wanted,
    kind: 'prop' | 'event',
    found: readonly Found[],
    own: readonly (readonly [string, Span])[],
  ): GivenInput {
    const names = own.map(([local]) => local);
    const text = parameters.length > 0 ? code : this.#textOf(found[0]!.span);
    const isAlone = kind === 'event' && parameters.length + names.length === 0;
    const around = isAlone ? found.map(({ span }) => this.#functionOf(span)) : [];
    // A function that does just this is handed over as it is written, with what it gives back.
    const [first, ...others] = around;
    if (first && others.every((fn) => fn && this.#textOf(fn) === this.#textOf(first))) {
      const sites = around.map((fn): InputSite => ({ kind: 'whole', span: fn!, head: '', tail: '' }));
      const value: Passed = { kind: 'code', span: first };
      return { name, kind, sites, values: [value], default: undefined, parameters: [], parameterSpans: [] };
    }
    const sites = found.map(({ span, holes }): InputSite => ({
      kind: 'call',
      span,
      given: parameters.map((p) => holes.get(p)!),
      names,
    }));
    const given = parameters.map((p) => ({ name: p, given: found.map(({ holes }) => holes.get(p)!) }));
    const signature: Signature = {
      parameters: [...given, ...own.map(([local, span]) => ({ name: local, given: [span] }))],
      result: kind === 'event' ? undefined : found[0]!.span,
      several,
    };
    const value: Passed = { kind: 'source', text };
    const parts = { values: [value], default: undefined, parameters: [], parameterSpans: [] };
    return { name, kind, sites, ...parts, signature };
  }

  /** `keeper` is `{ name: keeperName, phone }`: each entry is a member of the input. */
  #record({ name, pattern, code }: Wanted): GivenInput | Problem | undefined {
    const { node } = pattern;
    if (node.type !== 'ObjectExpression') return undefined;
    const sites: InputSite[] = [];
    const entries: { readonly name: string; readonly given: readonly Span[] }[] = [];
    for (const property of node.properties) {
      const key = property.type === 'Property' && property.key.type === 'Identifier' ? property.key.name : undefined;
      const entry =
        property.type === 'Property' && key !== undefined && !property.computed ? property.value : undefined;
      const found = entry ? this.#places({ node: entry, open: pattern.open }) : [];
      const { file, region } = this.place;
      if (!entry || found.length === 0 || found.some((f) => f.names.size > 0))
        return problem('seam-missing', { path: file.path, span: region }, `${name}.${key ?? ''}`, code);
      this.#taken.push(...found.map(({ span }) => span));
      for (const { span } of found) sites.push({ kind: 'member', span, name: key! });
      entries.push({ name: key!, given: found.map(({ span }) => span) });
    }
    const value: Passed = { kind: 'source', text: code };
    const parts = { values: [value], default: undefined, parameters: [], parameterSpans: [] };
    return { name, kind: 'prop', sites, ...parts, entries };
  }

  /** Where the code stands and means the same: a name that the region binds at one place may be the host's at another. */
  #find({ pattern, several }: Wanted): Found[] {
    const all = several ? this.#runs(pattern) : this.#places(pattern);
    const namesOf = ({ names }: Found) => [...names.keys()].join();
    return all.filter((found) => namesOf(found) === namesOf(all[0]!));
  }

  #stands({ pattern }: Wanted, span: Span): boolean {
    let found = false;
    walk(this.module.script.program, (node) => {
      if (nodeWithin(node, span) && matching(pattern, node, this.module.text)) found = true;
      return !found;
    });
    return found;
  }

  /** Outermost first: what stands inside of a place is part of it. */
  #places(pattern: Pattern): Found[] {
    const { region } = this.place;
    const found: Found[] = [];
    walk(this.module.script.program, (node) => {
      if (node.range[1] <= region.start || node.range[0] >= region.end) return false;
      if (!nodeWithin(node, region) || this.#isTaken(spanOf(node))) return undefined;
      if (pattern.node.type === 'Identifier' && !this.module.scopes.referenceOf(node)) return undefined;
      const holes = matching(pattern, node, this.module.text);
      if (!holes) return undefined;
      this.#add(found, spanOf(node), holes);
      return false;
    });
    return found;
  }

  /** Bodies of functions that are the statements of a pattern, and nothing else. */
  #runs({ node, open }: Pattern): Found[] {
    const found: Found[] = [];
    const wanted = node.type === 'Program' ? node.body : [];
    walk(this.module.script.program, (block) => {
      if (block.type !== 'BlockStatement' || block.body.length !== wanted.length) return;
      const [first, last] = [block.body[0], block.body.at(-1)];
      const span = first && last ? { start: first.range[0], end: last.range[1] } : undefined;
      if (!span || !within(span, this.place.region) || this.#isTaken(span)) return;
      const all = wanted.map((statement, i) => matching({ node: statement, open }, block.body[i]!, this.module.text));
      if (all.every((holes) => holes !== undefined)) this.#add(found, span, new Map(all.flatMap((h) => [...h])));
    });
    return found;
  }

  #add(found: Found[], span: Span, holes: Holes): void {
    if (found.some((f) => f.span.start === span.start && f.span.end === span.end)) return;
    found.push({ span, holes, names: this.#namesIn(span, [...holes.values()]) });
  }

  /** What the region binds around a span and the span uses, outside of `open`. */
  #namesIn(span: Span, open: readonly Span[]): Map<string, Span> {
    const names = new Map<string, Span>();
    const isOutside = (id: Node) => this.#turns.some((turn) => nodeWithin(id, turn));
    // What is bound without being written, as the event of a listener, is bound by what is around the code.
    const isInside = (id: Node) => id.range[1] > id.range[0] && nodeWithin(id, span);
    const isBound = (id: Node) => nodeWithin(id, this.place.region) && !isInside(id) && !isOutside(id);
    for (const { resolved, identifier } of this.module.scopes.within(span)) {
      if (open.some((hole) => nodeWithin(identifier, hole)) || !resolved) continue;
      const name = this.#textOf(spanOf(identifier));
      if (resolved.identifiers.some(isBound) && !names.has(name)) names.set(name, spanOf(identifier));
    }
    return names;
  }

  /** The function without parameters whose whole body a span is. */
  #functionOf(span: Span): Span | undefined {
    let found: Span | undefined;
    walk(this.module.script.program, (node) => {
      if (!isFunction(node) || node.params.length > 0 || node.async || 'native' in node) return;
      const { body } = node;
      const only = body.type === 'BlockStatement' ? body.body : [body];
      const [first, last] = [only[0], only.at(-1)];
      const isBody = first && last && first.range[0] === span.start && last.range[1] - span.end <= 1;
      if (isBody && last.range[1] >= span.end && nodeWithin(node, this.place.region)) found = spanOf(node);
    });
    return found;
  }

  #showsContent(): boolean {
    let found = false;
    walkMarkup(this.place.region.nodes, (node) => {
      if (node.kind === 'outlet' && node.name === 'children') found = true;
    });
    return found;
  }

  #isTaken(span: Span): boolean {
    return this.#taken.some((taken) => span.start < taken.end && taken.start < span.end);
  }

  #textOf({ start, end }: Span): string {
    return this.module.text.slice(start, end);
  }
}

/**
 * The conditions and loops that are written in the text of some siblings and are around them, outermost first; and where such loops
 * bind their names.
 */
function aroundOf(
  { nodes, start, end }: Region,
  markup: readonly Markup[],
): { readonly around: readonly (BranchNode | LoopNode)[]; readonly turns: readonly Span[] } {
  const around: (BranchNode | LoopNode)[] = [];
  const turns: Span[] = [];
  const isInText = (span: Span) => within(span, { start, end });
  walkMarkup(markup, (node) => {
    const isOwn = nodes.some((own) => own.kind === node.kind && own.start === node.start && own.end === node.end);
    if (node.end <= start || node.start >= end || isOwn) return false;
    if (node.kind === 'branch' && conditionsOf(node).some(isInText)) around.push(node);
    if (node.kind === 'loop' && isInText(node.source)) {
      around.push(node);
      turns.push({ start: node.start, end: node.source.start });
    }
    return true;
  });
  return { around, turns };
}

function conditionsOf({ arms }: BranchNode): Code[] {
  return arms.flatMap(({ condition }) => condition ?? []);
}

function formOf(nodes: readonly Markup[]): 'element' | 'braced' | 'several' {
  const shown = nodes.filter((node) => node.kind !== 'comment');
  const [only] = shown;
  if (shown.length > 1 || nodes.length > 1 || !only || only.kind === 'text') return 'several';
  return only.kind === 'element' || only.kind === 'fragment' ? 'element' : 'braced';
}
