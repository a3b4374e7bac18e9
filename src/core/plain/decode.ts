/** What attributes and text of plain markup say: references decoded, styles in normal form. */
import { decodeHTML, decodeHTMLAttribute } from 'entities';
import { find, html } from 'property-information';
import parseStyle from 'style-to-object';
import type { Span } from '../text/edits.js';
import type { AttributePiece, ElementPiece } from './scan.js';

export { decodeHTML as decodeText };

/** The value of an attribute without its quotes, decoded; empty where it has none. */
export function attributeValue({ value }: AttributePiece, text: string): string {
  return value ? decodeHTMLAttribute(unquoted(value, text)) : '';
}

/** The value of an attribute of an element; undefined where it has none of that name. */
export function attributeIn(element: ElementPiece, name: string, text: string): string | undefined {
  const found = element.attributes.find((a) => a.name.toLowerCase() === name);
  return found && attributeValue(found, text);
}

export function unquoted({ start, end }: Span, text: string): string {
  return text.slice(start, end).replace(/^(["'])([\s\S]*)\1$/, '$2');
}

/** Property and value of each declaration in a style attribute, in order; undefined where it cannot be read. */
export function declarationsOf(style: string): [string, string][] | undefined {
  const found: [string, string][] = [];
  try {
    parseStyle(style, (name, value) => void found.push([name, value]));
  } catch {
    // The parser throws on what a browser would skip.
    return undefined;
  }
  return found;
}

/** An attribute as trees compare it. */
export function normalValue(name: string, value: string): string {
  if (name === 'class') return value.trim().replace(/\s+/g, ' ');
  if (name !== 'style') return find(html, name).boolean ? '' : value;
  const declarations = declarationsOf(value);
  return declarations ? declarations.map(([property, v]) => `${property}: ${v}`).join('; ') : value;
}
