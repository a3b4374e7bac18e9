/** Functions that are written for an input: what the host does, or works out, of what it is given. */
import type { TypeOracle, TypeText } from '../language/cutting.js';
import type { GivenInput, InputSite } from '../language/unifying.js';
import type { Span } from '../text/edits.js';

/** `remove` for `remove(hive)`, given a hive: what takes just the parameters is handed over itself. */
function calledWith(code: string, names: readonly string[]): string | undefined {
  const call = /^([A-Za-z_$][\w$]*)\(([^()]*)\)$/.exec(code.trim());
  const given = call?.[2]!.split(',').map((argument) => argument.trim());
  return call && given!.filter(Boolean).join() === names.join() ? call[1] : undefined;
}

/**
 * The types of what a parameter is given at its places: the one that all have, else the one that is wanted of them, which has a name more
 * often than what is written there. `taken`: what of a wanted type somebody would give.
 */
export function typesGiven(
  types: TypeOracle | undefined,
  path: string,
  spans: readonly Span[],
  taken: (wanted: TypeText | undefined) => TypeText | undefined = (wanted) => wanted,
): (TypeText | undefined)[] {
  const given = spans.map((span) => types?.typeAt(path, span));
  const texts = new Set(given.map((answer) => answer?.text));
  const [only] = texts;
  const wanted = taken(types?.expectedAt(path, spans[0]!));
  const isNamed = wanted !== undefined && !/=>|^(?:any|unknown|[A-Z])$/.test(wanted.text);
  // A word is a text to whoever writes it, and one of a few to whoever takes it.
  const isOneOf = isNamed && /^['"]/.test(wanted.text) && only === 'string';
  if (texts.size === 1 && !isOneOf && !only?.startsWith('{')) return given.slice(0, 1);
  return isNamed ? [wanted] : [...new Map(given.map((t) => [t?.text, t])).values()];
}

/**
 * A call of an input, written around the arguments, which stay where they are: before the first, between them, behind the last.
 * `open`: all up to the first argument.
 */
export function callAround(
  { span, given, names }: Extract<InputSite, { kind: 'call' }>,
  open: (name: string) => string,
): { readonly sites: readonly WrittenCall[]; readonly stays: readonly Span[] } {
  const starts = [span.start, ...given.map(({ end }) => end)];
  const stays = starts.map((start, i): Span => ({ start, end: given[i]?.start ?? span.end }));
  const end = `${given.length > 0 && names.length > 0 ? ', ' : ''}${names.join(', ')})`;
  const sites = stays.map((gap, i): WrittenCall => {
    const isLast = i === given.length;
    return { span: gap, write: (name) => (i === 0 ? open(name) : isLast ? '' : ', ') + (isLast ? end : '') };
  });
  return { sites, stays };
}

interface WrittenCall {
  readonly span: Span;
  readonly write: (name: string) => string;
}

/** The type of what is written for an input, a function or a record, by the types of its parts; undefined for any other input. */
export function typeOfWritten(
  { signature, entries }: GivenInput,
  typeAt: (spans: readonly Span[]) => string,
): string | undefined {
  const typed = (parts: NonNullable<GivenInput['entries']>) =>
    parts.map(({ name, given }) => `${name}: ${typeAt(given)}`);
  if (signature)
    return `(${typed(signature.parameters).join(', ')}) => ${signature.result ? typeAt([signature.result]) : 'void'}`;
  return entries && `{ ${typed(entries).join('; ')} }`;
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
