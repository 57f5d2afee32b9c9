import { isPiece } from './difference/gathered.ts';

/** The greatest depth on one side, m, and where. */
export interface Deepest {
  depth: number;
  x: number;
  y: number;
}

/** m; what rounding leaves between planes that are one. */
const NO_DEPTH = 1e-9;

/** Finds where cut and fill are deepest, piece by piece. */
export class DeepestFinder {
  private lowest: number;
  private highest: number;
  private readonly at = Float64Array.of(NaN, NaN, NaN, NaN);

  /** `band`: no deeper is none, m. */
  constructor(band = 0) {
    this.highest = Math.max(band, NO_DEPTH);
    this.lowest = -this.highest;
  }

  /** x, y about (ox, oy) and design − ground of the corners of a piece. */
  see(piece: Float64Array, corners: number, ox: number, oy: number): void {
    for (let i = 0; i < 3 * corners; i += 3) {
      const d = piece[i + 2];
      if (d >= this.lowest && d <= this.highest) continue;
      // What has hardly an area has no depth that can be trusted.
      if (!isPiece(piece, corners)) return;
      if (d < this.lowest) {
        this.lowest = d;
        this.at[0] = piece[i] + ox;
        this.at[1] = piece[i + 1] + oy;
      } else {
        this.highest = d;
        this.at[2] = piece[i] + ox;
        this.at[3] = piece[i + 1] + oy;
      }
    }
  }

  /** Where cut and fill are deepest; null where there is none. */
  result(): { cut: Deepest | null; fill: Deepest | null } {
    const [cx, cy, fx, fy] = this.at;
    return {
      cut: Number.isNaN(cx) ? null : { depth: -this.lowest, x: cx, y: cy },
      fill: Number.isNaN(fx) ? null : { depth: this.highest, x: fx, y: fy },
    };
  }
}
