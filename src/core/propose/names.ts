/** Names for new components, from what the region shows. */
import type { ElementNode, Markup } from '../markup/model.js';
import { DYNAMIC_OUTLET } from '../markup/syntax.js';
import { walkMarkup } from '../markup/walk.js';
import {
  classesOf,
  identifierName,
  isFrameworks,
  isWidely,
  ownWords,
  saysWhatItIs,
  staticText,
} from './identifiers.js';
import {
  classSuffix,
  CONTAINER,
  contentKind,
  GENERIC,
  kindOf,
  LANDMARKS,
  lastPart,
  partName,
  ROLES,
  ROWS,
  suffixOf,
} from './kinds.js';
import {
  attributeText,
  fieldAround,
  fieldOf,
  firstText,
  nothingShown,
  sourceOf,
  wordOfCondition,
  wordsShown,
} from './said.js';
import { askedFor, hostPrefixed, withSuffix, wordsIn, wordsName } from './words.js';
import { singular } from '../text/words.js';

export interface NameHints {
  readonly text: string;
  /** The component that the region is cut out of. */
  readonly host: string;
  /** Comment right above the region. */
  readonly comment: string | undefined;
  /** Set when the region is what a loop repeats. */
  readonly loop: { readonly item: string | undefined; readonly source: string } | undefined;
  /** Of a region that is all that `renderFooterBar` returns, `FooterBar`. */
  readonly maker?: string;
  /** What has to hold for the region to be shown, as it is written. */
  readonly condition?: string;
  /** It stands for itself, and not for all that are like it. */
  readonly alone?: boolean;
  /** Elements that the region stands in, outermost first. */
  readonly around?: readonly ElementNode[];
}

const DULL = new Set(
  'each every one item items i j x el element elem row entry value data obj node it child c e o a b n index idx key cur current'.split(
    ' ',
  ),
);

