/** Values made from the shape of what a component takes: seeded, so that both versions are given the same. */
import type { Shape } from './shapes.js';

/** A generator of numbers in [0, 1); the same for the same seed. */
export type Random = () => number;

export function randomOf(seed: number): Random {
  let state = seed >>> 0;
  // mulberry32: 32 bits of state, good enough to choose values with.
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A call of a function that was handed over. */
export interface Called {
  readonly name: string;
  readonly given: number;
}

const WORDS = ['ford', 'heather', 'linden', 'quarry', 'meadow', 'clover', 'orchard', 'weir'];
const DAY = 86_400_000;

/** Makes a value of a shape; functions write down that they were called. Undefined where a shape is not known. */
export function valueOf(shape: Shape, random: Random, calls: Called[], name = 'value'): unknown {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  switch (shape.kind) {
    case 'string':
      // Names tell what a text is for: what is parsed as a date or an address should be one.
      if (/date|day|when|^at$|time/i.test(name))
        return `2025-0${1 + Math.floor(random() * 9)}-1${Math.floor(random() * 10)}`;
      if (/id$|key$/i.test(name)) return `${pick(WORDS)}-${Math.floor(random() * 1000)}`;
      if (/url|href|src|link/i.test(name)) return `/${pick(WORDS)}`;
      return `${pick(WORDS)} ${pick(WORDS)}`;
    case 'number':
      return Math.floor(random() * 90) + (random() < 0.3 ? 0.5 : 0);
    case 'boolean':
      return random() < 0.5;
    case 'literal':
      return shape.value;
    case 'date':
      return new Date(Date.UTC(2025, 0, 1) + Math.floor(random() * 300) * DAY);
    case 'node':
      return `«${name}»`;
    case 'union': {
      const something = shape.of.filter((s) => s.kind !== 'nothing');
      return random() < 0.15 || something.length === 0
        ? valueOf(pick(shape.of), random, calls, name)
        : valueOf(pick(something), random, calls, name);
    }
    case 'list':
      return Array.from({ length: 1 + Math.floor(random() * 3) }, () => valueOf(shape.item, random, calls, name));
    case 'tuple':
      return shape.items.map((item, i) => valueOf(item, random, calls, `${name}${i}`));
    case 'record':
      return Object.fromEntries(
        shape.members
          .filter((member) => member.name !== 'key' && member.name !== 'ref' && (!member.optional || random() < 0.7))
          .map((member) => [member.name, valueOf(member.shape, random, calls, member.name)]),
      );
    case 'function': {
      const given = valueOf(shape.returns, random, calls, name);
      return (...args: readonly unknown[]) => {
        calls.push({ name, given: args.length });
        return given;
      };
    }
    default:
      return undefined;
  }
}

/** Whether a value can be made at all: something that must be there has no known shape. */
export function isKnown(shape: Shape): boolean {
  switch (shape.kind) {
    case 'unknown':
      return false;
    case 'list':
      return isKnown(shape.item);
    case 'union':
      return shape.of.some(isKnown);
    case 'record':
      return shape.members.every((m) => m.optional || isKnown(m.shape));
    default:
      return true;
  }
}
