/**
 * The Vue demo, made smaller by the steps that its README section names: proven, rendered the same by the server renderer,
 * and styled the same in a real browser.
 */
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, extname, join as joined } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  applied,
  extract,
  findRepeats,
  isProblem,
  join,
  OverlayFiles,
  part,
  Project,
  textOf,
  unify,
  type FileSet,
} from '../src/core/index.js';
import { CHROMIUM, openBrowser } from './support/browser.js';
import { filesBelow, memoryProject } from './support/projects.js';
import { compileErrors, renderVue } from './support/vue.js';

const HOME = fileURLToPath(new URL('../examples/apiary-vue', import.meta.url));
const start = new Map([...filesBelow(HOME)].filter(([path]) => !/node_modules|dist|\.verkstad/.test(path)));

type Step = (project: Project) => ReturnType<typeof extract | typeof unify | typeof join | typeof part>;

function cut(path: string, from: string, to: string, name: string): Step {
  return (project) => {
    const text = textOf(project.files, path)!;
    const first = text.indexOf(from);
    return extract(project, { path, name, range: { start: first, end: text.indexOf(to, first) + to.length } });
  };
}

function merge(found: string, name: string): Step {
  return (project) => {
    const repeats = findRepeats(project);
    const repeat = repeats.groups.find((g) => g.name === found)!;
    return unify(project, { repeats, repeat, name });
  };
}

const steps: readonly (readonly [string, Step])[] = [
  ['three figures', merge('Figure', 'ApiaryFigure')],
  ['three dialogs', merge('Dialog', 'ApiaryDialog')],
  ['the row of a list', cut('src/App.vue', '<li\n', '</li>', 'HiveItem')],
  ['a search with a model', cut('src/App.vue', '<aside', '</aside>', 'HiveSearch')],
  ['a form under a condition', cut('src/App.vue', '<section v-if="hive"', '</section>', 'HiveDetail')],
  ['a footer of the options component', cut('src/HarvestBoard.vue', '<footer', '</footer>', 'HarvestSum')],
  ['a page with its templates in it', (at) => join(at, 'weighing.html')],
  ['a component in three files', (at) => part(at, 'src/HarvestBoard.vue')],
  ['the same in one again', (at) => join(at, 'src/HarvestBoard.vue')],
];

let project = memoryProject(Object.fromEntries(start));
let html = '';

beforeAll(async () => {
  html = await renderVue(project.files, 'src/App.vue', {});
});

describe('the Vue demo', () => {
  it.each(steps)('%s', async (_, step) => {
    const change = step(project);
    if (isProblem(change)) throw new Error(`${change.code}: ${change.message}`);
    expect(change.proof).toMatchObject({ answer: 'same' });
    const files = applied(project.files, change);
    expect(
      compileErrors(
        files,
        change.files.map((f) => f.path),
      ),
    ).toEqual([]);
    expect(await renderVue(files, 'src/App.vue', {})).toBe(html);
    project = new Project(files, project.ports);
  });

  it.runIf(CHROMIUM)(
    'every element looks as before, in a real browser',
    async () => {
      const [before, after] = [
        await looks(new OverlayFiles(memoryProject(Object.fromEntries(start)).files, new Map())),
        await looks(project.files),
      ];
      expect(before.length).toBeGreaterThan(60);
      expect(after).toEqual(before);
    },
    120_000,
  );

  it.runIf(CHROMIUM)(
    'the page whose templates are files now shows and does what it did',
    async () => {
      const weigh = ['.scale > :nth-child(2) button', '.scale > :nth-child(3) button'];
      const before = await looks(memoryProject(Object.fromEntries(start)).files, 'weighing.html', weigh);
      expect(before.length).toBeGreaterThan(10);
      expect(await looks(project.files, 'weighing.html', weigh)).toEqual(before);
    },
    120_000,
  );
});

const folders: string[] = [];
afterAll(() => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

const OPEN = ['.hives > :nth-child(3)', '#figure-lightest'];

/** Texts and computed styles of all elements of a built page, in order, after some clicks. */
async function looks(files: FileSet, path = '', clicks: readonly string[] = OPEN): Promise<unknown[]> {
  const folder = mkdtempSync(joined(tmpdir(), 'verkstad-look-'));
  folders.push(folder);
  for (const path of files.list()) {
    mkdirSync(dirname(joined(folder, path)), { recursive: true });
    writeFileSync(joined(folder, path), textOf(files, path)!);
  }
  symlinkSync(fileURLToPath(new URL('../node_modules', import.meta.url)), joined(folder, 'node_modules'), 'dir');
  await build({ root: folder, logLevel: 'silent' });
  const server = await serve(joined(folder, 'dist'));
  const browser = await openBrowser();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`http://127.0.0.1:${(server.address() as { port: number }).port}/${path}`);
    for (const selector of clicks) await page.click(selector);
    return await page.evaluate(`[...document.querySelectorAll('body *:not(script)')].map((element) => {
      const style = getComputedStyle(element);
      return [element.tagName, element.children.length ? '' : element.textContent, ...[...style].filter((name) => !name.startsWith('--')).map((name) => name + ':' + style.getPropertyValue(name))];
    })`);
  } finally {
    await browser.close();
    server.close();
  }
}

const TYPES: Record<string, string> = { '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css' };

function serve(folder: string): Promise<Server> {
  const server = createServer((request, response) => {
    const path = joined(folder, request.url === '/' ? 'index.html' : request.url!.split('?')[0]!);
    readFile(path).then(
      (body) => response.setHeader('content-type', TYPES[extname(path)] ?? 'application/octet-stream').end(body),
      () => response.writeHead(404).end(),
    );
  });
  return new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve(server)));
}