/** Proposals, best first, in PascalCase; never empty. */
export function proposeNames(nodes: readonly Markup[], hints: NameHints): string[] {
  const names: (string | undefined)[] = [];
  const { text } = hints;
  const only = nodes.length === 1 ? bareOf(nodes[0]!, text) : undefined;
  const root = only?.kind === 'element' ? only : undefined;
  if (hints.loop) names.push(loopName(hints.loop, root, hints.host));
  names.push(commentName(hints.comment, hints.host));
  const made = wordsName(hints.maker, 4);
  // A word alone says only what kind of part it is.
  if (made && wordsIn(made).length > 1) names.push(made);
  if (made) names.push(hostPrefixed(hints.host, made));
  const heading = headingText(nodes, text);
  if (root) {
    const suffix = suffixOf(root);
    const label = attributeText(root, ['aria-label', 'title', 'label', 'legend'], text);
    const titled = withSuffix(wordsName(heading, 4), suffix);
    const called = identifierName(root, hints, suffix);
    if (ACTIONS.test(root.name) || classesOf(root, text).some((name) => BUTTONS.test(wordsIn(name).join('-'))))
      names.push(hostPrefixed(hints.host, 'Actions'));
    // What a part is called says more than a sentence that stands over it.
    const isCalled = saysWhatItIs(root, text) || (isSentence(heading) && ownWords(root).length > 0);
    if (isCalled) names.push(called);
    if (heading === undefined) {
      const around = fieldAround(nodes, text);
      const field = around === undefined ? undefined : wordsName(askedFor(around), 3);
      names.push(field && withSuffix(field, root.name === 'section' ? 'Section' : 'Field'));
      names.push(wordsName(nothingShown(nodes, text), 3));
    }
    // A class that stands at many places of a file says what they have in common.
    const isSpread = hints.alone === true && (isWidely(root, text) || isFrameworks(root, text));
    names.push(titled, ...(isSpread ? [] : [called]));
    names.push(outletName(nodes, hints.host));
    names.push(withSuffix(wordsName(label, 4), suffix));
    names.push(withSuffix(wordsName(labelText(nodes), 3), 'Field'));
    names.push(fieldName(nodes, root, text));
    // An entry of a menu is called by what it says, whenever it is there.
    if (root.component && /Item$|Option$/.test(root.name))
      names.push(withSuffix(wordsName(firstText(nodes, text), 4), partName(root.name)));
    names.push(conditionName(only === nodes[0] ? hints.condition : conditionOf(nodes[0]!, text), root, hints.host));
    if (isSpread)
      names.push(hints.condition === undefined ? undefined : conditionName(hints.condition, root, hints.host));
    names.push(openedName(root, text), listName(root, text), menuName(nodes, root, text), handlerName(root, text));
    const role = staticText(root, 'role');
    if (role && ROLES[role]) names.push(hostPrefixed(hints.host, ROLES[role]));
    const several = contentKind(nodes, text);
    const first = wordsName(firstText(nodes, text), 3);
    const kind = suffix ?? kindOf(root);
    // A word alone says too little, whatever stands behind it.
    const said =
      first && kind === undefined && wordsIn(first).length === 1
        ? hostPrefixed(hints.host, first)
        : withSuffix(first, kind);
    const part = root.component && !CONTAINER.test(partName(root.name)) ? partName(root.name) : LANDMARKS[root.name];
    const asPart = part && hostPrefixed(hints.host, part);
    // A part of the page is known by its place, anything else by what it says first.
    const isKnown = root.component ? !GENERIC.test(part ?? '') : /^(?:header|footer|nav|aside|main)$/.test(root.name);
    const asWhole = several && hostPrefixed(hints.host, several);
    names.push(...(isKnown ? [asPart, said] : [said, asPart]), asWhole);
  } else {
    // Of several things one may have a heading, whatever it is shown under.
    const headed = nodes.map(unwrapped).filter((n) => n.kind === 'element');
    names.push(wordsName(heading, 4), ...headed.map((n) => wordsName(headingText([n], text), 4)));
  }
  if (only?.kind === 'loop')
    names.push(withSuffix(wordsName(lastName(hints.text.slice(only.source.start, only.source.end)), 3), 'List'));
  const row = root && !root.component ? ROWS[root.name] : undefined;
  const inner = innerName(nodes, hints);
  if (row === undefined) names.push(inner);
  if (root) names.push(nameFromAround(root, hints));
  if (row !== undefined) names.push(withSuffix(inner, row));
  if (root?.component && isPart(root)) names.push(hostPrefixed(hints.host, partName(root.name)));
  if (root) names.push(identifierName(root, hints, suffixOf(root)));
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

/** What holds the buttons of a form, a dialog or a card. */
const ACTIONS =
  /^(?:ButtonSet|ButtonGroup|ButtonToolbar|ModalFooter|DialogActions|CardActions|FormActions|Modal\.Footer|Card\.Footer)$/;

/** The same, by a class. */
const BUTTONS =
  /^(?:btn|buttons?)-(?:group|set|bar|toolbar|row)$|^(?:actions|buttons)$|^(?:modal|dialog|form|card)-footer$/;

/** Words for where something is, and not for what. */
const PLACING = /^(?:app|container|flex|grid|inner|outer|responsive|root|scroll|stack|wrap|wrapper)$/;

/** After the closest element around that says what it holds: a link in `#keepers` is a `KeeperLink`. */
function nameFromAround(root: ElementNode, { around = [], text }: NameHints): string | undefined {
  const elements = root.children.filter((c) => c.kind === 'element');
  const isLink = root.name === 'li' && elements.length === 1 && elements[0]!.name === 'a';
  const kind = isLink ? ROWS.a : (ROWS[root.name] ?? LANDMARKS[root.name]);
  if (kind === undefined) return undefined;
  for (const node of around.toReversed()) {
    const words = ownWords(node).filter((word) => !PLACING.test(word));
    const heading = wordsName(headingText([node], text), 2);
    const base = words.length > 0 ? wordsName(words.slice(0, 3).join('-'), 3) : heading;
    if (base !== undefined && base.length > 2) return withSuffix(singular(base), kind);
  }
  return undefined;
}

/** After the one place in a region that its users may fill: `TableLoadingState` for `<slot name="loading-state">`. */
function outletName(nodes: readonly Markup[], host: string): string | undefined {
  const names = new Set<string>();
  walkMarkup(nodes, (node) => {
    if (node.kind === 'outlet') names.add(node.name);
    // What is handed on to another component is about that.
    return node.kind === 'element' && node.component ? false : undefined;
  });
  const [only, ...others] = names;
  const words = only !== undefined && others.length === 0 && only !== DYNAMIC_OUTLET ? wordsIn(only) : [];
  return words.length > 1 ? hostPrefixed(host, wordsName(only, 3) ?? '') : undefined;
}

/** A comment that is not in letters of names says what it says in its own. */
function commentName(comment: string | undefined, host: string): string | undefined {
  const letters = comment?.match(/\p{L}/gu) ?? [];
  const plain = letters.filter((letter) => /[A-Za-z\u00C0-\u024F]/.test(letter));
  const name = plain.length * 2 > letters.length ? wordsName(comment?.replace(BEGIN, ''), 3) : undefined;
  return name && PART_ALONE.test(name) ? hostPrefixed(host, name) : name;
}

/** What stands in any component. */
const PART_ALONE =
  /^(?:Nav|Navbar|Header|Footer|Sidebar|Content|Body|Main|Menu|Grid|List|Table|Form|Toolbar|Actions?|Buttons?|Title|Search|Filters?|Card|Panel|Section|Dialog|Modal|Tabs?|Input|Item|Row|Overlay|Wrapper|Container|Left|Right|Top|Bottom)$/i;

const BEGIN = /^[\s/*]*(?:start|begin)(?:\s+of)?\b[\s:]*/i;

/** A name that only says what kind of thing is shown; undefined for runs. */
export function plainName(nodes: readonly Markup[]): string | undefined {
  const only = nodes.length === 1 ? unwrapped(nodes[0]!) : undefined;
  if (only?.kind !== 'element') return undefined;
  const role = staticText(only, 'role');
  if (role && ROLES[role]) return ROLES[role];
  return only.component ? `${lastPart(only.name)}Block` : (ROWS[only.name] ?? LANDMARKS[only.name]);
}

/** `NewHive` for a field of `name="new-hive"`, as a field or as the control that it is. */
function fieldName(nodes: readonly Markup[], root: ElementNode, text: string): string | undefined {
  let elements = 0;
  walkMarkup(nodes, (node) => {
    if (node.kind === 'element') elements++;
  });
  const isRow = root.name in ROWS && root.name !== 'section';
  const field = elements <= FIELD_ELEMENTS && !isRow ? fieldOf(nodes, text) : undefined;
  if (!field) return undefined;
  const control = partName(field.control.name);
  const isOther = /^(?:Toggle|Switch|Checkbox|Slider|Rating|Upload)$/.test(control);
  const kind = field.control === root ? (LANDMARKS[root.name] ?? control) : isOther ? control : 'Field';
  return withSuffix(wordsName(askedFor(field.word), 3), kind);
}

/** `MonthView` for what is shown where `view === 'month'`. */
function conditionName(condition: string | undefined, root: ElementNode, host: string): string | undefined {
  const word = condition === undefined ? undefined : wordsName(wordOfCondition(condition.trim()), 3);
  const kind = suffixOf(root) ?? kindOf(root) ?? 'View';
  return word === kind ? hostPrefixed(host, kind) : word && withSuffix(word, kind);
}

function conditionOf(node: Markup, text: string): string | undefined {
  const arm = node.kind === 'branch' ? node.arms.find((a) => a.body.length > 0) : undefined;
  return arm?.condition && sourceOf(arm.condition, text);
}

/** `DeleteDialog` for a dialog that is open where `deleteDialogIsOpen`. */
function openedName(root: ElementNode, text: string): string | undefined {
  const kind = suffixOf(root);
  if (!root.component || !/^(?:Dialog|Modal|Drawer|Popover|Menu|Sheet|Popup)$/.test(kind ?? '')) return undefined;
  const open = root.attributes.find((a) => a.code && OPENED.test(a.name));
  const name = open?.code && /([A-Za-z_$]\w*)\s*$/.exec(sourceOf(open.code, text))?.[1];
  const words = name
    ?.replace(/(?:Is|Are)?(?:Open|Opened|Visible|Shown)$/, '')
    .replace(/^(?:is|show|open|has)(?=[A-Z])/, '')
    .replace(/(?:Open|Is)$/, '');
  return words && words.length > 2 && !OPENED.test(words) ? withSuffix(wordsName(words, 4), kind) : undefined;
}

const OPENED = /^(?:is|model)?-?(?:open|opened|visible|show|shown|value|active)$/i;

/** What holds nothing but the turns of a loop is a list of what it goes through. */
function listName(root: ElementNode, text: string): string | undefined {
  const inside = root.children.filter((c) => c.kind !== 'comment' && !(c.kind === 'text' && c.text.trim() === ''));
  const loop = inside.length === 1 && inside[0]!.kind === 'loop' ? inside[0] : undefined;
  const source = loop && wordsName(lastName(sourceOf(loop.source, text)), 3);
  return source && !DULL.has(source.toLowerCase()) ? withSuffix(singular(source), 'List') : undefined;
}

/** `LocaleMenu` for a menu whose entries are the turns of the one loop in it. */
function menuName(nodes: readonly Markup[], root: ElementNode, text: string): string | undefined {
  const kind = root.component
    ? /(?:Dropdown|Menu|Select|Tabs|Picker|ComboBox|Carousel|Breadcrumbs)$/.exec(partName(root.name))?.[0]
    : undefined;
  if (!kind) return undefined;
  const sources: string[] = [];
  walkMarkup(nodes, (node) => {
    if (node.kind === 'loop') sources.push(sourceOf(node.source, text));
    return node.kind === 'loop' ? false : undefined;
  });
  const source = sources.length === 1 ? wordsName(lastName(sources[0]!), 3) : undefined;
  return source && !DULL.has(source.toLowerCase()) ? withSuffix(singular(source), kind) : undefined;
}

/** `AddressForm` for a form with `onSubmit={submitAddress}`. */
function handlerName(root: ElementNode, text: string): string | undefined {
  if (!/form$/i.test(root.name)) return undefined;
  const submit = root.attributes.find((a) => /^(?:onSubmit|submit|@submit)/.test(a.name) && a.code);
  const called =
    submit?.code &&
    /^(?:this\.|props\.)?(?:handle|on|do)?(?:Submit|submit|Save|save)([A-Z]\w+)$/.exec(
      sourceOf(submit.code, text),
    )?.[1];
  return called ? withSuffix(wordsName(called, 3), 'Form') : undefined;
}

/** What is shown, without what only lays it out or waits for it: `<KeepAlive>`, a `<div>` that is called nothing. */
function bareOf(node: Markup, text: string): Markup {
  const inner = unwrapped(node);
  if (inner.kind !== 'element' && inner.kind !== 'fragment') return inner;
  const isWrapper =
    inner.kind === 'fragment' ||
    (inner.component ? CONTAINER.test(partName(inner.name)) : /^(?:div|span|view|template)$/.test(inner.name));
  const children = inner.children.filter((c) => c.kind !== 'comment' && !(c.kind === 'text' && c.text.trim() === ''));
  const isCalled =
    inner.kind === 'element' &&
    (ownWords(inner, text).length > 0 || attributeText(inner, ['aria-label', 'title', 'label'], text) !== undefined);
  return isWrapper &&
    !isCalled &&
    children.length === 1 &&
    children[0]!.kind !== 'text' &&
    children[0]!.kind !== 'expression'
    ? bareOf(children[0]!, text)
    : inner;
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
  const source = singular((lastName(loop.source) ?? '').replace(/\d+$/, ''));
  const isItem = loop.item !== undefined && loop.item.length > 2 && !DULL.has(loop.item);
  // `entry in shown`: even a dull name says more than what was done with the list.
  const item = isItem || (loop.item !== undefined && loop.item.length > 3 && DONE.test(source)) ? loop.item! : source;
  const base = wordsName(item, 3);
  if (!base) return undefined;
  const kind = root && rowKind(root);
  // The row of a `HivePreview` is no `HiveHivePreview`.
  const suffix = kind !== undefined && base && kind.includes(base) ? 'Item' : kind;
  if (DULL.has(base.toLowerCase())) return hostPrefixed(singular(host), kind ?? 'Item');
  return withSuffix(base, suffix ?? 'Item');
}

/** What a row is: by its tag, or, where that only holds several things together, by the first row in it. */
function rowKind(root: ElementNode): string | undefined {
  if (ROWS[root.name]) return ROWS[root.name];
  if (!root.component) return classSuffix(root);
  const inner = root.children.find((c) => c.kind === 'element' && /^(?:tr|li)$|Row$|Item$/.test(c.name));
  if (CONTAINER.test(partName(root.name)) && inner?.kind === 'element') return ROWS[inner.name] ?? partName(inner.name);
  return partName(root.name);
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

/** The heading of highest rank; several of one rank head the parts, not the whole. */
function headingText(nodes: readonly Markup[], source: string): string | undefined {
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
      const text = wordsShown(node.children, source);
      const rank = Number(/^h([1-6])$/.exec(node.name)?.[1] ?? 0);
      if (text !== undefined) found.push({ text, rank });
    }
    return undefined;
  });
  const best = Math.min(...found.map((f) => f.rank));
  const heads = found.filter((f) => f.rank === best);
  return heads.length === 1 || heads[0]?.rank === 0 ? heads[0]!.text : undefined;
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

/** A component that is something by itself and no mere wrapper. */
function isPart({ name }: ElementNode): boolean {
  return partName(name).length > 3 && !CONTAINER.test(partName(name));
}

/** The first thing inside that has a name of its own. */
function innerName(nodes: readonly Markup[], hints: NameHints): string | undefined {
  let found: string | undefined;
  walkMarkup(nodes, (node) => {
    if (found) return false;
    if (node.kind !== 'element') return undefined;
    const only = node.children.filter((c) => c.kind === 'element');
    if (only.length > 1 && only.every((c) => c.component && c.name === only[0]!.name) && node !== nodes[0])
      return undefined;
    // What an icon is called says how it looks.
    if (/^(?:i|svg|use|path|img)$|icon/i.test(node.name)) return false;
    found =
      identifierName(node, hints, undefined) ??
      (node.component && isPart(node) ? hostPrefixed(hints.host, partName(node.name)) : undefined);
    return undefined;
  });
  return found;
}
