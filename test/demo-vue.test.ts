/**
 * The Vue demo, made smaller by the steps that its README section names: proven, rendered the same by the server renderer,
 * and styled the same in a real browser.
 */
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  applied,
  extract,
  findRepeats,
  isProblem,
  OverlayFiles,
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

type Step = (project: Project) => ReturnType<typeof extract> | ReturnType<typeof unify>;

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
});

const folders: string[] = [];
afterAll(() => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

/** Computed styles of all elements of the built page, in order; a dialog is opened first. */
async function looks(files: FileSet): Promise<unknown[]> {
  const folder = mkdtempSync(join(tmpdir(), 'verkstad-look-'));
  folders.push(folder);
  for (const path of files.list()) {
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), textOf(files, path)!);
  }
  symlinkSync(fileURLToPath(new URL('../node_modules', import.meta.url)), join(folder, 'node_modules'), 'dir');
  await build({ root: folder, logLevel: 'silent' });
  const server = await serve(join(folder, 'dist'));
  const browser = await openBrowser();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`http://127.0.0.1:${(server.address() as { port: number }).port}/`);
    await page.click('.hives > :nth-child(3)');
    await page.click('#figure-lightest');
    return await page.evaluate(`[...document.querySelectorAll('#app *')].map((element) => {
      const style = getComputedStyle(element);
      return [element.tagName, ...[...style].filter((name) => !name.startsWith('--')).map((name) => name + ':' + style.getPropertyValue(name))];
    })`);
  } finally {
    await browser.close();
    server.close();
  }
}

const TYPES: Record<string, string> = { '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css' };

function serve(folder: string): Promise<Server> {
  const server = createServer((request, response) => {
    const path = join(folder, request.url === '/' ? 'index.html' : request.url!.split('?')[0]!);
    readFile(path).then(
      (body) => response.setHeader('content-type', TYPES[extname(path)] ?? 'application/octet-stream').end(body),
      () => response.writeHead(404).end(),
    );
  });
  return new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve(server)));
}
