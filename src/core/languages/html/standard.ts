/** A page as the HTML standard says that a browser reads it, with all that is implied, moved and mended. */
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { normalValue } from '../../plain/decode.js';
import type { DomNode } from '../../plain/dom.js';
import { placeholder, writtenBy } from '../../plain/written.js';

type Parsed = DefaultTreeAdapterTypes.ChildNode;
type Element = DefaultTreeAdapterTypes.Element;

/** What stands in the body; `leaves` says which of its own children do not count as shown. */
export function bodyOf(text: string, leaves: (name: string) => boolean): DomNode[] {
  const page = parse(text, { sourceCodeLocationInfo: true });
  const root = page.childNodes.find((n): n is Element => n.nodeName === 'html')!;
  const body = root.childNodes.find((n): n is Element => n.nodeName === 'body');
  return nodesOf((body?.childNodes ?? []).filter((node) => !leaves(node.nodeName)));
}

function textIn(node: Element): string {
  return node.childNodes.map((c) => ('value' in c ? c.value : '')).join('');
}

function nodesOf(nodes: readonly Parsed[]): DomNode[] {
  return nodes.flatMap((node): DomNode[] => {
    const at = {
      start: node.sourceCodeLocation?.startOffset ?? 0,
      end: node.sourceCodeLocation?.endOffset ?? 0,
    };
    if ('value' in node) return [{ ...at, kind: 'text', text: node.value }];
    if (!('attrs' in node)) return [];
    const code = node.tagName === 'script' ? writtenBy(textIn(node)) : undefined;
    if (code !== undefined) return [{ ...at, kind: 'text', text: placeholder(code) }];
    const attributes = new Map(
      node.attrs.map((a) => {
        const name = a.prefix ? `${a.prefix}:${a.name}` : a.name;
        return [name, normalValue(name, a.value)];
      }),
    );
    return [{ ...at, kind: 'element', name: node.tagName, attributes, children: nodesOf(node.childNodes) }];
  });
}
