/** Handlers that stand in attributes: `onclick="…"`. */
import type { AttributePiece, Piece } from './scan.js';

export function isHandler(name: string): boolean {
  return /^on[a-z]+$/i.test(name);
}

export function eventAttributes(pieces: readonly Piece[]): AttributePiece[] {
  return pieces.flatMap((piece) =>
    piece.kind === 'element'
      ? [...piece.attributes.filter((a) => isHandler(a.name)), ...eventAttributes(piece.children)]
      : [],
  );
}
