/**
 * Style rules that follow their markup. A rule whose subject is only in the region moves, one that both sides need stands
 * in both. The root of the new component keeps the scope of its host as well, so the rules for it stay in one order.
 */
import type { ElementNode, Markup } from '../../../markup/model.js';
import { walkMarkup } from '../../../markup/walk.js';
import { within } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { wholeLines } from '../../imports.js';
import {
  mayMatch,
  styledOf,
  type Compound,
  type Selector,
  type Styled,
  type StyleEntry,
  type StyleRule,
} from '../../stylesheet.js';
import type { Block } from '../sfc.js';
import { hasAttribute } from '../sfc.js';
import type { Habits } from './habits.js';
import { outletsIn, type Scene } from './scene.js';
import { literally } from '../../../text/pattern.js';

export interface MovedStyles {
  /** Style blocks of the new file. */
  readonly blocks: readonly string[];
  /** Rules taken out of the host. */
  readonly edits: readonly Edit[];
  /** Names of the host that moved rules read by `v-bind()`. */
  readonly reads: readonly string[];
  readonly notes: readonly string[];
}

/** `others`: further regions of the file that leave it as well. */
export function moveStyles(scene: Scene, habits: Habits, others: readonly Scene[] = []): MovedStyles {
  const result = { blocks: [] as string[], edits: [] as Edit[], reads: [] as string[], notes: [] as string[] };
  for (const block of scene.sfc.styles) {
    const isModule = hasAttribute(block.node, 'module');
    if ((!hasAttribute(block.node, 'scoped') && !isModule) || block.src !== undefined) continue;
    const css = scene.text.slice(block.inner.start, block.inner.end);
    const sides = isModule ? moduleSides(scene) : scopedSides(scene, others);
    const plain = block.lang === undefined || block.lang === 'css' || block.lang === 'postcss';
    const entries = plain ? scene.request.ports.styles?.parse(css) : undefined;
    if (!entries) wholeBlock(scene, block, css, sides, result);
    else divided(scene, block, css, entries, sides, habits, result);
  }
  return result;
}

/** Who may be styled by a rule: what leaves, what of it is a root, and what stays. */
interface Sides {
  readonly region: readonly Styled[];
  readonly roots: readonly Styled[];
  readonly rest: readonly Styled[];
  /** What the region stands in. */
  readonly around: readonly Styled[];
  readonly outlets: { readonly region: boolean; readonly rest: boolean };
}

function scopedSides(scene: Scene, others: readonly Scene[]): Sides {
  const regions = [scene, ...others].map((s) => s.region);
  const rest: ElementNode[] = [];
  let outlets = 0;
  walkMarkup(scene.lowered.markup, (node) => {
    if (node.kind === 'element' && !regions.some((region) => within(node, region))) rest.push(node);
    if (node.kind === 'outlet') outlets++;
  });
  const own = outletsIn(scene).length;
  const roots = rootsOf(scene.nodes);
  return {
    region: scene.elements.map(styledOf),
    // Only a lone root keeps the scope of its host.
    roots: roots.length === 1 ? roots.map(styledOf) : [],
    rest: rest.map(styledOf),
    around: rest.filter((e) => e.start <= scene.region.start && e.end >= scene.region.end).map(styledOf),
    outlets: { region: own > 0, rest: outlets > own },
  };
}

function rootsOf(nodes: readonly Markup[]): ElementNode[] {
  return nodes.flatMap((node): ElementNode[] => {
    if (node.kind === 'element') return [node];
    // One arm at a time is shown.
    return node.kind === 'branch' ? node.arms.flatMap((arm) => rootsOf(arm.body)) : [];
  });
}

