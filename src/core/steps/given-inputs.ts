/** From the neutral form of a repeat to spans of the files: the inputs of the unify step, what each place passes, and where. */
import type { Alignment, Hole } from '../forms/align.js';
import type { Forms } from '../forms/forms.js';
import type { Given, Input, Site } from '../propose/repeats/input.js';
import type { Repeat } from '../propose/repeats/repeats.js';
import type { Span } from '../text/edits.js';
import type { GivenInput, InputSite, Passed } from '../language/unifying.js';

function spanOf(forms: Forms, node: number): Span {
  return { start: forms.start[node]!, end: forms.end[node]! };
}

function runSpan(forms: Forms, nodes: readonly number[]): Span {
  return { start: forms.start[nodes[0]!]!, end: forms.end[nodes[nodes.length - 1]!]! };
}

export function givenInputs(forms: Forms, repeat: Repeat, slice: (span: Span, place: number) => string): GivenInput[] {
  const scope = new InnerNames(forms, repeat.alignment);
  const { places, reference } = repeat.alignment;
  const parents = parentsOf(forms, places[reference]!);
  const defaultOf = ({ default: held, values }: Input): Passed => {
    const value = passed(forms, held!);
    // It stands at a place that does not pass it.
    return value.kind === 'code' ? { kind: 'source', text: slice(value.span, values.indexOf(undefined)) } : value;
  };
  /** Code that may stand at another place than the reference. */
  const asText = (given: Given | undefined): Passed | undefined => {
    const value = given && passed(forms, given);
    if (given?.kind !== 'code' || value?.kind !== 'code') return value;
    const { node } = given;
    return {
      kind: 'source',
      text: slice(
        value.span,
        places.findIndex((p) => node >= p.first && node < p.end),
      ),
    };
  };
  return repeat.inputs.map((input): GivenInput => {
    const { names, spans } = scope.neededBy(input);
    return {
      name: input.name,
      kind: input.kind,
      sites: input.sites.map((site) => inputSite(forms, parents, site, asText)),
      values: input.values.map((value) => value && passed(forms, value)),
      default: input.default && defaultOf(input),
      parameters: names,
      parameterSpans: spans,
    };
  });
}

function inputSite(
  forms: Forms,
  parents: (node: number) => number,
  site: Site,
  asText: (given: Given | undefined) => Passed | undefined,
): InputSite {
  const { hole } = site;
  if (site.kind === 'guard') return { kind: 'guard', span: runSpan(forms, site.hole.nodes) };
  if (site.kind === 'spread')
    return {
      kind: 'spread',
      element: spanOf(forms, site.hole.element),
      tag: forms.labelOf(site.hole.element).slice(1, -1),
      spans: site.holes.flatMap(({ node }) => (node === undefined ? [] : [spanOf(forms, node)])),
    };
  const attribute = hole.kind === 'value' ? parents(hole.node) : undefined;
  if (site.kind === 'choice') {
    const element = hole.kind === 'attribute' ? hole.element : parents(attribute!);
    const node = hole.kind === 'attribute' ? hole.node : attribute;
    return {
      kind: 'choice',
      key: site.key,
      on: asText(site.on),
      off: asText(site.off),
      element: spanOf(forms, element),
      name: hole.kind === 'attribute' ? hole.name : forms.labelOf(attribute!).slice(1),
      span: node === undefined ? undefined : spanOf(forms, node),
    };
  }
  if (hole.kind === 'attribute')
    return {
      kind: 'attribute',
      element: spanOf(forms, hole.element),
      name: hole.name,
      span: hole.node === undefined ? undefined : spanOf(forms, hole.node),
    };
  if (hole.kind === 'value') {
    const span = spanOf(forms, hole.node);
    // An attribute that stands there without a value is rewritten as a whole.
    if (span.start === span.end)
      return {
        kind: 'attribute',
        element: spanOf(forms, parents(attribute!)),
        name: forms.labelOf(attribute!).slice(1),
        span: spanOf(forms, attribute!),
      };
    return { kind: 'whole', span, head: site.head, tail: site.tail };
  }
  if (hole.nodes.length > 0) return { kind: 'whole', span: runSpan(forms, hole.nodes), head: '', tail: '' };
  return {
    kind: 'gap',
    after: hole.after === undefined ? undefined : spanOf(forms, hole.after),
    parent: spanOf(forms, hole.parent),
  };
}

/** The parent of a node of the reference; the node itself where there is none. */
function parentsOf(forms: Forms, place: { first: number; end: number }): (node: number) => number {
  const parents = forms.parentsWithin(place);
  return (node) => {
    const parent = parents[node - place.first]!;
    return parent === -1 ? node : parent;
  };
}

