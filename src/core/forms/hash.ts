/**
 * Fingerprints of forms. The shape of a node is a hash over the labels of its subtree: names, literals and texts do not
 * count. The sketch of an element is a MinHash (Broder 1997: the least values of several hash functions over a set agree
 * with the probability of the sets' Jaccard similarity) over the pieces of its subtree, so that elements which share
 * most of their pieces meet in a bucket though their shapes differ.
 */
import { FLAGS, type Forms } from './forms.js';

/** Two lanes of 32 bits for each node. */
export interface Shapes {
  readonly a: Int32Array;
  readonly b: Int32Array;
}

/** Bottom-up: in pre-order every part comes after what holds it, so one pass from the end sees the parts first. */
export function shapesOf(forms: Forms): Shapes {
  const a = new Int32Array(forms.length);
  const b = new Int32Array(forms.length);
  const { label, size } = forms;
  for (let node = forms.length - 1; node >= 0; node--) {
    let x = Math.imul(label[node]! + 1, 0x9e3779b1);
    let y = Math.imul(label[node]! + 7, 0x85ebca77);
    for (let part = node + 1, end = node + size[node]!; part < end; part += size[part]!) {
      x = mix(x, a[part]!);
      y = Math.imul(y ^ b[part]!, 0x01000193) + 0x2545f491;
    }
    a[node] = x;
    b[node] = y | 0;
  }
  return { a, b };
}

/** One multiplication and rotation a part, as in MurmurHash3 (Appleby); constants from its published source. */
export function mix(hash: number, part: number): number {
  const k = Math.imul(part, 0xcc9e2d51);
  const rotated = hash ^ Math.imul((k << 15) | (k >>> 17), 0x1b873593);
  return (Math.imul((rotated << 13) | (rotated >>> 19), 5) + 0xe6546b64) | 0;
}

/** A shape as one number below 2^53. */
export function shapeKey(shapes: Shapes, node: number): number {
  return (shapes.a[node]! >>> 0) * 2097152 + (shapes.b[node]! & 2097151);
}

/** The shape of a run of siblings. */
export function runKey(shapes: Shapes, nodes: readonly number[]): number {
  let x = nodes.length;
  let y = nodes.length;
  for (const node of nodes) {
    x = mix(x, shapes.a[node]!);
    y = mix(y, shapes.b[node]!);
  }
  return (x >>> 0) * 2097152 + (y & 2097151);
}

export const LANES = 10;

/** Sketches of the elements with at least `least` nodes: `LANES` numbers for each entry of `elements`. */
export interface Sketches {
  readonly elements: readonly number[];
  readonly lanes: Int32Array;
}

export function sketchesOf(
  forms: Forms,
  shapes: Shapes,
  isElement: (node: number) => boolean,
  least: number,
): Sketches {
  const elements: number[] = [];
  const { size, flags, label } = forms;
  const ends: number[] = [];
  const nodes: number[] = [];
  // One sketch for each level of nesting, used again for every element on it.
  const levels: Int32Array[] = [];
  let lanes = new Int32Array(LANES * 256);
  const close = () => {
    const node = nodes.pop()!;
    ends.pop();
    const own = levels[nodes.length]!;
    if (size[node]! >= least) {
      if ((elements.length + 1) * LANES > lanes.length) {
        const wider = new Int32Array(lanes.length * 2);
        wider.set(lanes);
        lanes = wider;
      }
      lanes.set(own, elements.length * LANES);
      elements.push(node);
    }
    const above = levels[nodes.length - 1];
    if (above) for (let i = 0; i < LANES; i++) if (own[i]! < above[i]!) above[i] = own[i]!;
  };
  for (let node = 0; node < forms.length; node++) {
    while (ends.length > 0 && ends[ends.length - 1]! <= node) close();
    const depth = nodes.length;
    if (isElement(node)) {
      const own = (levels[depth] ??= new Int32Array(LANES));
      own.fill(0x7fffffff);
      const around = depth > 0 ? label[nodes[depth - 1]!]! : 0;
      nodes.push(node);
      ends.push(node + size[node]!);
      addPiece(own, mix(mix(around, label[node]!), 3));
    } else if (depth > 0 && (flags[node]! & FLAGS.markup) === 0) {
      // A part without elements in it is one piece: an attribute with its value, a text, an expression.
      addPiece(levels[depth - 1]!, mix(mix(label[nodes[depth - 1]!]!, shapes.a[node]!), 5));
      node += size[node]! - 1;
    }
  }
  while (ends.length > 0) close();
  return { elements, lanes };
}

function addPiece(lanes: Int32Array, piece: number): void {
  for (let i = 0; i < LANES; i++) {
    const hash = mix(Math.imul(i + 1, 0x9e3779b1), piece);
    if (hash < lanes[i]!) lanes[i] = hash;
  }
}
