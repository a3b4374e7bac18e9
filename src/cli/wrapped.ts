/** Lines that fit. */
import { stripVTControlCharacters } from 'node:util';

export const WIDTH = 100;

/** At most about a hundred columns, broken after commas. */
export function wrapped(line: string, pad: string): string[] {
  const out: string[] = [];
  let current = '';
  for (const word of line.split(' ')) {
    if (current && pad.length + stripVTControlCharacters(`${current} ${word}`).length > WIDTH) {
      out.push(pad + current);
      current = '';
    }
    current += (current ? ' ' : '') + word;
  }
  return [...out, pad + current];
}
