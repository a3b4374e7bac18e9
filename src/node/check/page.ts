/**
 * What runs in the checked page: how it is looked at, brought to rest and marked. It is put into every page as text, so
 * nothing here may use anything from outside of `PARTS`.
 */
import type { Seen, SeenNode } from './seen.js';

/** What the functions that run in the page use of it; the program itself knows no page. */
interface PageElement {
  readonly tagName: string;
  readonly parentElement: PageElement | null;
  readonly childNodes: Iterable<{ readonly nodeType: number; readonly textContent: string | null }>;
  readonly type?: string;
  readonly value?: string;
  readonly checked?: boolean;
  readonly open?: boolean;
  readonly selectedOptions?: Iterable<{ readonly value: string }>;
  getAttributeNames(): string[];
  getAttribute(name: string): string | null;
  scrollIntoView(options: object): void;
  getBoundingClientRect(): {
    readonly left: number;
    readonly top: number;
    readonly width: number;
    readonly height: number;
  };
  closest(selector: string): PageElement | null;
  append(child: PageElement): void;
  readonly style: { cssText: string };
  checkVisibility(options: object): boolean;
}
interface PageStyle extends Iterable<string> {
  readonly content: string;
  getPropertyValue(name: string): string;
}
declare const location: { readonly origin: string; readonly href: string };
declare const scrollX: number;
declare const scrollY: number;
declare const document: {
  readonly title: string;
  readonly activeElement: PageElement | null;
  readonly fonts: { readonly status: string };
  readonly images: Iterable<{ readonly complete: boolean; readonly loading: string }>;
  getAnimations(): PageMovement[];
  createElement(name: string): PageElement;
  readonly body: PageElement & {
    readonly outerHTML: string;
    querySelectorAll(selector: string): Iterable<PageElement>;
  };
};
interface PageMovement {
  readonly playState: string;
  currentTime: number | null;
  readonly effect: { getComputedTiming(): { readonly endTime: number } } | null;
  finish(): void;
  pause(): void;
}
declare class MessageChannel {
  readonly port1: { onmessage: () => void; close(): void };
  readonly port2: { postMessage(message: unknown): void };
}
declare class ResizeObserver {
  constructor(seen: () => void);
  observe(element: PageElement): void;
  disconnect(): void;
}
declare function getComputedStyle(element: PageElement, pseudo?: string): PageStyle;
declare const innerWidth: number;
declare const innerHeight: number;
/** What the page remembers of elements: their numbers, and what was seen last. */
declare const known: { readonly ids: WeakMap<object, number>; last: readonly object[]; next: number };

/** All that can be seen of, in document order; elements are called by their index in this. */
function elements(): PageElement[] {
  return [document.body, ...document.body.querySelectorAll('*')].filter(
    (e) => !/^(?:SCRIPT|STYLE|LINK|TEMPLATE|NOSCRIPT)$/.test(e.tagName),
  );
}

function hash(text: string): string {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return (h >>> 0).toString(36);
}

/**
 * Gives a turn to whatever waits for one, and brings movements to their end, or to their start where they have no end. A
 * fingerprint of the document; undefined where something is on its way even so.
 */
async function rest(): Promise<string | undefined> {
  await new Promise<void>((done) => {
    const { port1, port2 } = new MessageChannel();
    let turns = 0;
    port1.onmessage = () => {
      if (++turns < 12) return port2.postMessage(0);
      port1.close();
      done();
    };
    port2.postMessage(0);
  });
  const moving = document.getAnimations().filter((m) => m.playState === 'running');
  for (const movement of moving) {
    if (Number.isFinite(movement.effect?.getComputedTiming().endTime)) movement.finish();
    else {
      movement.pause();
      movement.currentTime = 0;
    }
  }
  const isLoading =
    document.fonts.status === 'loading' || [...document.images].some((i) => !i.complete && i.loading !== 'lazy');
  if (moving.length === 0 && !isLoading) return hash(`${document.title} ${document.body.outerHTML}`);
  // The end of a movement is told with the next frame. Frames of the page's own are held up with its clock; this one is not.
  await new Promise<void>((done) => {
    const frame = new ResizeObserver(() => {
      frame.disconnect();
      done();
    });
    frame.observe(document.body);
  });
  return undefined;
}

/**
 * Computed styles take most of the time, and are looked at only where that is wanted. `agreed`: what was seen last is the
 * same on both sides, and gets its numbers.
 */
