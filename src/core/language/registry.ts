/** Which files are in which language. The registry is open, and a language is loaded when the first file of it is met. */
import { extname } from '../files/paths.js';
import type { Language, LanguageAbout } from './language.js';

/** A language before it is loaded. */
export interface LanguageEntry extends LanguageAbout {
  /** Gives the language with the same id. */
  load(): Promise<Language>;
}

const entries: LanguageEntry[] = [];
const byExtension = new Map<string, LanguageEntry>();
const loaded = new Map<string, Language>();

/** Makes a language known. Throws where its id or one of its extensions is another one's. */
export function registerLanguage(entry: LanguageEntry): void {
  if (entries.some(({ id }) => id === entry.id)) throw new Error(`a language "${entry.id}" is registered already`);
  for (const extension of entry.extensions) {
    const other = byExtension.get(extension);
    if (other) throw new Error(`"${entry.id}" claims ${extension}, which is that of "${other.id}"`);
  }
  entries.push(entry);
  for (const extension of entry.extensions) byExtension.set(extension, entry);
}

/** Loads the languages of these files; all that are registered where none are given. */
export async function loadLanguages(paths?: Iterable<string>): Promise<void> {
  const wanted = paths ? new Set([...paths].map((path) => byExtension.get(extname(path)))) : entries;
  for (const entry of wanted) if (entry) await loadEntry(entry);
}

async function loadEntry(entry: LanguageEntry): Promise<void> {
  if (loaded.has(entry.id)) return;
  loaded.set(entry.id, await entry.load());
  for (const other of entries) if (entry.needs?.includes(other.id)) await loadEntry(other);
}

/** The language of a file; undefined where none claims it. Throws where that language is not loaded. */
export function languageOf(path: string): Language | undefined {
  const entry = byExtension.get(extname(path));
  return entry && loadedOf(entry);
}

/** Which language a path is in, whether that is loaded or not. */
export function claimantOf(path: string): LanguageAbout | undefined {
  return byExtension.get(extname(path));
}

/** All languages. Throws where one is not loaded: nobody is to take a language that is not there yet for one that cannot. */
export function languages(): readonly Language[] {
  return entries.map(loadedOf);
}

/** Those that files have been met of. */
export function loadedLanguages(): readonly Language[] {
  return [...loaded.values()];
}

function loadedOf({ id, label }: LanguageEntry): Language {
  const language = loaded.get(id);
  if (!language)
    throw new Error(`${label} is not loaded: open the project with Project.open, or await loadLanguages()`);
  return language;
}
