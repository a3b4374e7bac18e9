/** What the id or the classes of an element call it, as far as they say what it is and not how it looks. */
import type { Attribute, ElementNode } from '../markup/model.js';
import { sourceOf } from './said.js';
import { hostPrefixed, withSuffix, wordsIn, wordsName } from './words.js';

const UTILITY =
  /^(?:desktop|mobile|tablet|smartphone|phone|print|screen)-only$|[:[\]/]|^[a-z]{1,4}-*\d|^-?(?:op|of|ws|wh|margin|padding|align|btn|button|icon|fa|col|active|open|show|hide|disabled|large|small|medium|size|width|height|color|w\d|p|m|px|py|pt|pb|pl|pr|mx|my|mt|mb|ml|mr|w|h|min|max|gap|space|flex|grid|col|row|text|bg|border|rounded|shadow|font|leading|tracking|items|justify|self|place|overflow|absolute|relative|fixed|sticky|block|inline|hidden|visible|container|d|float|z|top|left|right|bottom|opacity|transition|cursor|select|sr|order|align|is|has|u|pull|clearfix|wrapper|inner|outer|inset|shrink|grow|basis|object|origin|scale|rotate|translate|animate|duration|delay|ease|ring|outline|divide|whitespace|truncate|underline|uppercase|lowercase|capitalize|italic|aspect|columns|backdrop|fill|stroke|pointer|touch|resize|will|isolate|antialiased|size|rtl|ltr)(?:-|$)/;

/** The literal text of an attribute. */
export function staticText(node: ElementNode, name: string): string | undefined {
  return node.attributes.find((a: Attribute) => a.name === name && a.kind === 'static')?.text;
}

/** Whether a class says how something looks; many projects put letters of their own before those of their style framework. */
function isUtility(name: string, text: string | undefined): boolean {
  // `block-editor__options` is of a block that begins like one.
  if (/[a-z]__[a-z]/.test(name)) return false;
  if (UTILITY.test(name)) return true;
  const [, prefix, rest] = /^([a-z]{1,3}-)([a-z].*)$/.exec(name) ?? [];
  if (prefix === undefined || !UTILITY.test(rest!)) return false;
  return (
    /-\d+$/.test(rest!) || (text !== undefined && new RegExp(`(?<![\\w-])${prefix}[a-z-]+-\\d+(?![\\w-])`).test(text))
  );
}

/** Names for the outermost element of anything. */
const UNTOLD =
  /^(?:root|wrapper|container|inner|outer|wrap|box|row|col|column|grid|flex|stack|layout|content|is[A-Z]\w*|has[A-Z]\w*)$/;

