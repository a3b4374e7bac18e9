/** The shape of the house: imports point downward, the core has no Node, DOM or console, and it bundles for a browser. */
import { readFileSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { build } from 'esbuild';
import { describe, expect, it } from 'vitest';
import { shapeOf } from '../scripts/shape.mjs';
import { languages } from '../src/core/index.js';
import { filesBelow } from './support/projects.js';

const SRC = new URL('../src', import.meta.url).pathname;
const files = filesBelow(SRC);
const imports = [...files].flatMap(([path, text]) =>
  [...text.matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)].map((match) => ({
    path,
    source: match[1]!,
    typeOnly: text.slice(text.lastIndexOf('import', match.index), match.index).startsWith('import type'),
  })),
);

/** From the bottom up. A folder may import from itself and from those before it. */
const CORE = [
  'text',
  'problems',
  'script',
  'markup',
  'plain',
  'forms',
  'files',
  'language',
  'languages',
  'project',
  'analyze',
  'propose',
  'proof',
  'steps',
];

function resolved(path: string, source: string): string {
  const parts = path.split('/').slice(0, -1);
  for (const part of source.split('/')) {
    if (part === '..') parts.pop();
    else if (part !== '.') parts.push(part);
  }
  return parts.join('/').replace(/\.js$/, '.ts');
}

describe('architecture', () => {
  it('imports between layers of the core point downward', () => {
    const upward: string[] = [];
    for (const { path, source } of imports) {
      if (!path.startsWith('core/') || !source.startsWith('.')) continue;
      const from = path.split('/')[1]!;
      const to = resolved(path, source).split('/')[1]!;
      if (from === 'index.ts' || CORE.indexOf(to) <= CORE.indexOf(from)) continue;
      upward.push(`${path} imports ${source}`);
    }
    expect(upward).toEqual([]);
  });

  it('core/, node/, library/ and cli/ know only those before them', () => {
    const order = ['core', 'node', 'library', 'cli'];
    for (const { path, source } of imports) {
      if (!source.startsWith('.')) continue;
      const [from, to] = [path.split('/')[0]!, resolved(path, source).split('/')[0]!];
      expect(order.indexOf(to), `${path} imports ${source}`).toBeLessThanOrEqual(order.indexOf(from));
    }
  });

  it('no language is named outside its folder', () => {
    const named: string[] = [];
    const folders = new RegExp(
      `languages/(?:${languages()
        .map((l) => l.id)
        .join('|')})/`,
    );
    for (const { path, source } of imports) {
      if (path.startsWith('core/') && !path.startsWith('core/languages/') && folders.test(source))
        named.push(`${path} imports ${source}`);
    }
    expect(named).toEqual([]);
  });

  it('no file reaches itself by what it imports, not even by types', () => {
    expect(shapeOf(SRC)).toMatchObject({ circles: [], circlesOfTypes: [] });
  });

  it('the core uses no Node, no DOM and no console', () => {
    const nodeModules = new Set([...builtinModules, ...builtinModules.map((m) => `node:${m}`)]);
    for (const [path, text] of files) {
      if (!path.startsWith('core/')) continue;
      for (const { source } of imports.filter((i) => i.path === path))
        expect(nodeModules.has(source), `${path} imports ${source}`).toBe(false);
      const code = text.replace(/\/\*[\s\S]*?\*\/|\/\/.*|'[^'\n]*'|`[^`]*`/g, '');
      expect(code, path).not.toMatch(/\b(?:console|process|document|window|Buffer|require)\s*[.(]/);
    }
  });

  it('the core bundles for a browser and runs there with another parser', async () => {
    const entry = `
      import { extract, MemoryFiles, Project } from '${SRC}/core/index.ts';
      globalThis.result = Object.keys({ extract, MemoryFiles, Project }).length;`;
    const result = await build({
      stdin: { contents: entry, resolveDir: SRC, loader: 'ts' },
      bundle: true,
      write: false,
      platform: 'browser',
      format: 'iife',
      logLevel: 'silent',
    });
    expect(result.warnings).toEqual([]);
    const code = result.outputFiles[0]!.text;
    const scope: { result?: number } = {};
    // eslint-disable-next-line @typescript-eslint/no-implied-eval, @typescript-eslint/no-unsafe-call -- the bundle is run without Node's globals
    new Function('globalThis', 'process', 'require', code)(scope, undefined, undefined);
    expect(scope.result).toBe(3);
  });

  it('public files say what they are for', () => {
    for (const [path, text] of files) expect(/^(?:#!.*\n)?\/\*\*/.test(text), `${path} has no head`).toBe(true);
  });

  it('package.json ships what the README promises', () => {
    const pkg = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
      files: string[];
      engines: { node: string };
    };
    expect(pkg.files).toEqual(['dist', 'schemas']);
    expect(pkg.engines.node).toBe('>=20.19');
  });
});
