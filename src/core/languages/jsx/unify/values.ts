/** What a place hands over, as text of its use. */
import type { TypeText } from '../../../language/cutting.js';
import type { Passed } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import { indentAt, reindent } from '../../../text/layout.js';
import type { Habits } from '../cut/habits.js';

/** The text that a place hands over, where it stands there. */
export function spansPassed(value: Passed | undefined): Span[] {
  if (value?.kind === 'record') return value.entries.flatMap((entry) => spansPassed(entry.value));
  return value && 'span' in value ? [value.span] : [];
}

/** As code: on either side of a condition, as a default, in a record. */
export function codeOf(value: Passed | undefined, text: string, habits: Habits): string {
  if (!value) return 'undefined';
  if (value.kind === 'string') return stringLiteral(value.text, habits.quote);
  if (value.kind === 'flag') return 'true';
  if (value.kind === 'record') return recordOf(value.entries, text, habits);
  return value.kind === 'source' ? value.text : text.slice(value.span.start, value.span.end);
}

/** `{ isOpen: true, 'aria-label': label }` */
function recordOf(
  entries: Extract<Passed, { kind: 'record' }>['entries'],
  text: string,
  habits: Habits,
  indent?: string,
): string {
  const { pad, quote } = habits;
  const key = (name: string) => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : `${quote}${name}${quote}`);
  const code = (value: Passed): string => {
    if (value.kind === 'markup')
      return markupOf(
        indent === undefined ? text.slice(value.span.start, value.span.end) : moved(text, value.span, indent),
        value.form,
      );
    return value.kind === 'code' && indent !== undefined
      ? moved(text, value.span, indent)
      : codeOf(value, text, habits);
  };
  const list = entries.map(({ name, value }) => {
    const written = code(value);
    return written === name ? name : `${key(name)}: ${written}`;
  });
  return `{${pad}${list.join(', ')}${pad}}`;
}

export function stringLiteral(text: string, quote: string): string {
  const escaped = text
    .replaceAll('\\', '\\\\')
    .replaceAll(quote, `\\${quote}`)
    .replaceAll('\n', '\\n')
    .replaceAll('\r', '\\r')
    .replaceAll('\u2028', '\\u2028')
    .replaceAll('\u2029', '\\u2029');
  return quote + escaped + quote;
}

/** `title="North meadow"`, `open`, `onSelect={() => select(hive)}`. `parameters`: the value is a function of these names. */
export function attributeOf(
  name: string,
  value: Passed,
  text: string,
  habits: Habits,
  indent: string,
  parameters: readonly string[] = [],
): string {
  if (value.kind === 'flag') return name;
  if (value.kind === 'string' && parameters.length === 0) return `${name}=${quotedAttribute(value.text, habits)}`;
  return `${name}={${valueOf(value, text, habits, indent, parameters)}}`;
}

/** What stands in the braces of an attribute; `parameters` as above. */
export function valueOf(
  value: Exclude<Passed, { kind: 'flag' }>,
  text: string,
  habits: Habits,
  indent: string,
  parameters: readonly string[],
): string {
  const head = parameters.length > 0 ? `(${parameters.join(', ')}) => ` : '';
  const closed = (code: string) => head + (head && code.startsWith('{') ? `(${code})` : code);
  switch (value.kind) {
    case 'string':
      return head + stringLiteral(value.text, habits.quote);
    case 'source':
      return closed(value.text);
    case 'code':
      return closed(moved(text, value.span, indent));
    case 'record':
      return closed(recordOf(value.entries, text, habits, indent));
    case 'markup':
      return head + markupValue(value, text, habits, indent, head !== '');
  }
}

/** Markup in the braces of an attribute: over several lines it stands on lines of its own, as formatters have it. */
function markupValue(
  { span, form }: Extract<Passed, { kind: 'markup' }>,
  text: string,
  { lineEnd: nl, indent: unit }: Habits,
  indent: string,
  isBody: boolean,
): string {
  const inner = indent + unit;
  const isTall = form === 'several' || text.slice(span.start, span.end).includes('\n');
  const isBare = /^[<{][\s\S]*[>}]$/.test(text.slice(span.start, span.end));
  // A call keeps what it is given on its own line; a choice stands on lines of its own.
  const isChoice =
    form === 'braced' && !isBody && /^[^\n]*(?:\?|&&|\|\|) \(\r?\n/.test(text.slice(span.start, span.end));
  if ((form === 'braced' && !isChoice) || !isTall || !isBare) return markupOf(moved(text, span, indent), form);
  const lines =
    form !== 'several'
      ? [inner + markupOf(moved(text, span, inner), form)]
      : [`${inner}<>`, inner + unit + moved(text, span, inner + unit), `${inner}</>`];
  const [open, close] = isBody ? ['(', ')'] : ['', ''];
  return [open, ...lines, indent + close].join(nl);
}

/** An attribute knows entities and no escapes: what is not plain text is written as code. */
function quotedAttribute(text: string, habits: Habits): string {
  const quote = text.includes(habits.jsxQuote) ? (habits.jsxQuote === '"' ? "'" : '"') : habits.jsxQuote;
  const isPlain = /^[^&{}\\\n\r]*$/.test(text) && !text.includes(quote);
  return isPlain ? quote + text + quote : `{${stringLiteral(text, habits.quote)}}`;
}

/** One element as it is, what stands in braces without them, anything else in a fragment. */
function markupOf(written: string, form: 'element' | 'braced' | 'several'): string {
  return { element: written, braced: written.slice(1, -1), several: `<>${written}</>` }[form];
}

/** The text of a span, its lines moved to another indentation. */
export function moved(text: string, span: Span, to: string): string {
  const source = text.slice(span.start, span.end);
  return source.includes('\n') ? reindent(source, indentAt(text, span.start), to) : source;
}

/** Types of several places as one; functions in parentheses. */
export function unionOf(types: readonly string[]): string {
  const only = [...new Set(types)];
  return only.map((type) => (only.length > 1 && type.includes('=>') ? `(${type})` : type)).join(' | ');
}

/** What a state is set to, without the function that works it out of the last one. */
export function withoutUpdater(wanted: TypeText | undefined): TypeText | undefined {
  const state = wanted && /^(?:React\.)?SetStateAction<([\s\S]*)>$/.exec(wanted.text)?.[1];
  if (!wanted || state === undefined) return wanted;
  return { text: state, names: wanted.names.filter(({ name }) => !/^(?:React|SetStateAction)$/.test(name)) };
}
