/** Packages that do not come with the library: the project that is worked on has them, or else they stand beside the library. */
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type TS from 'typescript';

/** A package as the project has it; undefined where it has none. */
export async function importFrom<T>(root: string, name: string): Promise<T | undefined> {
  try {
    const path = createRequire(join(root, 'package.json')).resolve(name);
    return (await import(pathToFileURL(path).href)) as T;
  } catch {
    return undefined;
  }
}

/** A package as another one that the project has gets it: with some package managers only that one can see it. */
export async function importThrough<T>(root: string, name: string, owner: string): Promise<T | undefined> {
  try {
    const at = createRequire(join(root, 'package.json')).resolve(`${owner}/package.json`);
    return await importFrom<T>(dirname(at), name);
  } catch {
    return undefined;
  }
}

/** A package beside the library, or else the project's; undefined where it is nowhere. */
export async function importPeer<T>(root: string, name: string): Promise<T | undefined> {
  try {
    return (await import(name)) as T;
  } catch {
    return importFrom<T>(root, name);
  }
}

/**
 * The project's own compiler, since it is the one that the project is checked with, or else the one beside the library; undefined where there
 * is none, or none with the services that are asked of it.
 */
export function typescriptOf(root: string): typeof TS | undefined {
  for (const from of [join(root, 'package.json'), import.meta.url]) {
    try {
      const ts = createRequire(from)('typescript') as Partial<typeof TS>;
      if (typeof ts.createLanguageService === 'function') return ts;
    } catch {
      // There is none here.
    }
  }
  return undefined;
}

/** For people: how to get what is missing. */
export const HOW_TO_GET_TYPESCRIPT = 'TypeScript is not installed (npm install -D typescript, version 5 or 6)';
export const HOW_TO_GET_BROWSER_PACKAGES =
  'the packages that drive it are not installed: npm install -D playwright-core@1 pixelmatch@8 pngjs@7';