export function passed(forms: Forms, given: Given): Passed {
  switch (given.kind) {
    case 'string':
    case 'flag':
      return given;
    case 'record':
      return {
        kind: 'record',
        entries: given.entries.map((entry) => ({ name: entry.name, value: passed(forms, entry.given) })),
      };
    case 'code': {
      const span = spanOf(forms, given.node);
      return span.start === span.end ? { kind: 'flag' } : { kind: 'code', span };
    }
    case 'markup': {
      const only = given.nodes.length === 1 ? forms.labelOf(given.nodes[0]!) : '';
      const form = /^<|^fragment$/.test(only) ? 'element' : only === 'text' || !only ? 'several' : 'braced';
      return { kind: 'markup', span: runSpan(forms, given.nodes), form };
    }
  }
}

export function counterparts(forms: Forms, { places, reference, counterparts: found }: Alignment) {
  const { first, end } = places[reference]!;
  const byStart = new Map<number, number[]>();
  for (let node = first; node < end; node++) {
    const list = byStart.get(forms.start[node]!);
    if (list) list.push(node);
    else byStart.set(forms.start[node]!, [node]);
  }
  return (place: number, span: Span): Span | undefined => {
    const nodes = byStart.get(span.start) ?? [];
    const exact = nodes.find((n) => forms.end[n] === span.end) ?? nodes[nodes.length - 1];
    const node = exact ?? innermost(forms, first, end, span);
    const other = node === undefined ? -1 : found[place]![node - first]!;
    if (node === undefined || other === -1) return undefined;
    if (node === exact) return spanOf(forms, other);
    // Part of a node that the neutral form keeps whole: it stands there where the two are written alike.
    if (forms.end[node]! - forms.start[node]! !== forms.end[other]! - forms.start[other]!) return undefined;
    const shift = forms.start[other]! - forms.start[node]!;
    return { start: span.start + shift, end: span.end + shift };
  };
}

function innermost(forms: Forms, first: number, end: number, span: Span): number | undefined {
  let found: number | undefined;
  for (let node = first; node < end; node++)
    if (forms.start[node]! <= span.start && forms.end[node]! >= span.end) found = node;
  return found;
}

/** Names that the common form binds: a value that needs one of them becomes a function of it. */
class InnerNames {
  readonly #bindings: readonly { readonly node: number; readonly scope: { first: number; end: number } }[];

  constructor(
    readonly forms: Forms,
    readonly alignment: Alignment,
  ) {
    const { first, end } = alignment.places[alignment.reference]!;
    const parent = parentsOf(forms, { first, end });
    const bindings: { node: number; scope: { first: number; end: number } }[] = [];
    for (let node = first; node < end; node++) {
      if (forms.labelOf(node) !== 'binding') continue;
      let scope = node;
      while (parent(scope) !== scope && !/^(?:ArrowFunction|Function|BlockStatement|loop)/.test(forms.labelOf(scope)))
        scope = parent(scope);
      bindings.push({ node, scope: { first: scope, end: scope + forms.size[scope]! } });
    }
    this.#bindings = bindings;
  }

  neededBy(input: Input): { names: readonly (readonly string[])[]; spans: readonly Span[] } {
    const { forms, alignment } = this;
    const { first } = alignment.places[alignment.reference]!;
    const within = this.#bindings.filter(({ node, scope }) =>
      input.sites.some(({ hole }) => {
        const at = positionOf(hole);
        return (
          at > scope.first && at < scope.end && !(hole.kind === 'value' && node >= at && node < at + forms.size[at]!)
        );
      }),
    );
    const nameAt = (node: number, place: number) => {
      const other = alignment.counterparts[place]![node - first]!;
      return other === -1 ? undefined : forms.valueOf(other);
    };
    const needed = within.filter(({ node }) =>
      input.values.some((value, place) => value && namesIn(forms, value).has(nameAt(node, place) ?? '')),
    );
    if (needed.length === 0) return { names: [], spans: [] };
    const names = alignment.places.map((_, place) => needed.map(({ node }) => nameAt(node, place) ?? 'unused'));
    return { names, spans: needed.map(({ node }) => spanOf(forms, node)) };
  }
}

function positionOf(hole: Hole): number {
  return hole.kind === 'value' ? hole.node : hole.kind === 'attribute' ? hole.element : hole.parent;
}

function namesIn(forms: Forms, given: Given): Set<string> {
  if (given.kind === 'record') return new Set(given.entries.flatMap((entry) => [...namesIn(forms, entry.given)]));
  const roots = given.kind === 'code' ? [given.node] : given.kind === 'markup' ? given.nodes : [];
  const names = new Set<string>();
  for (const root of roots)
    for (let node = root; node < root + forms.size[root]!; node++)
      if (/^(?:name|written)$/.test(forms.labelOf(node))) names.add(forms.valueOf(node));
  return names;
}
