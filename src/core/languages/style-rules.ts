/** Style rules that follow their markup: which of a sheet go along with a region, which stay, and which both sides need. */
import { isRelative } from '../script/sources.js';
import { within } from '../script/walk.js';
import type { Compound, Selector, StyleEntry, StyleRule } from '../language/stylesheet.js';
import { applyEdits, type Edit, type Span } from '../text/edits.js';
import { indentAt } from '../text/layout.js';
import { literally } from '../text/pattern.js';
import { rebasedSource, wholeLines } from './imports.js';
import { mayMatch, type Styled } from './stylesheet.js';

/** A sheet inside of a file, with its tags. */
export interface Sheet extends Span {
  readonly inner: Span;
  readonly lang?: string | undefined;
}

/** What a region takes along. */
export interface MovedStyles {
  /** Style blocks of the new file. */
  readonly blocks: readonly string[];
  /** Rules taken out of the host. */
  readonly edits: readonly Edit[];
  /** Names of the host that moved rules read by `v-bind()`. */
  readonly reads: readonly string[];
  readonly notes: readonly string[];
}

export interface Collected {
  readonly blocks: string[];
  readonly edits: Edit[];
  readonly reads: string[];
  readonly notes: string[];
}

/** Who may be styled by a rule: what leaves, what of it is a root, and what stays. */
export interface Sides {
  readonly region: readonly Styled[];
  readonly roots: readonly Styled[];
  readonly rest: readonly Styled[];
  /** What the region stands in. */
  readonly around: readonly Styled[];
  readonly outlets: { readonly region: boolean; readonly rest: boolean };
}

/** A sheet of the file with this text: taken apart where `entries` says how, else copied whole where it speaks of the region. */
export function divideSheet(
  file: string,
  sheet: Sheet,
  entries: readonly StyleEntry[] | undefined,
  sides: Sides,
  nl: string,
  into: Collected,
): void {
  const css = file.slice(sheet.inner.start, sheet.inner.end);
  if (entries) divided(file, sheet, css, entries, sides, nl, into);
  else wholeBlock(file, sheet, css, sides, into);
}

/** A class in the text of a style sheet, where what is no letter stands behind a backslash. */
function asInCss(name: string): string {
  return name.replace(/[^\w-]/g, '\\\\?\\$&');
}

/** A sheet that cannot be taken apart stands in both files where it speaks of anything in the region. */
function wholeBlock(file: string, block: Sheet, css: string, sides: Sides, into: Collected): void {
  const named = sides.region.some(
    (e) => e.open || [...e.classes].some((c) => new RegExp(`\\.${asInCss(c)}(?![\\w-])|&[-_]`).test(css)),
  );
  const tags = sides.region.some(
    (e) => e.tag !== undefined && new RegExp(`(?:^|[\\s,>{}])${literally(e.tag)}(?![\\w-])`, 'm').test(css),
  );
  if (!named && !tags) return;
  into.blocks.push(file.slice(block.start, block.end));
  into.notes.push(`the style block in ${block.lang ?? 'an unusual form'} cannot be divided: it stands in both files`);
}

