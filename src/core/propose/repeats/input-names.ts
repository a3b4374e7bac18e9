/** Names for inputs, from where they stand: the label beside a value, the class around a text, the member it is compared with. */
import { attributesOf, siblingsIn } from '../../forms/parts.js';
import { LOOKS_UP } from '../said.js';
import { isReserved } from '../../script/reserved.js';
import type { Forms } from '../../forms/forms.js';
import type { Input, Site } from './input.js';
import { capital } from '../../text/words.js';

const BY_TAG: Readonly<Record<string, string>> = {
  '<h1>': 'title',
  '<h2>': 'title',
  '<h3>': 'title',
  '<h4>': 'title',
  '<h5>': 'title',
  '<h6>': 'title',
  '<legend>': 'legend',
  '<caption>': 'caption',
  '<summary>': 'summary',
  '<figcaption>': 'caption',
  '<label>': 'label',
  '<button>': 'action',
  '<a>': 'label',
  '<option>': 'label',
  '<p>': 'text',
  '<th>': 'heading',
  '<strong>': 'name',
  '<small>': 'note',
  '<em>': 'note',
  '<title>': 'title',
};
const BY_ATTRIBUTE: Readonly<Record<string, string>> = {
  htmlFor: 'id',
  for: 'id',
  class: 'className',
  'aria-label': 'label',
  'aria-labelledby': 'id',
  'aria-controls': 'id',
  'aria-describedby': 'id',
  'aria-current': 'current',
  'xlink:href': 'href',
  style: 'style',
};
/** What an address in a tag stands for. */
const PICTURES: Readonly<Record<string, string>> = { use: 'icon', image: 'image', img: 'image', source: 'image' };
const WEAK = new Set(['id', 'className', 'text', 'label', 'value', 'children', 'item', 'href', 'name']);
/** `buttonProps` for `<Kit.Button>`. */
function propsOf(label: string): string {
  const tag = label.replace(/[<>]/g, '').replace(/.*\./, '');
  return `${tag[0]!.toLowerCase()}${tag.slice(1)}Props`;
}

/** Marks a name that the host has too. */
const HOST = '~';

export class InputNames {
  constructor(
    readonly forms: Forms,
    readonly parentOf: (node: number) => number,
    /** Nodes of the reference that differ between the places. */
    readonly differing: ReadonlySet<number>,
    /** The first node of the reference. */
    readonly first: number,
  ) {}

