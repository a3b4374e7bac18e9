/**
 * The level `render`: components of both versions rendered on the server by the project's own framework, in one Vite
 * server with the project's own configuration. The older version is laid over the files by a plugin.
 */
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, extname, join, resolve as resolvePath, sep } from 'node:path';
import type { InlineConfig, Plugin, ViteDevServer } from 'vite';
import {
  languageOf,
  isOthers,
  isProblem,
  textOf,
  type ComponentModel,
  type Project,
  type Rename,
} from '../../core/index.js';
import { importFrom, importThrough } from '../peers.js';
import type { TypesOf } from '../types.js';
import type { Contents } from './before.js';
import { normalHtml } from './html.js';
import { answerOf, type Difference, type LevelReport } from './report.js';
import type { Shape } from './shapes.js';
import { isKnown, randomOf, valueOf, type Called } from './values.js';

export interface RenderRequest {
  readonly root: string;
  readonly before: Project;
  readonly after: Project;
  readonly contents: Contents;
  readonly renamed: readonly Rename[];
  /** The types of a version, as they hold for a file. */
  readonly typesOf: TypesOf;
}

/** A component that both versions export. */
interface Target {
  readonly id: string;
  readonly component: ComponentModel;
  readonly path: string;
  readonly pathBefore: string;
  readonly exported: string;
}

/** What a component is given, once. */
interface Given {
  readonly label: string;
  readonly props: (calls: Called[]) => Record<string, unknown>;
}

interface Rendered {
  readonly html?: string;
  readonly error?: string;
  readonly calls: readonly Called[];
}

type Render = (component: unknown, props: Record<string, unknown>) => string | Promise<string>;

/** Values are made so many times for each component. */
const ROUNDS = 3;

const FRAMEWORKS = {
  jsx: `import { createElement } from 'react';
import { renderToString } from 'react-dom/server';
export const render = (component, props) => renderToString(createElement(component, props));`,
  vue: `import { createSSRApp, h } from 'vue';
import { renderToString } from 'vue/server-renderer';
export const render = (component, props) => {
  const app = createSSRApp({ render: () => h(component, props) });
  app.config.warnHandler = () => {};
  app.config.errorHandler = (error) => { throw error; };
  return renderToString(app);
};`,
  astro: `import { experimental_AstroContainer as Container } from 'astro/container';
export const render = async (component, props) => {
  const container = await Container.create();
  const html = await container.renderToString(component, { props, slots: { default: '<i>content</i>' } });
  // Scopes are called after their files, and white space of any length is one space to a reader.
  return html.replace(/ data-astro-(?:cid|source)-[\\w-]+(?:="[^"]*")?/g, '').replace(/\\s+/g, ' ');
};`,
} as const;
type Framework = keyof typeof FRAMEWORKS;

/** Where a framework has settings of its own for Vite, they hold. */
async function withOwnSettings(root: string, config: InlineConfig): Promise<InlineConfig> {
  const astro = await importFrom<AstroConfig>(root, 'astro/config');
  if (!astro) return config;
  return astro.getViteConfig(config, { root, logLevel: 'silent' })({ mode: 'development', command: 'serve' });
}

interface AstroConfig {
  getViteConfig(
    vite: InlineConfig,
    astro: { readonly root: string; readonly logLevel: 'silent' },
  ): (env: { readonly mode: string; readonly command: string }) => Promise<InlineConfig>;
}

