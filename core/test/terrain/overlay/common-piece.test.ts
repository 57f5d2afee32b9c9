import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clippedPiece } from '../../../src/terrain/overlay/clipped-piece.ts';
import { CommonPiece } from '../../../src/terrain/overlay/common-piece.ts';
import { hasSideOfQ, UNCLEAR } from '../../../src/terrain/overlay/corner-order.ts';

type Triangle = readonly number[];

const twiceOf = (places: ArrayLike<number>, n: number): number => {
  let twice = 0;
  for (let i = 2; i + 3 < 2 * n; i += 2)
    twice += (places[i] - places[0]) * (places[i + 3] - places[1]) - (places[i + 2] - places[0]) * (places[i + 1] - places[1]); // prettier-ignore
  return twice;
};

/** Counter-clockwise triangles whose corners are of a kind; about the first corner of the first of two. */
const triangleOf = (value: fc.Arbitrary<number>): fc.Arbitrary<Triangle> =>
  fc
    .tuple(value, value, value, value, value, value)
    .filter((c) => twiceOf(c, 3) !== 0)
    .map((c) => (twiceOf(c, 3) > 0 ? c : [c[0], c[1], c[4], c[5], c[2], c[3]]));

function piecesOf(p: Triangle, q: Triangle) {
  const common = new CommonPiece();
  [...p, ...q].forEach((v, i) => (common.corners[i] = v - p[i % 2]));
  const order = common.order();
  const n = common.lay(order);
  const clipped = new Float64Array(16);
  const m = clippedPiece(common.corners, clipped);
  return { common, order, n, twice: twiceOf(common.places, n), clipped: twiceOf(clipped, m) };
}

// Whole numbers: corners on sides, sides along each other, the same corners.
const onGrid = triangleOf(fc.integer({ min: 0, max: 5 }));
const anywhere = triangleOf(fc.double({ min: -50, max: 50, noNaN: true }));

describe('what two triangles have in common', () => {
  it('is as large by the order of its corners as when one is cut by the sides of the other', () => {
    for (const triangle of [onGrid, anywhere])
      fc.assert(
        fc.property(triangle, triangle, (p, q) => {
          const { twice, clipped } = piecesOf(p, q);
          expect(twice).toBeCloseTo(clipped, 8);
        }),
        { numRuns: 2000 },
      );
  });

  it('is the same whichever comes first', () => {
    fc.assert(
      fc.property(onGrid, onGrid, (p, q) => {
        expect(piecesOf(p, q).twice).toBeCloseTo(piecesOf(q, p).twice, 8);
      }),
      { numRuns: 2000 },
    );
  });

  it('lies inside both', () => {
    fc.assert(
      fc.property(anywhere, anywhere, (p, q) => {
        const { common, n } = piecesOf(p, q);
        const { corners, places } = common;
        for (let i = 0; i < 2 * n; i += 2)
          for (const first of [0, 6])
            for (let k = 0; k < 3; k++) {
              const [v, w] = [first + 2 * k, first + 2 * ((k + 1) % 3)];
              const [dx, dy] = [corners[w] - corners[v], corners[w + 1] - corners[v + 1]];
              const inside = dx * (places[i + 1] - corners[v + 1]) - dy * (places[i] - corners[v]);
              expect(inside / (1e-9 + Math.abs(dx) + Math.abs(dy))).toBeGreaterThan(-1e-8);
            }
      }),
      { numRuns: 1000 },
    );
  });

  it('names every side of the second that crosses it, so that a walk goes on there', () => {
    fc.assert(
      fc.property(onGrid, onGrid, (p, q) => {
        const { order, clipped, common } = piecesOf(p, q);
        if (order === UNCLEAR || clipped < 1e-9) return;
        for (let k = 0; k < 3; k++) expect(hasSideOfQ(order, k) || !runsInside(common.corners, k)).toBe(true);
      }),
      { numRuns: 2000 },
    );
  });
});

/** Whether a part of side k of the second triangle lies inside of the first, and not on its sides alone. */
function runsInside(c: Float64Array, k: number): boolean {
  const [a, b] = [6 + 2 * k, 6 + 2 * ((k + 1) % 3)];
  let [from, to] = [0, 1];
  for (let s = 0; s < 6; s += 2) {
    const w = (s + 2) % 6;
    const height = (i: number): number => (c[w] - c[s]) * (c[i + 1] - c[s + 1]) - (c[w + 1] - c[s + 1]) * (c[i] - c[s]);
    const [ha, hb] = [height(a), height(b)];
    if (ha <= 0 && hb <= 0) return false;
    if (ha < 0) from = Math.max(from, ha / (ha - hb));
    if (hb < 0) to = Math.min(to, ha / (ha - hb));
  }
  return to - from > 1e-9;
}
