/** Functions that are written for an input: what the host does, or works out, of what it is given. */
import type { TypeOracle, TypeText } from '../language/cutting.js';
import type { GivenInput } from '../language/unifying.js';
import type { Span } from '../text/edits.js';

/** `remove` for `remove(hive)`, given a hive: what takes just the parameters is handed over itself. */
export function calledWith(code: string, names: readonly string[]): string | undefined {
  const call = /^([A-Za-z_$][\w$]*)\(([^()]*)\)$/.exec(code.trim());
  const given = call?.[2]!.split(',').map((argument) => argument.trim());
  return call && given!.filter(Boolean).join() === names.join() ? call[1] : undefined;
}

/**
 * The types of what a parameter is given at its places: the one that all have, else the one that is wanted of them, which has a name more
 * often than what is written there.
 */
export function typesGiven(
  types: TypeOracle | undefined,
  path: string,
  spans: readonly Span[],
): (TypeText | undefined)[] {
  const given = spans.map((span) => types?.typeAt(path, span));
  const texts = new Set(given.map((answer) => answer?.text));
  const [only] = texts;
  const wanted = withoutUpdater(types?.expectedAt(path, spans[0]!));
  const isNamed = wanted !== undefined && !/=>|^(?:any|unknown|[A-Z])$/.test(wanted.text);
  // A word is a text to whoever writes it, and one of a few to whoever takes it.
  const isOneOf = isNamed && /^['"]/.test(wanted.text) && only === 'string';
  if (texts.size === 1 && !isOneOf && !only?.startsWith('{')) return given.slice(0, 1);
  return isNamed ? [wanted] : [...new Map(given.map((t) => [t?.text, t])).values()];
}

/** What a state is set to, without the function that works it out of the last one. */
function withoutUpdater(wanted: TypeText | undefined): TypeText | undefined {
  const state = wanted && /^(?:React\.)?SetStateAction<([\s\S]*)>$/.exec(wanted.text)?.[1];
  if (!wanted || state === undefined) return wanted;
  return { text: state, names: wanted.names.filter(({ name }) => !/^(?:React|SetStateAction)$/.test(name)) };
}

/** What a call is written in around the arguments, which stay where they are: before the first, between them, behind the last. */
export function gapsAround(span: Span, given: readonly Span[]): Span[] {
  const starts = [span.start, ...given.map(({ end }) => end)];
  return starts.map((start, i) => ({ start, end: given[i]?.start ?? span.end }));
}

/** An arrow function. `several`: the code is statements. */
export function arrowOf(code: string, names: readonly string[], several: boolean): string {
  return `(${names.join(', ')}) => ${several ? `{ ${code} }` : closed(code)}`;
}

/** An expression as the body of an arrow function: a record, or what is assigned, stands in parentheses. */
function closed(code: string): string {
  return /^\s*\{/.test(code) || ASSIGNS.test(code) ? `(${code})` : code;
}

const ASSIGNS = /^[\w$.]+(?:\[[^\]]*\])?\s*(?:[-+*/%|&]|\|\||&&|\?\?)?=(?![=>])/;

/** What an input with a signature is given, as a function; undefined for one without. */
export function functionFor({ values, signature }: GivenInput, place: number): string | undefined {
  const value = values[place];
  if (!signature || value?.kind !== 'source') return undefined;
  const names = signature.parameters.map(({ name }) => name);
  const itself = names.length > 0 ? calledWith(value.text, names) : undefined;
  return itself ?? arrowOf(value.text, names, signature.several);
}
