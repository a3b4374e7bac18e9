/** Pages as a browser reads them, to hold what was written of them against: by a parser that the steps do not share results with. */
import { parse, parseFragment, serialize, type DefaultTreeAdapterTypes } from 'parse5';

type Node = DefaultTreeAdapterTypes.ChildNode;

const NOT_SHOWN = new Set(['script', 'style', 'link', 'noscript', 'template', 'meta', 'title', '#comment']);
const BOOLEAN =
  /^(?:checked|disabled|selected|multiple|required|readonly|autofocus|hidden|novalidate|open|controls|allowfullscreen|async|defer|muted|loop|autoplay|inert|reversed|default|ismap|itemscope|download)$/;

/** The body of a page: tags, attributes in order, texts without any white space. */
export function bodyOutline(html: string): string {
  const root = parse(html).childNodes.find((n) => n.nodeName === 'html') as DefaultTreeAdapterTypes.Element;
  const body = root.childNodes.find((n) => n.nodeName === 'body') as DefaultTreeAdapterTypes.Element;
  return outline(body.childNodes.filter((n) => !NOT_SHOWN.has(n.nodeName)));
}

/** What stands between the tags of the body. */
export function bodyText(html: string): string {
  const root = parse(html).childNodes.find((n) => n.nodeName === 'html') as DefaultTreeAdapterTypes.Element;
  return serialize(root.childNodes.find((n) => n.nodeName === 'body') as DefaultTreeAdapterTypes.Element);
}

export function fragmentOutline(html: string): string {
  // React asks for images ahead, by links in front of what it shows.
  return outline(parseFragment(html).childNodes.filter((n) => n.nodeName !== 'link'));
}

function outline(nodes: readonly Node[]): string {
  return nodes
    .map((node) => {
      if (node.nodeName === '#comment') return '';
      if ('value' in node) return node.value.replace(/[ \t\n\f\r]+/g, '');
      if (!('attrs' in node)) return '';
      // A footer's year: the script that wrote it is an expression afterwards.
      if (node.tagName === 'script') return String(new Date().getFullYear());
      const attributes = node.attrs
        .filter((a) => a.name !== 'class' || a.value.trim())
        .map((a) => ` ${a.name}=${JSON.stringify(normal(a.name, a.value))}`)
        .sort();
      return `<${node.tagName}${attributes.join('')}>${outline(node.childNodes)}</>`;
    })
    .join('');
}

function normal(name: string, value: string): string {
  if (BOOLEAN.test(name)) return '';
  if (name === 'class') return value.trim().split(/\s+/).sort().join(' ');
  return name === 'style' ? value.replace(/\s+/g, '').replace(/;$/, '') : value;
}