  /** Gives every input a name of its own; `taken`: names that the places read of their hosts. */
  assign(inputs: readonly Input[], taken: ReadonlySet<string>): void {
    const slots = inputs.filter((input) => input.kind === 'slot');
    const weight = (input: Input) =>
      input.values.reduce(
        (n, v) => n + (v?.kind === 'markup' ? v.nodes.reduce((m, x) => m + this.forms.size[x]!, 0) : 0),
        0,
      );
    const largest = slots.length > 0 ? slots.reduce((x, y) => (weight(y) > weight(x) ? y : x)) : undefined;
    const isRun =
      largest?.sites[0]?.hole.kind !== 'value' || largest.values.every((v) => v === undefined || v.kind === 'markup');
    if (largest && isRun) largest.name = 'children';
    const used = new Set([...taken, ...(largest?.name ? ['children'] : [])]);
    for (const input of inputs) {
      if (input.name) continue;
      const wishes = this.#wishes(input);
      const free = [...wishes, ...this.#withElement(input, wishes[0]!)].find((name) => !used.has(name));
      input.name = free ?? numbered(wishes[0]!, used);
      used.add(input.name);
    }
  }

  /** What tells one entry of a navigation from the next: its text, else its address. */
  keyFor(element: number): string | undefined {
    for (let at = element; at < element + this.forms.size[element]!; at++)
      if (this.forms.labelOf(at) === 'text') return slug(this.forms.valueOf(at));
    const href = this.#attribute(element, '@href') ?? this.#attribute(element, '@to');
    return href === undefined ? undefined : slug(href) || 'home';
  }

  #wishes(input: Input): string[] {
    const all = input.sites.flatMap((site) => this.#siteNames(site, input));
    // The name of a variable of the host is likely to be passed as well.
    const fromSites = [
      ...all.filter((n) => !n.startsWith(HOST)),
      ...all.filter((n) => n.startsWith(HOST)).map((n) => n.slice(1)),
    ];
    const valid = fromSites.filter(
      (name) =>
        /^[a-z][A-Za-z0-9]*$/.test(name) && !isReserved(name) && !/^(?:key|ref)$/.test(name) && name.length <= 28,
    );
    const strong = valid.filter((name) => !WEAK.has(name));
    const fallback = { prop: 'value', flag: 'shown', slot: 'content', event: 'onAction' }[input.kind];
    const ofTags = input.kind === 'prop' ? input.sites.flatMap((site) => this.#withTag(site)) : [];
    const wishes = [...strong, ...valid, ...ofTags];
    return wishes.length > 0 ? wishes : [fallback];
  }

  /** `icon` for the `href` of a `<use>`, `rowTitle` for the `title` of a `<Row>`: where the attribute alone says too little. */
  #withTag({ hole }: Site): string[] {
    const { forms } = this;
    const isValue = hole.kind === 'value';
    if (!isValue && hole.kind !== 'attribute') return [];
    const attribute = isValue ? this.parentOf(hole.node) : hole.element;
    const label = attribute === -1 ? '' : forms.labelOf(attribute);
    if (isValue && !label.startsWith('@')) return [];
    const name = isValue ? label.slice(1) : hole.name;
    const element = isValue ? this.parentOf(attribute) : attribute;
    const tag = /^<([A-Za-z]+)>$/.exec(element === -1 ? '' : forms.labelOf(element))?.[1];
    if (tag === undefined) return [];
    return [...(PICTURES[tag] ? [PICTURES[tag]] : []), camel(`${tag[0]!.toLowerCase()}${tag.slice(1)}-${camel(name)}`)];
  }

  /** `figcaptionText`, `summaryText`: the name with an element in front that it stands in, where it is taken by itself. */
  #withElement({ sites }: Input, name: string): string[] {
    const { forms } = this;
    const [site] = sites;
    if (!site) return [];
    const { hole } = site;
    const names: string[] = [];
    for (
      let at = hole.kind === 'value' ? hole.node : hole.kind === 'attribute' ? hole.element : hole.parent;
      at !== -1 && names.length < MOST_AROUND;
      at = this.parentOf(at)
    ) {
      const tag = /^<([A-Za-z][\w.-]*)>$/.exec(forms.labelOf(at))?.[1];
      if (tag === undefined) continue;
      names.push(
        ...[this.#classWord(at), camel(tag)].flatMap((word) => (word && word !== name ? [word + capital(name)] : [])),
      );
    }
    return names;
  }

  /** `status` for a cell in the column that is headed so. */
  #columnOf(node: number): string | undefined {
    const { forms } = this;
    let cell = node;
    while (cell !== -1 && !/^<t[dh]>$/.test(forms.labelOf(cell))) cell = this.parentOf(cell);
    const row = cell === -1 ? -1 : this.parentOf(cell);
    if (row === -1 || forms.labelOf(row) !== '<tr>') return undefined;
    const at = siblingsIn(forms, row).indexOf(cell);
    let table = this.first;
    while (table >= 0 && !(forms.labelOf(table) === '<table>' && table + forms.size[table]! > cell)) table--;
    if (table < 0 || forms.file(table).path !== forms.file(cell).path) return undefined;
    for (let head = table; head < row; head++) {
      if (forms.labelOf(head) !== '<tr>') continue;
      const heading = siblingsIn(forms, head)[at];
      const texts = heading === undefined ? [] : siblingsIn(forms, heading);
      if (heading === undefined || forms.labelOf(heading) !== '<th>') return undefined;
      return texts.length === 1 && forms.labelOf(texts[0]!) === 'text'
        ? camelWords(forms.valueOf(texts[0]!))
        : undefined;
    }
    return undefined;
  }

