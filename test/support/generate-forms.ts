/** Generated components that ask for a kind and for a flag in many places, in React and in Vue from one tree. */
import { random } from '../../scripts/planted.mjs';

interface Ask {
  readonly of: 'kind' | 'open';
  readonly is: string;
  readonly not: boolean;
}

type Piece =
  | { readonly tag: string; readonly look?: Ask; readonly inside: readonly Piece[] }
  | { readonly ask: Ask; readonly then: readonly Piece[]; readonly otherwise: readonly Piece[] }
  | { readonly value: 'kilos' | 'kind' }
  | { readonly row: readonly Piece[] }
  | { readonly word: string };

export const KINDS = ['brood', 'honey', 'empty'];

export interface MadeForms {
  /** The component in `Comb.jsx`, shown by `Yard.jsx`, whose buttons change what it is given. */
  readonly react: Record<string, string>;
  readonly vue: Record<string, string>;
}

export function madeWithForms(seed: number): MadeForms {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const ask = (): Ask => ({ of: chance(0.7) ? 'kind' : 'open', is: pick(KINDS.slice(0, 2)), not: chance(0.3) });
  const pieces = (depth: number): Piece[] => Array.from({ length: 1 + Math.floor(next() * 2) }, () => piece(depth));
  const piece = (depth: number): Piece => {
    if (depth === 0) return chance(0.5) ? { value: pick(['kilos', 'kind']) } : { word: pick(['queen', 'drone']) };
    if (chance(0.45)) return { ask: ask(), then: pieces(depth - 1), otherwise: chance(0.5) ? pieces(depth - 1) : [] };
    if (chance(0.15)) return { row: pieces(depth - 1) };
    return { tag: pick(['b', 'p', 'i']), ...(chance(0.4) ? { look: ask() } : {}), inside: pieces(depth - 1) };
  };
  const own = Array.from({ length: 3 }, () => piece(2));
  const sure: Ask[] = [{ of: 'kind', is: 'brood', not: false }, { of: 'kind', is: 'honey', not: false }, { of: 'open', is: '', not: false }]; // prettier-ignore
  const root: Piece = {
    tag: 'section',
    look: ask(),
    inside: [...own, ...sure.map((a): Piece => ({ ask: a, then: [{ tag: 'u', inside: [] }], otherwise: [] }))],
  };
  const early = chance(0.3) ? `  if (kind === 'honey') return <h1>{kilos}</h1>;\n` : '';
  return {
    react: {
      'Comb.jsx': `export function Comb({ kind, open, kilos }) {\n${early}  return (\n    ${inReact(root)}\n  );\n}\n`,
      'Yard.jsx': `import { useState } from 'react';
import { Comb } from './Comb';
const kinds = ${JSON.stringify(KINDS)};
export function Yard() {
  const [turn, setTurn] = useState(0);
  return <main><button onClick={() => setTurn(turn + 1)} /><Comb kind={kinds[turn % 3]} open={turn % 2 === 0} kilos={turn} /></main>;
}
`,
    },
    vue: {
      'Comb.vue': `<script setup>\ndefineProps({ kind: String, open: Boolean, kilos: Number });\n</script>\n\n<template>\n  ${inVue(root)}\n</template>\n`,
    },
  };
}

function code({ of, is, not }: Ask): string {
  return of === 'open' ? `${not ? '!' : ''}open` : `kind ${not ? '!==' : '==='} '${is}'`;
}

function inReact(piece: Piece): string {
  if ('word' in piece) return piece.word;
  if ('value' in piece) return `{${piece.value}}`;
  if ('row' in piece) return `{[1, 2].map((n) => <s key={n}>{n}${piece.row.map(inReact).join('')}</s>)}`;
  if ('tag' in piece) {
    const look = piece.look ? ` className={${code(piece.look)} ? 'full' : 'light'}` : '';
    return `<${piece.tag}${look}>${piece.inside.map(inReact).join('')}</${piece.tag}>`;
  }
  const [then, otherwise] = [piece.then, piece.otherwise].map((list) => `<>${list.map(inReact).join('')}</>`);
  return piece.otherwise.length > 0
    ? `{${code(piece.ask)} ? ${then!} : ${otherwise!}}`
    : `{${code(piece.ask)} && ${then!}}`;
}

function inVue(piece: Piece): string {
  if ('word' in piece) return piece.word;
  if ('value' in piece) return `{{ ${piece.value} }}`;
  if ('row' in piece) return `<s v-for="n in 2" :key="n">{{ n }}${piece.row.map(inVue).join('')}</s>`;
  if ('tag' in piece) {
    const look = piece.look ? ` :class="${code(piece.look)} ? 'full' : 'light'"` : '';
    return `<${piece.tag}${look}>${piece.inside.map(inVue).join('')}</${piece.tag}>`;
  }
  const otherwise = piece.otherwise.length > 0 ? `<em v-else>${piece.otherwise.map(inVue).join('')}</em>` : '';
  return `<em v-if="${code(piece.ask)}">${piece.then.map(inVue).join('')}</em>${otherwise}`;
}
