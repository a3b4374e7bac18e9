/** Types of what the places hand over, as text. */
import type { TypeName } from '../../../language/cutting.js';
import type { GivenInput, UnifyRequest } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import { typeOfWritten, typesGiven } from '../../handed-functions.js';

/** Undefined for what has none; notes the names in it, where all of it is of one file. */
export function typeOf(request: UnifyRequest, input: GivenInput, names: Map<string, TypeName>): string | undefined {
  if (input.kind === 'flag') return 'boolean';
  if (input.kind === 'slot' || input.kind === 'event') return undefined;
  const written = typeOfWritten(input, (spans) => typesAt(request, spans, names));
  if (written !== undefined) return written;
  if (request.alone && input.values[0]?.kind === 'code') return typesAt(request, [input.values[0].span], names);
  const types = new Set<string>();
  input.values.forEach((value, p) => {
    if (!value) return;
    const { file } = request.places[p]!;
    const text = value.kind === 'code' ? file.text.slice(value.span.start, value.span.end) : '';
    if (value.kind === 'string') types.add('string');
    else if (/^-?\d[\d._]*$/.test(text)) types.add('number');
    else if (value.kind === 'flag' || text === 'true' || text === 'false') types.add('boolean');
    else {
      const answer = value.kind === 'code' ? request.types?.typeAt(file.path, value.span) : undefined;
      types.add(answer && answer.names.length === 0 ? answer.text : 'any');
    }
  });
  if (types.has('any') || types.size === 0 || input.parameters.length > 0) return 'any';
  // A text that is empty is not taken for a switch where `string` comes first.
  return [...types].sort((a, b) => Number(b === 'string') - Number(a === 'string')).join(' | ');
}

/** The type that holds at all of some places of the one file; notes the names in it. */
export function typesAt(
  { types, places, reference }: UnifyRequest,
  spans: readonly Span[],
  names: Map<string, TypeName>,
): string {
  const found = spans.length > 0 ? typesGiven(types, places[reference]!.file.path, spans) : [];
  for (const name of found.flatMap((answer) => answer?.names ?? [])) names.set(name.name, name);
  const known = found.map((answer) => answer?.text ?? 'any');
  return known.includes('any') || known.length === 0 ? 'any' : [...new Set(known)].join(' | ');
}
