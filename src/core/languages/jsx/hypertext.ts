/** Plain markup as JSX for React, and back: attributes are properties, a style is a record, text may not hold braces. */
import type { TSESTree } from '@typescript-eslint/types';
import { decodeHTMLStrict } from 'entities';
import { find, hastToReact, html, svg } from 'property-information';
import type { Attribute, ElementNode } from '../../markup/model.js';
import type { Edit, Span } from '../../text/edits.js';
import type { Hypertext, Unsayable } from '../../language/hypertext.js';
import { attributeValue, declarationsOf, decodeText, normalValue, unquoted } from '../../plain/decode.js';
import type { DomElement, DomNode } from '../../plain/dom.js';
import { isHandler } from '../../plain/handlers.js';
import { plainTree } from '../../plain/tree.js';
import { literalText } from '../../plain/written.js';
import type { AttributePiece, ElementPiece, Piece } from '../../plain/scan.js';

/** References that JSX knows and that say more in the source than their character would. */
const KNOWN =
  /^&(?:amp|lt|gt|quot|nbsp|copy|reg|trade|laquo|raquo|mdash|ndash|hellip|larr|rarr|times|middot|bull|#\d+|#x[\da-f]+);$/i;

export const hypertext: Hypertext = {
  spelling: {
    attribute,
    text({ start, end }, source, asWritten) {
      const text = source.slice(start, end);
      if (asWritten) {
        // The first line end of a <pre> is none of its content.
        const isFirst = /<pre\b[^>]*>$/i.test(source.slice(0, start));
        return [{ start, end, text: `{${literal(decodeText(isFirst ? text.replace(/^\r?\n/, '') : text))}}` }];
      }
      return [...lostSpaces(text), ...characters(text)].map((edit) => ({
        start: edit.start + start,
        end: edit.end + start,
        text: edit.text,
      }));
    },
    comment: (text) => `{/*${text.slice(4).replace(/-->$/, '').replaceAll('*/', '* /')}*/}`,
    closesVoid: true,
    space: "{' '}",
    code: (code) => `{${code}}`,
    keeps: ({ text }) => !/[\r\n]/.test(text),
    element: content,
    takes: new Set(['textarea']),
  },
  extension: (files) => {
    const paths = files.list();
    return paths.filter((p) => p.endsWith('.tsx')).length > paths.filter((p) => p.endsWith('.jsx')).length
      ? '.tsx'
      : '.jsx';
  },
  margin: ({ unit, roots }) => unit.repeat(roots === 1 ? 2 : 3),
  component(name, markup, { unit, lineEnd: nl, roots }) {
    const around = unit + unit;
    const body = roots === 1 ? around + markup : [`${around}<>`, around + unit + markup, `${around}</>`].join(nl);
    return [`export function ${name}() {`, `${unit}return (`, body, `${unit});`, '}', ''].join(nl);
  },
  mount: (name, source, root) => [
    "import { createElement } from 'react';",
    "import { flushSync } from 'react-dom';",
    "import { createRoot } from 'react-dom/client';",
    `import { ${name} } from '${source}';`,
    '',
    `const root = createRoot(document.getElementById('${root}'));`,
    '// What the scripts of the page look for has to be there before they run.',
    `flushSync(() => root.render(createElement(${name})));`,
  ],
  plain: (nodes) => plainTree(nodes, plainElement),
  notes: () => [],
};

/** What text may not hold in JSX, as a piece of code each. */
const SPECIAL = /[{}>]|<(?![A-Za-z/!])/;

function characters(text: string): Edit[] {
  return [...text.matchAll(new RegExp(`${SPECIAL.source}|&(?:#x?)?\\w+;?`, 'g'))].flatMap((match): Edit[] => {
    const at = { start: match.index, end: match.index + match[0].length };
    if (!match[0].startsWith('&')) return [{ ...at, text: `{'${match[0]}'}` }];
    const decoded = decodeText(match[0]);
    return decoded === match[0] || KNOWN.test(match[0]) ? [] : [{ ...at, text: decoded }];
  });
}

/** Line ends within the text that would be lost because the text ends there, at a piece of code. */
function lostSpaces(text: string): Edit[] {
  return [...text.matchAll(/[ \t\n\f\r]*\n[ \t\n\f\r]*/g)].flatMap((match): Edit[] => {
    const [before, after] = [text[match.index - 1], text[match.index + match[0].length]];
    const isCut = (c: string | undefined) => c !== undefined && SPECIAL.test(c);
    if (before === undefined || after === undefined || !(isCut(before) || isCut(after))) return [];
    return [{ start: match.index, end: match.index, text: "{' '}" }];
  });
}

const isSvg = (element: string) =>
  /^(?:svg|g|path|rect|circle|ellipse|line|poly\w+|text|tspan|use|defs|symbol|stop|mask|image|pattern|marker|(?:linear|radial)Gradient|clipPath|fe[A-Z]\w*|filter|foreignObject|animate\w*)$/.test(
    element,
  );

/** What React calls an attribute. */
function reactName(name: string, element: string): string {
  const lower = name.toLowerCase();
  if (/^(?:data|aria)-/.test(lower)) return lower;
  if (element === 'textarea' && lower === 'value') return 'defaultValue';
  const info = find(isSvg(element) ? svg : html, name);
  if (!info.defined) return isSvg(element) ? name : lower;
  return hastToReact[info.property] ?? info.property;
}

function attribute(piece: AttributePiece, element: ElementPiece, source: string): string | Unsayable | undefined {
  const { name } = piece;
  const tag = element.name.toLowerCase();
  if (isHandler(name)) return { unsayable: `the inline handler \`${name}\`, which React has no word for` };
  if (/^(?:key|ref|children|dangerouslysetinnerhtml)$/i.test(name) || !/^[a-z][\w:.-]*$/i.test(name))
    return { unsayable: `the attribute \`${name}\`, which React keeps for itself or does not know` };
  const value = attributeValue(piece, source);
  if (/^\s*javascript:/i.test(value)) return { unsayable: `\`${value}\`, an address that React does not let through` };
  if (name.toLowerCase() === 'style') return styleRecord(value);
  const type = element.attributes.find((a) => a.name.toLowerCase() === 'type');
  const kind = type ? attributeValue(type, source).toLowerCase() : 'text';
  if (tag === 'input' && name.toLowerCase() === 'checked') return 'defaultChecked';
  const isTyped = tag === 'input' && !/^(?:button|checkbox|hidden|image|radio|reset|submit)$/.test(kind);
  if (isTyped && name.toLowerCase() === 'value') return `defaultValue=${quoted(piece, source)}`;
  if (tag === 'option' && name.toLowerCase() === 'selected') return '';
  const called = reactName(name, element.name);
  const info = find(isSvg(element.name) ? svg : html, name);
  if (info.boolean || (info.overloadedBoolean && value === '')) return called;
  return `${called}=${quoted(piece, source)}`;
}

/** The value in its own quotes, with references that JSX does not know decoded. */
function quoted(piece: AttributePiece, source: string): string {
  if (!piece.value) return '""';
  const raw = unquoted(piece.value, source);
  const value = attributeValue(piece, source);
  const quote = source[piece.value.start] === "'" ? "'" : '"';
  if (
    decodeHTMLStrict(raw) === value &&
    !raw.includes(quote) &&
    !/&(?!amp;|lt;|gt;|quot;|nbsp;)[\w#]+;/.test(raw) &&
    !raw.includes('\n')
  )
    return quote + raw + quote;
  return textValue(value);
}

function camel(property: string): string {
  if (property.startsWith('--')) return property;
  return property.replace(/^-ms-/, 'ms-').replace(/-([a-z])/g, (_, c: string) => c.toUpperCase());
}

function styleRecord(style: string): string | Unsayable {
  const declarations = declarationsOf(style);
  const names = declarations?.map(([name]) => name);
  if (!declarations || new Set(names).size < declarations.length || /!\s*important/i.test(style))
    return { unsayable: `\`style="${style}"\`, which a record of styles cannot say` };
  if (declarations.length === 0) return '';
  const entries = declarations.map(([name, value]) => {
    const key = camel(name);
    return `${/^[A-Za-z]\w*$/.test(key) ? key : `'${key}'`}: ${literal(value)}`;
  });
  return `style={{ ${entries.join(', ')} }}`;
}

function literal(value: string): string {
  const escaped = JSON.stringify(value);
  return value.includes("'") ? escaped : `'${escaped.slice(1, -1).replaceAll('\\"', '"')}'`;
}

/** An attribute that is a text: in quotes where they can hold it. */
function textValue(value: string): string {
  return /["&\n]/.test(value) ? `{${literal(value)}}` : `"${value}"`;
}

/** What a form field holds at first is a property of its own in React. */
function content(element: ElementPiece, source: string): Edit[] {
  const { opening, closing, name, end } = element;
  const at = opening.start + 1 + name.length;
  if (name.toLowerCase() === 'textarea') {
    const inner = source.slice(opening.end, closing?.start ?? end);
    if (!inner) return [];
    const text = decodeText(inner.replace(/^\r?\n/, ''));
    return [
      { start: at, end: at, text: ` defaultValue={${literal(text)}}` },
      { start: opening.end, end: closing?.start ?? end, text: '' },
    ];
  }
  if (name.toLowerCase() !== 'select') return [];
  const chosen = options(element.children).filter((o) => o.attributes.some((a) => a.name.toLowerCase() === 'selected'));
  const values = chosen.map((option) => optionValue(option, source));
  if (values.length === 0) return [];
  const several = element.attributes.some((a) => a.name.toLowerCase() === 'multiple');
  const value = several ? `{[${values.map(literal).join(', ')}]}` : textValue(values[values.length - 1]!);
  return [{ start: at, end: at, text: ` defaultValue=${value}` }];
}

function options(pieces: readonly Piece[]): ElementPiece[] {
  return pieces.flatMap((p) =>
    p.kind !== 'element' ? [] : p.name.toLowerCase() === 'option' ? [p] : options(p.children),
  );
}

function optionValue(option: ElementPiece, source: string): string {
  const value = option.attributes.find((a) => a.name.toLowerCase() === 'value');
  if (value) return attributeValue(value, source);
  return decodeText(source.slice(option.opening.end, option.closing?.start ?? option.end))
    .trim()
    .replace(/\s+/g, ' ');
}

// Back

function plainElement(node: ElementNode, content: readonly DomNode[]): DomElement | Span {
  const at = { start: node.start, end: node.end };
  const attributes = new Map<string, string>();
  let children = content;
  for (const attribute of node.attributes) {
    const value = valueOf(attribute);
    if (value === undefined) return attribute;
    if (node.name === 'textarea' && attribute.name === 'defaultValue')
      children = [{ ...at, kind: 'text', text: String(value) }];
    else if (node.name === 'select' && attribute.name === 'defaultValue') children = chosen(children, [value].flat());
    else {
      const name = attributeName(attribute.name, node.name);
      attributes.set(name, normalValue(name, String(value)));
    }
  }
  return { ...at, kind: 'element', name: node.name, attributes, children };
}

function attributeName(name: string, element: string): string {
  if (name === 'defaultValue') return 'value';
  if (name === 'defaultChecked') return 'checked';
  return /^(?:data|aria)-/.test(name) ? name : find(isSvg(element) ? svg : html, name).attribute;
}

/** What a static attribute or a literal record says; undefined for anything else. */
function valueOf(attribute: Attribute): string | string[] | undefined {
  if (attribute.kind === 'static') return decodeHTMLStrict(attribute.text ?? '');
  const code = attribute.code?.syntax;
  if (!code) return undefined;
  if (code.type === 'ObjectExpression') return attribute.name === 'style' ? styleText(code) : undefined;
  if (code.type === 'ArrayExpression') {
    const values = code.elements.map((e) => (e ? literalText(e) : undefined));
    return values.every((v) => v !== undefined) ? values : undefined;
  }
  return literalText(code);
}

function styleText(record: TSESTree.ObjectExpression): string | undefined {
  const parts = record.properties.map((p) => {
    if (p.type !== 'Property' || p.computed) return undefined;
    const key = p.key.type === 'Identifier' ? p.key.name : String((p.key as TSESTree.Literal).value);
    const value = literalText(p.value);
    const name = key.startsWith('--')
      ? key
      : key.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`).replace(/^ms-/, '-ms-');
    return value === undefined ? undefined : `${name}: ${value}`;
  });
  return parts.includes(undefined) ? undefined : parts.join('; ');
}

/** A choice list with its choice written at the option, as HTML has it. */
function chosen(nodes: readonly DomNode[], values: readonly string[]): DomNode[] {
  return nodes.map((node) => {
    if (node.kind === 'text') return node;
    if (node.name !== 'option') return { ...node, children: chosen(node.children, values) };
    const text = node.children.map((c) => (c.kind === 'text' ? c.text : '')).join('');
    const value = node.attributes.get('value') ?? text.trim().replace(/\s+/g, ' ');
    return values.includes(value) ? { ...node, attributes: new Map([...node.attributes, ['selected', '']]) } : node;
  });
}
