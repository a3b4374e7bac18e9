/** Names for new components, from what the region shows. */
import type { Attribute, ElementNode, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';

export interface NameHints {
  readonly text: string;
  /** The component that the region is cut out of. */
  readonly host: string;
  /** Comment right above the region. */
  readonly comment: string | undefined;
  /** Set when the region is what a loop repeats. */
  readonly loop: { readonly item: string | undefined; readonly source: string } | undefined;
  /** Elements that the region stands in, outermost first. */
  readonly around?: readonly ElementNode[];
}

const LANDMARKS: Record<string, string> = {
  header: 'Header',
  nav: 'Nav',
  main: 'Main',
  aside: 'Aside',
  footer: 'Footer',
  form: 'Form',
  table: 'Table',
  thead: 'TableHead',
  tbody: 'TableBody',
  tfoot: 'TableFoot',
  ul: 'List',
  ol: 'List',
  dl: 'List',
  dialog: 'Dialog',
  fieldset: 'Fieldset',
  figure: 'Figure',
  select: 'Select',
  button: 'Button',
  svg: 'Icon',
  img: 'Image',
  label: 'Field',
  section: 'Section',
  article: 'Article',
  p: 'Text',
  h1: 'Title',
  h2: 'Title',
  h3: 'Title',
  input: 'Input',
  a: 'Link',
};
const ROLES: Record<string, string> = {
  tab: 'Tab',
  tabpanel: 'TabPanel',
  tablist: 'Tabs',
  dialog: 'Dialog',
  alertdialog: 'Dialog',
  alert: 'Alert',
  status: 'Status',
  menu: 'Menu',
  menuitem: 'MenuItem',
  toolbar: 'Toolbar',
  search: 'Search',
  navigation: 'Nav',
  banner: 'Banner',
  listitem: 'Item',
  row: 'Row',
};
const ROWS: Record<string, string> = {
  tr: 'Row',
  li: 'Item',
  option: 'Option',
  td: 'Cell',
  th: 'HeaderCell',
  dt: 'Term',
  article: 'Card',
  a: 'Link',
  button: 'Button',
  section: 'Section',
};
const UTILITY =
  /[:[\]/]|^-?(?:margin|padding|align|btn|button|icon|fa|col|active|open|show|hide|disabled|large|small|medium|size|width|height|color|w\d|p|m|px|py|pt|pb|pl|pr|mx|my|mt|mb|ml|mr|w|h|min|max|gap|space|flex|grid|col|row|text|bg|border|rounded|shadow|font|leading|tracking|items|justify|self|place|overflow|absolute|relative|fixed|sticky|block|inline|hidden|container|d|float|z|top|left|right|bottom|opacity|transition|cursor|select|sr|order|align|is|has|u|pull|clearfix|wrapper|inner|outer|inset|shrink|grow|basis|object|origin|scale|rotate|translate|animate|duration|delay|ease|ring|outline|divide|whitespace|truncate|underline|uppercase|lowercase|capitalize|italic|aspect|columns|backdrop|fill|stroke|pointer|touch|resize|will|isolate|antialiased|size|rtl|ltr)(?:-|$)/;
const DULL = new Set(
  'each every one item items i j x el element elem row entry value data obj node it child c e o a b n index idx key cur current'.split(
    ' ',
  ),
);

/** Proposals, best first, in PascalCase; never empty. */
export function proposeNames(nodes: readonly Markup[], hints: NameHints): string[] {
  const names: (string | undefined)[] = [];
  const only = nodes.length === 1 ? unwrapped(nodes[0]!) : undefined;
  const root = only?.kind === 'element' ? only : undefined;
  if (hints.loop) names.push(loopName(hints.loop, root, hints.host));
  names.push(wordsName(hints.comment, 3));
  const heading = headingText(nodes);
  if (root) {
    const suffix = suffixOf(root);
    const label = staticText(root, 'aria-label') ?? staticText(root, 'title') ?? staticText(root, 'label');
    const titled = withSuffix(wordsName(heading, 4), suffix);
    const called = identifierName(root, hints.host, suffix);
    // What a part is called says more than a sentence that stands over it.
    const isCalled = saysWhatItIs(root) || (isSentence(heading) && ownWords(root).length > 0);
    names.push(...(isCalled ? [called, titled] : [titled, called]));
    names.push(withSuffix(wordsName(label, 4), suffix));
    names.push(withSuffix(wordsName(labelText(nodes), 3), 'Field'));
    const role = staticText(root, 'role');
    if (role && ROLES[role]) names.push(hostPrefixed(hints.host, ROLES[role]));
    if (root.component) names.push(hostPrefixed(hints.host, lastPart(root.name)));
    else if (LANDMARKS[root.name]) names.push(hostPrefixed(hints.host, LANDMARKS[root.name]!));
  } else {
    // Of several things one may have a heading, whatever it is shown under.
    const headed = nodes.map(unwrapped).filter((n) => n.kind === 'element');
    names.push(wordsName(heading, 4), ...headed.map((n) => wordsName(headingText([n]), 4)));
  }
  if (only?.kind === 'loop')
    names.push(withSuffix(wordsName(lastName(hints.text.slice(only.source.start, only.source.end)), 3), 'List'));
  names.push(innerName(nodes, hints.host));
  if (root) names.push(nameFromAround(root, hints.around ?? []));
  names.push(hostPrefixed(hints.host, only?.kind === 'branch' ? 'Choice' : 'Content'));
  return [
    ...new Set(
      names.filter(
        (n): n is string =>
          n !== undefined && /^[A-Z][A-Za-z0-9]*$/.test(n) && n !== hints.host && n.length <= 40 && n.length > 2,
      ),
    ),
  ];
}

/** Words for where something is, and not for what. */
const PLACING = /^(?:app|container|flex|grid|inner|outer|responsive|root|scroll|stack|wrap|wrapper)$/;

/** After the closest element around that says what it holds: a link in `#keepers` is a `KeeperLink`. */
function nameFromAround(root: ElementNode, around: readonly ElementNode[]): string | undefined {
  const elements = root.children.filter((c) => c.kind === 'element');
  const isLink = root.name === 'li' && elements.length === 1 && elements[0]!.name === 'a';
  const kind = isLink ? ROWS.a : (ROWS[root.name] ?? LANDMARKS[root.name]);
  if (kind === undefined) return undefined;
  for (const node of around.toReversed()) {
    const words = ownWords(node).filter((word) => !PLACING.test(word));
    const heading = wordsName(headingText([node]), 2);
    const base = words.length > 0 ? wordsName(words.slice(0, 3).join('-'), 3) : heading;
    if (base !== undefined && base.length > 2) return withSuffix(singular(base), kind);
  }
  return undefined;
}

/** A name that only says what kind of thing is shown; undefined for runs. */
export function plainName(nodes: readonly Markup[]): string | undefined {
  const only = nodes.length === 1 ? unwrapped(nodes[0]!) : undefined;
  if (only?.kind !== 'element') return undefined;
  const role = staticText(only, 'role');
  if (role && ROLES[role]) return ROLES[role];
  return only.component ? `${lastPart(only.name)}Block` : (ROWS[only.name] ?? LANDMARKS[only.name]);
}

function unwrapped(node: Markup): Markup {
  return node.kind === 'branch' &&
    node.arms.filter((a) => a.body.length > 0).length === 1 &&
    node.arms.some((a) => a.body.length === 1)
    ? unwrapped(node.arms.find((a) => a.body.length === 1)!.body[0]!)
    : node;
}

/** What lists are called for what was done with them. */
const DONE = /^(?:shown|visible|filtered|sorted|ordered|found|matching|paged|current|selected|all)$/i;

function loopName(
  loop: { item: string | undefined; source: string },
  root: ElementNode | undefined,
  host: string,
): string | undefined {
  const source = singular(lastName(loop.source) ?? '');
  const isItem = loop.item !== undefined && loop.item.length > 2 && !DULL.has(loop.item);
  // `entry in shown`: even a dull name says more than what was done with the list.
  const item = isItem || (loop.item !== undefined && loop.item.length > 3 && DONE.test(source)) ? loop.item! : source;
  const base = wordsName(item, 3);
  if (!base) return undefined;
  const suffix = root ? (ROWS[root.name] ?? (root.component ? lastPart(root.name) : classSuffix(root))) : undefined;
  if (DULL.has(base.toLowerCase())) return hostPrefixed(singular(host), suffix ?? 'Item');
  return withSuffix(base, suffix ?? 'Item');
}

/** The last name of `data.hives.filter(x => x.alive)` that is not a method of lists. */
function lastName(source: string): string | undefined {
  const names = source
    .replace(/\([^()]*(?:\([^()]*(?:\([^()]*\)[^()]*)*\)[^()]*)*\)/g, '()')
    .match(/[A-Za-z_$][\w$]*(?!\w*\()/g)
    ?.filter(
      (n) =>
        !/^(?:filter|map|sort|slice|concat|reverse|flatMap|toSorted|keys|values|entries|Object|Array|from|this|props|state|as|const|React|Children|toArray|children|length|reduce)$/.test(
          n,
        ),
    );
  return names?.[names.length - 1];
}

export function singular(word: string): string {
  if (/(?:ies)$/.test(word) && word.length > 4) return word.slice(0, -3) + 'y';
  if (/(?:sses|shes|ches|xes)$/.test(word)) return word.slice(0, -2);
  if (/[^su]s$/.test(word)) return word.slice(0, -1);
  return word.replace(/List$/, '');
}

/** The heading of highest rank; several of one rank head the parts, not the whole. */
function headingText(nodes: readonly Markup[]): string | undefined {
  const found: { readonly text: string; readonly rank: number }[] = [];
  walkMarkup(nodes, (node, above) => {
    if (node.kind === 'loop') return false;
    // The heading of a part is not the heading of the whole.
    if (
      above.length > 0 &&
      node.kind === 'element' &&
      /^(?:section|article|aside|nav|dialog|form|li|td|tr)$/.test(node.name)
    )
      return false;
    if (
      node.kind === 'element' &&
      /^(?:h[1-6]|legend|caption|summary|figcaption|.*Title|.*Heading|.*Header)$/.test(node.name)
    ) {
      const text = node.children
        .filter((c) => c.kind === 'text')
        .map((c) => (c as { text: string }).text)
        .join(' ');
      const rank = Number(/^h([1-6])$/.exec(node.name)?.[1] ?? 0);
      if (text.trim() && node.children.every((c) => c.kind === 'text')) found.push({ text, rank });
    }
    return undefined;
  });
  const best = Math.min(...found.map((f) => f.rank));
  const heads = found.filter((f) => f.rank === best);
  return heads.length === 1 || heads[0]?.rank === 0 ? heads[0]!.text : undefined;
}

function staticText(node: ElementNode, name: string): string | undefined {
  return node.attributes.find((a: Attribute) => a.name === name && a.kind === 'static')?.text;
}

/** The words of the one label in a region. */
function labelText(nodes: readonly Markup[]): string | undefined {
  const found: string[] = [];
  let elements = 0;
  walkMarkup(nodes, (node) => {
    if (node.kind === 'element') elements++;
    if (node.kind !== 'element' || node.name !== 'label') return;
    found.push(node.children.flatMap((c) => (c.kind === 'text' ? [c.text] : [])).join(' '));
  });
  return found.length === 1 && elements <= FIELD_ELEMENTS ? found[0] : undefined;
}

/** A field with its label, and little else. */
const FIELD_ELEMENTS = 8;

function identifierOf(node: ElementNode): string | undefined {
  const classes = (staticText(node, 'className') ?? staticText(node, 'class') ?? '').split(/\s+/);
  return staticText(node, 'id') ?? classes.find((c) => c && !UTILITY.test(c));
}

/** From the id or the first class that says what the element is, rather than how it looks. */
function identifierName(node: ElementNode, host: string, suffix: string | undefined): string | undefined {
  const base = wordsName(identifierOf(node)?.replace(/__|--/g, '-'), 4);
  // A letter says nothing.
  if (!base || base.length < 2) return undefined;
  const meaningful =
    base.length > 3 &&
    !/^(?:Card|Row|Item|List|Title|Content|Body|Header|Footer|Panel|Section|Box|Actions|Form|Table|Main|Nav|Text|Label|Icon|Image|Group|Column|Col)$/.test(
      base,
    );
  if (!meaningful) return hostPrefixed(host, base);
  return suffix && /^(?:Form|Table|List|Dialog|Nav)$/.test(suffix) ? withSuffix(base, suffix) : base;
}

/** Words that frameworks of styles call their parts. */
const FRAMEWORK =
  /^(?:card|row|item|list|title|content|body|head|header|foot|footer|panel|section|box|actions|form|table|main|nav|navbar|bar|text|label|group|modal|dialog|page|view|layout|area|block|part|media|input|field|control|primary|secondary|default|light|dark|new|old|v\d+|\w|\d+)$/;

/** A class of two words and more that says what the element is: `hive-summary`. */
export function saysWhatItIs(node: ElementNode): boolean {
  const name = identifierOf(node);
  if (name === undefined || /__|--/.test(name)) return false;
  return wordsIn(name).length === 2 && ownWords(node).length > 0 && !/\d/.test(name);
}

/** Words of the id or class that no framework would use. */
function ownWords(node: ElementNode): string[] {
  return wordsIn(identifierOf(node) ?? '').filter((word) => word && !FRAMEWORK.test(word));
}

function wordsIn(name: string): string[] {
  return name
    .replace(/([a-z])([A-Z])/g, '$1-$2')
    .toLowerCase()
    .split(/[-_]+/);
}

/** A heading that is more than a name. */
function isSentence(heading: string | undefined): boolean {
  if (heading === undefined) return false;
  const words = heading.trim().split(/\s+/);
  return (
    words.length > 3 ||
    words.some((w) =>
      /^(?:the|a|an|to|at|in|on|if|who|what|when|how|why|until|next|your|our|is|are|was|were|not|no)$/i.test(w),
    )
  );
}

function classSuffix(node: ElementNode): string | undefined {
  const classes = (staticText(node, 'className') ?? staticText(node, 'class') ?? '').toLowerCase();
  return /(?:^|[-_\s])(card|row|tile|panel|entry|badge|chip|tag|option|step|tab|link)(?:$|[-_\s])/
    .exec(classes)?.[1]
    ?.replace(/^./, (c) => c.toUpperCase());
}

function suffixOf(node: ElementNode): string | undefined {
  if (node.component)
    return lastPart(node.name).replace(
      /^.*(?=(?:Dialog|Modal|Form|Table|List|Card|Panel|Menu|Section|Header|Footer|Button|Field)$)/,
      '',
    );
  return {
    form: 'Form',
    table: 'Table',
    dialog: 'Dialog',
    nav: 'Nav',
    header: 'Header',
    footer: 'Footer',
    ul: 'List',
    ol: 'List',
    button: 'Button',
  }[node.name];
}

/** The first thing inside that has a name of its own. */
function innerName(nodes: readonly Markup[], host: string): string | undefined {
  let found: string | undefined;
  walkMarkup(nodes, (node) => {
    if (found) return false;
    if (node.kind !== 'element') return undefined;
    found =
      identifierName(node, host, undefined) ??
      (node.component && lastPart(node.name).length > 3 ? hostPrefixed(host, lastPart(node.name)) : undefined);
    return undefined;
  });
  return found;
}

function lastPart(name: string): string {
  return name.slice(name.lastIndexOf('.') + 1);
}

function hostPrefixed(host: string, part: string): string {
  const base = host.replace(/(?:Page|View|Screen|Container|Component)$/, '') || host;
  const pascal = wordsName(part, 4) ?? 'Content';
  if (pascal.startsWith(base)) return pascal;
  // A long host is named by its last word.
  const short = base.length + pascal.length > 28 ? (/[A-Z][a-z0-9]+$/.exec(base)?.[0] ?? base) : base;
  return pascal.startsWith(short) ? pascal : short + pascal;
}

function withSuffix(name: string | undefined, suffix: string | undefined): string | undefined {
  if (!name || !suffix) return name;
  return name.endsWith(suffix) ? name : name + suffix;
}

/** PascalCase of the first words of a text; undefined when there is no word in it. */
function wordsName(text: string | undefined, most: number): string | undefined {
  if (!text) return undefined;
  const plain = text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/^\/[*/]+|\*+\/$/g, '')
    .replace(/['’]/g, '');
  const words = plain
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean);
  if (words.length === 0 || words.length > most + 2) return undefined;
  const kept = words.filter((w) => !/^(?:the|a|an|of|for|and|to|your|my|our|in|on|is|are)$/i.test(w)).slice(0, most);
  const name = kept
    .map((w) => w[0]!.toUpperCase() + (w === w.toUpperCase() && w.length > 3 ? w.slice(1).toLowerCase() : w.slice(1)))
    .join('');
  return /^[A-Z]/.test(name) ? name : undefined;
}
