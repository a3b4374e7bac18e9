/**
 * What reaches the terminal. Names, texts and paths come from the project, and a control character in them could do
 * anything to a terminal; so only the sequences that Verkstad writes itself become sequences, and all else is shown.
 */
import { randomBytes } from 'node:crypto';
import pc from 'picocolors';
import type { Colors } from './host.js';

/** Stands for the escape character in our own sequences; nothing in a project can know it. */
const ESCAPE = `\u{10FFFD}${randomBytes(6).toString('hex')}`;

/** Goes back to the start of the line and clears it. */
export const CLEAR_LINE = `${ESCAPE}\r${ESCAPE}[K`;

/** Controls but for tab and line feed, what reorders text, and what breaks lines unseen. */
const CONTROLS = /[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069]|\r(?!\n)/g;

export function colors(wanted: boolean): Colors {
  const plain = pc.createColors(wanted);
  if (!wanted) return plain;
  // An escape in the text is the project's; those of colours inside of it are ours, and known to the one around.
  const inside = (text: string) => text.replaceAll('\u001b', '\\x1b').replaceAll(ESCAPE, '\u001b');
  const marked = (format: (text: string) => string) => (text: string) =>
    format(inside(text)).replaceAll('\u001b', ESCAPE);
  const own = Object.entries(plain).map(([name, format]: [string, unknown]) => [
    name,
    typeof format === 'function' ? marked(format as (text: string) => string) : format,
  ]);
  return Object.fromEntries(own) as Colors;
}

/** A text as it may be written: our own sequences made real, every other control spelt out. */
export function printable(text: string): string {
  const carried = text.replaceAll(`${ESCAPE}\r`, `${ESCAPE}<`);
  const shown = carried.replace(CONTROLS, spelt);
  return shown.replaceAll(`${ESCAPE}<`, '\r').replaceAll(ESCAPE, '\u001b');
}

function spelt(control: string): string {
  const code = control.codePointAt(0)!;
  return code < 0x100 ? `\\x${code.toString(16).padStart(2, '0')}` : `\\u${code.toString(16)}`;
}

/** JSON says the same without them. */
export function escapedJson(text: string): string {
  return text.replace(
    /[\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
}
