/** What a person wants of the boundary of a repeat: its inputs under other names, more of them, and content that stays at each place. */
import type { GivenInput, InputSite, Passed } from '../language/unifying.js';
import type { Markup } from '../markup/model.js';
import { snap } from '../markup/region.js';
import { isProblem, problem, type Problem } from '../problems/problems.js';
import { within } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import { wantedInputs, type Place, type WantedSeam } from './wanted-seam.js';

/** The places that become one; offsets of a span are those of the place's file. */
export interface Places {
  readonly count: number;
  /** Those that stand in the file of the reference. */
  readonly beside: ReadonlyMap<number, Span>;
  /** Index of the place that the inputs have their sites in. */
  readonly reference: number;
  readonly counterpart: (place: number, span: Span) => Span | undefined;
  readonly slice: (place: number, span: Span) => string;
}

/** What stays or goes along is said of one place only. */
export type RepeatSeam = Pick<WantedSeam, 'inputs' | 'events' | 'slots'>;

/**
 * The inputs with what was asked for. Code that is the name of an input names it anew; all else is looked for at the reference, and
 * what differs inside of it is handed over with it.
 */
export function withSeam(
  inputs: readonly GivenInput[],
  seam: RepeatSeam,
  place: Place,
  places: Places,
): GivenInput[] | Problem {
  const at = { path: place.file.path, span: place.region };
  const isKnown = ([, code]: readonly [string, string]) => inputs.some(({ name }) => name === code.trim());
  const codes = Object.entries(seam.inputs ?? {});
  const events = Object.entries(seam.events ?? {});
  const odd = events.find((event) => !isKnown(event));
  if (odd) return problem('seam-repeat', at, odd[0], 'an event of a repeat is one that it has already');
  const renamed = new Map([...codes, ...events].filter(isKnown).map(([name, code]) => [code.trim(), name]));
  const more = Object.fromEntries(codes.filter((code) => !isKnown(code)));
  const lists = place.file.language.lists(place.file, place.ports);
  if (isProblem(lists)) return lists;
  const slots = Object.entries(seam.slots ?? {}).map(([name, span]) => [name, atReference(span, place, places, lists)]);
  const asked = wantedInputs(place, { inputs: more, slots: Object.fromEntries(slots) as Record<string, Span> });
  if (isProblem(asked)) return asked;
  const siblings = (span: Span) => {
    const list = lists.find((l) => l.some((n) => n.start === span.start) && l.some((n) => n.end === span.end));
    return [list?.find((n) => n.start === span.start) ?? span, list?.find((n) => n.end === span.end) ?? span] as const;
  };
  const added: GivenInput[] = [];
  for (const input of asked) {
    const one = atAll(input, places, siblings);
    if (!one) return problem('seam-repeat', at, input.name, 'it does not stand at every place');
    added.push(one);
  }
  const taken = added.flatMap(({ sites }) => sites.flatMap(spansOf));
  const isTaken = (site: InputSite) => spansOf(site).every((span) => taken.some((t) => within(span, t)));
  // What differs outside of that as well is handed over for what is outside.
  const left = inputs
    .map((input) => ({ ...input, sites: input.sites.filter((site) => !isTaken(site)) }))
    .filter(({ sites }) => sites.length > 0);
  const called = (input: GivenInput) => {
    const name = renamed.get(input.name);
    return name === undefined ? input : { ...input, name, asked: true };
  };
  const all = [...left.map(called), ...added];
  const twice = all.find(({ name }, i) => all.findIndex((other) => other.name === name) < i);
  return twice ? problem('seam-format', at, twice.name, 'two inputs have this name') : all;
}

/** Where the piece that was named at any place of the file stands at the reference; as it is where it has no counterpart. */
function atReference(
  span: Span,
  { file, region }: Place,
  { beside, counterpart }: Places,
  lists: readonly (readonly Markup[])[],
): Span {
  const snapped = snap(file.text, span, lists);
  const [at] = [...beside].find(([, other]) => snapped && within(snapped, other)) ?? [];
  if (!snapped || at === undefined) return span;
  const own = lists.flat().filter((node) => within(node, region));
  const first = own.find((node) => counterpart(at, node)?.start === snapped.start);
  const last = own.find((node) => counterpart(at, node)?.end === snapped.end);
  return first && last ? { start: first.start, end: last.end } : span;
}

function spansOf(site: InputSite): Span[] {
  if (site.kind === 'spread') return [...site.spans];
  return 'span' in site && site.span ? [site.span] : [];
}

/** An input of the reference as one of all places; undefined where it does not stand at each. */
function atAll(
  input: GivenInput,
  { count, reference, counterpart, slice }: Places,
  siblings: (span: Span) => readonly [first: Span, last: Span],
): GivenInput | undefined {
  const own = input.values[0]!;
  const from = input.signature?.result ?? input.sites.flatMap(spansOf)[0]!;
  const values = Array.from({ length: count }, (_, i): Passed | undefined => {
    if (i === reference) return own;
    const [first, last] = siblings('span' in own ? own.span : from).map((node) => counterpart(i, node));
    if (!first || !last) return undefined;
    const span = { start: first.start, end: last.end };
    if ('span' in own) return { ...own, span };
    // What takes parameters is written by hand, and is the same everywhere.
    const isWritten = own.kind === 'source' && own.text !== slice(reference, from);
    return isWritten ? own : { kind: 'source', text: slice(i, span) };
  });
  if (values.includes(undefined)) return undefined;
  const [names] = input.parameters;
  if (!names) return { ...input, values };
  const parameters = Array.from({ length: count }, (_, i) =>
    i === reference
      ? names
      : input.parameterSpans.flatMap((span) => {
          const other = counterpart(i, span);
          return other ? [slice(i, other)] : [];
        }),
  );
  return { ...input, values, parameters };
}
