/** What a region says of itself: its texts, translated or not, the field that it is about, and when it is shown. */
import type { Attribute, Code, ElementNode, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';

/** Functions that look a text up. */
export const LOOKS_UP = /^(?:\$?tc?|__|_x|_|gettext|formatMessage|\w*[tT]ranslat(?:e|ion))$/;

/** A call that looks a text up, with the key and, where there is one, the text that stands in for it. */
const TRANSLATED =
  /(?:^|[^\w$.])(?:\$?t|(?:i18n|intl|this|props)\.\$?t|\$?tc|__|_x|_|gettext|formatMessage|\w*[tT]ranslat(?:e|ion))\(\s*(?:\{[^}]*?\bdefaultMessage:\s*)?(['"`])((?:(?!\1)[^\\])+)\1(?:\s*,\s*(?:\{\s*(?:_|defaultMessage|defaultValue)\s*:\s*)?(['"`])((?:(?!\3)[^\\])+)\3)?/;

/** The words of an expression that shows one text: `t('hives.queen', 'Queen')`, `'Queen'`. */
export function textOfCode(source: string): string | undefined {
  const call = TRANSLATED.exec(source);
  if (call) return call[4] !== undefined && /\s|[A-Z]/.test(call[4]) ? call[4] : lastOfKey(call[2]!);
  return /^\s*(['"`])((?:(?!\1)[^\\$])+)\1\s*$/.exec(source)?.[2];
}

/** `hives.fields.queen`: what a component looks up itself. */
function isKey(said: string): boolean {
  return /^[a-z][\w-]*(?:\.[\w-]+){2,}$/.test(said);
}

/** `queen` of `hives.fields.queen`; a key that is a sentence says it whole. */
function lastOfKey(key: string): string {
  if (/\s/.test(key)) return key;
  const parts = key.split(/[.:/]/).filter(Boolean);
  const last = parts[parts.length - 1] ?? key;
  // `hive.title`, `queen.label`: what it is the title of says more.
  return /^(?:title|label|text|name|heading|header|caption|placeholder|button|description)$/i.test(last) &&
    parts.length > 1
    ? parts[parts.length - 2]!
    : last;
}

/** Components that show a text which is looked up. */
export const SHOWS_TEXT =
  /^(?:FormattedMessage|FormattedHTMLMessage|Trans|Translate|Translation|i18n(?:-t)?|I18n(?:T)?)$/;

/** All that markup shows in words, where each part of it can be told; undefined where there is something else. */
export function wordsShown(nodes: readonly Markup[], text: string): string | undefined {
  const parts = nodes.map((node) => {
    if (node.kind === 'text') return node.text;
    if (node.kind === 'expression') return node.parts.length > 0 ? undefined : textOfCode(sourceOf(node.code, text));
    if (node.kind === 'element' && SHOWS_TEXT.test(node.name))
      return attributeText(node, ['defaultMessage', 'defaults', 'message', 'i18nKey', 'keypath', 'id'], text);
    // Of one text or another, the first is as good.
    if (node.kind === 'branch') return wordsShown(node.arms[0]?.body ?? [], text);
    return node.kind === 'comment' ? '' : undefined;
  });
  return parts.includes(undefined) ? undefined : parts.join(' ').trim() || undefined;
}

export function sourceOf(code: Code, text: string): string {
  return text.slice(code.start, code.end);
}

/** The text of an attribute: written out, or looked up. */
export function attributeText(node: ElementNode, names: readonly string[], text: string): string | undefined {
  for (const name of names) {
    const found = node.attributes.find((a: Attribute) => a.name === name);
    const said = found?.text ?? (found?.code ? textOfCode(sourceOf(found.code, text)) : undefined);
    if (said) return isKey(said) ? lastOfKey(said) : said;
  }
  return undefined;
}

const CONTROL =
  /^(?:input|select|textarea)$|(?:Input|Select|Field|Picker|Checkbox|Switch|Slider|Radio|Toggle|Upload|Autocomplete|Area|ComboBox|Dropdown|Rate|Rating)$/i;

const FIELD =
  /^(?:Controller|Field|FormField|FormItem|Form\.Item|Form\.Field|FormControl|ValidationProvider|(?:a-|el-)form-item)$/;

/** What the one field around all controls of a region is called, as in `<Controller name="visitStatus">`. */
export function fieldAround(nodes: readonly Markup[], text: string): string | undefined {
  const fields: ElementNode[] = [];
  walkMarkup(nodes, (node) => {
    if (node.kind !== 'element' || !FIELD.test(node.name)) return undefined;
    fields.push(node);
    return false;
  });
  return fields.length === 1 ? attributeText(fields[0]!, ['name', 'prop'], text) : undefined;
}

/** `No encounters` of `No encounters to display`: what is shown where there is nothing. */
export function nothingShown(nodes: readonly Markup[], text: string): string | undefined {
  let found: string | undefined;
  let listed = false;
  walkMarkup(nodes, (node) => {
    // Where the list is, or what has a heading, its being empty is only a part.
    if (node.kind === 'loop' || (node.kind === 'element' && /^h[1-6]$/.test(node.name))) listed = true;
    if (found !== undefined || listed) return false;
    const said = node.kind === 'element' && node.children.length > 0 ? wordsShown(node.children, text) : undefined;
    const what =
      /^(?:There (?:is|are) )?no ([a-z]+(?: [a-z]+)?)\b(?= (?:to|found|yet|available|ha(?:s|ve)|match|recorded|configured)|[.!]?$)/i.exec(
        said?.trim() ?? '',
      )?.[1];
    if (what) found = `No ${what}`;
    return undefined;
  });
  return listed ? undefined : found;
}

/** The one control of a region, and what it is for: its name, its label, or what it is bound to. */
export function fieldOf(
  nodes: readonly Markup[],
  text: string,
): { readonly word: string; readonly control: ElementNode } | undefined {
  const controls: ElementNode[] = [];
  walkMarkup(nodes, (node) => {
    if (node.kind !== 'element' || !CONTROL.test(node.name.replace(/-/g, ''))) return undefined;
    controls.push(node);
    return false;
  });
  const control = controls.length === 1 ? controls[0]! : undefined;
  const word =
    control &&
    (attributeText(control, ['name'], text) ??
      attributeText(control, ['label', 'labelText', 'titleText', 'aria-label', 'placeholder', 'title', 'id'], text) ??
      boundName(control, text));
  return word === undefined || control === undefined ? undefined : { word, control };
}

/** `email` of `v-model="form.email"` and `value={draft.email}`. */
function boundName(control: ElementNode, text: string): string | undefined {
  const bound = control.attributes.find(
    (a) => a.code && (a.kind === 'two-way' || /^(?:value|checked|modelValue)$/.test(a.name)),
  );
  const path = bound?.code ? /^[\w$.]+$/.exec(sourceOf(bound.code, text))?.[0] : undefined;
  const last = path?.split('.').at(-1);
  return last && !/^(?:value|checked|model|data|state|current\w*)$/i.test(last) ? last : undefined;
}

/** `month` of `view === 'month'`, `editing` of `isEditing`: when something is shown says what it is. */
export function wordOfCondition(source: string): string | undefined {
  const compared = /^\(?\s*[\w$.?]+\s*={2,3}\s*(['"`])([A-Za-z][\w -]*)\1\s*\)?$/.exec(source)?.[2];
  if (compared) return compared;
  return /^\(?\s*(?:[\w$]+\.)*(?:show|is|has)([A-Z]\w+)\s*\)?$/.exec(source)?.[1];
}

/** What an icon holds is its name. */
function isIcon(node: Markup): boolean {
  return node.kind === 'element' && /icon$|^(?:i|svg)$/i.test(node.name);
}

/** The first words that a region shows or is labelled with, to know it by; its heading where it has one. */
export function saidFirst(nodes: readonly Markup[], text: string): string | undefined {
  let heading: string | undefined;
  let first: string | undefined;
  walkMarkup(nodes, (node) => {
    if (heading !== undefined || isIcon(node)) return false;
    if (node.kind !== 'element') return undefined;
    const said = node.children.length > 0 ? wordsShown(node.children, text) : undefined;
    const label = attributeText(
      node,
      ['title', 'label', 'labelText', 'legendText', 'aria-label', 'placeholder', 'alt'],
      text,
    );
    if (/^(?:h[1-6]|legend|caption|summary)$/.test(node.name)) heading = said;
    if (/[A-Za-z]{2}/.test(said ?? '')) first ??= said;
    first ??= label;
    return undefined;
  });
  return (heading ?? first)?.replace(/\s+/g, ' ').trim() || undefined;
}

/** What any button or switch may say. */
const ANSWER =
  /^(?:yes|no|ok|okay|on|off|cancel|close|save|edit|delete|remove|reset|submit|apply|back|next|previous|done|more|add|none|loading)\W*$/i;

/** The first short text in a region that stands alone in its element. */
export function firstText(nodes: readonly Markup[], text: string): string | undefined {
  let found: string | undefined;
  walkMarkup(nodes, (node) => {
    if (found !== undefined || node.kind === 'loop' || isIcon(node)) return false;
    if (node.kind === 'element' && node.children.length > 0) found = wordsShown(node.children, text);
    else if (node.kind === 'element' && SHOWS_TEXT.test(node.name)) found = wordsShown([node], text);
    if (
      found !== undefined &&
      (found.split(/\s+/).length > 3 || !/[A-Za-z]{3}/.test(found) || ANSWER.test(found.trim()))
    )
      found = undefined;
    return undefined;
  });
  return found;
}
