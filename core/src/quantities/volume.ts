import { CompensatedSum } from '#core/kernel';
import type { Surface } from '#core/terrain';
import { differenceBetween, differenceToLevel, type Difference } from './difference/difference.ts';
import { Gathering, LEAST_PIECE, type DifferencePieces } from './difference/gathered.ts';

export type { DifferencePieces } from './difference/gathered.ts';

export interface Volume {
  /** Ground to be taken away: where the compared level or surface lies below the ground, m³. */
  cut: number;
  /** Ground to be brought: where it lies above, m³. */
  fill: number;
  /** Areas in plan, m². */
  cutArea: number;
  fillArea: number;
  /** Area where both are known, m². */
  area: number;
}

/** Adds up cut and fill, triangle by triangle. */
export class Tally {
  readonly cut = new CompensatedSum();
  readonly fill = new CompensatedSum();
  readonly cutArea = new CompensatedSum();
  readonly fillArea = new CompensatedSum();
  /** Along the ground. */
  readonly cutSlope = new CompensatedSum();
  readonly fillSlope = new CompensatedSum();

  /** Adds a triangle in plan with area (m²) and design − ground at its corners (m); `steep`: m² along the ground to one in plan. */
  add(area: number, d0: number, d1: number, d2: number, steep = 1): void {
    const whole = (area * (d0 + d1 + d2)) / 3;
    if (d0 >= 0 && d1 >= 0 && d2 >= 0) {
      this.fill.add(whole);
      this.fillArea.add(area);
      this.fillSlope.add(area * steep);
      return;
    }
    if (d0 <= 0 && d1 <= 0 && d2 <= 0) {
      this.cut.add(-whole);
      this.cutArea.add(area);
      this.cutSlope.add(area * steep);
      return;
    }
    // One corner stands alone on its side of zero: a tetrahedron over the part of the triangle next to it.
    const alone = d0 > 0 !== d1 > 0 ? (d0 > 0 !== d2 > 0 ? 0 : 1) : 2;
    const [a, b, c] = alone === 0 ? [d0, d1, d2] : alone === 1 ? [d1, d2, d0] : [d2, d0, d1];
    const share = (a / (a - b)) * (a / (a - c));
    const part = (area * share * a) / 3;
    const [near, far] = [area * share, area * (1 - share)];
    if (a > 0) {
      this.fill.add(part);
      this.fillArea.add(near);
      this.fillSlope.add(near * steep);
      this.cut.add(part - whole);
      this.cutArea.add(far);
      this.cutSlope.add(far * steep);
    } else {
      this.cut.add(-part);
      this.cutArea.add(near);
      this.cutSlope.add(near * steep);
      this.fill.add(whole - part);
      this.fillArea.add(far);
      this.fillSlope.add(far * steep);
    }
  }

  result(): Volume {
    const cutArea = this.cutArea.value();
    const fillArea = this.fillArea.value();
    return { cut: this.cut.value(), fill: this.fill.value(), cutArea, fillArea, area: cutArea + fillArea };
  }
}

export interface VolumeResult extends Volume {
  pieces: DifferencePieces;
}

/** Cut and fill of a difference, and none of its pieces. */
export function measured(difference: Difference): Volume {
  const tally = new Tally();
  difference((area, steep, _ax, _ay, da, _bx, _by, db, _cx, _cy, dc) => tally.add(area, da, db, dc, steep));
  return tally.result();
}

/** The same with all of its pieces, however many they are. */
function gathered(difference: Difference): VolumeResult {
  const tally = new Tally();
  const pieces = new Gathering();
  difference((area, steep, ax, ay, da, bx, by, db, cx, cy, dc) => {
    tally.add(area, da, db, dc, steep);
    if (area > LEAST_PIECE) pieces.add(ax, ay, da, bx, by, db, cx, cy, dc);
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