  #siteNames(site: Site, input: Input): string[] {
    const { hole } = site;
    if (site.kind === 'choice')
      return [hole.kind === 'attribute' && hole.name === 'aria-current' ? 'current' : 'active'];
    if (site.kind === 'guard') {
      const word = this.#firstWord(site.hole.nodes[0]!);
      return word ? [`show${capital(word)}`, 'showMore'] : ['showMore'];
    }
    if (site.kind === 'spread') return [propsOf(this.forms.labelOf(site.hole.element))];
    if (hole.kind === 'attribute') {
      if (input.kind === 'event') return [this.#eventName(hole.element, hole.name), hole.name];
      return [BY_ATTRIBUTE[hole.name] ?? camel(hole.name)];
    }
    if (hole.kind !== 'value') {
      const before = hole.after === undefined ? undefined : this.#firstWord(hole.after);
      const at = hole.nodes[0] ?? hole.parent;
      const word = this.#classWord(at) ?? (hole.nodes.length > 0 ? this.#firstWord(at) : undefined);
      return [...(word ? [word] : []), this.#tagWord(hole.parent), ...(before ? [`${before}Content`] : []), 'content'];
    }
    return this.#valueNames(hole.node, hole.values, input);
  }

  #valueNames(node: number, values: readonly (number | undefined)[], input: Input): string[] {
    const { forms } = this;
    const above = this.parentOf(node);
    const label = above === -1 ? '' : forms.labelOf(above);
    const names: string[] = [];
    if (label.startsWith('@')) {
      const attribute = label.slice(1);
      if (input.kind === 'event') names.push(this.#eventName(this.parentOf(above), attribute), attribute);
      else names.push(BY_ATTRIBUTE[attribute] ?? camel(attribute));
    } else if (/^(?:text|shown)$/.test(forms.labelOf(node)) || forms.roleOf(node) === 'markup') {
      names.push(...this.#contentNames(node, above));
    }
    const common = commonName(
      values.map((v) => (v !== undefined && forms.labelOf(v) === 'name' ? forms.valueOf(v) : undefined)),
    );
    if (common) names.unshift(common);
    names.push(...this.#codeNames(node, above, label));
    return names;
  }

  /** Text of an element: by its class, by the term before it, by its tag. */
  #contentNames(node: number, element: number): string[] {
    if (element === -1) return ['text'];
    const names: string[] = [];
    const term = this.#termBefore(element);
    if (term) names.push(term);
    const column = this.#columnOf(node);
    if (column) names.push(column);
    const own = this.#classWord(element);
    const label = this.forms.labelOf(element);
    const tag = BY_TAG[label];
    // The class of a button says how it looks.
    const byTag = label === '<button>' || label === '<a>';
    names.push(...[byTag ? tag : own, byTag ? own : tag].filter((n) => n !== undefined));
    // Of two headings one is the title of the whole.
    return [...names, ...(/^<h[1-6]>$/.test(label) ? ['heading'] : []), 'text'];
  }

  /** In code: the member that is compared, the setter that is called, the key of a record, the term beside it. */
  #codeNames(node: number, above: number, label: string): string[] {
    const { forms } = this;
    const names: string[] = [];
    if (/^BinaryExpression/.test(label)) {
      const other = forms.partsOf(above).find((part) => part !== node)!;
      const member = forms.partsOf(other).find((part) => forms.labelOf(part) === 'member');
      if (member !== undefined) names.push(forms.valueOf(member));
      // Where the name is handed over too, what it is compared with is one of its values.
      else if (forms.labelOf(other) === 'name') names.push(HOST + forms.valueOf(other), `${HOST}value`);
    }
    if (/^CallExpression/.test(label)) {
      const callee = forms.partsOf(above)[0]!;
      const setter = /^set([A-Z]\w*)$/.exec(forms.valueOf(callee))?.[1];
      if (forms.valueOf(callee) === 'fetch') names.push('url');
      if (setter) names.push(HOST + setter[0]!.toLowerCase() + setter.slice(1));
      // `title: t('hives.none', 'No hives')` is given a title, and the key of it.
      const word = LOOKS_UP.test(forms.valueOf(callee)) ? this.#keyAround(above) : undefined;
      if (word) names.push(forms.partsOf(above)[1] === node ? `${word}Key` : word);
    }
    const siblings = above === -1 ? [] : forms.partsOf(above);
    const key = siblings[siblings.indexOf(node) - 1];
    if (key !== undefined && forms.labelOf(key).startsWith('key ')) names.push(camel(forms.labelOf(key).slice(4)));
    for (let at = label.startsWith('@') ? -1 : above; at !== -1; at = this.parentOf(at)) {
      if (!forms.labelOf(at).startsWith('<')) continue;
      const term = this.#termBefore(at) ?? this.#classWord(at);
      if (term) names.push(term);
      break;
    }
    return names;
  }

  /** What the code of a node is for: the key of the record, or the attribute, that it stands behind. */
  #keyAround(node: number): string | undefined {
    const { forms } = this;
    for (let at = node; at !== -1; at = this.parentOf(at)) {
      const above = this.parentOf(at);
      const label = above === -1 ? '' : forms.labelOf(above);
      if (label.startsWith('@')) return camel(label.slice(1));
      if (above === -1 || label.startsWith('<') || label.includes('Function')) return undefined;
      const parts = forms.partsOf(above);
      const before = parts[parts.indexOf(at) - 1];
      if (before !== undefined && forms.labelOf(before).startsWith('key '))
        return camel(forms.labelOf(before).slice(4));
    }
    return undefined;
  }

