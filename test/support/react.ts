/** Renders a file set with the real react-dom/server: each file compiled, imports looked up in the set. */
import { createRequire } from 'node:module';
import { Readable } from 'node:stream';
import { text as readAll } from 'node:stream/consumers';
import { transformSync } from 'esbuild';
import { createElement } from 'react';
import { prerenderToNodeStream } from 'react-dom/static';
import { Resolver, textOf, type FileSet } from '../../src/core/index.js';

const require = createRequire(import.meta.url);

/** CSS modules: every class is called what it is called. */
const classNames = { __esModule: true, default: new Proxy({}, { get: (_, name) => String(name) }) };

export function loadModule(files: FileSet, entry: string): Record<string, unknown> {
  const resolver = new Resolver(files);
  const loaded = new Map<string, { exports: Record<string, unknown> }>();
  const load = (path: string): Record<string, unknown> => {
    const known = loaded.get(path);
    if (known) return known.exports;
    const module = { exports: {} as Record<string, unknown> };
    loaded.set(path, module);
    const source = textOf(files, path)!;
    const { code } = transformSync(source, {
      loader: path.endsWith('.ts') ? 'ts' : 'tsx',
      format: 'cjs',
      jsx: 'automatic',
    });
    const localRequire = (name: string): unknown => {
      const target = resolver.resolve(path, name);
      if (target.kind === 'file') return load(target.path);
      if (target.kind === 'asset') return classNames;
      if (target.kind === 'missing') throw new Error(`${path} imports "${name}", which is not there`);
      return require(name);
    };
    // eslint-disable-next-line @typescript-eslint/no-implied-eval, @typescript-eslint/no-unsafe-call -- the compiled fixture is run on purpose
    new Function('require', 'module', 'exports', code)(localRequire, module, module.exports);
    return module.exports;
  };
  return load(entry);
}

export interface RenderCase {
  readonly file: string;
  readonly export: string;
  readonly props: Record<string, unknown>;
}

/** The HTML of one component. Functions are given for props that are called `on…`. */
export async function renderHtml(files: FileSet, { file, export: name, props }: RenderCase): Promise<string> {
  const component = loadModule(files, file)[name] as Parameters<typeof createElement>[0];
  let failure: unknown;
  const { prelude } = await prerenderToNodeStream(createElement(component, props), {
    onError: (error: unknown) => void (failure ??= error),
  });
  const html = await readAll(Readable.from(prelude));
  if (failure !== undefined) throw new Error('rendering failed', { cause: failure });
  return html;
}

/** HTML with the attributes of each tag by name: their order means nothing. */
export function inOrder(html: string): string {
  return html.replace(/<([a-z][\w-]*)((?:\s+[\w:-]+(?:="[^"]*")?)+)/gi, (_, tag: string, attributes: string) => {
    const list = attributes.match(/[\w:-]+(?:="[^"]*")?/g)!.sort();
    return `<${tag} ${list.join(' ')}`;
  });
}
