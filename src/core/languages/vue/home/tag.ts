/** The tag of a component in a template, with attributes taken out and bound ones put in. */
import type { TSESTree } from '@typescript-eslint/types';
import { attributeName, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import { hyphenated, type Habits } from '../cut/habits.js';
import type { Place } from '../inline/place.js';

/** `added`: what is bound, by the names of the props; one that stands in the place of a gone one takes its room. */
export function changedTag(
  place: Place,
  gone: readonly TSESTree.JSXAttribute[],
  added: ReadonlyMap<string, string>,
  { longhand, kebabProps, width }: Habits,
): Edit[] {
  const { text } = place;
  const written = new Map(
    [...added].map(([name, value]) => {
      const key = kebabProps ? hyphenated(name) : name;
      return [name, `${longhand ? 'v-bind:' : ':'}${key}="${value}"`];
    }),
  );
  const edits = gone.map((attribute): Edit => {
    const { start, end } = spanOf(attribute);
    const again = written.get(attributeName(attribute));
    written.delete(attributeName(attribute));
    if (again !== undefined) return { start, end, text: again };
    return { start: start - /\s*$/.exec(text.slice(0, start))![0].length, end, text: '' };
  });
  const more = [...written.values()];
  const flat = flatTag(place, gone, more, edits, width);
  if (flat) return [flat];
  if (more.length === 0) return edits;
  const last = place.use.openingElement.attributes.at(-1);
  const name = nameEnd(place);
  const isLong = last !== undefined && text.slice(name, last.range[0]).includes('\n');
  const gap = isLong ? `\n${indentAt(text, last.range[0])}` : ' ';
  const at = last?.range[1] ?? name;
  return [...edits, { start: at, end: at, text: more.map((a) => gap + a).join('') }];
}

function nameEnd({ tag }: Place): number {
  return tag.loc.start.offset + 1 + tag.tag.length;
}

/** A tag that took several lines in one, where that now has room. */
function flatTag(
  place: Place,
  gone: readonly TSESTree.JSXAttribute[],
  more: readonly string[],
  edits: readonly Edit[],
  width: number,
): Edit | undefined {
  const { text, tag } = place;
  const { offset: start } = tag.loc.start;
  const end = Math.max(nameEnd(place), ...tag.props.map((p) => p.loc.end.offset));
  const close = end + /^\s*/.exec(text.slice(end))![0].length;
  if (!text.slice(start, close).includes('\n')) return undefined;
  const kept = tag.props.flatMap(({ loc }): string[] => {
    const isGone = gone.some((a) => a.range[0] === loc.start.offset);
    const again = edits.find((e) => e.start === loc.start.offset && e.text !== '')?.text;
    return again !== undefined ? [again] : isGone ? [] : [loc.source];
  });
  const line =
    [text.slice(start, nameEnd(place)), ...kept, ...more].join(' ') + (text.startsWith('/>', close) ? ' ' : '');
  const rest = /^[^\n]*/.exec(text.slice(close))![0].length;
  const column = start - (text.lastIndexOf('\n', start - 1) + 1);
  return line.includes('\n') || column + line.length + rest > width ? undefined : { start, end: close, text: line };
}
