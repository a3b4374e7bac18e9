/** What can be seen of a page, as data, and what a person would say of the difference between two sights. */

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
