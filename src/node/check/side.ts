/** One version of an application in a page of its own: what is done to it, what it says, asks and shows. Time, chance and network are fixed. */
import type { Browser, BrowserContext, CDPSession, ElementHandle, Page, Request, Route } from 'playwright-core';
import { IN_PAGE } from './page.js';
import type { Seen } from './seen.js';

/** Answers for requests that leave the application's own server, by `METHOD url`. */
export type Responses = Readonly<
  Record<string, { readonly status?: number; readonly json?: unknown; readonly text?: string }>
>;

export interface Action {
  readonly kind: 'click' | 'type' | 'choose' | 'press';
  /** Index of the element in what is seen. */
  readonly node: number;
  /** For people: `click the button "Remove"`. */
  readonly words: string;
  /** What is typed, chosen or pressed. */
  readonly value?: string;
}

/** Path of an empty page of the application's origin. */
export const BLANK = '/__verkstad_blank';
const SIZE = { width: 1280, height: 800 };
const START = new Date('2026-05-12T09:00:00Z');
/** Milliseconds; whole frames of 16. */
const ROUND = 100_000;
/** Real time for what has to happen; generous, for the machine may be slow. */
const PATIENCE = 20_000;
/** How long an answer holds up the next one; streams never end. */
const DATA_PATIENCE = 2000;

/** The same numbers at every start. */
const SEEDED = `(() => {
  let state = 42;
  Math.random = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  let made = 0;
  if (globalThis.crypto) crypto.randomUUID = () => '00000000-0000-4000-8000-' + String(++made).padStart(12, '0');
})();`;

/** One version in a page of its own. */
export class Side {
  readonly #said: string[] = [];
  readonly #asked: { readonly name: string; readonly isData: boolean }[] = [];
  #open = 0;
  /** Something was asked or answered since it was last looked whether the page is quiet. */
  #heardOf = false;
  #agreed = false;
  /** The last of the data that was asked for, when it has come and was read. */
  #data: Promise<void> = Promise.resolve();

  private constructor(
    readonly page: Page,
    readonly context: BrowserContext,
    readonly devtools: CDPSession,
    readonly origin: string,
  ) {}

