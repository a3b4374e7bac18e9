/**
 * The second witness for pages: what a browser shows of the page, and of what its components render to in the place of
 * its markup, with the styles of the page and without scripts. Compared are the text as it is seen and, element by
 * element, the tag, the attributes that it has and the box that it takes up.
 */
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, posix } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { chromium } from 'playwright-core';
import { chromiumPath } from '../../dist/node/check/engines.js';

const ROOT = /import (\w+|\{ \w+ \}) from '(\.[^']+\.(?:jsx|tsx|vue))'|import (\w+|\{ \w+ \}) from '(\.[^']+)'/g;

/** Runs the jobs; `say(job, verdict)`. */
export async function pages(jobs, say) {
  const executablePath = chromiumPath();
  if (executablePath === undefined) throw new Error('run `npm run engines` first');
  const browser = await chromium.launch({ executablePath });
  const context = await browser.newContext({ javaScriptEnabled: false, viewport: { width: 1280, height: 800 } });
  await context.route(/^https?:/, (route) => route.abort());
  const page = await context.newPage();
  try {
    for (const job of jobs) say(job.one, { file: job.file, ...(await judged(page, job).catch(failed)) });
  } finally {
    await browser.close();
  }
}

const failed = (error) => ({ answer: 'not run', reason: String(error.message).split('\n')[0] });

async function judged(page, { one, file }) {
  const after = one.files.get(file);
  const shown = await rendered(one, file, after);
  if (typeof shown !== 'string') return { answer: 'not run', reason: shown.reason };
  const before = one.project.files.read(file).text;
  const at = join(one.dir, dirname(file));
  const [was, is] = [await seen(page, at, before), await seen(page, at, withBody(after, shown))];
  for (const part of ['text', 'boxes']) {
    const i = was[part].findIndex((line, n) => line !== is[part][n]);
    const differs =
      i >= 0 ? i : was[part].length !== is[part].length ? Math.min(was[part].length, is[part].length) : -1;
    if (differs >= 0)
      return { answer: 'different', where: `${part} ${differs}`, before: was[part][differs], after: is[part][differs] };
  }
  return { answer: 'same', reached: was.boxes.length, total: was.boxes.length };
}

/** The page with what is rendered in the place where the components are mounted. */
function withBody(page, shown) {
  return page
    .replace(
      /<script type="module">(?:(?!<\/script>)[\s\S])*?\.(?:mount|render)\((?:(?!<\/script>)[\s\S])*?<\/script>/,
      '',
    )
    .replace(/<div id="([\w-]+)"><\/div>/, () => shown);
}

async function rendered({ files, project }, file, after) {
  const script =
    /<script type="module">((?:(?!<\/script>)[\s\S])*?(?:createApp|createRoot)(?:(?!<\/script>)[\s\S])*?)<\/script>/.exec(
      after,
    )?.[1];
  const found = [...(script ?? '').matchAll(ROOT)].map((m) => [m[1] ?? m[3], m[2] ?? m[4]]).at(-1);
  if (!found) return { reason: 'no component is mounted' };
  const [clause, source] = found;
  const text = (path) => files.get(path) ?? project.files.read(path)?.text;
  const resolved = (from, to) => {
    const base = posix.join(posix.dirname(from), to);
    return ['', '.jsx', '.tsx', '.vue', '.js'].map((end) => base + end).find((path) => text(path) !== undefined);
  };
  const name = clause.replace(/[{} ]/g, '');
  const vue = resolved(file, source)?.endsWith('.vue');
  const entry = vue
    ? `import { createSSRApp } from 'vue'; import { renderToString } from '@vue/server-renderer'; import ${clause} from '${source}'; export default () => renderToString(createSSRApp(${name}));`
    : `import { createElement } from 'react'; import { renderToStaticMarkup } from 'react-dom/server'; import ${clause} from '${source}'; export default () => renderToStaticMarkup(createElement(${name}));`;
  const overlay = {
    name: 'overlay',
    setup(builder) {
      builder.onResolve({ filter: /^\./ }, ({ path, importer }) => {
        const at = resolved(importer === '<stdin>' ? file : importer, path);
        return at === undefined ? { errors: [{ text: `${path} is not there` }] } : { path: at, namespace: 'project' };
      });
      builder.onResolve({ filter: /^\w|^@/, namespace: 'project' }, ({ path }) => ({ path, external: true }));
      builder.onLoad({ filter: /.*/, namespace: 'project' }, async ({ path }) => {
        if (!path.endsWith('.vue')) return { contents: text(path), loader: path.endsWith('.tsx') ? 'tsx' : 'jsx' };
        const { parse, compileScript, compileTemplate } = await import('@vue/compiler-sfc');
        const { descriptor } = parse(text(path), { filename: path });
        const setup = descriptor.scriptSetup ?? descriptor.script;
        if (setup)
          return {
            contents: compileScript(descriptor, {
              id: path,
              inlineTemplate: true,
              templateOptions: {
                ssr: true,
                ssrCssVars: [],
                transformAssetUrls: false,
                compilerOptions: { whitespace: 'condense' },
              },
            }).content,
            loader: 'js',
          };
        const { code } = compileTemplate({
          source: descriptor.template.content,
          filename: path,
          id: path,
          ssr: true,
          ssrCssVars: [],
          transformAssetUrls: false,
        });
        return { contents: `${code}\nexport default { ssrRender };`, loader: 'js' };
      });
    },
  };
  const out = join(process.cwd(), 'node_modules', `.verkstad-page-${process.pid}-${Date.now()}.mjs`);
  try {
    const result = await build({
      stdin: { contents: entry, resolveDir: process.cwd(), loader: 'js' },
      bundle: true,
      format: 'esm',
      platform: 'node',
      packages: 'external',
      jsx: 'automatic',
      write: false,
      logLevel: 'silent',
      plugins: [overlay],
    });
    writeFileSync(out, result.outputFiles[0].text);
    const module = await import(pathToFileURL(out).href);
    // Marks of the renderer that no browser shows.
    return (await module.default()).replace(/<!--[\s\S]*?-->/g, '');
  } finally {
    if (existsSync(out)) rmSync(out);
  }
}

async function seen(page, folder, html) {
  const at = join(tmpdir(), `verkstad-page-${process.pid}.html`);
  const base = `<base href="${pathToFileURL(folder).href}/">`;
  // What a script writes where it stands is an expression afterwards.
  const year = /<script>\s*document\.write\(\s*new Date\(\)\.getFullYear\(\)\s*\);?\s*<\/script>/gi;
  const plain = html.replace(/<!--[\s\S]*?-->/g, '').replace(year, String(new Date().getFullYear()));
  const based = /<head[^>]*>/i.test(plain) ? plain.replace(/<head[^>]*>/i, (head) => head + base) : base + plain;
  try {
    writeFileSync(at, based);
    await page.goto(pathToFileURL(at).href, { waitUntil: 'load' });
    const handle = await page.locator('body');
    const text = (await handle.innerText()).split('\n');
    const boxes = await handle.evaluate((body) =>
      [...body.querySelectorAll('*:not(script):not(link):not(style):not(noscript)')].map((e) => {
        const { x, y, width, height } = e.getBoundingClientRect();
        const names = [...e.attributes]
          .map((a) => a.name)
          .sort()
          .join(' ');
        return `${e.tagName} ${[x, y, width, height].map(Math.round).join(' ')} ${names}`;
      }),
    );
    return { text, boxes };
  } finally {
    rmSync(at, { force: true });
  }
}
