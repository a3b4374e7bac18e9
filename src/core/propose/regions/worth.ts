/**
 * What cutting one region out is worth, in tokens.
 *
 * lighter  text costs its reader the logarithm of the names in scope where it stands, and twice the logarithm of the
 *          screens that one looks through for it. What the region costs in its host, and what the rest of the host costs
 *          because of names that leave it, less what region, use and definition cost afterwards; in tokens of five bits
 *          (a scope of thirty-two names)
 * saved    below zero: the definition and the use, and the way to another place that a reader goes. That way is short
 *          where the host is so long that its reader goes far anyway, and where the name tells what is there; there is none to
 *          the row of a list
 *          A row that is a thing of its own leaves a list that only repeats, and shows only itself: more so with a heading
 * seam     what there is to know about the interface: each thing that crosses is read beside all those before it, which
 *          makes n(n + 1)/2 for n things; members of one record are hardly more than one
 */
import type { Worth } from '../repeats/worth.js';

export interface RegionFigures {
  /** Tokens of the region and of what goes along with it. */
  readonly tokens: number;
  /** Tokens of the component that stay, where its names become fewer; 0 inside of another new component. */
  readonly rest: number;
  /** Names in scope where the region stands. */
  readonly namesThere: number;
  /** Names that cross. */
  readonly width: number;
  /** Things to know that cross: at most as many as names. */
  readonly ideas: number;
  /** Names that go along. */
  readonly moved: number;
  /** Lines of the region and of what goes along with it. */
  readonly lines: number;
  /** Lines of the component or region that it is cut out of. */
  readonly hostLines: number;
  /** The region says by a heading, a landmark, a comment or its loop what it is. */
  readonly titled: boolean;
  /** The region is the row of a list. */
  readonly row: boolean;
  /** The region has a heading of its own. */
  readonly headed: boolean;
}

const BITS_A_TOKEN = 5;
const DEFINITION = 16;
const USE = 4;
/** Tokens that going to another file is worth, and the lines that one looks at without going anywhere. */
const WAY = 60;
export const SCREEN = 60;
/** How much a screen more to look through weighs against a name more to know. */
const PLACE = 2;
/** How far a name helps to find what is there, when it says no more than where it was taken from. */
const UNTITLED = 0.5;
/** Tokens that it is worth to read what repeats and what is repeated one by one. */
const ROW = 26;
/** How much shorter the way is to something whose name is known beforehand. */
const TITLED = 0.5;

export function worthOfRegion(figures: RegionFigures): Worth {
  const { tokens, rest, namesThere, width, ideas, moved, lines, hostLines, titled, row, headed } = figures;
  const use = USE + 2 * width;
  const definition = DEFINITION + 2 * width;
  const bits = (names: number) => Math.log2(1 + names);
  const inside = width + moved;
  const leaving = tokens * (bits(namesThere) - bits(inside));
  const freed = rest * (bits(namesThere) - bits(Math.max(0, namesThere - moved)));
  const added = use * bits(namesThere) + definition * bits(inside);
  const way = row ? 0 : (titled ? TITLED : 1) * WAY * Math.min(1, SCREEN / Math.max(1, hostLines));
  const screens = (length: number) => Math.log2(Math.max(1, length / SCREEN));
  const found = (row || titled ? 1 : UNTITLED) * PLACE * tokens * Math.max(0, screens(hostLines) - screens(lines));
  // All of a short component is in sight anyway.
  const apart = row && hostLines > SCREEN ? (headed ? 2 * ROW : ROW) : 0;
  const lighter = (leaving + freed + found - added) / BITS_A_TOKEN + apart;
  const saved = -(use + definition + way);
  const seam = (ideas * (ideas + 1)) / 2;
  const round = (n: number) => Math.round(n);
  return { saved: round(saved), lighter: round(lighter), seam: round(seam), total: round(saved + lighter - seam) };
}
