/** A list of records in the place of siblings that differ in literals only: which value is the key, and how it is written. */
import type { Passed } from '../language/unifying.js';
import { isReserved } from '../script/reserved.js';
import type { Span } from '../text/edits.js';

/** A value of a record that a language can write as it is. */
export function isLiteral(value: Passed | undefined, sliceOf: (span: Span) => string): boolean {
  if (!value || value.kind === 'string' || value.kind === 'flag') return true;
  return value.kind === 'code' && /^(?:-?\d[\d._]*|true|false|null|'[^']*'|"[^"]*")$/.test(sliceOf(value.span));
}

/** One member of all records. */
export interface Field {
  readonly name: string;
  /** As code, for each place in text order. */
  readonly values: readonly string[];
}

/** The field that tells the records apart; what usually names a record comes first. */
export function keyAmong<T extends Field>(fields: readonly T[]): T | undefined {
  const isKey = ({ values }: Field) => new Set(values).size === values.length && !values.includes('undefined');
  return fields.filter(isKey).sort((x, y) => rank(x.name) - rank(y.name))[0];
}

function rank(name: string): number {
  const order = ['id', 'key', 'name', 'title', 'label'];
  return order.includes(name) ? order.indexOf(name) : order.length;
}

/** The list, and one of it, after the component; in capitals where the file writes its constants so. */
export function listNames(
  component: string,
  taken: ReadonlySet<string>,
  capitals: boolean,
): { readonly list: string; readonly item: string } {
  const whole = component[0]!.toLowerCase() + component.slice(1);
  const plural = /s$/.test(whole)
    ? `${whole}List`
    : /[^aeiou]y$/.test(whole)
      ? `${whole.slice(0, -1)}ies`
      : `${whole}s`;
  const list = capitals ? plural.replace(/([a-z0-9])([A-Z])/g, '$1_$2').toUpperCase() : plural;
  const free = (name: string): string => (taken.has(name) ? free(`${name}2`) : name);
  // One of them goes by the last word where there are many.
  const words = whole.split(/(?=[A-Z])/);
  const last = words.length > 2 ? words.at(-1)!.toLowerCase() : whole;
  return { list: free(list), item: taken.has(last) || isReserved(last) ? whole : last };
}

/** Whether a file writes its constants in capitals. */
export function hasCapitals(names: Iterable<string>): boolean {
  return [...names].some((name) => /^[A-Z][A-Z0-9_]{2,}$/.test(name));
}

/** `[ { … }, … ]` with a record on each line, or a member where that is too long; `complete`: what is undefined is written. */
export function recordsText(
  fields: readonly Field[],
  complete: boolean,
  outer: string,
  habits: { readonly indent: string; readonly width: number; readonly lineEnd: string; readonly comma?: string },
): string {
  const { indent, width, lineEnd: nl, comma = ',' } = habits;
  const at = outer + indent;
  const entries = (fields[0]?.values ?? []).map((_, place) => {
    const given = fields.map(({ name, values }) => ({ name, value: values[place]! }));
    const members = given.filter((m) => complete || m.value !== 'undefined').map((m) => `${m.name}: ${m.value}`);
    const line = `${at}{ ${members.join(', ')} },`;
    return line.length <= width ? line : `${at}{${nl}${members.map((m) => `${at}${indent}${m},${nl}`).join('')}${at}},`;
  });
  return `[${nl}${entries.join(nl).slice(0, -1)}${comma}${nl}${outer}]`;
}