export async function checkRender(request: RenderRequest): Promise<LevelReport> {
  const left: { what: string; why: string }[] = [];
  const targets = targetsOf(request);
  const differences: Difference[] = [];
  const compared: string[] = [];
  let renderings = 0;
  const report = (): LevelReport => ({
    level: 'render',
    answer: answerOf(compared, differences, left),
    compared,
    figures: `${count(compared.length, 'component')}, ${count(renderings, 'rendering')}`,
    differences,
    left,
  });
  const { root } = request;
  const vite =
    (await importFrom<typeof import('vite')>(root, 'vite')) ??
    (await importThrough<typeof import('vite')>(root, 'vite', 'astro'));
  if (!vite) {
    left.push({ what: 'all components', why: 'vite is not installed in the project' });
    return report();
  }
  const server = await Server.start(request, vite);
  if (typeof server === 'string') {
    left.push({ what: 'all components', why: server });
    return report();
  }
  try {
    const sides = { before: new Map<string, Rendered[]>(), after: new Map<string, Rendered[]>() };
    const given = new Map<string, readonly Given[] | string>();
    for (const target of targets) {
      const why = languageOf(target.pathBefore)?.lacks.render;
      given.set(target.id, why ?? (await givenOf(request, target, server)));
    }
    for (const side of ['before', 'after'] as const) {
      server.show(side);
      for (const target of targets) {
        const cases = given.get(target.id)!;
        if (typeof cases === 'string') continue;
        sides[side].set(target.id, await server.rendered(target, side, cases));
      }
    }
    for (const target of targets) {
      const cases = given.get(target.id)!;
      if (typeof cases === 'string') {
        left.push({ what: target.id, why: cases });
        continue;
      }
      const [was, is] = [sides.before.get(target.id)!, sides.after.get(target.id)!];
      const sane = cases.filter((_, i) => was[i]!.error === undefined || was[i]!.error !== is[i]!.error);
      if (sane.length === 0) {
        left.push({ what: target.id, why: `it cannot be rendered by itself: ${was[0]?.error ?? 'no values'}` });
        continue;
      }
      renderings += sane.length;
      compared.push(target.id);
      const at = cases.findIndex((_, i) => wordsFor(was[i]!, is[i]!) !== undefined);
      if (at >= 0)
        differences.push({
          level: 'render',
          what: target.id,
          words: `${cases[at]!.label}: ${wordsFor(was[at]!, is[at]!)!}`,
        });
    }
  } finally {
    await server.close();
  }
  return report();
}

function count(n: number, word: string): string {
  return `${n} ${word}${n === 1 ? '' : 's'}`;
}

/** Exported components of both versions, and pages. */
function targetsOf({ before, after, renamed }: RenderRequest): Target[] {
  const was = new Map(renamed.map((r) => [r.to, r.from]));
  return after.sources().flatMap((path): Target[] => {
    const pathBefore = was.get(path) ?? path;
    if (isOthers(path, textOf(after.files, path) ?? '') || /\.samples\.[jt]sx?$/.test(path)) return [];
    const [is, then] = [after.model(path), before.model(pathBefore)];
    if (isProblem(is) || isProblem(then)) return [];
    return is.components.flatMap((component): Target[] => {
      const known = then.components.find((c) => c.name === component.name);
      if (component.exported === 'none' || !known || known.exported !== component.exported) return [];
      if (component.markup.length === 0 || component.kind === 'helper' || component.kind === 'page') return [];
      const exported = component.exported === 'default' ? 'default' : component.name;
      return [{ id: `${path}#${component.name}`, component: known, path, pathBefore, exported }];
    });
  });
}

/** What a component is given: samples beside it, else what it takes by default, else values made of its types. */
async function givenOf(request: RenderRequest, target: Target, server: Server): Promise<readonly Given[] | string> {
  const samples = await server.samples(target.path);
  if (samples) return samples;
  const { props } = target.component;
  const nothing: Given = { label: 'with what it takes by default', props: () => ({}) };
  if (props.length === 0) return [nothing];
  const shape = shapeFor(request, target);
  if (!shape || shape.kind !== 'record' || !isKnown(shape)) {
    const needed = props.filter((p) => p.required).map((p) => p.name);
    if (needed.length === 0) return [nothing];
    const file = `${target.path.slice(0, -extname(target.path).length)}.samples${scriptExtension(target.path)}`;
    return `the type of ${needed.slice(0, 3).join(', ')} is not known; write what it is given into ${file}`;
  }
  const made = Array.from({ length: ROUNDS }, (_, i): Given => {
    const props = (calls: Called[]) =>
      valueOf(shape, randomOf(i + 1), calls, target.component.name) as Record<string, unknown>;
    return { label: `with made values (${i + 1})`, props };
  });
  return props.some((p) => p.required) ? made : [nothing, ...made];
}

