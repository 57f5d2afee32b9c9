import type { DifferencePieces } from './volume.ts';

/** x, y and difference of a corner. */
export type PieceCorner = readonly number[];

/** The three corners of a piece that begins at an index. */
export const cornersAt = (pieces: DifferencePieces, i: number): PieceCorner[] =>
  [0, 3, 6].map((k) => [pieces[i + k], pieces[i + k + 1], pieces[i + k + 2]]);

/** The part of an area where a value that is straight between its corners is not below 0. */
export function partWhere(area: readonly PieceCorner[], value: (corner: PieceCorner) => number): PieceCorner[] {
  return area.flatMap((here, i) => {
    const next = area[(i + 1) % area.length];
    const [a, b] = [value(here), value(next)];
    const out: PieceCorner[] = a >= 0 ? [here] : [];
    if ((a > 0 && b < 0) || (a < 0 && b > 0)) {
      const f = a / (a - b);
      out.push(here.map((v, k) => v + f * (next[k] - v)));
    }
    return out;
  });
}

/** Visits the triangles of a convex area that have one in plan, m². */
export function eachTriangle(
  area: readonly PieceCorner[],
  visit: (plan: number, a: PieceCorner, b: PieceCorner, c: PieceCorner) => void,
): void {
  for (let i = 1; i + 1 < area.length; i++) {
    const [a, b, c] = [area[0], area[i], area[i + 1]];
    const plan = ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2;
    if (plan > 0) visit(plan, a, b, c);
  }
}
