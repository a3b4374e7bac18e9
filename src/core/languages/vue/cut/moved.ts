/** Declarations that go along with a region: their text in the new component, and the gap that they leave in the host. */
import type { TSESTree } from '@typescript-eslint/types';
import { spanOf, walk, within } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { relocated, withComments } from '../../../text/layout.js';
import { wholeLines } from '../../imports.js';
import { givenRecord, keyName, propertyOf } from '../definition.js';
import type { Crossing } from './crossing.js';
import { sentName, type Habits } from './habits.js';
import type { Moved, Scene } from './scene.js';

export interface MovedText extends Pick<Moved, 'option'> {
  readonly text: string;
  /** It stood right under the one before. */
  readonly close: boolean;
}

/** Statements with the blank lines between them that there were. */
export function joined(texts: readonly MovedText[], nl: string): string {
  return texts.map(({ text, close }, i) => (i === 0 ? '' : close ? nl : nl + nl) + text).join('');
}

/** Each at the indentation `to`, reading what it is handed instead of what the host kept. */
export function movedTexts(scene: Scene, crossings: readonly Crossing[], to: string, habits: Habits): MovedText[] {
  const strings: Span[] = [];
  for (const statement of scene.lowered.script.program.body)
    walk(statement, (node) => void (node.type === 'TemplateElement' && strings.push(spanOf(node))));
  return scene.moved.map((moved, i) => {
    const before = scene.moved[i - 1];
    const close =
      before !== undefined && /^[ \t;]*\r?\n[ \t]*$/.test(scene.text.slice(before.span.end, moved.span.start));
    const span = withComments(scene.text, moved.span);
    const edits = crossings.flatMap((crossing) =>
      crossing.sites
        .filter((site) => within(site.span, span))
        .map((site): Edit => ({ ...site.span, text: writtenFor(crossing, site, habits) })),
    );
    return { option: moved.option, close, text: relocated(scene.text, span, to, edits, strings) };
  });
}

function writtenFor({ kind, name }: Crossing, site: Crossing['sites'][number], habits: Habits): string {
  return kind === 'event' ? site.text(sentName(name, habits)).replaceAll("'", habits.quote) : site.text(name);
}

/** Edits that take the declarations out of the host. */
export function movedOut(scene: Scene, habits: Habits): Edit[] {
  const { options } = scene.lowered.definition;
  const statements = scene.moved.filter((m) => m.option === undefined);
  const groups = (['computed', 'methods'] as const).flatMap((option) => {
    const spans = scene.moved.filter((m) => m.option === option).map((m) => m.span);
    const value = options && propertyOf(options, option);
    if (spans.length === 0 || value?.type !== 'ObjectExpression') return [];
    const whole = options!.properties.find((p) => p.type === 'Property' && p.value === value)!;
    return propertiesOut(scene.text, value, whole, spans, habits);
  });
  const data = options && propertyOf(options, 'data');
  const record = data && givenRecord(data);
  const kept = scene.moved.filter((m) => m.option === 'data').map((m) => m.span);
  const whole = options?.properties.find((p) => p.type === 'Property' && keyName(p.key) === 'data');
  if (record && whole && kept.length > 0) groups.push(...propertiesOut(scene.text, record, whole, kept, habits));
  return [...runsOf(scene.text, statements).map((span) => linesOut(scene.text, span)), ...groups];
}

/** Statements that stand one under the other, as one span. */
function runsOf(text: string, statements: readonly Moved[]): Span[] {
  const runs: Span[] = [];
  for (const { span } of statements) {
    const last = runs.at(-1);
    if (last && /^[\s;]*$/.test(text.slice(last.end, withComments(text, span).start)))
      runs[runs.length - 1] = { start: last.start, end: span.end };
    else runs.push(span);
  }
  return runs;
}

/** A declaration with the comments above it and the comma behind it. */
function linesOut(text: string, { start, end }: Span): Edit {
  const comma = /^[ \t]*,/.exec(text.slice(end))?.[0].length ?? 0;
  return wholeLines(text, withComments(text, { start, end: end + comma }));
}

function propertiesOut(
  text: string,
  object: TSESTree.ObjectExpression,
  whole: TSESTree.Node,
  spans: readonly Span[],
  habits: Habits,
): Edit[] {
  const isGone = (p: TSESTree.Node) => spans.some((s) => s.start === p.range[0]);
  const staying = object.properties.filter((p) => !isGone(p));
  if (staying.length === 0) return [linesOut(text, spanOf(whole))];
  if (!text.slice(...object.range).includes('\n'))
    return [{ ...spanOf(object), text: `{ ${staying.map((p) => text.slice(...p.range)).join(', ')} }` }];
  const last = staying[staying.length - 1]!;
  const comma = text.indexOf(',', last.range[1]);
  const ends = object.properties[object.properties.length - 1] !== last && habits.comma === '';
  return [
    ...spans.map((span) => linesOut(text, span)),
    ...(ends && comma >= 0 ? [{ start: comma, end: comma + 1, text: '' }] : []),
  ];
}
