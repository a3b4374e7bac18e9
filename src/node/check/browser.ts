/**
 * The level `browser`: both versions built by the project's own Vite, served on loopback, and tried out in Chromium at a
 * fixed size, with time, chance and network fixed.
 */
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { dirname, extname, join, relative, sep } from 'node:path';
import type { Browser } from 'playwright-core';
import { globSync } from 'tinyglobby';
import { NOT_PROJECT, type Contents } from './before.js';
import { chromiumPath, HOW_TO_GET_CHROMIUM } from './engines.js';
import { Explorer, type Budget, type Found } from './explore.js';
import { Pair, type Told } from './pair.js';
import { Pairs } from './pairs.js';
import { HOW_TO_GET_BROWSER_PACKAGES, importFrom, importPeer } from '../peers.js';
import { answerOf, type Difference, type LevelReport } from './report.js';
import { BLANK, Side, type Responses } from './side.js';

export interface BrowserOptions {
  /** At most that many actions, over all pages. */
  readonly steps: number;
  /** At most about that long. */
  readonly seconds: number;
}

export interface BrowserRequest extends BrowserOptions {
  readonly root: string;
  readonly contents: Contents;
}

const FOLDER = '.verkstad/check';
/** What an application is answered by others, by `METHOD url`. */
export const RESPONSES = 'verkstad.responses.json';

/** As root, offline, and the same every time. */
/** What was kept from leaving, as far as a line holds it. */
function someOf(blocked: readonly string[]): string {
  const more = blocked.length - MOST_NAMED;
  return blocked.slice(0, MOST_NAMED).join(', ') + (more > 0 ? ` and ${more} more` : '');
}
const MOST_NAMED = 6;

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // No name is looked up, for connections that are opened ahead neither; only this machine is there.
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
  '--dns-prefetch-disable',
  '--no-pings',
  '--webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--force-webrtc-ip-handling-policy',
  '--font-render-hinting=none',
  '--force-color-profile=srgb',
];

export async function checkBrowser(request: BrowserRequest): Promise<LevelReport> {
  const { root } = request;
  const nothing = (why: string): LevelReport => ({
    level: 'browser',
    answer: 'unchecked',
    compared: [],
    figures: '',
    differences: [],
    left: [{ what: 'all pages', why }],
  });
  const executablePath = chromiumPath();
  if (executablePath === undefined) return nothing(`no browser is here: ${HOW_TO_GET_CHROMIUM}`);
  const driver = await driverFor(root);
  if (!driver) return nothing(HOW_TO_GET_BROWSER_PACKAGES);
  const responses = readResponses(root);
  if (typeof responses === 'string') return nothing(responses);
  const folder = join(root, FOLDER);
  const work = join(folder, 'work');
  rmSync(folder, { recursive: true, force: true });
  const servers: Server[] = [];
  let browser: Browser | undefined;
  try {
    const built = await buildBoth(request, work);
    if (typeof built === 'string') return nothing(built);
    const origins: string[] = [];
    for (const dist of built) {
      const server = await serve(dist);
      servers.push(server);
      origins.push(`http://127.0.0.1:${(server.address() as AddressInfo).port}`);
    }
    browser = await driver.chromium.launch({ executablePath, args: FLAGS });
    return await explored(request, { browser, driver, built, origins: [origins[0]!, origins[1]!], responses });
  } finally {
    await browser?.close();
    for (const server of servers) server.close();
    rmSync(work, { recursive: true, force: true });
  }
}

/** The packages that drive a browser and compare its pictures. */
interface Driver {
  readonly chromium: (typeof import('playwright-core'))['chromium'];
  readonly PNG: (typeof import('pngjs'))['PNG'];
  readonly pixelmatch: (typeof import('pixelmatch'))['default'];
}

async function driverFor(root: string): Promise<Driver | undefined> {
  const playwright = await importPeer<typeof import('playwright-core')>(root, 'playwright-core');
  const png = await importPeer<typeof import('pngjs')>(root, 'pngjs');
  const pixelmatch = await importPeer<typeof import('pixelmatch')>(root, 'pixelmatch');
  if (!playwright || !png || !pixelmatch) return undefined;
  return { chromium: playwright.chromium, PNG: png.PNG, pixelmatch: pixelmatch.default };
}

interface Ready {
  readonly browser: Browser;
  readonly driver: Driver;
  /** The folders that were built. */
  readonly built: readonly [string, string];
  readonly origins: readonly [string, string];
  readonly responses: Responses;
}

