/**
 * What can be seen of a page, as data, and what a person would say of the difference between two. The function that looks
 * runs in the page: it may use nothing from outside of itself.
 */

/** An element as it can be seen, in document order. */
export interface SeenNode {
  readonly tag: string;
  /** Index of the parent in the list; -1 for the body. */
  readonly parent: number;
  readonly attributes: Readonly<Record<string, string>>;
  /** Text directly inside, a `|` where elements stand between. */
  readonly text: string;
  /** What is typed, chosen or checked. */
  readonly held: string;
  /** Number that an element keeps as long as it lives; 0 until both sides were found to have it. */
  readonly id: number;
  /** Fingerprint of the computed style, that of what stands before and behind it included; empty where it was not asked for or nothing is shown. */
  readonly style: string;
  /** Names of the handlers that a framework has put there. */
  readonly handlers: string;
  readonly visible: boolean;
}

export interface Seen {
  readonly url: string;
  readonly title: string;
  readonly nodes: readonly SeenNode[];
  /** Index of the element that has the focus; -1 for none. */
  readonly focus: number;
  readonly scroll: string;
}

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
  checkVisibility(options: object): boolean;
}
interface PageStyle extends Iterable<string> {
  readonly content: string;
  getPropertyValue(name: string): string;
}
declare const window: { __verkstad?: { ids: WeakMap<object, number>; last: readonly object[]; next: number } };
declare const location: { readonly origin: string; readonly href: string };
declare const scrollX: number;
declare const scrollY: number;
declare const document: {
  readonly title: string;
  readonly activeElement: PageElement | null;
  readonly fonts: { readonly status: string };
  readonly images: Iterable<{ readonly complete: boolean; readonly loading: string }>;
  getAnimations(): PageMovement[];
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

/**
 * Runs in the page: gives a turn to whatever waits for one, and brings movements to their end, or to their start where
 * they have no end. A fingerprint of the document; undefined where something is on its way even so.
 */
export async function rest(): Promise<string | undefined> {
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
  // The end of a movement is told with the next frame. Frames of the page's own are held up with its clock; this one is not.
  if (moving.length > 0 || isLoading)
    await new Promise<void>((done) => {
      const frame = new ResizeObserver(() => {
        frame.disconnect();
        done();
      });
      frame.observe(document.body);
    });
  if (moving.length > 0 || isLoading) return undefined;
  const text = `${document.title} ${document.body.outerHTML}`;
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(36);
}

/**
 * Runs in the page. Computed styles take most of the time, and are looked at only where that is wanted. `agreed`: what was
 * seen last is the same on both sides, and gets its numbers.
 */
export function look(styled: boolean, agreed: boolean): Seen {
  const known = (window.__verkstad ??= { ids: new WeakMap(), last: [], next: 1 });
  if (agreed) for (const element of known.last) if (!known.ids.has(element)) known.ids.set(element, known.next++);
  const hash = (text: string) => {
    let h = 0x811c9dc5;
    for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
    return (h >>> 0).toString(36);
  };
  // Custom properties are seen through those that use them, and stand in another order in each process.
  const properties = styled ? [...getComputedStyle(document.body)].filter((name) => !name.startsWith('--')) : [];
  const styleText = (element: PageElement, pseudo?: string) => {
    const style = getComputedStyle(element, pseudo);
    if (pseudo && (style.content === 'none' || style.content === 'normal')) return '';
    let text = pseudo ?? '';
    for (const name of properties) text += `${style.getPropertyValue(name)};`;
    return text.replaceAll(location.origin, 'http://app');
  };
  const made = new Map<string, string>();
  // Ids that a framework makes say where something stands in a tree of components.
  const plain = (value: string) =>
    value
      .replaceAll(location.origin, 'http://app')
      .replace(/([/\w.-]+)-[A-Za-z0-9_-]{8}\.(\w{2,5})\b/g, '$1.$2')
      .replace(/(?::r[0-9a-z]+:|«r[0-9a-z]+»|\b_[rR]_[0-9a-z]+_|\bv-\d+(?:-\d+)*\b)/g, (id) => {
        if (!made.has(id)) made.set(id, `made-${made.size}`);
        return made.get(id)!;
      });
  const handlersOf = (element: PageElement) => {
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
  };
  const heldBy = (element: PageElement): string => {
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
  };
  const elements = [document.body, ...document.body.querySelectorAll('*')].filter(
    (e) => !/^(?:SCRIPT|STYLE|LINK|TEMPLATE|NOSCRIPT)$/.test(e.tagName),
  );
  known.last = elements;
  const indexOf = new Map<PageElement, number>(elements.map((e, i) => [e, i]));
  const nodes = elements.map((element): SeenNode => {
    const attributes: Record<string, string> = {};
    for (const name of element.getAttributeNames().sort())
      if (!/^data-v-[0-9a-f]/.test(name)) attributes[name] = plain(element.getAttribute(name) ?? '');
    // The order of classes means nothing to anybody, and changes where they come from two components.
    if (attributes.class !== undefined)
      attributes.class = attributes.class.split(/\s+/).filter(Boolean).sort().join(' ');
    let text = '';
    for (const child of element.childNodes)
      text += child.nodeType === 3 ? (child.textContent ?? '') : child.nodeType === 1 ? '|' : '';
    return {
      tag: element.tagName.toLowerCase(),
      parent: element.parentElement ? (indexOf.get(element.parentElement) ?? -1) : -1,
      attributes,
      text,
      held: heldBy(element),
      id: known.ids.get(element) ?? 0,
      style:
        styled && element.checkVisibility({})
          ? hash(styleText(element) + styleText(element, '::before') + styleText(element, '::after'))
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

/** The properties of the computed style of the element at an index of what `look` lists; runs in the page. */
export function styleAt(index: number): Record<string, string> {
  const elements = [document.body, ...document.body.querySelectorAll('*')].filter(
    (e) => !/^(?:SCRIPT|STYLE|LINK|TEMPLATE|NOSCRIPT)$/.test(e.tagName),
  );
  const found: Record<string, string> = {};
  for (const pseudo of [undefined, '::before', '::after']) {
    const style = getComputedStyle(elements[index]!, pseudo);
    for (const name of style) found[(pseudo ?? '') + name] = style.getPropertyValue(name);
  }
  return found;
}

/** A difference between two sights. */
export interface Sight {
  readonly words: string;
  /** Index of the element on either side, where there is one. */
  readonly before?: number;
  readonly after?: number;
  /** Only the computed style differs: the words want its properties. */
  readonly style?: true;
}

/** The first thing that differs; undefined where nothing does. */
export function differenceOf(was: Seen, is: Seen): Sight | undefined {
  if (was.url !== is.url) return { words: `it led to ${was.url}, and leads to ${is.url}` };
  if (was.title !== is.title) return { words: `the title of the page was "${was.title}", and is "${is.title}"` };
  const [a, b] = [was.nodes, is.nodes];
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    const [x, y] = [a[i], b[i]];
    if (!x || !y || x.tag !== y.tag || x.parent !== y.parent) return structural(a, b, i);
    const at = { before: i, after: i };
    const name = nameOf(a, i);
    for (const key of new Set([...Object.keys(x.attributes), ...Object.keys(y.attributes)])) {
      const [v, w] = [x.attributes[key], y.attributes[key]];
      if (v !== w) return { ...at, words: attributeWords(name, key, v, w) };
    }
    // Another number of elements in it: the list parts further down, where that is easier to tell.
    const isSameShape = parts(x.text) === parts(y.text);
    if (x.text !== y.text && isSameShape) return { ...at, words: textWords(name, x.text, y.text) };
    if (x.held !== y.held) return { ...at, words: `${name} held ${quoted(x.held)}, and holds ${quoted(y.held)}` };
    if (x.visible !== y.visible)
      return { ...at, words: `${name} is ${y.visible ? 'visible now' : 'not visible any more'}` };
  }
  for (const [i, x] of a.entries()) {
    const at = { before: i, after: i };
    const y = b[i]!;
    if (x.id !== y.id)
      return {
        ...at,
        words: `${nameOf(a, i)} is another element than it was: what stood there was taken away and made anew, with its focus and state`,
      };
    if (x.handlers !== y.handlers) {
      const [had, has] = [x.handlers || 'nothing', y.handlers || 'nothing'];
      return { ...at, words: `${nameOf(a, i)} listened to ${had}, and listens to ${has}` };
    }
  }
  if (was.focus !== is.focus)
    return {
      ...(was.focus >= 0 ? { before: was.focus } : {}),
      ...(is.focus >= 0 ? { after: is.focus } : {}),
      words: `the focus was on ${was.focus < 0 ? 'nothing' : nameOf(a, was.focus)}, and is on ${is.focus < 0 ? 'nothing' : nameOf(b, is.focus)}`,
    };
  const styled = a.findIndex((x, i) => x.style !== b[i]!.style);
  if (styled >= 0) return { before: styled, after: styled, style: true, words: `${nameOf(a, styled)} looks different` };
  return was.scroll === is.scroll
    ? undefined
    : { words: `the page was scrolled to ${was.scroll}, and is at ${is.scroll}` };
}

/** Elements added or gone: the first place at which the two lists part. */
function structural(a: readonly SeenNode[], b: readonly SeenNode[], i: number): Sight {
  const [x, y] = [a[i], b[i]];
  if (!x) return { after: i, words: `${nameOf(b, i)} is new` };
  if (!y) return { before: i, words: `${nameOf(a, i)} is gone` };
  const isSame = (p: SeenNode, q: SeenNode | undefined) => q !== undefined && p.tag === q.tag && p.text === q.text;
  if (
    b.length > a.length &&
    isSame(
      x,
      b.slice(i + 1).find((n) => n.tag === x.tag),
    )
  )
    return { before: i, after: i, words: `${nameOf(b, i)} is new` };
  if (a.length > b.length) return { before: i, words: `${nameOf(a, i)} is gone` };
  return { before: i, after: i, words: `${nameOf(a, i)} became ${nameOf(b, i)}` };
}

function parts(text: string): number {
  return text.split('|').length;
}

function attributeWords(name: string, key: string, was: string | undefined, is: string | undefined): string {
  if (key === 'class') {
    const [had, has] = [was ?? '', is ?? ''].map((v) => v.split(/\s+/).filter(Boolean));
    const lost = had!.filter((c) => !has!.includes(c));
    const got = has!.filter((c) => !had!.includes(c));
    if (lost.length > 0 && got.length === 0) return `${name} lost the class ${lost.join(' ')}`;
  }
  if (is === undefined) return `${name} lost its ${key} (${quoted(was!)})`;
  if (was === undefined) return `${name} has ${key}=${quoted(is)} now`;
  return `the ${key} of ${name} was ${quoted(was)}, and is ${quoted(is)}`;
}

function textWords(name: string, was: string, is: string): string {
  if (was.replace(/\s+/g, '') === is.replace(/\s+/g, '')) return `the white space in ${name} is another one`;
  return `${name} said ${quoted(was)}, and says ${quoted(is)}`;
}

function quoted(text: string): string {
  const plain = text.replaceAll('|', ' ').replace(/\s+/g, ' ').trim();
  return `"${plain.length > 50 ? `${plain.slice(0, 48)}…` : plain}"`;
}

const WORDS: Record<string, string> = {
  a: 'the link',
  button: 'the button',
  input: 'the field',
  textarea: 'the field',
  select: 'the choice',
  li: 'the item',
  tr: 'the row',
  td: 'the cell',
  img: 'the picture',
  form: 'the form',
  dialog: 'the dialog',
  p: 'the text',
  label: 'the label',
};

/** What a person would call an element: what it is, and what it says. */
export function nameOf(nodes: readonly SeenNode[], index: number): string {
  const node = nodes[index]!;
  const said = (at: number, depth: number): string => {
    const own = nodes[at]!.text.replaceAll('|', ' ').trim();
    if (own || depth === 0) return own;
    for (let i = at + 1; i < nodes.length && i < at + 12; i++)
      if (nodes[i]!.parent === at) {
        const inner = said(i, depth - 1);
        if (inner) return inner;
      }
    return '';
  };
  const { attributes } = node;
  const label = attributes['aria-label'] ?? attributes.placeholder ?? attributes.name ?? said(index, 2) ?? '';
  const what = WORDS[node.tag] ?? `<${node.tag}>`;
  const text = (label || (attributes.id ? `#${attributes.id}` : '')).replace(/\s+/g, ' ').trim();
  return text ? `${what} "${text.length > 40 ? `${text.slice(0, 38)}…` : text}"` : what;
}

/** The two pages with the same said about a property of their style. */
export function styleWords(name: string, was: Record<string, string>, is: Record<string, string>): string {
  const keys = Object.keys(was).filter((key) => was[key] !== is[key]);
  const shown = keys.slice(0, 3).map((key) => `${key} was ${was[key]!}, and is ${is[key] ?? 'nothing'}`);
  return keys.length === 0
    ? `${name} looks different`
    : `${name} looks different: ${shown.join('; ')}${keys.length > 3 ? ` and ${keys.length - 3} more` : ''}`;
}
