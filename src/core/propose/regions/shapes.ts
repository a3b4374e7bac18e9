/** What a reader sees of a region before reading it: landmarks, headings, dialogs, rows of buttons, and what is only a wrapper. */
import type { ElementNode, Markup } from '../../markup/model.js';
import type { Region } from '../../markup/region.js';
import { childLists } from '../../markup/walk.js';
import { classesOf, writtenClasses } from '../identifiers.js';
import { CONTAINER, isButton, partName } from '../kinds.js';
import { wordsIn } from '../words.js';

const LANDMARKS = /^(?:header|nav|main|aside|footer|form|table|dialog|fieldset|section|article|figure)$/;

/** Whether an element stands in it, as content or in what is passed. */
export function holdsElements(node: Markup): boolean {
  return childLists(node).some((list) => list.some((n) => n.kind === 'element' || holdsElements(n)));
}

/** One element of the page with others in it: where a component looks at it, it stays, and its content can be cut. */
export function isHolder({ nodes }: Region): boolean {
  const only = nodes.length === 1 ? nodes[0]! : undefined;
  return only?.kind === 'element' && !only.component && holdsElements(only);
}

export function hasHeading({ nodes }: Region): boolean {
  return nodes.some(isHeaded);
}

/** Whether a node has a heading of its own, or shows something that has one or nothing. */
function isHeaded(node: Markup): boolean {
  if (node.kind === 'branch') return childLists(node).some((list) => list.length === 1 && isHeaded(list[0]!));
  return (
    node.kind === 'element' &&
    (/^h[1-6]$/.test(node.name) ||
      node.children.some((c) => c.kind === 'element' && /^(?:h[1-6]|legend|caption|summary|header)$/.test(c.name)) ||
      isCard(node))
  );
}

/** Whether an element begins with what is called a header, `card-header` or `CardHeader`, and something stands below it. */
function isCard({ children }: ElementNode): boolean {
  const [first, ...rest] = shown(children);
  if (first?.kind !== 'element' || rest.length === 0) return false;
  const called = first.component ? [partName(first.name)] : writtenClasses(first);
  return called.some((name) => /(?:^|[-_]|[a-z])[Hh]ead(?:er|ing)$/.test(name)) && holdsHeading(first.children);
}

function holdsHeading(nodes: readonly Markup[]): boolean {
  return nodes.some(
    (node) => node.kind === 'element' && (/^h[1-6]$|Title$|Heading$/.test(node.name) || holdsHeading(node.children)),
  );
}

/** `<!-- end of the table -->` stands behind what it is about. */
export function isClosing(node: Markup): boolean {
  return node.kind === 'comment' && /^\s*(?:\/|end\b)/i.test(node.text.replace(/^\s*\/[*/]+/, ''));
}

export function shown(nodes: readonly Markup[]): readonly Markup[] {
  return nodes.filter((n) => n.kind !== 'comment' && !(n.kind === 'text' && n.text.trim() === ''));
}

export function onlyChild(node: Markup): boolean {
  return (node.kind === 'element' || node.kind === 'fragment') && shown(node.children).length <= 1;
}

export function onlyRegion(parent: Markup, region: Region): boolean {
  return (
    (parent.kind === 'element' || parent.kind === 'fragment') &&
    shown(parent.children).every((n) => region.nodes.includes(n))
  );
}

/** Components that are known on sight, by how their names end. */
const THINGS =
  /(?:Dialog|Modal|Drawer|Sheet|Popover|Popup|Menu|Dropdown|Toolbar|Navbar|Sidebar|Tabs|Wizard|Form|FormGroup|FormItem|FormControl|Field|Controller|Card|Panel|Tile|Accordion|Collapse|Section|Fieldset|Header|Footer|Actions|EmptyState|Placeholder|Banner|Alert|Notification)$/i;

export function isLandmark({ name }: ElementNode): boolean {
  return LANDMARKS.test(name);
}

/** A dialog, a menu, a card, a field, a row of buttons: by its component, by a class, or by what it holds. */
export function isThing(node: ElementNode, text: string): boolean {
  if (node.component && (THINGS.test(node.name.replace(/\.(?:Root|Provider)$/, '')) || isSpecific(node.name)))
    return true;
  if (!node.component && classesOf(node, text).some((name) => /[-_]|[a-z][A-Z]/.test(name) && THINGS.test(name)))
    return true;
  const elements = shown(node.children).flatMap((child) => childrenShown(child));
  return elements.length > 1 && elements.every((child) => child.kind === 'element' && isButton(child));
}

/** `ViewControls`, `ControlHint`: a component of two words and more that is no control of any form or page. */
function isSpecific(name: string): boolean {
  const words = wordsIn(partName(name));
  return words.length > 1 && !CONTAINER.test(partName(name)) && !GENERAL.test(words.at(-1)!);
}

const GENERAL =
  /^(?:button|input|text|icon|image|img|label|select|picker|checkbox|radio|switch|row|cell|column|col|option|title|description|content|body|wrapper|container|group|area|view|link|transition)$/;

/** A node, or what it shows under its condition. */
function childrenShown(node: Markup): readonly Markup[] {
  return node.kind === 'branch' ? childLists(node).flatMap((list) => shown(list).flatMap(childrenShown)) : [node];
}
