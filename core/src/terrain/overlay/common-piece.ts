import { clippedPiece } from './clipped-piece.ts';
import { cornerOrder, CROSSING, MOST_CORNERS, NO_MORE, UNCLEAR } from './corner-order.ts';

/** Orders of corners that were needed so far, by signs: 0 is not known yet. */
const orders = new Int32Array(1 << 18);

// A corner by its number: the two places between which it lies (indices of `corners`) and how far inside they are of the side
// that cuts there (indices of `inside`). A corner of a triangle lies at a place itself.
const FROM = new Uint8Array(NO_MORE + 1);
const TO = new Uint8Array(NO_MORE + 1);
const FROM_INSIDE = new Uint8Array(NO_MORE + 1);
const TO_INSIDE = new Uint8Array(NO_MORE + 1);
const ITSELF = 9;
for (let corner = 0; corner < NO_MORE; corner++) {
  const [side, j] = [Math.floor((corner - CROSSING) / 3), corner % 3];
  const next = (j + 1) % 3;
  const crosses = corner >= CROSSING;
  FROM[corner] = crosses ? 6 + 2 * j : 2 * corner;
  TO[corner] = crosses ? 6 + 2 * next : 2 * corner;
  FROM_INSIDE[corner] = crosses ? 3 * j + side : ITSELF;
  TO_INSIDE[corner] = crosses ? 3 * next + side : ITSELF + 1;
}

/** What two triangles P and Q have in common, both counter-clockwise: made again and again in the same place. */
export class CommonPiece {
  /** x, y of the corners of P about its first, then of the corners of Q. */
  readonly corners = new Float64Array(12);
  /** x, y of the corners of the piece, counter-clockwise. */
  readonly places = new Float64Array(16);
  /** How far inside each side of P the corners of Q lie, times the length of the side; then 0 and −1. */
  private readonly inside = Float64Array.of(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, -1);

  /** The order of the corners of the piece (see `cornerOrder`). */
  order(): number {
    const { corners, inside } = this;
    const x1 = corners[2];
    const y1 = corners[3];
    const x2 = corners[4];
    const y2 = corners[5];
    const u0 = corners[6];
    const v0 = corners[7];
    const u1 = corners[8];
    const v1 = corners[9];
    const u2 = corners[10];
    const v2 = corners[11];
    const w0 = u0 * v1 - u1 * v0;
    const w1 = u1 * v2 - u2 * v1;
    const w2 = u2 * v0 - u0 * v2;
    const bits =
      qOutside(inside, 0, 0, 0, x1, y1, u0, v0, u1, v1, u2, v2) |
      (qOutside(inside, 1, x1, y1, x2 - x1, y2 - y1, u0, v0, u1, v1, u2, v2) << 1) |
      (qOutside(inside, 2, 0, 0, -x2, -y2, u0, v0, u1, v1, u2, v2) << 2) |
      (pOutside(w0, w1, w2) << 9) |
      (pOutside(
        w0 + (u1 - u0) * y1 - (v1 - v0) * x1,
        w1 + (u2 - u1) * y1 - (v2 - v1) * x1,
        w2 + (u0 - u2) * y1 - (v0 - v2) * x1,
      ) <<
        12) |
      (pOutside(
        w0 + (u1 - u0) * y2 - (v1 - v0) * x2,
        w1 + (u2 - u1) * y2 - (v2 - v1) * x2,
        w2 + (u0 - u2) * y2 - (v0 - v2) * x2,
      ) <<
        15);
    const order = orders[bits];
    return order === 0 ? (orders[bits] = cornerOrder(bits)) : order;
  }

  /** Lays the corners of the piece in an order; how many there are. */
  lay(order: number): number {
    const { corners, inside, places } = this;
    // Where corners lie on sides.
    if (order === UNCLEAR) return clippedPiece(corners, places);
    let n = 0;
    for (let rest = order; n < MOST_CORNERS; rest >>= 4, n++) {
      const corner = rest & 15;
      if (corner === NO_MORE) break;
      const from = inside[FROM_INSIDE[corner]];
      const f = from / (from - inside[TO_INSIDE[corner]]);
      const i = FROM[corner];
      const j = TO[corner];
      const x = corners[i];
      const y = corners[i + 1];
      places[2 * n] = x + f * (corners[j] - x);
      places[2 * n + 1] = y + f * (corners[j + 1] - y);
    }
    return n;
  }
}

// Signs are put together as numbers: a processor that has to guess them guesses wrong half of the time.

/** Which corners of Q lie outside a side of P from (px, py) on: bits 0, 3, 6. How far inside is noted. */
function qOutside(
  inside: Float64Array,
  side: number,
  px: number,
  py: number,
  dx: number,
  dy: number,
  u0: number,
  v0: number,
  u1: number,
  v1: number,
  u2: number,
  v2: number,
): number {
  const a = dx * (v0 - py) - dy * (u0 - px);
  const b = dx * (v1 - py) - dy * (u1 - px);
  const c = dx * (v2 - py) - dy * (u2 - px);
  inside[side] = a;
  inside[side + 3] = b;
  inside[side + 6] = c;
  return +(a < 0) | (+(b < 0) << 3) | (+(c < 0) << 6);
}

/** Outside which sides of Q a corner of P lies: bits 0, 1, 2. */
const pOutside = (a: number, b: number, c: number): number => +(a < 0) | (+(b < 0) << 1) | (+(c < 0) << 2);