  /** `hives` for the `<dd>` behind `<dt>Hives</dt>`, and for a cell behind its heading. */
  #termBefore(element: number): string | undefined {
    const { forms } = this;
    const around = this.parentOf(element);
    if (around === -1 || !/^<(?:dd|td|input|select|textarea|span|output|b|strong)>$/.test(forms.labelOf(element)))
      return undefined;
    const siblings = siblingsIn(forms, around);
    const before = siblings[siblings.indexOf(element) - 1];
    if (before === undefined || !/^<(?:dt|th|label|span)>$/.test(forms.labelOf(before))) return undefined;
    const texts = siblingsIn(forms, before);
    // A term that is another one at each place is a value itself.
    const isTerm = texts.length === 1 && forms.labelOf(texts[0]!) === 'text' && !this.differing.has(texts[0]!);
    return isTerm ? camelWords(forms.valueOf(texts[0]!)) : undefined;
  }

  #eventName(element: number, attribute: string): string {
    const { forms } = this;
    const texts = siblingsIn(forms, element).filter((n) => forms.labelOf(n) === 'text');
    if (texts.length === 1 && this.differing.has(texts[0]!)) {
      const word = BY_TAG[forms.labelOf(element)] ?? 'action';
      return `on${capital(word === 'label' ? 'select' : word)}`;
    }
    const words =
      texts.length === 1 && /^on(?:Click|Press|Select|Tap)$/.test(attribute)
        ? camelWords(forms.valueOf(texts[0]!))
        : undefined;
    return words ? `on${capital(words)}` : attribute;
  }

  #classWord(node: number): string | undefined {
    if (!this.forms.labelOf(node).startsWith('<')) return undefined;
    const member = this.#styleMember(node);
    if (member) return member;
    const text = this.#attribute(node, '@className') ?? this.#attribute(node, '@class');
    const words = text?.split(/\s+/).filter((w) => /^[a-z][a-z]+(?:[-_]+[a-z]+)*$/i.test(w)) ?? [];
    if (
      words.length !== 1 ||
      /^(?:row|col|card|box|flex|grid|container|wrapper|inner|item|btn|button|active|text|block|error|small|large)$/.test(
        words[0]!,
      )
    )
      return undefined;
    const parts = words[0]!.split(/__|--/);
    return camel(parts[1] ?? parts[0]!);
  }

  /** `hint` for `style={styles.hint}` and `className={css.hint}`. */
  #styleMember(node: number): string | undefined {
    const { forms } = this;
    const attribute = attributesOf(forms, node).find((a) => /^@(?:style|className|class)$/.test(forms.labelOf(a)));
    if (attribute === undefined || !/^MemberExpression$/.test(forms.labelOf(attribute + 1))) return undefined;
    const member = forms.partsOf(attribute + 1).find((part) => forms.labelOf(part) === 'member');
    return member === undefined ? undefined : camel(forms.valueOf(member));
  }

  #attribute(node: number, label: string): string | undefined {
    const attribute = attributesOf(this.forms, node).find((a) => this.forms.labelOf(a) === label);
    return attribute !== undefined && this.forms.labelOf(attribute + 1) === 'string'
      ? this.forms.valueOf(attribute + 1)
      : undefined;
  }

  #tagWord(node: number): string {
    const tag = /^<([a-z]+)>$/.exec(this.forms.labelOf(node))?.[1];
    const words: Readonly<Record<string, string>> = {
      header: 'head',
      footer: 'footer',
      aside: 'side',
      nav: 'links',
      ul: 'items',
      ol: 'items',
      p: 'text',
      main: 'content',
    };
    return (tag && words[tag]) ?? 'content';
  }

  #firstWord(node: number): string | undefined {
    const own = this.#classWord(node);
    if (own) return own;
    for (let at = node; at < node + this.forms.size[node]!; at++)
      if (this.forms.labelOf(at) === 'text') return camelWords(this.forms.valueOf(at), 2);
    const tag = /^<([\w.]+)>$/.exec(this.forms.labelOf(node))?.[1];
    return tag ? camel(tag) : undefined;
  }
}

