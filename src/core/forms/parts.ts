/** The parts of a node by what they are: siblings, attributes. */
import type { Forms } from './forms.js';

export function isMarkup(forms: Forms, node: number): boolean {
  return forms.roleOf(node) === 'markup';
}

/** Nodes that stand among siblings: what is left of an element's parts without its attributes. */
export function siblingsIn(forms: Forms, node: number): number[] {
  const siblings: number[] = [];
  for (let at = node + 1, end = node + forms.size[node]!; at < end; at += forms.size[at]!)
    if (isMarkup(forms, at)) siblings.push(at);
  return siblings;
}

export function attributesOf(forms: Forms, node: number): number[] {
  return forms.partsOf(node).filter((part) => forms.roleOf(part) === 'attribute');
}
