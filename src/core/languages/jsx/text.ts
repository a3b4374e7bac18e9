/** Text between tags as React renders it. */
import { decodeHTMLStrict } from 'entities';

export interface RenderedText {
  readonly text: string;
  /** Where the rendered part begins and ends in the raw text; equal when nothing is rendered. */
  readonly start: number;
  readonly end: number;
}

/**
 * White space that holds a line break is dropped at both ends of a line; lines that are left are joined by one space.
 * Text without a line break stays as it is. (The rule is part of the JSX transform.)
 */
export function renderedText(raw: string): RenderedText {
  const lines = raw.split(/\r\n|\n|\r/);
  if (lines.length === 1) return { text: decodeHTMLStrict(raw), start: 0, end: raw.length };
  const kept: string[] = [];
  lines.forEach((line, i) => {
    let part = line.replace(/\t/g, ' ');
    if (i > 0) part = part.replace(/^ +/, '');
    if (i < lines.length - 1) part = part.replace(/ +$/, '');
    if (part) kept.push(part);
  });
  const leading = /^[ \t]*[\r\n]/.test(raw) ? /^[ \t\r\n]*/.exec(raw)![0].length : 0;
  const trailing = /[\r\n][ \t]*$/.test(raw) ? /[ \t\r\n]*$/.exec(raw)![0].length : 0;
  if (kept.length === 0) return { text: '', start: 0, end: 0 };
  return { text: decodeHTMLStrict(kept.join(' ')), start: leading, end: raw.length - trailing };
}