function scriptExtension(path: string): string {
  return /\.[jt]sx?$/.test(path) ? extname(path).replace('x', '') : '.ts';
}

function shapeFor({ before, typesOf }: RenderRequest, { pathBefore, component }: Target): Shape | undefined {
  const shape = typesOf(before, pathBefore)?.propsOf(pathBefore, component.name);
  if (shape?.kind === 'record' && shape.members.length > 0) return shape;
  const runtime = component.props.map((p) => ({ name: p.name, optional: !p.required, shape: runtimeShape(p.type) }));
  return runtime.every((m) => m.optional || m.shape.kind !== 'unknown') ? { kind: 'record', members: runtime } : shape;
}

/** What a constructor in the props of an options component says. */
function runtimeShape(type: string | undefined): Shape {
  switch (type) {
    case 'String':
    case 'string':
      return { kind: 'string' };
    case 'Number':
    case 'number':
      return { kind: 'number' };
    case 'Boolean':
    case 'boolean':
      return { kind: 'boolean' };
    case 'Function':
      return { kind: 'function', returns: { kind: 'nothing' } };
    default:
      return { kind: 'unknown' };
  }
}

/** What a person would notice; undefined where both are the same. */
function wordsFor(was: Rendered, is: Rendered): string | undefined {
  if (was.error !== is.error)
    return is.error === undefined ? 'it renders now, and failed before' : `it fails now: ${is.error}`;
  if (was.error !== undefined) return undefined;
  const [a, b] = [normalHtml(was.html!), normalHtml(is.html!)];
  if (a !== b) {
    let at = 0;
    while (a[at] === b[at]) at++;
    const from = Math.max(0, a.lastIndexOf('<', at));
    const cut = (html: string) => html.slice(from, from + 90);
    return `it showed ${cut(a)}, and shows ${cut(b)}`;
  }
  const called = (r: Rendered) => r.calls.map((c) => c.name).join(', ');
  return called(was) === called(is)
    ? undefined
    : `it called ${called(was) || 'nothing'}, and calls ${called(is) || 'nothing'}`;
}

/** One Vite server for both versions. */
class Server {
  readonly #renders = new Map<string, Promise<Render>>();

  private constructor(
    readonly root: string,
    readonly cache: string,
    readonly vite: ViteDevServer,
    readonly turn: (side: 'before' | 'after') => void,
  ) {}

  static async start({ root, contents }: RenderRequest, vite: typeof import('vite')): Promise<Server | string> {
    const cache = mkdtempSync(join(tmpdir(), 'verkstad-vite-'));
    let side: 'before' | 'after' = 'after';
    const config: InlineConfig = {
      root,
      cacheDir: cache,
      configLoader: 'runner',
      appType: 'custom',
      logLevel: 'silent',
      clearScreen: false,
      server: { middlewareMode: true, hmr: false, ws: false, watch: null },
      optimizeDeps: { noDiscovery: true, include: [] },
      plugins: [overlay(root, contents, () => side), frameworks()],
    };
    try {
      const server = await vite.createServer(await withOwnSettings(root, config));
      return new Server(root, cache, server, (now) => (side = now));
    } catch (error) {
      rmSync(cache, { recursive: true, force: true });
      return `the project's Vite does not start: ${firstLine(error)}`;
    }
  }

  show(side: 'before' | 'after'): void {
    this.turn(side);
    this.vite.environments.ssr.moduleGraph.invalidateAll();
    this.#renders.clear();
  }

  async samples(path: string): Promise<readonly Given[] | undefined> {
    const stem = path.slice(0, -extname(path).length);
    const file = ['.ts', '.tsx', '.js', '.jsx', '.mjs']
      .map((e) => `${stem}.samples${e}`)
      .find((f) => existsSync(join(this.root, f)));
    if (!file) return undefined;
    const module = await this.vite.ssrLoadModule(`/${file}`);
    return Object.entries(module).map(([name, props]) => ({
      label: `with the sample ${name}`,
      props: () => props as Record<string, unknown>,
    }));
  }

