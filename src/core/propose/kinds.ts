/** What kind of thing an element is, in a word, by its tag, its role or its component. */
import type { ElementNode, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';
import { staticText } from './identifiers.js';
import { wordsName } from './words.js';

export const LANDMARKS: Record<string, string> = {
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
export const ROLES: Record<string, string> = {
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
export const ROWS: Record<string, string> = {
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

/** What there is much of on any page: which one it is, its words tell. */
export const GENERIC =
  /^(?:Button|Card|Dialog|Modal|Panel|Tab|Link|Menu|List|Section|Alert|Badge|Tag|Text|Typography)$/;

/** Tags that only say how or when something is shown. */
export const CONTAINER =
  /^(?:Box|Flex|Grid|Stack|HStack|VStack|Row|Col|Column|Columns|View|Space|Layout|Div|Paper|Item|Group|Root|Content|Layer|Padded|Spacer|Divider|(?:[A-Z]{2})?Text|Typography|Paragraph|(?:Motion|Animated|Styled)(?:Div|Span|Box|View|Section))$|(?:Container|Wrapper|Provider|Context|Consumer|Root|Tooltip|Fragment|Transition|TransitionGroup|KeepAlive|Suspense|Boundary|Portal|Teleport|Slot|TrapFocus|FocusTrap|FocusLock|ScrollLock)$/;

/** What kind of thing an element is, in a word; undefined where it only lays out. */
export function kindOf(root: ElementNode): string | undefined {
  if (!root.component) return ROWS[root.name] ?? classSuffix(root);
  const name = partName(root.name);
  return CONTAINER.test(name)
    ? undefined
    : name.replace(/^.*(?=(?:Button|Card|Dialog|Modal|Panel|Tab|Link|Field|Menu|Item|Icon)$)/, '');
}

/** `Button` for `el-button`, `Tooltip` for `Tooltip.Root`: without what the library puts around it. */
export function partName(name: string): string {
  const parts = name.split('.');
  const last =
    parts.length > 1 && /^(?:Root|Provider|Content|Container|Group)$/.test(parts.at(-1)!)
      ? parts.at(-2)!
      : parts.at(-1)!;
  return (
    wordsName(
      last
        .replace(/^[a-z]{1,4}-(?=[a-z])/, '')
        .replace(/^(?:[A-Z]|El|Md|Va|Ui|Vs|Bs|Mui|Ant|Van)(?=[A-Z][a-z])/, '')
        .replace(/^[Bb]tn$/, 'Button')
        .replace(/^Styled(?=[A-Z])/, ''),
      4,
    ) ?? last
  );
}

export function classSuffix(node: ElementNode): string | undefined {
  const classes = (staticText(node, 'className') ?? staticText(node, 'class') ?? '').toLowerCase();
  return /(?:^|[-_\s])(card|row|tile|panel|entry|badge|chip|tag|option|step|tab|link)(?:$|[-_\s])/
    .exec(classes)?.[1]
    ?.replace(/^./, (c) => c.toUpperCase());
}

export function suffixOf(node: ElementNode): string | undefined {
  if (node.component) {
    const name = partName(node.name);
    return CONTAINER.test(name)
      ? undefined
      : name.replace(/^.*(?=(?:Dialog|Modal|Form|Table|List|Card|Panel|Menu|Section|Header|Footer|Button|Field)$)/, '');
  }
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

const CONTROL =
  /^(?:input|textarea|select)$|(?:Input|Select|Field|Picker|Checkbox|Switch|Toggle|Radio|Slider|ComboBox|Area)$/i;
const BUTTON = /(?:^|-)btn$|button$/i;
const LINK = /^a$|(?:Link|link)$/;
const SENDS = /\b(?:cancel|save|submit|discard|confirm|apply|close|ok|back|next)\b/i;

export function isButton({ name }: ElementNode): boolean {
  return BUTTON.test(name);
}

/** What a region holds more than one of, or a table: `Fields`, `Form`, `Actions`, `Buttons`, `Links`, `Table`. */
export function contentKind(nodes: readonly Markup[], text: string): string | undefined {
  const found = { controls: 0, buttons: 0, links: 0, tables: 0, forms: 0 };
  let sends = false;
  walkMarkup(nodes, (node) => {
    if (node.kind !== 'element') return undefined;
    const name = node.name.replace(/-/g, '');
    const isControl = CONTROL.test(name);
    const button = isButton(node) && !isControl;
    if (isControl) found.controls++;
    else if (button) found.buttons++;
    else if (LINK.test(name)) found.links++;
    else if (/^table$|(?:Data)?Table$/.test(name)) found.tables++;
    else if (/form$/i.test(name)) found.forms++;
    if (button) sends ||= SENDS.test(text.slice(node.start, node.end).replace(/=>/g, ''));
    return isControl || button ? false : undefined;
  });
  if (found.tables === 1) return 'Table';
  if (found.controls > 0 && (found.forms > 0 || (found.controls > 1 && found.buttons > 0))) return 'Form';
  if (found.controls > 1) return 'Fields';
  if (found.buttons > 1) return sends ? 'Actions' : 'Buttons';
  return found.links > 1 ? 'Links' : undefined;
}

export function lastPart(name: string): string {
  return name.slice(name.lastIndexOf('.') + 1);
}
