/**
 * Scoped rules that follow their markup. Every part of a selector carries the scope of its file here, so a rule that reaches from one
 * side of a cut into the other can stand in neither file.
 */
import type { Ports, SourceFile } from '../../language/ports.js';
import type { Compound, StyleRule } from '../../language/stylesheet.js';
import type { ElementNode, Markup } from '../../markup/model.js';
import { walkMarkup } from '../../markup/walk.js';
import { problem, type Problem } from '../../problems/problems.js';
import { within } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { divideSheet, rulesIn, type Collected, type MovedStyles, type Sides } from '../style-rules.js';
import { mayMatch, styledOf, type Styled } from '../stylesheet.js';
import { nameOf, type RawElement } from './body.js';

/** `regions`: all that leaves the file, to become one component; `kept`: what of it stays, as content of the use. */
export function stylesOf(
  file: SourceFile,
  markup: readonly Markup[],
  raw: readonly RawElement[],
  regions: readonly Span[],
  kept: readonly Span[],
  { styles }: Ports,
  lineEnd: string,
): MovedStyles | Problem {
  const into: Collected = { blocks: [], edits: [], reads: [], notes: [] };
  const sides = sidesOf(markup, regions, kept);
  for (const sheet of raw) {
    const has = (name: string) => sheet.attributes.some((a) => nameOf(a) === name);
    if (sheet.tag !== 'style' || has('is:global') || has('is:inline')) continue;
    const css = file.text.slice(sheet.inner.start, sheet.inner.end);
    const lang = sheet.attributes.find((a) => nameOf(a) === 'lang');
    const entries = styles?.parse(
      css,
      lang?.type === 'JSXAttribute' && lang.value?.type === 'Literal' ? String(lang.value.value) : 'css',
    );
    const before = into.blocks.length;
    const across = entries && rulesIn(entries).find((rule) => isAcross(rule, sides, css, kept.length > 0));
    const at = { path: file.path, span: regions[0]! };
    if (across) return problem('region-style-across', at, selectorOf(across, css));
    divideSheet(file.text, sheet, entries, sides, lineEnd, into);
    if (into.blocks.length > before && has('define:vars')) return problem('region-style-across', at, 'define:vars');
  }
  return into;
}

function sidesOf(markup: readonly Markup[], regions: readonly Span[], kept: readonly Span[]): Sides {
  const goes = (node: Span) => regions.some((r) => within(node, r)) && !kept.some((k) => within(node, k));
  const inside: ElementNode[] = [];
  const rest: ElementNode[] = [];
  walkMarkup(markup, (node) => {
    if (node.kind === 'element') (goes(node) ? inside : rest).push(node);
  });
  return {
    region: inside.map(styled),
    // A root does not keep the scope of its host.
    roots: [],
    rest: rest.map(styled),
    around: rest.filter((e) => regions.some((r) => e.start <= r.start && e.end >= r.end)).map(styled),
    outlets: { region: false, rest: false },
  };
}

/** `class:list` names classes as an attribute of other languages does. */
function styled(element: ElementNode): Styled {
  const attributes = element.attributes.map((a) => (a.name === 'class:list' ? { ...a, name: 'class' } : a));
  return styledOf({ ...element, attributes });
}

/** Whether a rule may need something on either side of the cut; `holds`: what stays can stand inside of what goes. */
function isAcross(rule: StyleRule, { region, rest, around }: Sides, css: string, holds: boolean): boolean {
  const matches = (list: readonly Styled[], compound: Compound) =>
    !isBare(compound) && list.some((element) => mayMatch(compound, element));
  // A part that is out of scope may be on either side.
  if (rule.selectors.some((s) => s.reach === 'everywhere' && [s.subject, ...s.others].some((p) => matches(region, p))))
    return true;
  const beside = /[+~]|:has\(/.test(selectorOf(rule, css));
  return rule.selectors.some(({ subject, others }) => {
    const near = beside ? rest : around;
    if (matches(region, subject) && others.some((other) => matches(near, other))) return true;
    return (beside || holds) && matches(rest, subject) && others.some((other) => matches(region, other));
  });
}

function isBare({ tag, classes, id }: Compound): boolean {
  return tag === undefined && classes.length === 0 && id === undefined;
}

function selectorOf(rule: StyleRule, css: string): string {
  return css.slice(rule.start, rule.end).split('{')[0]!.trim().replace(/\s+/g, ' ');
}
