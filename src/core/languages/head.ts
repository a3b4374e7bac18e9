/** What a file says above its code: comments that decide what its elements are or what is looked for in it. */
import type { ParsedScript } from '../script/parser.js';

/** Decides what an element of the file is. */
const PRAGMA = /@jsx(?:Frag|ImportSource|Runtime)?\s+([\w.@/-]+)/g;
/** Holds for the whole file. */
const FILE_WIDE =
  /@(?:jsx(?:Frag|ImportSource|Runtime)?|ts-nocheck|ts-check|flow|noflow|format|jest-environment)\b|^\s*(?:eslint-disable(?!-)|eslint-env|eslint\s|globals?\s|exported\s|istanbul ignore file|stylelint-disable(?!-)|biome-ignore-all|oxlint-disable(?!-)|tslint:disable(?!-))/m;

/** The comments above the code of a file that hold for all of it, as they are written. */
export function headComments(script: ParsedScript, text: string): string[] {
  const first = script.program.body[0]?.range[0] ?? Infinity;
  return script.comments
    .filter(
      (c) =>
        c.end <= first && FILE_WIDE.test(text.slice(c.start + 2, c.end - (c.block ? 2 : 0)).replace(/^[*\s]+/, '')),
    )
    .map((c) => text.slice(c.start, c.end));
}

/** Where the code may begin: behind the last of these comments. */
export function headEnd(script: ParsedScript, text: string): number {
  const all = headComments(script, text);
  const last = script.comments.findLast((c) => text.slice(c.start, c.end) === all.at(-1));
  return last?.end ?? 0;
}

/** What pragma comments say of the elements of a file, wherever they stand; equal texts mean equal elements. */
export function pragmaOf(script: ParsedScript, text: string): string {
  const said = script.comments.flatMap((c) =>
    c.block ? [...text.slice(c.start, c.end).matchAll(PRAGMA)].map(([all]) => all.replace(/\s+/g, ' ')) : [],
  );
  return [...new Set(said)].sort().join('\n');
}
