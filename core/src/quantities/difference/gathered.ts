import type { Difference } from './difference.ts';

/** Plan pieces with the height difference at their corners: x, y, design − ground, three corners a piece. */
export type DifferencePieces = Float64Array;

/** Numbers of a piece. */
export const PIECE = 9;

/** Smaller pieces count in the sums, but are none once coordinates of a grid round them: m². */
export const LEAST_PIECE = 1e-10;

/** Pieces that a gathering begins with. */
const FEWEST = 1 << 10;

/** Area in plan, m², of the triangle of a piece (x, y, difference a corner) from its first corner to that at an index and the next. */
export const fanArea = (piece: Float64Array, i: number): number =>
  ((piece[i] - piece[0]) * (piece[i + 4] - piece[1]) - (piece[i + 3] - piece[0]) * (piece[i + 1] - piece[1])) / 2;

/** Whether a convex piece is one, and not what rounding leaves. */
export function isPiece(piece: Float64Array, corners: number): boolean {
  for (let i = 3; i + 3 < 3 * corners; i += 3) if (fanArea(piece, i) > LEAST_PIECE) return true;
  return false;
}

/** Pieces side by side, up to so many at once. */
export class Gathering {
  private held = new Float64Array(PIECE * FEWEST);
  private length = 0;

  /** `most` pieces are handed on once they are full: what is handed on is written over by the next. */
  constructor(
    private readonly most = Infinity,
    private readonly handOn: (pieces: DifferencePieces) => void = () => undefined,
  ) {}

  add(
    ax: number,
    ay: number,
    da: number,
    bx: number,
    by: number,
    db: number,
    cx: number,
    cy: number,
    dc: number,
  ): void {
    if (this.length === this.held.length) this.makeRoom();
    const { held } = this;
    const at = this.length;
    held[at] = ax;
    held[at + 1] = ay;
    held[at + 2] = da;
    held[at + 3] = bx;
    held[at + 4] = by;
    held[at + 5] = db;
    held[at + 6] = cx;
    held[at + 7] = cy;
    held[at + 8] = dc;
    this.length += PIECE;
  }

  /** The same of a convex piece in triangles: x, y about (ox, oy) and difference of its corners. */
  addPiece(piece: Float64Array, corners: number, ox: number, oy: number): void {
    for (let i = 3; i + 3 < 3 * corners; i += 3)
      if (fanArea(piece, i) > LEAST_PIECE) this.add(piece[0] + ox, piece[1] + oy, piece[2], piece[i] + ox, piece[i + 1] + oy, piece[i + 2], piece[i + 3] + ox, piece[i + 4] + oy, piece[i + 5]); // prettier-ignore
  }

  private makeRoom(): void {
    const most = PIECE * this.most;
    if (this.length >= most) {
      this.handOn(this.held);
      this.length = 0;
      return;
    }
    const larger = new Float64Array(Math.min(2 * this.length, most));
    larger.set(this.held);
    this.held = larger;
  }

  /** What was not handed on yet. */
  rest(): DifferencePieces {
    return this.held.subarray(0, this.length);
  }
}

/** Visits the pieces of a difference, so many at a time. */
export function eachChunk(difference: Difference, most: number, visit: (pieces: DifferencePieces) => void): void {
  const gathering = new Gathering(most, visit);
  difference((piece, corners, _, ox, oy) => gathering.addPiece(piece, corners, ox, oy));
  visit(gathering.rest());
}