function divided(
  file: string,
  block: Sheet,
  css: string,
  entries: readonly StyleEntry[],
  sides: Sides,
  nl: string,
  into: Collected,
): void {
  const rules = rulesIn(entries);
  const fates = new Map(rules.map((rule) => [rule, fateOf(rule, sides)]));
  // Rules for the root keep their order: where one of them stays, all of them do.
  const atRoot = (rule: StyleRule) => rule.selectors.some((s) => sides.roots.some((root) => mayMatch(s.subject, root)));
  if (rules.some((rule) => atRoot(rule) && fates.get(rule) !== 'moves' && fates.get(rule) !== 'stays'))
    for (const rule of rules) if (atRoot(rule) && fates.get(rule) === 'moves') fates.set(rule, 'both');
  const goes = (entry: StyleEntry): boolean =>
    entry.kind === 'rule'
      ? (hasOwn(entry) && fates.get(entry) !== 'stays') || entry.entries.some(goes)
      : entry.kind === 'group' && entry.entries.some(goes);
  const chosen = entries.filter(goes);
  if (chosen.length === 0) return;
  const text = (span: Span) => css.slice(span.start, span.end);
  const dropped = chosen.flatMap((entry) => dropsOf(entry, (rule) => fates.get(rule) !== 'stays', goes));
  const written = new Map<StyleEntry, string>(chosen.map((entry) => [entry, without(css, entry, dropped)]));
  usedBy(entries, text, written);
  const inOrder = entries.filter((entry) => written.has(entry));
  const body = inOrder.map((entry, i) => {
    const isNext = i > 0 && entries.indexOf(entry) === entries.indexOf(inOrder[i - 1]!) + 1;
    const gap = isNext ? css.slice(inOrder[i - 1]!.end, entry.start).split('\n').length - 1 : 2;
    return (i === 0 ? '' : nl.repeat(gap > 1 ? 2 : 1)) + indentAt(css, entry.start) + written.get(entry)!;
  });
  const opening = file.slice(block.start, block.inner.start);
  into.blocks.push(`${opening}${nl}${body.join('')}${nl}</style>`);
  into.reads.push(...[...body.join('').matchAll(/v-bind\(\s*['"]?([^'")]+?)['"]?\s*\)/g)].map((m) => m[1]!));
  const isGone = (entry: StyleEntry): boolean =>
    entry.kind === 'rule'
      ? (!hasOwn(entry) || fates.get(entry) === 'moves') && entry.entries.every(isGone)
      : entry.kind === 'group' && entry.entries.length > 0 && entry.entries.every(isGone);
  if (entries.every((entry) => (entry.kind === 'other' ? written.has(entry) : isGone(entry)))) {
    into.edits.push(wholeLines(file, block));
    return;
  }
  for (const span of runsOf(emptied(entries, isGone), css)) {
    const at = { start: span.start + block.inner.start, end: span.end + block.inner.start };
    into.edits.push(wholeLines(file, at));
  }
  const shared = rules.filter((rule) => hasOwn(rule) && fates.get(rule) === 'both').length;
  if (shared > 0)
    into.notes.push(
      `${shared} style ${shared === 1 ? 'rule stands' : 'rules stand'} in both files: what stayed is styled by ${shared === 1 ? 'it' : 'them'} too`,
    );
}

/** Spans with nothing but white space between them as one: the empty line between two rules would go with either. */
function runsOf(spans: readonly Span[], css: string): Span[] {
  const runs: Span[] = [];
  for (const span of spans) {
    const last = runs.at(-1);
    if (last && css.slice(last.end, span.start).trim() === '')
      runs[runs.length - 1] = { start: last.start, end: span.end };
    else runs.push(span);
  }
  return runs;
}

/** A rule that does nothing but hold others has no fate of its own. */
function hasOwn({ own, entries }: StyleRule): boolean {
  return own.length > 0 || entries.length === 0;
}

/** What a copy leaves out: rules that do not go along, and declarations of one that only holds what does. */
function dropsOf(
  entry: StyleEntry,
  isMeant: (rule: StyleRule) => boolean,
  goes: (entry: StyleEntry) => boolean,
): Span[] {
  if (entry.kind === 'other') return [];
  if (!goes(entry)) return [entry];
  const own = entry.kind === 'rule' && !isMeant(entry) ? entry.own : [];
  return [...own, ...entry.entries.flatMap((inner) => dropsOf(inner, isMeant, goes))];
}

