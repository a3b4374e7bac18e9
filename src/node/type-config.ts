/** Which settings of TypeScript hold for a file. */
import { existsSync } from 'node:fs';
import { dirname, join, sep } from 'node:path';
import type TS from 'typescript';
import { loadedLanguages } from '../core/language/registry.js';

function derivedEndings(): readonly string[] {
  return loadedLanguages().flatMap((language) => (language.typed ? language.extensions : []));
}

/** A file that the type checker reads in a form made from it. */
export function isDerived(path: string): boolean {
  return derivedEndings().some((extension) => path.endsWith(extension));
}

function closestConfig(root: string, near: string): string | undefined {
  for (let dir = dirname(join(root, near)); ; dir = dirname(dir)) {
    const at = join(dir, 'tsconfig.json');
    if (existsSync(at)) return at;
    if (dir === root || dir === dirname(dir) || !dir.startsWith(root)) return undefined;
  }
}

export interface Held {
  readonly config: string;
  readonly parsed: TS.ParsedCommandLine;
}

/**
 * The settings that hold for a file: those of the closest `tsconfig.json` above it. That can be a mere list of references to others (as
 * in many new projects); then the first of those that takes the file in holds. A file that none takes in goes by the first that has files at all.
 */
export function configFor(ts: typeof TS, root: string, near: string): Held | undefined {
  const closest = closestConfig(root, near);
  if (closest === undefined) return undefined;
  const wanted = join(root, near).split(sep).join('/');
  const others = derivedEndings().map((extension) => ({
    extension,
    isMixedContent: true,
    scriptKind: ts.ScriptKind.Deferred,
  }));
  const seen = new Set<string>();
  let first: Held | undefined;
  const search = (at: string): Held | undefined => {
    if (seen.has(at)) return undefined;
    seen.add(at);
    const parsed = ts.getParsedCommandLineOfConfigFile(
      at,
      {},
      { ...ts.sys, onUnRecoverableConfigFileDiagnostic: () => undefined },
      undefined,
      undefined,
      others,
    );
    if (!parsed) return undefined;
    const here = { config: at, parsed };
    if (parsed.fileNames.some((name) => name.replaceAll('\\', '/') === wanted)) return here;
    if (parsed.fileNames.length > 0) first ??= here;
    for (const reference of parsed.projectReferences ?? []) {
      const found = search(ts.resolveProjectReferencePath(reference));
      if (found) return found;
    }
    first ??= here;
    return undefined;
  };
  return search(closest) ?? first;
}