function look(styled: boolean, agreed: boolean): Seen {
  if (agreed) for (const element of known.last) if (!known.ids.has(element)) known.ids.set(element, known.next++);
  // Custom properties are seen through those that use them, and stand in another order in each process.
  const properties = styled ? [...getComputedStyle(document.body)].filter((name) => !name.startsWith('--')) : [];
  const made = new Map<string, string>();
  const all = elements();
  known.last = all;
  const indexOf = new Map<PageElement, number>(all.map((e, i) => [e, i]));
  const nodes = all.map((element): SeenNode => {
    let text = '';
    for (const child of element.childNodes)
      text += child.nodeType === 3 ? (child.textContent ?? '') : child.nodeType === 1 ? '|' : '';
    const isStyled = styled && element.checkVisibility({});
    return {
      tag: element.tagName.toLowerCase(),
      parent: element.parentElement ? (indexOf.get(element.parentElement) ?? -1) : -1,
      attributes: attributesOf(element, made),
      text,
      held: heldBy(element),
      id: known.ids.get(element) ?? 0,
      style: isStyled
        ? hash([undefined, '::before', '::after'].map((p) => styleOf(element, p, properties)).join(''))
        : '',
      handlers: handlersOf(element),
      visible: element.checkVisibility({ opacityProperty: true, visibilityProperty: true }),
    };
  });
  return {
    url: location.href.replace(location.origin, ''),
    title: document.title,
    nodes,
    focus: document.activeElement ? (indexOf.get(document.activeElement) ?? -1) : -1,
    scroll: `${Math.round(scrollX)} ${Math.round(scrollY)}`,
  };
}

function styleOf(element: PageElement, pseudo: string | undefined, properties: readonly string[]): string {
  const style = getComputedStyle(element, pseudo);
  if (pseudo && (style.content === 'none' || style.content === 'normal')) return '';
  let text = pseudo ?? '';
  for (const name of properties) text += `${style.getPropertyValue(name)};`;
  return text.replaceAll(location.origin, 'http://app');
}

/** `made`: ids that a framework makes, and what they are called; they say where something stands in a tree of components. */
function attributesOf(element: PageElement, made: Map<string, string>): Record<string, string> {
  const plain = (value: string) =>
    value
      .replaceAll(location.origin, 'http://app')
      .replace(/([/\w.-]+)-[A-Za-z0-9_-]{8}\.(\w{2,5})\b/g, '$1.$2')
      .replace(/(?::r[0-9a-z]+:|«r[0-9a-z]+»|\b_[rR]_[0-9a-z]+_|\bv-\d+(?:-\d+)*\b)/g, (id) => {
        if (!made.has(id)) made.set(id, `made-${made.size}`);
        return made.get(id)!;
      });
  const attributes: Record<string, string> = {};
  for (const name of element.getAttributeNames().sort())
    if (!/^data-v-[0-9a-f]/.test(name)) attributes[name] = plain(element.getAttribute(name) ?? '');
  // The order of classes means nothing to anybody, and changes where they come from two components.
  if (attributes.class !== undefined) attributes.class = attributes.class.split(/\s+/).filter(Boolean).sort().join(' ');
  return attributes;
}

function handlersOf(element: PageElement): string {
  const names = new Set<string>();
  for (const key of Object.keys(element)) {
    if (!key.startsWith('__reactProps$')) continue;
    const props = (element as unknown as Record<string, Record<string, unknown>>)[key]!;
    for (const [name, value] of Object.entries(props))
      if (/^on[A-Z]/.test(name) && typeof value === 'function') names.add(name);
  }
  for (const key of Object.getOwnPropertySymbols(element)) {
    if (key.description !== '_vei') continue;
    const invokers = (element as unknown as Record<symbol, Record<string, unknown>>)[key]!;
    for (const [name, value] of Object.entries(invokers)) if (value) names.add(name);
  }
  return [...names].sort().join(' ');
}

function heldBy(element: PageElement): string {
  switch (element.tagName) {
    case 'INPUT':
      return /^(?:checkbox|radio)$/.test(element.type ?? '') ? String(element.checked) : (element.value ?? '');
    case 'TEXTAREA':
      return element.value ?? '';
    case 'SELECT':
      return [...(element.selectedOptions ?? [])].map((o) => o.value).join();
    case 'DETAILS':
    case 'DIALOG':
      return String(element.open);
    default:
      return '';
  }
}

/** The properties of the computed style of an element. */
function styleAt(index: number): Record<string, string> {
  const found: Record<string, string> = {};
  for (const pseudo of [undefined, '::before', '::after']) {
    const style = getComputedStyle(elements()[index]!, pseudo);
    for (const name of style) found[(pseudo ?? '') + name] = style.getPropertyValue(name);
  }
  return found;
}

/** Draws a frame around an element, and brings it into sight. */
function mark(index: number): void {
  const element = elements()[index];
  if (!element) return;
  element.scrollIntoView({ block: 'center' });
  const box = element.getBoundingClientRect();
  const frame = document.createElement('div');
  const at = {
    left: Math.max(0, box.left - 4),
    top: Math.max(0, box.top - 4),
    width: Math.min(innerWidth - 8, box.width + 2),
    height: Math.min(innerHeight - 8, box.height + 2),
  };
  const place = Object.entries(at).map(([name, dots]) => `${name}:${dots}px`);
  const looks = 'position:fixed;z-index:2147483647;pointer-events:none;border:3px solid #d0021b;border-radius:4px';
  frame.style.cssText = [looks, ...place].join(';');
  (element.closest('dialog[open]') ?? document.body).append(frame);
}

const PARTS = [elements, hash, rest, look, styleOf, attributesOf, handlersOf, heldBy, styleAt, mark];

/** For every page, before anything of its own runs. */
export const IN_PAGE = `globalThis.__verkstad = (() => {
const known = { ids: new WeakMap(), last: [], next: 1 };
${PARTS.map(String).join('\n')}
return { elements, rest, look, styleAt, mark };
})();`;