/** The text of an entry without some spans of the sheet, and without the empty lines that they leave. */
function without(css: string, entry: Span, dropped: readonly Span[]): string {
  const edits = dropped
    .filter((span) => within(span, entry))
    .map((span) => {
      const { start, end } = wholeLines(css, span);
      return { start: start - entry.start, end: end - entry.start, text: '' };
    });
  if (edits.length === 0) return css.slice(entry.start, entry.end);
  return applyEdits(css.slice(entry.start, entry.end), edits)
    .replace(/\n[ \t]*\r?\n(?=[ \t]*\r?\n)/g, '\n')
    .replace(/\{[ \t]*(\r?\n)(?:[ \t]*\r?\n)+/g, '{$1')
    .replace(/(\r?\n)(?:[ \t]*\r?\n)+([ \t]*\})/g, '$1$2');
}

/** Adds what the written rules use: keyframes, variables, mixins, and what those use themselves. */
function usedBy(entries: readonly StyleEntry[], text: (span: Span) => string, written: Map<StyleEntry, string>): void {
  for (let before = -1; before !== written.size;) {
    before = written.size;
    const all = [...written.values()].join('\n');
    for (const entry of entries) {
      if (entry.kind !== 'other' || written.has(entry)) continue;
      const isUsed = entry.readsIn
        ? /[$@]|[\w-]\(/.test(all)
        : entry.name !== undefined && new RegExp(`(?<![\\w-])${literally(entry.name)}(?![\\w-])`).test(all);
      if (isUsed) written.set(entry, text(entry));
    }
  }
}

type Fate = 'stays' | 'moves' | 'both';

/** What becomes of a rule by what its selectors may match. */
export function fateOf(rule: StyleRule, sides: Sides): Fate {
  const matches = (selector: Selector, list: readonly Styled[], outlet: boolean) =>
    selector.reach === 'outlet' ? outlet : list.some((element) => mayMatch(selector.subject, element));
  // What must stand around an element, and stands only on the other side of this template, is meant for what is there.
  const any = (list: readonly Styled[], c: Compound) => list.some((e) => mayMatch(c, e));
  const near = [...sides.region, ...sides.around];
  const onlyRest = (c: Compound) => any(sides.rest, c) && !any(near, c);
  const onlyRegion = (c: Compound) => any(sides.region, c) && !any(sides.rest, c);
  const inRegion = (s: Selector) => matches(s, sides.region, sides.outlets.region) && !s.others.some(onlyRest);
  const inRest = (s: Selector) => matches(s, sides.rest, sides.outlets.rest) && !s.others.some(onlyRegion);
  if (rule.selectors.some((s) => s.reach === 'everywhere')) return 'stays';
  if (!rule.selectors.some(inRegion)) return 'stays';
  return rule.selectors.some(inRest) ? 'both' : 'moves';
}

export function rulesIn(entries: readonly StyleEntry[]): StyleRule[] {
  return entries.flatMap((e) => (e.kind === 'other' ? [] : [...(e.kind === 'rule' ? [e] : []), ...rulesIn(e.entries)]));
}

/** What is taken out: rules, and groups of which nothing is left. */
function emptied(entries: readonly StyleEntry[], isGone: (entry: StyleEntry) => boolean): Span[] {
  return entries.flatMap((entry): Span[] => {
    if (entry.kind === 'other') return [];
    return isGone(entry) ? [entry] : emptied(entry.entries, isGone);
  });
}

/** What a style sheet asks for: `url(x.png)`, `@import './x.css'`, `composes: a from './x.css'`. */
const ADDRESS = /\burl\(\s*(['"]?)([^'"()\s]+)\1\s*\)|(?:@(?:import|use|forward)|\bfrom)\s+(['"])(\.[^'"]+)\3/g;

/** A style sheet with its paths as another folder writes them. */
export function rebasedSheet(css: string, hostPath: string, targetPath: string): string {
  return css.replace(ADDRESS, (whole, _quote, url: string | undefined, _other, path: string | undefined) => {
    const written = url ?? path!;
    // Without a dot in front, `url` means the same folder, and the root, an alias or another address do not.
    const source = isRelative(written) || /^(?:[~@/#{$]|[\w+.-]+:)/.test(written) ? written : `./${written}`;
    const moved = rebasedSource(source, hostPath, targetPath);
    return moved === source ? whole : whole.replace(written, () => moved);
  });
}
