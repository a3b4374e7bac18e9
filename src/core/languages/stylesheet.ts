/** Which elements a selector may match. */
import type { Attribute, ElementNode } from '../markup/model.js';
import type { Node } from '../script/parser.js';
import { bare } from '../script/walk.js';
import type { Compound } from '../language/stylesheet.js';

/** What is known of an element when it is styled. */
export interface Styled {
  /** Undefined for a component: what it shows is not known here. */
  readonly tag: string | undefined;
  readonly classes: ReadonlySet<string>;
  /** Has classes, or an id, that are only known when it is shown. */
  readonly open: boolean;
  readonly id: string | undefined;
}

export function mayMatch({ tag, classes, id }: Compound, element: Styled): boolean {
  if (tag !== undefined && element.tag !== undefined && tag !== element.tag.toLowerCase()) return false;
  if (element.open) return true;
  if (id !== undefined && element.id !== id) return false;
  return classes.every((name) => element.classes.has(name));
}

export function styledOf(element: ElementNode): Styled {
  const classes = new Set<string>();
  let open = element.attributes.some((a) => a.kind === 'spread');
  let id: string | undefined;
  for (const attribute of element.attributes) {
    if (attribute.name === 'class' || attribute.name === 'className') {
      for (const name of (attribute.text ?? '').split(/\s+/)) if (name) classes.add(name);
      if (attribute.code && !literalClasses(attribute.code.syntax, classes)) open = true;
    } else if (attribute.name === 'id') {
      id = attribute.text;
      if (attribute.code) open = true;
    }
  }
  return { tag: element.component || isDynamic(element) ? undefined : element.name, classes, open, id };
}

function isDynamic({ name, attributes }: ElementNode): boolean {
  return name === 'component' || attributes.some((a: Attribute) => a.name === 'is');
}

/** Adds the classes that an expression is written out with; false where there may be others. */
function literalClasses(node: Node, into: Set<string>): boolean {
  const value = bare(node);
  switch (value.type) {
    case 'Literal':
      if (typeof value.value === 'string') for (const name of value.value.split(/\s+/)) if (name) into.add(name);
      return true;
    case 'ObjectExpression':
      return value.properties.every((p) => {
        if (p.type !== 'Property' || p.computed) return false;
        const key = p.key.type === 'Identifier' ? p.key.name : p.key.type === 'Literal' ? String(p.key.value) : '';
        for (const name of key.split(/\s+/)) if (name) into.add(name);
        return true;
      });
    case 'ArrayExpression':
      return value.elements.every((e) => !e || (e.type !== 'SpreadElement' && literalClasses(e, into)));
    case 'ConditionalExpression':
      return [value.consequent, value.alternate].map((n) => literalClasses(n, into)).every(Boolean);
    case 'LogicalExpression':
      if (value.operator === '&&') return literalClasses(value.right, into);
      return [value.left, value.right].map((n) => literalClasses(n, into)).every(Boolean);
    case 'Identifier':
      return value.name === 'undefined';
    default:
      return false;
  }
}
