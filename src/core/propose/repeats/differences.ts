/** What differs between the places of a repeat, for people: names that differ in the same way are one difference. */
import type { Forms } from '../../forms/forms.js';
import { commonWords } from './common-ends.js';
import type { Given, Input } from './input.js';
import type { Repeat } from './repeats.js';

export interface Difference {
  /** At each place: what differs, without what all have in common (`all / All` where the inputs spell it so); undefined where there is nothing. */
  readonly values: readonly (string | undefined)[];
  readonly inputs: readonly Input[];
}

/** `textOf` gives the source text of `[start, end)` of a file. */
export function differencesOf(
  forms: Forms,
  repeat: Repeat,
  textOf: (path: string, start: number, end: number) => string,
): Difference[] {
  type Values = readonly (string | undefined)[];
  const found = new Map<string, { values: Values; words: Values[]; inputs: Input[] }>();
  for (const input of repeat.inputs) {
    const texts = input.values.map((value) => value && givenText(forms, value, textOf));
    const words = varyingWords(texts);
    // The case of a name is part of its spelling, not of the difference.
    const key = words ? words.map((w) => w.toLowerCase()).join('\0') : `${input.name}\0${texts.join('\0')}`;
    const known = found.get(key);
    if (known) {
      known.words.push(words ?? texts);
      known.inputs.push(input);
    } else found.set(key, { values: texts, words: [words ?? texts], inputs: [input] });
  }
  return [...found.values()].map(({ values, words, inputs }) => ({
    values: inputs.length > 1 ? values.map((_, i) => spelled(words.map((w) => w[i]))) : values,
    inputs,
  }));
}

function spelled(texts: readonly (string | undefined)[]): string | undefined {
  return texts[0] === undefined ? undefined : [...new Set(texts)].join(' / ');
}

export function givenText(
  forms: Forms,
  given: Given,
  textOf: (path: string, start: number, end: number) => string,
): string {
  if (given.kind === 'string') return given.text;
  if (given.kind === 'flag') return 'true';
  if (given.kind === 'record')
    return given.entries
      .map((entry) => `${entry.name}=${givenText(forms, entry.given, textOf)}`.replace(/=true$/, ''))
      .join(' ');
  const nodes = given.kind === 'code' ? [given.node] : given.nodes;
  const last = nodes[nodes.length - 1]!;
  return textOf(forms.file(nodes[0]!).path, forms.start[nodes[0]!]!, forms.end[last]!) || 'true';
}

/** `heather` and `clover` for `heatherHives` and `cloverHives`; undefined where the texts are no names with a part in common. */
function varyingWords(texts: readonly (string | undefined)[]): string[] | undefined {
  if (texts.some((t) => t === undefined || !/^[A-Za-z_$][\w$]*$/.test(t))) return undefined;
  const words = (texts as string[]).map((t) => t.match(/[A-Z]?[a-z0-9]+|[A-Z]+(?![a-z])/g) ?? [t]);
  const { head, tail } = commonWords(words);
  return words.map((w) => w.slice(head, w.length - tail).join(''));
}