  static async start(browser: Browser, origin: string, responses: Responses, blocked: Set<string>): Promise<Side> {
    const context = await browser.newContext({
      viewport: SIZE,
      reducedMotion: 'reduce',
      colorScheme: 'light',
      locale: 'en-GB',
      timezoneId: 'UTC',
      serviceWorkers: 'block',
    });
    await context.exposeBinding(BLOCKED, (_, what: string) => void blocked.add(what.slice(0, 200)));
    await context.addInitScript(CLOSED);
    await context.addInitScript(SEEDED);
    await context.addInitScript(IN_PAGE);
    const page = await context.newPage();
    page.setDefaultTimeout(PATIENCE);
    // It stands still from here on, at a time that is far enough ahead for any machine.
    await page.clock.install({ time: START });
    await page.clock.pauseAt(new Date(START.getTime() + 3_600_000));
    const side = new Side(page, context, await context.newCDPSession(page), origin);
    await context.route('**/*', (route) => side.#inTurn(route, () => answer(route, origin, responses, blocked)));
    await context.routeWebSocket('**/*', (socket) => {
      blocked.add(`WebSocket ${socket.url()}`);
      void socket.close({ code: 1006 }).catch(() => undefined);
    });
    const plain = (text: string) => text.replaceAll(origin, 'http://app');
    page.on('console', (message) => side.#said.push(`${message.type()}: ${plainWarning(plain(message.text()))}`));
    page.on('pageerror', (error) => side.#said.push(`error: ${plain(error.message.split('\n')[0]!)}`));
    page.on('dialog', (dialog) => {
      side.#said.push(`${dialog.type()}: ${dialog.message()}`);
      void dialog.accept();
    });
    page.on('request', (request) => {
      side.#open++;
      side.#heardOf = true;
      side.#asked.push({ name: plain(nameOfRequest(request)), isData: isData(request) });
    });
    const done = () => {
      side.#open--;
      side.#heardOf = true;
    };
    page.on('requestfinished', done);
    page.on('requestfailed', done);
    await page.goto(origin + BLANK);
    await wind(page);
    side.agree();
    return side;
  }

  /** What was written to the console since `agree`. */
  get said(): readonly string[] {
    return this.#said;
  }

  /** The data that were asked for since `agree`, in their order. */
  get asked(): readonly string[] {
    return this.#asked.filter((one) => one.isData).map((one) => one.name);
  }

  /** Pictures and the like; when it asks for one is up to the browser. Scripts and styles of the build have names of their own. */
  get loaded(): readonly string[] {
    const others = this.#asked.filter((one) => !one.isData).map((one) => one.name);
    return others.filter((name) => !/\.(?:js|css|map|ico)(?:\?|$)/.test(name)).sort();
  }

  /** What was seen, said and asked last is the same on both sides, or is not looked at. */
  agree(): void {
    this.#agreed = true;
    this.#said.length = 0;
    this.#asked.length = 0;
  }

  /**
   * Waits until nothing is on its way, what waits for a turn has had one, and pictures, fonts and movements are at their
   * end: those go by the real time, which is never the same on both. A fingerprint of the document as it is then.
   */
  async quiet(): Promise<string> {
    const end = Date.now() + PATIENCE;
    let last: string | undefined;
    while (Date.now() < end) {
      while (this.#open > 0 && Date.now() < end) await pause(5);
      const mark = await this.inPage(() => this.#rest());
      // An answer that has come is not yet one that was read.
      if (mark !== undefined && !this.#heardOf && (last === undefined || last === mark)) return mark;
      this.#heardOf = false;
      last = mark;
      await pause(20);
    }
    return '';
  }

  /**
   * Data come one at a time and in the order in which they were asked for: which answer is there first, and what is drawn
   * together because of that, would be another matter each time.
   */
  async #inTurn(route: Route, reply: () => Promise<void>): Promise<void> {
    const request = route.request();
    if (!isData(request)) return reply();
    const read = async () => {
      await (await request.response())?.finished();
      await this.#rest();
    };
    this.#data = this.#data.then(async () => {
      // A page that was left does not wait for its answers any more.
      await reply().catch(() => undefined);
      await Promise.race([read().catch(() => undefined), pause(DATA_PATIENCE)]);
    });
    return this.#data;
  }

  #rest(): Promise<string | undefined> {
    return this.page.evaluate('__verkstad.rest()');
  }

  /** Asks the page; again where it was left for another one meanwhile. */
  async inPage<T>(ask: () => Promise<T>): Promise<T> {
    for (let tries = 0; ; tries++) {
      try {
        return await ask();
      } catch (error) {
        if (tries > 8 || !/context was destroyed|navigat/i.test((error as Error).message)) throw error;
        await this.page.waitForLoadState('load');
      }
    }
  }

  async see(styled: boolean): Promise<Seen> {
    // As text: a page has thousands of values, and one string comes over much faster.
    const call = `JSON.stringify(__verkstad.look(${styled}, ${this.#agreed}))`;
    const seen = await this.inPage(() => this.page.evaluate<string>(call));
    this.#agreed = false;
    return JSON.parse(seen) as Seen;
  }

  styleAt(node: number): Promise<Record<string, string>> {
    return this.page.evaluate(`__verkstad.styleAt(${node})`);
  }

  /** Draws a frame around an element, and brings it into sight. */
  async mark(node: number): Promise<void> {
    await this.page.evaluate(`__verkstad.mark(${node})`);
  }

  /** The tree that assistive technology is given, as text. */
  heard(): Promise<string> {
    return this.inPage(() => this.page.locator('body').ariaSnapshot());
  }

  picture(): Promise<Buffer> {
    return this.page.screenshot({ animations: 'disabled', caret: 'hide', scale: 'css', timeout: PATIENCE });
  }

  async perform({ kind, node, value }: Action): Promise<void> {
    const handle = await this.page.evaluateHandle(`__verkstad.elements()[${node}]`);
    const element = handle.asElement() as ElementHandle<never>;
    try {
      if (kind === 'click') await element.click({ timeout: 4000, noWaitAfter: true });
      else if (kind === 'choose') await element.selectOption(value!, { timeout: 4000, noWaitAfter: true });
      else {
        await element.focus();
        if (kind === 'press') await this.page.keyboard.press(value!);
        else await this.page.keyboard.insertText(value!);
      }
    } finally {
      await element.dispose();
    }
  }

  /** Back to a clean start: nothing stored, no history, the clock at its start. Much faster than another window. */
  async clear(): Promise<void> {
    for (const other of this.context.pages()) if (other !== this.page) await other.close();
    await this.page.goto(this.origin + BLANK);
    await this.page.evaluate('sessionStorage.clear()');
    await this.devtools.send('Storage.clearDataForOrigin', { origin: this.origin, storageTypes: 'all' });
    await this.devtools.send('Page.resetNavigationHistory');
    await this.context.clearCookies();
    await wind(this.page);
    this.agree();
  }

  async close(): Promise<void> {
    await this.context.close();
  }
}

/**
 * Sets the clock to its start, on both sides to the millisecond. The time of day is not all of it: what `performance.now`
 * counts goes on, with the real time that passed before the clock stood still, and frames are drawn by that.
 */
async function wind(page: Page): Promise<void> {
  const counted = await page.evaluate<number>('performance.now()');
  await page.clock.runFor(Math.ceil((counted + 1) / ROUND) * ROUND - counted);
  await page.clock.setSystemTime(START);
}

export function pause(milliseconds: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, milliseconds));
}

