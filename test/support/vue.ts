/** Renders a file set with the real compiler and vue/server-renderer: each file compiled, imports looked up in the set. */
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { compileScript, compileTemplate, parse } from '@vue/compiler-sfc';
import { renderToString } from '@vue/server-renderer';
import { transformSync } from 'esbuild';
import * as vue from 'vue';
import { createSSRApp, type Component } from 'vue';
import { Resolver, textOf, type FileSet } from '../../src/core/index.js';

const require = createRequire(import.meta.url);

/** Errors of the real compiler in the Vue files of a set, with their path. */
export function compileErrors(files: FileSet, paths: readonly string[]): string[] {
  return paths
    .filter((path) => path.endsWith('.vue') && textOf(files, path) !== undefined)
    .flatMap((path) => compiled(files, path).errors.map((e) => `${path}: ${e}`));
}

interface Compiled {
  readonly code: string;
  readonly errors: readonly string[];
}

/** By path and text: most files stay as they are from one case to the next. */
const known = new Map<string, Compiled>();

function compiled(files: FileSet, path: string): Compiled {
  const source = textOf(files, path)!;
  const key = `${path}\n${source}`;
  const result = known.get(key) ?? compile(files, path, source);
  if (known.size > 200) known.clear();
  known.set(key, result);
  return result;
}

function compile(files: FileSet, path: string, source: string): Compiled {
  const { descriptor, errors: parsing } = parse(source, { filename: path });
  const errors = parsing.map((e) => e.message);
  // Blocks that stand in files of their own.
  const folder = path.replace(/[^/]*$/, '');
  for (const block of [descriptor.template, descriptor.script])
    if (block?.src !== undefined) block.content = textOf(files, folder + block.src.replace('./', '')) ?? '';
  const fs = {
    fileExists: (file: string) => textOf(files, file) !== undefined,
    readFile: (file: string) => textOf(files, file),
  };
  let code = 'const component = {};\n';
  let bindings;
  if (descriptor.script?.src !== undefined) {
    const { content } = descriptor.script;
    code = content.replace('export default', 'const component =') + '\n';
  } else if (descriptor.script || descriptor.scriptSetup) {
    try {
      const script = compileScript(descriptor, { id: path, genDefaultAs: 'component', fs });
      code = script.content + '\n';
      bindings = script.bindings;
    } catch (error) {
      errors.push((error as Error).message);
    }
  }
  if (descriptor.template) {
    const template = compileTemplate({
      source: descriptor.template.content,
      filename: path,
      id: path,
      ssr: true,
      ssrCssVars: [],
      // A path that means a file shows which.
      transformAssetUrls: { base: `/${dirname(path)}` },
      compilerOptions: {
        ...(bindings ? { bindingMetadata: bindings } : {}),
        isTS: descriptor.scriptSetup?.lang === 'ts' || descriptor.script?.lang === 'ts',
      },
    });
    errors.push(...template.errors.map((e) => (typeof e === 'string' ? e : e.message)));
    code += `${template.code.replace('export function ssrRender', 'function ssrRender')}\ncomponent.ssrRender = ssrRender;\n`;
  }
  return { code: `${code}export default component;`, errors };
}

export function loadVue(files: FileSet, entry: string): Record<string, unknown> {
  const resolver = new Resolver(files);
  const loaded = new Map<string, { exports: Record<string, unknown> }>();
  const load = (path: string): Record<string, unknown> => {
    const done = loaded.get(path);
    if (done) return done.exports;
    const module = { exports: {} as Record<string, unknown> };
    loaded.set(path, module);
    const source = path.endsWith('.vue') ? compiled(files, path).code : textOf(files, path)!;
    const { code } = transformSync(source, { loader: 'ts', format: 'cjs' });
    const localRequire = (name: string): unknown => {
      const target = resolver.resolve(path, name);
      if (target.kind === 'file') return load(target.path);
      if (target.kind === 'missing') throw new Error(`${path} imports "${name}", which is not there`);
      return target.kind === 'asset' ? {} : require(name);
    };
    // eslint-disable-next-line @typescript-eslint/no-implied-eval, @typescript-eslint/no-unsafe-call -- the compiled fixture is run on purpose
    new Function('require', 'module', 'exports', code)(localRequire, module, module.exports);
    return module.exports;
  };
  return load(entry);
}

/** The HTML of one component; a warning of the framework is a failure. */
export function renderVue(
  files: FileSet,
  file: string,
  props: Record<string, unknown>,
  components: Record<string, string> = {},
): Promise<string> {
  const app = createSSRApp(loadVue(files, file).default as Component, props);
  for (const [name, path] of Object.entries(components)) app.component(name, loadVue(files, path).default as Component);
  return htmlOf(app);
}

/** What a page shows that mounts an application by the global build, its templates read as a browser has them. */
export async function renderPage(page: string): Promise<string> {
  const found = [...page.matchAll(/<(template|div|script)[^>]*id="([\w-]+)"[^>]*>([\s\S]*?)<\/\1>/g)];
  const templates = new Map(found.map((m) => [`#${m[2]!}`, m[3]!.replace(/\{% (?:end)?raw %\}/g, '')]));
  let html: Promise<string> | undefined;
  const filled = (component: Record<string, unknown>) =>
    ({ ...component, template: templates.get(String(component.template)) ?? component.template }) as Component;
  const createApp = (root: Record<string, unknown>) => {
    const registered: [string, Component][] = [];
    const app = {
      config: { compilerOptions: {} as { delimiters?: [string, string] } },
      component: (name: string, component: Record<string, unknown>) => (
        registered.push([name, filled(component)]),
        app
      ),
      mount: (selector: string) => {
        const mounted = createSSRApp(filled({ ...root, template: selector }));
        Object.assign(mounted.config.compilerOptions, app.config.compilerOptions);
        for (const [name, component] of registered) mounted.component(name, component);
        html = htmlOf(mounted);
      },
    };
    return app;
  };
  const script = /<script>([\s\S]*?)<\/script>/.exec(page)![1]!;
  // eslint-disable-next-line @typescript-eslint/no-implied-eval, @typescript-eslint/no-unsafe-call -- the page of a fixture is run on purpose
  new Function('Vue', script)({ ...vue, createApp });
  return html!;
}

async function htmlOf(app: ReturnType<typeof createSSRApp>): Promise<string> {
  // Style modules: every class is called what it is called.
  app.config.globalProperties.$style = new Proxy({}, { get: (_, name) => String(name) });
  const warnings: string[] = [];
  app.config.warnHandler = (message) => void warnings.push(message);
  const html = await renderToString(app);
  if (warnings.length > 0) throw new Error(`rendering warned: ${warnings.join('; ')}`);
  // Fragments of components leave marks that show nothing.
  // Which of two classes is written first depends on whether an element is the root of its component.
  const sorted = (_: string, names: string) => `class="${names.split(' ').sort().join(' ')}"`;
  return html.replace(/<!--[[\]]-->|<!---->/g, '').replace(/class="([^"]*)"/g, sorted);
}