  async rendered(target: Target, side: 'before' | 'after', cases: readonly Given[]): Promise<Rendered[]> {
    const path = side === 'before' ? target.pathBefore : target.path;
    const id = languageOf(path)?.id;
    const framework = id !== undefined && id in FRAMEWORKS ? (id as Framework) : 'jsx';
    const results: Rendered[] = [];
    const quiet = silenced();
    try {
      for (const one of cases) {
        const calls: Called[] = [];
        try {
          const render = await this.#render(framework);
          const module = await this.vite.ssrLoadModule(`/${path}`);
          results.push({ html: await render(module[target.exported], one.props(calls)), calls });
        } catch (error) {
          results.push({ error: firstLine(error), calls });
        }
      }
    } finally {
      quiet();
    }
    return results;
  }

  async close(): Promise<void> {
    await this.vite.close();
    rmSync(this.cache, { recursive: true, force: true });
  }

  #render(framework: Framework): Promise<Render> {
    let render = this.#renders.get(framework);
    if (!render) {
      render = this.vite.ssrLoadModule(`virtual:verkstad/${framework}`).then((m) => m.render as Render);
      this.#renders.set(framework, render);
    }
    return render;
  }
}

/** What components write to the console while they are rendered is no output of this program. */
function silenced(): () => void {
  const methods = ['log', 'info', 'warn', 'error', 'debug'] as const;
  const own = { ...console };
  for (const method of methods) console[method] = () => undefined;
  return () => void Object.assign(console, own);
}

function firstLine(error: unknown): string {
  return (error instanceof Error ? error.message : String(error)).split('\n')[0]!.slice(0, 160);
}

const EXTENSIONS = ['', '.tsx', '.ts', '.jsx', '.js', '.mjs', '.vue', '.json', '.css'];

/** Files of the older version in the place of those on disk, while it is that version's turn. */
export function overlay(root: string, contents: Contents, side: () => 'before' | 'after'): Plugin {
  const over = new Map([...contents].map(([path, was]) => [join(root, path), was]));
  const known = (path: string) => over.get(path) !== undefined;
  return {
    name: 'verkstad-versions',
    enforce: 'pre',
    resolveId(source, importer) {
      if (side() === 'after') return undefined;
      const [bare, query = ''] = splitQuery(source);
      const isRooted = bare.startsWith('/') && !bare.startsWith(root + sep);
      const at = isRooted
        ? join(root, bare)
        : bare.startsWith('.') && importer
          ? resolvePath(dirname(splitQuery(importer)[0]), bare)
          : bare;
      if (!at.startsWith(root + sep)) return undefined;
      const candidates = [...EXTENSIONS.map((e) => at + e), ...EXTENSIONS.slice(1).map((e) => join(at, `index${e}`))];
      const first = candidates.find((c) => known(c) || (existsSync(c) && !over.has(c) && extname(c) !== ''));
      if (first !== undefined && known(first)) return first + query;
      // A file that did not exist then must not be found now.
      if (first === undefined && candidates.some((c) => over.has(c))) throw new Error(`"${source}" is in no file`);
      return first !== undefined && first !== at ? first + query : undefined;
    },
    load(id) {
      if (side() === 'after') return undefined;
      const [path, query] = splitQuery(id);
      if (query) return undefined;
      return over.get(path)?.toString('utf8');
    },
  };
}

function splitQuery(id: string): [string, string?] {
  const at = id.indexOf('?');
  return at < 0 ? [id] : [id.slice(0, at), id.slice(at)];
}

function frameworks(): Plugin {
  return {
    name: 'verkstad-frameworks',
    resolveId: (source) => (source.startsWith('virtual:verkstad/') ? `\0${source}` : undefined),
    load: (id) =>
      id.startsWith('\0virtual:verkstad/') ? FRAMEWORKS[id.slice(id.lastIndexOf('/') + 1) as Framework] : undefined,
  };
}
