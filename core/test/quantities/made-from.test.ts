import { describe, expect, it } from 'vitest';
import { madeFrom, volumeBetween, volumeToLevel } from '#core/quantities';
import { clipToRing, NO_POINT } from '#core/terrain';
import { surfaceOf } from './bodies.ts';

// A grid of 5 × 5 points, 10 m apart, each a little higher than the one before.
const grid = surfaceOf(Array.from({ length: 25 }, (_, i) => [10 * (i % 5), 10 * Math.floor(i / 5), 10 + i / 100]));
const within = (...ring: number[]) => clipToRing(grid, Float64Array.from(ring));

describe('what a volume is made from', () => {
  it('is every triangle and point of a surface that is compared whole', () => {
    const { triangles, rows, without } = madeFrom(volumeToLevel(grid, 9).pieces, grid);
    expect([triangles, rows.length, without]).toEqual([32, 25, 0]);
    expect([...rows]).toEqual([...Array(25).keys()]);
  });

  it('is those alone that its boundary meets', () => {
    const { triangles, rows } = madeFrom(volumeToLevel(within(12, 12, 18, 12, 18, 18, 12, 18), 9).pieces, grid);
    expect(triangles).toBe(2);
    expect([...rows]).toEqual([6, 7, 11, 12]);
  });

  it('of two surfaces is told for each; corners that are nobody’s points are counted apart', () => {
    const other = surfaceOf([[5, 5, 9], [15, 5, 9], [10, 15, 9]]); // prettier-ignore
    const proposed = { ...other, point: other.point.slice().fill(NO_POINT) };
    const { pieces } = volumeBetween(grid, proposed);
    expect(madeFrom(pieces, proposed)).toEqual({ triangles: 1, rows: new Uint32Array(0), without: 3 });
    const { rows } = madeFrom(pieces, grid);
    // Of the nine points about its middle, that one and those of triangles it reaches into.
    expect([...rows].every((r) => [0, 1, 2, 5, 6, 7, 10, 11, 12].includes(r))).toBe(true);
    expect(rows).toContain(6);
  });
});