/** The id or class of an element that says what it is; with the file's text also one that code puts together. */
function identifierOf(node: ElementNode, text?: string): string | undefined {
  const classes = writtenClasses(node).filter((c) => !isUtility(c, text));
  const written = staticText(node, 'id') ?? (text === undefined ? classes[0] : rarest(classes, text));
  if (written !== undefined || text === undefined) return written;
  const code = classCode(node, text);
  const literals = [...code.matchAll(/(['"`])([a-zA-Z][\w-]*)\1/g)].map((m) => m[2]!);
  // What is put behind the prefix of the component names its part.
  const part = /(?:[\w$]\s*\+\s*['"`]|\})(?:-|__)([a-zA-Z][\w-]*)['"`]/.exec(code)?.[1];
  if (part !== undefined) return `__${part}`;
  const member = /(?:^|[^\w$])(?:\$?styles?|css|s|\w*[cC]lasses|\w*Styles)\.(?!modifiers\b)([A-Za-z]\w+)/.exec(
    code,
  )?.[1];
  // What a style sheet of its own calls it is no utility: `classes.topRight`.
  if (member !== undefined && !UNTOLD.test(member)) return member;
  return literals.find((c) => !UTILITY.test(wordsIn(c).join('-')));
}

/** Of the classes with two words of their own, or of all, the one that stands at the fewest places: what others share says less. */
function rarest(classes: readonly string[], text: string): string | undefined {
  if (classes.length < 2) return classes[0];
  const telling = classes.filter((name) => wordsIn(withoutPrefix(name, text)).length > 1);
  const plain = classes.filter((name) => !/^(?:section|block|box|row|col|content|inner|item|main)$/.test(name));
  const among = telling.length > 0 ? telling : plain.length > 0 ? plain : classes;
  const counts = among.map((name) => text.split(name).length);
  return among[counts.indexOf(Math.min(...counts))];
}

/** All classes that an element has in any case, as they are written or by the name that a style sheet gives them. */
export function classesOf(node: ElementNode, text: string): string[] {
  const put = [...classCode(node, text).matchAll(/[\w$]\.([A-Za-z]\w+)|(['"`])([a-zA-Z][\w-]*)\2/g)];
  return [...writtenClasses(node), ...put.map((m) => m[1] ?? m[3]!)];
}

export function writtenClasses(node: ElementNode): string[] {
  return (staticText(node, 'className') ?? staticText(node, 'class') ?? '').split(/\s+/).filter(Boolean);
}

/** The code that puts classes together, without what is there under a condition: that says how it looks just now. */
function classCode(node: ElementNode, text: string): string {
  const bound = node.attributes.find((a) => (a.name === 'className' || a.name === 'class') && a.code);
  return bound?.code ? sourceOf(bound.code, text).replace(/\{[^{}]*:[^{}]*\}/g, '') : '';
}

/** Whether an element is only called what style frameworks call their parts: `card-header`, `formGroup`. */
export function isFrameworks(node: ElementNode, text: string): boolean {
  return isOfFramework(identifierOf(node, text) ?? '');
}

function isOfFramework(name: string): boolean {
  const words = wordsIn(name);
  return words.length > 1 && PARTS.test(words[0]!) && words.every((word) => FRAMEWORK.test(word));
}

const PARTS = /^(?:card|panel|modal|list|row|col|box|media|tile|navbar|table|form|content|body|inner|group)$/;

/** Whether what an element is called stands at three places of the file or more. */
export function isWidely(node: ElementNode, text: string): boolean {
  const name = identifierOf(node, text);
  if (name === undefined || name.startsWith('__')) return false;
  const plain = name.replace(/[^\w-]/g, '');
  const given = new RegExp(`class(?:Name)?=(?:"[^"]*|\\{[^}]*)(?<![\\w-])${plain}(?![\\w-])`, 'g');
  return [...text.matchAll(given)].length > 2;
}

/** From the id or the first class that says what the element is, rather than how it looks. */
export function identifierName(
  node: ElementNode,
  { host, text }: { readonly host: string; readonly text: string },
  suffix: string | undefined,
): string | undefined {
  const found = identifierOf(node, text);
  // Of `block__element--state`, the element; what all classes of the file begin with names none of them.
  const element = found
    ?.replace(/--.*$/, '')
    .replace(/^.*?__/, '')
    .replaceAll('__', '-');
  const own = element && withoutPlacing(withoutPrefix(element, text));
  const base = wordsName(own, 4);
  // A letter says nothing.
  if (!base || base.length < 2) return undefined;
  const isPart = own !== found;
  const meaningful =
    base.length > 3 &&
    !/^(?:Card|Row|Item|List|Title|Content|Body|Header|Footer|Panel|Section|Box|Actions|Form|Table|Main|Nav|Text|Label|Icon|Image|Group|Column|Col)$/.test(
      base,
    );
  const isOneWord = wordsIn(base).length === 1;
  // `card-header` and the like stand in any application: what is around it is missing.
  if (isOfFramework(base)) return hostPrefixed(host, /[A-Z][a-z0-9]*$/.exec(base)?.[0] ?? base);
  if (!meaningful || ((isPart || identifierOf(node) === undefined) && isOneWord))
    return hostPrefixed(otherBlock(found!, host) ?? host, base);
  // `ivu-slider-marks` in a slider: what stands before its name is nobody's.
  const at = base.indexOf(host);
  if (at > 0 && /^(?:[A-Z]|$)/.test(base.slice(at + host.length))) return base.slice(at);
  const isSaid = /(?:Bar|Box|Panel|Card|Search|Controls|Fields?)$/.test(base);
  return suffix && !isSaid && /^(?:Form|Table|List|Dialog|Nav)$/.test(suffix) ? withSuffix(base, suffix) : base;
}

/** `Products` of `products__grid`, where that is not what the component is called itself. */
function otherBlock(found: string, host: string): string | undefined {
  const block = /^([a-z]{4,})__[a-z]/.exec(found)?.[1];
  if (block === undefined || isUtility(block, undefined)) return undefined;
  const own = host.toLowerCase();
  return own.includes(block) || block.includes(own) ? undefined : wordsName(block, 1);
}

/** `breadcrumbsContainer` holds breadcrumbs. */
function withoutPlacing(name: string): string {
  return name.replace(/(?<=[a-z0-9])[-_]?(?:[Cc]ontainer|[Ww]rapper|[Ww]rap|[Hh]older|[Oo]uter|[Ii]nner)$/, '');
}

/** A class without the words that nearly all classes of the file begin with. */
function withoutPrefix(name: string, text: string): string {
  const prefix = prefixOf(text);
  return prefix && name.startsWith(`${prefix}-`) ? name.slice(prefix.length + 1) : name;
}

/** Regions of one file are named one after the other. */
let last: { readonly text: string; readonly prefix: string } | undefined;

function prefixOf(text: string): string {
  if (last?.text === text) return last.prefix;
  const all = new Set([...text.matchAll(/(?<=["'`\s.])[a-z][a-z0-9]*(?:-[a-z0-9]+)+(?=["'`\s_])/g)].map((m) => m[0]));
  const firsts = new Map<string, number>();
  for (const name of all) {
    const first = name.slice(0, name.indexOf('-'));
    firsts.set(first, (firsts.get(first) ?? 0) + 1);
  }
  const [first, count] = [...firsts].sort((a, b) => b[1] - a[1])[0] ?? ['', 0];
  last = { text, prefix: count >= LEAST_ALIKE && count > all.size * MOSTLY ? first : '' };
  return last.prefix;
}

/** So many classes, and so much of all, have to begin with a word for it to be a prefix. */
const LEAST_ALIKE = 4;
const MOSTLY = 0.6;

/** Words that frameworks of styles call their parts. */
const FRAMEWORK =
  /^(?:card|row|item|list|title|content|tile|container|wrapper|inner|outer|body|head|header|foot|footer|panel|section|box|actions|form|table|main|nav|navbar|bar|text|label|group|modal|dialog|page|view|layout|area|block|part|media|input|field|control|primary|secondary|default|light|dark|new|old|v\d+|\w|\d+)$/;

/** A class of two words and more that says what the element is: `hive-summary`. */
export function saysWhatItIs(node: ElementNode, text?: string): boolean {
  const name = identifierOf(node, text);
  if (name === undefined || /__|--/.test(name)) return false;
  return wordsIn(name).length === 2 && ownWords(node, text).length > 0 && !/\d/.test(name);
}

/** Words of the id or class that no framework would use. */
export function ownWords(node: ElementNode, text?: string): string[] {
  return wordsIn(identifierOf(node, text) ?? '').filter((word) => word && !FRAMEWORK.test(word));
}
