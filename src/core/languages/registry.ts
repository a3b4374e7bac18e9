/** All languages, by file extension. A language is one folder and one line here. */
import type { Language } from './language.js';
import { extname } from '../files/paths.js';
import { html } from './html/language.js';
import { jsx } from './jsx/language.js';
import { vue } from './vue/language.js';

export const languages: readonly Language[] = [jsx, vue, html];

const byExtension = new Map(languages.flatMap((language) => language.extensions.map((e) => [e, language] as const)));

export function languageOf(path: string): Language | undefined {
  return byExtension.get(extname(path));
}