async function explored({ root, steps, seconds }: BrowserRequest, ready: Ready): Promise<LevelReport> {
  const { browser, driver, built, origins, responses } = ready;
  const blocked = new Set<string>();
  const pages = globSync('**/*.html', { cwd: built[0] }).sort();
  const pictures = new Pictures(root, driver);
  const differences: Difference[] = [];
  const left: { what: string; why: string }[] = [];
  const sum = { states: 0, targets: 0, actions: 0 };
  const end = Date.now() + seconds * 1000;
  for (const [i, page] of pages.entries()) {
    if (!existsSync(join(built[1], page))) {
      differences.push({ level: 'browser', what: page, words: 'the page is gone' });
      continue;
    }
    const entry = page === 'index.html' ? '/' : `/${page}`;
    const start = (origin: string) => Side.start(browser, origin, responses, blocked);
    const pairsOf = (other: string) =>
      new Pairs(async () => new Pair(...(await Promise.all([start(origins[0]), start(other)]))), entry);
    const [pairs, twins] = [pairsOf(origins[1]), pairsOf(origins[0])];
    // What one page leaves over is for the next ones.
    const share = Math.ceil((steps - sum.actions) / (pages.length - i));
    const until = Date.now() + (end - Date.now()) / (pages.length - i);
    const budget: Budget = { steps: share, end: until };
    const pixels = (pair: Pair) => pictures.compare(pair);
    const result = await new Explorer({ budget, pairs, twins, pixels }).run().catch((error: unknown) => {
      if ((error as Error).name !== 'TimeoutError') throw error;
      return (error as Error).message.split('\n')[0]!;
    });
    await Promise.all([pairs.close(), twins.close()]);
    if (typeof result === 'string') {
      left.push({ what: page, why: `it did not answer in time: ${result}` });
      continue;
    }
    for (const key of ['states', 'targets', 'actions'] as const) sum[key] += result[key];
    for (const found of result.found) differences.push(await told(page, found, pictures));
    for (const { words, path, late } of result.unsteady) {
      const way = path.length > 0 ? `, after ${shortened(path.map((a) => a.words)).join(' → ')}` : '';
      left.push({ what: `${page}${way}`, why: late ? words : `it is not the same twice, even before: ${words}` });
    }
    if (result.more)
      left.push({ what: `${page}, deeper`, why: 'the budget was spent; --steps and --seconds give more' });
  }
  if (blocked.size > 0)
    left.push({
      what: someOf([...blocked]),
      why: `it leaves the application; say what it is answered in ${RESPONSES}`,
    });
  const counted = [
    count(pages.length, 'page'),
    count(sum.states, 'state'),
    count(sum.targets, 'target'),
    count(sum.actions, 'action'),
  ];
  // Where the first look differs nothing was tried.
  const figures = counted.filter((words) => !words.startsWith('0 ')).join(', ');
  // A budget is a choice: what it left out is said, and does not make the rest unchecked.
  const open = left.filter((l) => !l.what.endsWith(', deeper'));
  return { level: 'browser', answer: answerOf(pages, differences, open), compared: pages, figures, differences, left };
}

function count(n: number, word: string): string {
  return `${n} ${word}${n === 1 ? '' : 's'}`;
}

async function told(page: string, { told: difference, path, pair }: Found, pictures: Pictures): Promise<Difference> {
  const pair_ = await pictures.keep(pair, difference);
  await pair.close();
  const steps = shortened(path.map((a) => a.words));
  return { level: 'browser', what: page, words: difference.words, steps, ...(pair_ ? { pictures: pair_ } : {}) };
}

/** `press Tab ×7` for seven of them. */
function shortened(steps: readonly string[]): string[] {
  const out: { words: string; times: number }[] = [];
  for (const words of steps) {
    const last = out.at(-1);
    if (last?.words === words) last.times++;
    else out.push({ words, times: 1 });
  }
  return out.map(({ words, times }) => (times > 1 ? `${words} ×${times}` : words));
}

function readResponses(root: string): Responses | string {
  const path = join(root, RESPONSES);
  if (!existsSync(path)) return {};
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as Responses;
  } catch (error) {
    return `${RESPONSES} is no JSON: ${(error as Error).message}`;
  }
}

/** Both versions copied beside one another and built; why not, where that fails. */
async function buildBoth({ root, contents }: BrowserRequest, work: string): Promise<[string, string] | string> {
  const vite = await importFrom<typeof import('vite')>(root, 'vite');
  if (!vite) return 'vite is not installed in the project';
  const built: string[] = [];
  const { NODE_ENV } = process.env;
  // With the warnings of the frameworks.
  process.env.NODE_ENV = 'development';
  try {
    for (const side of ['before', 'after'] as const) {
      const copy = join(work, side);
      copyProject(root, copy);
      if (side === 'before') layOver(copy, contents);
      const outDir = join(work, `${side}-built`);
      try {
        await vite.build({
          root: copy,
          configLoader: 'runner',
          mode: 'development',
          logLevel: 'silent',
          cacheDir: join(work, 'cache'),
          build: {
            outDir,
            emptyOutDir: true,
            minify: false,
            cssMinify: false,
            sourcemap: false,
            reportCompressedSize: false,
          },
        });
      } catch (error) {
        return `the version ${side === 'before' ? 'before' : 'of now'} is not built: ${(error as Error).message.split('\n')[0]!}`;
      }
      built.push(outDir);
    }
  } finally {
    if (NODE_ENV === undefined) delete process.env.NODE_ENV;
    else process.env.NODE_ENV = NODE_ENV;
  }
  return [built[0]!, built[1]!];
}