/** Elements around an input that may lend it a word. */
const MOST_AROUND = 3;

function numbered(base: string, used: ReadonlySet<string>): string {
  for (let i = 2; ; i++) if (!used.has(`${base}${i}`)) return `${base}${i}`;
}

function camel(text: string): string {
  const name = text.replace(/[^A-Za-z0-9]+(.)?/g, (_, next: string | undefined) => (next ?? '').toUpperCase());
  return name ? name[0]!.toLowerCase() + name.slice(1) : name;
}

function camelWords(text: string, most = 3): string | undefined {
  const words = text.match(/[A-Za-z][A-Za-z0-9]*/g) ?? [];
  if (words.length === 0 || words.length > most) return undefined;
  return words.map((w, i) => (i === 0 ? w.toLowerCase() : capital(w.toLowerCase()))).join('');
}

function slug(text: string): string {
  return text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '');
}

/** `hives` for `heatherHives` and `cloverHives`; `setOpen` for `setFirstOpen` and `setLastOpen`. */
function commonName(names: readonly (string | undefined)[]): string | undefined {
  const present = names.filter((n) => n !== undefined);
  if (present.length < 2) return undefined;
  const words = present.map((n) => n.match(/[A-Z]?[a-z0-9]+|[A-Z]+(?![a-z])/g) ?? []);
  const least = Math.min(...words.map((w) => w.length));
  let head = 0;
  while (head < least && words.every((w) => w[head] === words[0]![head])) head++;
  let tail = 0;
  const fromEnd = (w: readonly string[], i: number) => w[w.length - 1 - i]?.toLowerCase();
  while (tail < least - head && words.every((w) => fromEnd(w, tail) === fromEnd(words[0]!, tail))) tail++;
  const common = [...words[0]!.slice(0, head), ...(tail ? words[0]!.slice(-tail) : [])].join('');
  if (common.length < 3) return undefined;
  return /^[A-Z0-9_]+$/.test(common) ? common.toLowerCase() : common[0]!.toLowerCase() + common.slice(1);
}
