import type { Surface } from '#core/terrain';
import { differenceBetween, differenceToLevel, type Difference } from './difference/difference.ts';
import { Gathering, type DifferencePieces } from './difference/gathered.ts';
import { Tally, type Volume } from './tally.ts';

export type { DifferencePieces } from './difference/gathered.ts';
export type { Volume } from './tally.ts';

export interface VolumeResult extends Volume {
  pieces: DifferencePieces;
}

/** Cut and fill of a difference, and none of its pieces. */
export function measured(difference: Difference): Volume {
  const tally = new Tally();
  difference((piece, corners, steep) => tally.addPiece(piece, corners, steep));
  return tally.result();
}

/** The same with all of its pieces, however many they are. */
function gathered(difference: Difference): VolumeResult {
  const tally = new Tally();
  const pieces = new Gathering();
  difference((piece, corners, steep, ox, oy) => {
    tally.addPiece(piece, corners, steep);
    pieces.addPiece(piece, corners, ox, oy);
  });
  return { ...tally.result(), pieces: pieces.rest().slice() };
}

/**
 * Exact volume between a surface and a level elevation (m): each triangle's prism is integrated in
 * closed form, split where it passes through the level.
 */
export const volumeToLevel = (ground: Surface, level: number): VolumeResult => gathered(differenceToLevel(ground, level)); // prettier-ignore

/**
 * Exact volume between two surfaces where both exist: the pieces that their triangles have in common in plan, with the
 * difference of the two planes integrated over each.
 */
export const volumeBetween = (ground: Surface, design: Surface): VolumeResult => gathered(differenceBetween(ground, design)); // prettier-ignore