function copyProject(root: string, to: string): void {
  const options = { cwd: root, ignore: NOT_PROJECT, dot: true, expandDirectories: false, followSymbolicLinks: false };
  for (const path of globSync('**/*', options)) {
    mkdirSync(dirname(join(to, path)), { recursive: true });
    cpSync(join(root, path), join(to, path));
  }
}

function layOver(copy: string, contents: Contents): void {
  for (const [path, was] of contents) {
    const at = join(copy, path);
    if (was === undefined) rmSync(at, { force: true });
    else {
      mkdirSync(dirname(at), { recursive: true });
      writeFileSync(at, was);
    }
  }
}

const TYPES: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.mjs': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.json': 'application/json',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.jpg': 'image/jpeg',
  '.webp': 'image/webp',
  '.woff2': 'font/woff2',
};

/** A built folder on a free port of loopback; paths without an extension are the application's own. */
function serve(folder: string): Promise<Server> {
  const server = createServer((request, response) => {
    const path = decodeURIComponent(new URL(request.url ?? '/', 'http://app').pathname);
    const at = join(folder, path);
    if (path === BLANK) {
      response.writeHead(200, { 'content-type': TYPES['.html'] }).end();
      return;
    }
    const isInside = relative(folder, at).split(sep)[0] !== '..';
    const file = [at, join(at, 'index.html'), ...(extname(path) ? [] : [join(folder, 'index.html')])].find(
      (f) => isInside && existsSync(f) && extname(f) !== '',
    );
    if (file === undefined) {
      response.writeHead(404).end();
      return;
    }
    response.writeHead(200, {
      'content-type': TYPES[extname(file)] ?? 'application/octet-stream',
      'cache-control': 'no-store',
    });
    response.end(readFileSync(file));
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => resolve(server));
  });
}

/** Pictures of both sides: compared dot by dot, and kept where something differs. */
class Pictures {
  #kept = 0;

  constructor(
    readonly root: string,
    readonly driver: Driver,
  ) {}

  async compare(pair: Pair): Promise<Told | undefined> {
    const [was, is] = await Promise.all([pair.before.picture(), pair.after.picture()]);
    if (was.equals(is)) return undefined;
    const { PNG, pixelmatch } = this.driver;
    const [a, b] = [PNG.sync.read(was), PNG.sync.read(is)];
    if (a.width !== b.width || a.height !== b.height) return { words: 'the page has another size' };
    const marks = new PNG({ width: a.width, height: a.height });
    const dots = pixelmatch(a.data, b.data, marks.data, a.width, a.height, { threshold: 0.1, diffMask: true });
    if (dots === 0) return undefined;
    const box = boxOf(marks.data, a.width);
    return {
      words: `${count(dots, 'dot')} of the picture differ, between ${box.left},${box.top} and ${box.right},${box.bottom}`,
    };
  }

  /** A picture of each side with the place marked. */
  async keep(pair: Pair, { before, after }: Told): Promise<[string, string] | undefined> {
    this.#kept++;
    const number = String(this.#kept).padStart(2, '0');
    const take = async (side: Side, node: number | undefined, name: string) => {
      const path = `${FOLDER}/${number}-${name}.png`;
      if (node !== undefined) await side.mark(node);
      mkdirSync(join(this.root, FOLDER), { recursive: true });
      writeFileSync(join(this.root, path), await side.picture());
      return path;
    };
    try {
      return [await take(pair.before, before ?? after, 'before'), await take(pair.after, after ?? before, 'now')];
    } catch {
      return undefined;
    }
  }
}

function boxOf(marks: Uint8Array, width: number): { left: number; top: number; right: number; bottom: number } {
  const box = { left: Infinity, top: Infinity, right: 0, bottom: 0 };
  for (let i = 3; i < marks.length; i += 4) {
    if (marks[i] === 0) continue;
    const [x, y] = [((i - 3) / 4) % width, Math.floor((i - 3) / 4 / width)];
    box.left = Math.min(box.left, x);
    box.top = Math.min(box.top, y);
    box.right = Math.max(box.right, x);
    box.bottom = Math.max(box.bottom, y);
  }
  return box;
}