/** With modules, a class is used where `$style` names it. */
function moduleSides(scene: Scene): Sides {
  const named = (text: string): Styled => ({
    tag: undefined,
    classes: new Set([...text.matchAll(/\$style(?:\.([\w-]+)|\[['"]([^'"]+)['"]\])/g)].map((m) => m[1] ?? m[2] ?? '')),
    open: /\$style(?!\.|\[['"])/.test(text),
    id: undefined,
  });
  const { region, text } = scene;
  return {
    region: [named(text.slice(region.start, region.end))],
    roots: [],
    around: [],
    rest: [named(text.slice(0, region.start) + text.slice(region.end))],
    outlets: { region: false, rest: false },
  };
}

/** A class in the text of a style sheet, where what is no letter stands behind a backslash. */
function asInCss(name: string): string {
  return name.replace(/[^\w-]/g, '\\\\?\\$&');
}

interface Collected {
  readonly blocks: string[];
  readonly edits: Edit[];
  readonly reads: string[];
  readonly notes: string[];
}

/** A sheet that cannot be taken apart stands in both files where it speaks of anything in the region. */
function wholeBlock(scene: Scene, block: Block, css: string, sides: Sides, into: Collected): void {
  const named = sides.region.some(
    (e) => e.open || [...e.classes].some((c) => new RegExp(`\\.${asInCss(c)}(?![\\w-])|&[-_]`).test(css)),
  );
  const tags = sides.region.some(
    (e) => e.tag !== undefined && new RegExp(`(?:^|[\\s,>{}])${literally(e.tag)}(?![\\w-])`, 'm').test(css),
  );
  if (!named && !tags) return;
  into.blocks.push(scene.text.slice(block.start, block.end));
  into.notes.push(`the style block in ${block.lang ?? 'an unusual form'} cannot be divided: it stands in both files`);
}

function divided(
  scene: Scene,
  block: Block,
  css: string,
  entries: readonly StyleEntry[],
  sides: Sides,
  habits: Habits,
  into: Collected,
): void {
  const rules = rulesIn(entries);
  const fates = new Map(rules.map((rule) => [rule, fateOf(rule, sides)]));
  // Rules for the root keep their order: where one of them stays, all of them do.
  const atRoot = (rule: StyleRule) => rule.selectors.some((s) => sides.roots.some((root) => mayMatch(s.subject, root)));
  if (rules.some((rule) => atRoot(rule) && fates.get(rule) !== 'moves' && fates.get(rule) !== 'stays'))
    for (const rule of rules) if (atRoot(rule) && fates.get(rule) === 'moves') fates.set(rule, 'both');
  const goes = (rule: StyleRule) => fates.get(rule) !== 'stays';
  if (!rules.some(goes)) return;
  const nl = habits.lineEnd;
  const text = (span: Span) => css.slice(span.start, span.end);
  const chosen = rules.filter(goes).map(text).join('\n');
  const frames = entries.filter(
    (e) =>
      e.kind === 'other' &&
      e.name !== undefined &&
      new RegExp(`(?<![\\w-])${literally(e.name)}(?![\\w-])`).test(chosen),
  );
  const written = [...frames.map(text), ...entriesWritten(entries, goes, text, nl)];
  const opening = scene.text.slice(block.start, block.inner.start);
  into.blocks.push(`${opening}${nl}${written.join(nl + nl)}${nl}</style>`);
  into.reads.push(...[...chosen.matchAll(/v-bind\(\s*['"]?([^'")]+?)['"]?\s*\)/g)].map((m) => m[1]!));
  const gone = rules.filter((rule) => fates.get(rule) === 'moves');
  if (gone.length === rules.length && entries.every((e) => e.kind !== 'other' || frames.includes(e))) {
    into.edits.push(wholeLines(scene.text, block));
    return;
  }
  for (const span of emptied(entries, new Set(gone))) {
    const at = { start: span.start + block.inner.start, end: span.end + block.inner.start };
    into.edits.push(wholeLines(scene.text, at));
  }
  const shared = rules.filter((rule) => fates.get(rule) === 'both').length;
  if (shared > 0)
    into.notes.push(
      `${shared} style ${shared === 1 ? 'rule stands' : 'rules stand'} in both files: what stayed is styled by ${shared === 1 ? 'it' : 'them'} too`,
    );
}

type Fate = 'stays' | 'moves' | 'both';

function fateOf(rule: StyleRule, sides: Sides): Fate {
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

function rulesIn(entries: readonly StyleEntry[]): StyleRule[] {
  return entries.flatMap((e) => (e.kind === 'rule' ? [e] : e.kind === 'group' ? rulesIn(e.entries) : []));
}

/** The rules that go, in their groups. */
function entriesWritten(
  entries: readonly StyleEntry[],
  goes: (rule: StyleRule) => boolean,
  text: (span: Span) => string,
  nl: string,
): string[] {
  return entries.flatMap((entry): string[] => {
    if (entry.kind === 'rule') return goes(entry) ? [text(entry)] : [];
    if (entry.kind !== 'group') return [];
    const inner = entriesWritten(entry.entries, goes, text, nl);
    return inner.length > 0 ? [`${entry.head} {${nl}  ${inner.join(`${nl}${nl}  `)}${nl}}`] : [];
  });
}

/** What is taken out: rules, and groups of which nothing is left. */
function emptied(entries: readonly StyleEntry[], gone: ReadonlySet<StyleRule>): Span[] {
  return entries.flatMap((entry): Span[] => {
    if (entry.kind === 'rule') return gone.has(entry) ? [entry] : [];
    if (entry.kind !== 'group') return [];
    const inner = rulesIn(entry.entries);
    return inner.length > 0 && inner.every((rule) => gone.has(rule)) ? [entry] : emptied(entry.entries, gone);
  });
}
