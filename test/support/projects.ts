/** Projects for tests: in memory, or from a folder of fixtures. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { MemoryFiles, Project } from '../../src/core/index.js';
import { nodePorts } from '../../src/node/ports.js';

const ports = nodePorts(64);

export function memoryProject(files: Record<string, string> | ReadonlyMap<string, string>): Project {
  return new Project(new MemoryFiles(files as Record<string, string>), ports);
}

/** All files below a folder, by path relative to it. */
export function filesBelow(folder: string): Map<string, string> {
  const found = new Map<string, string>();
  const visit = (dir: string, prefix: string): void => {
    for (const name of readdirSync(dir).sort()) {
      const at = join(dir, name);
      if (statSync(at).isDirectory()) visit(at, `${prefix}${name}/`);
      else found.set(prefix + name, readFileSync(at, 'utf8'));
    }
  };
  visit(folder, '');
  return found;
}

/** Mulberry32: a small generator with a fixed seed, so that a failing case can be named and run again. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