function isData(request: Request): boolean {
  return /^(?:fetch|xhr)$/.test(request.resourceType());
}

function nameOfRequest(request: Request): string {
  return `${request.method()} ${request.url()}`.replace(/-[A-Za-z0-9_-]{8}\./, '.');
}

/** Warnings of frameworks name the component that renders; that may well be another one now. */
function plainWarning(text: string): string {
  return text
    .split('\n')[0]!
    .replace(/\s*Check the (?:top-level )?render (?:call|method).*/s, '')
    .replace(/\bat <[^>]*>.*/s, '')
    .slice(0, 240);
}

/** By this the page tells what it was kept from. */
const BLOCKED = 'verkstadBlocked';
/** Ways out of the page that are no requests: none of them is there, and who takes one is told so. */
const CLOSED = `(() => {
  const tell = window.${BLOCKED};
  delete window.${BLOCKED};
  for (const name of ['RTCPeerConnection', 'webkitRTCPeerConnection', 'WebTransport']) {
    if (!(name in window)) continue;
    window[name] = function (target) {
      tell(name + (typeof target === 'string' ? ' ' + target : ''));
      throw new DOMException(name + ' is not there while a page is checked', 'NotAllowedError');
    };
  }
})()`;

async function answer(route: Route, origin: string, responses: Responses, blocked: Set<string>): Promise<void> {
  const request = route.request();
  const url = request.url();
  if (url.startsWith(`${origin}/`) || /^(?:data|blob):/.test(url)) return route.continue();
  const known = responses[`${request.method()} ${url}`];
  if (known) {
    const body = known.json === undefined ? (known.text ?? '') : JSON.stringify(known.json);
    const contentType = known.json === undefined ? 'text/plain' : 'application/json';
    const headers = { 'access-control-allow-origin': '*' };
    return route.fulfill({ status: known.status ?? 200, body, contentType, headers });
  }
  blocked.add(`${request.method()} ${url}`);
  return route.abort();
}
