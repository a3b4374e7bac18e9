/** What a project's formatter is told, as far as text that is written anew has to know it. Read as data; nothing is run. */
import type { FileSet } from '../files/files.js';
import { textOf } from '../files/files.js';
import { dirname } from '../files/paths.js';
import stripJsonComments from 'strip-json-comments';

export interface Formatting {
  readonly semi?: ';' | '';
  readonly quote?: "'" | '"';
  readonly jsxQuote?: "'" | '"';
  /** Columns. */
  readonly width?: number;
  readonly pad?: ' ' | '';
  readonly trailingComma?: boolean;
}

const known = new WeakMap<FileSet, Map<string, Formatting>>();
const NAMES = ['.prettierrc', '.prettierrc.json', '.prettierrc.json5', '.prettierrc.yaml', '.prettierrc.yml'];
const SCRIPTS = ['js', 'cjs', 'mjs', 'ts'].flatMap((end) => [`.prettierrc.${end}`, `prettier.config.${end}`]);

/** Nothing where a project has no configuration, or one that only running it would tell. */
export function formattingOf(files: FileSet, path: string): Formatting {
  let memo = known.get(files);
  if (!memo) known.set(files, (memo = new Map<string, Formatting>()));
  const dir = dirname(path);
  const met = memo.get(dir);
  if (met) return met;
  const found = configIn(files, dir) ?? (dir ? formattingOf(files, dir) : {});
  memo.set(dir, found);
  return found;
}

function configIn(files: FileSet, dir: string): Formatting | undefined {
  const at = (name: string) => textOf(files, dir ? `${dir}/${name}` : name);
  const own = jsonIn(at('package.json') ?? '');
  const inPackage = own && typeof own.prettier === 'object' ? (own.prettier as Record<string, unknown>) : undefined;
  if (inPackage) return formattingFrom(inPackage);
  for (const name of NAMES) {
    const text = at(name);
    if (text !== undefined) return formattingFrom(jsonIn(text) ?? linesIn(text));
  }
  for (const name of SCRIPTS) {
    const text = at(name);
    if (text !== undefined) return formattingFrom(linesIn(text));
  }
  return undefined;
}

function jsonIn(text: string): Record<string, unknown> | undefined {
  try {
    const value: unknown = JSON.parse(stripJsonComments(text, { trailingCommas: true }));
    return typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : undefined;
  } catch {
    return undefined;
  }
}

/** `semi: false` a line, as YAML and the records of scripts have it; the first one counts, since overrides come later. */
function linesIn(text: string): Record<string, unknown> {
  const result: Record<string, unknown> = {};
  for (const [, key, value] of text.matchAll(
    /^\s*['"]?(\w+)['"]?\s*:\s*['"]?([\w-]+)['"]?\s*,?\s*(?:#.*|\/\/.*)?$/gm,
  )) {
    if (key! in result) continue;
    result[key!] =
      value === 'true' || value === 'false' ? value === 'true' : /^\d+$/.test(value!) ? Number(value) : value;
  }
  return result;
}

/** With what the formatter does where it is told nothing. */
function formattingFrom(config: Record<string, unknown>): Formatting {
  const width = typeof config.printWidth === 'number' && config.printWidth > 20 ? config.printWidth : 80;
  return {
    width,
    semi: config.semi === false ? '' : ';',
    quote: config.singleQuote === true ? "'" : '"',
    jsxQuote: config.jsxSingleQuote === true ? "'" : '"',
    pad: config.bracketSpacing === false ? '' : ' ',
    trailingComma: config.trailingComma !== 'none',
  };
}
