import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeOf, type Projective } from '#core/pictures';
import { partInView } from '../../src/sheet/picture/part-in-view.ts';

// A scan of 20,000 × 10,000 pixels of 0.01 m, its upper left corner at 1000, 2000.
const scan = { width: 20_000, height: 10_000, matrix: [0.01, 0, 1000, 0, -0.01, 2000, 0, 0, 1] as Projective };
const limits = { whole: 4096, finest: 1, most: 3072 };

describe('the part of a picture that is in view', () => {
  it('is not asked for where the whole is fine enough, or nothing of it is in view', () => {
    // 800 pixels of the screen over 200 m: coarser than the 4096 of the whole.
    expect(partInView(scan, [1000, 1900, 1200, 2000], 0.25, limits)).toBeNull();
    expect(partInView(scan, [3000, 1900, 3010, 1910], 0.0125, limits)).toBeNull();
  });

  it('is what is in view and a little around it, as fine as the screen', () => {
    const found = partInView(scan, [1050, 1950, 1060, 1960], 0.0125, limits)!;
    expect(found).toEqual({ part: { column: 4900, row: 3900, width: 1200, height: 1200 }, most: 960 });
  });

  it('is never finer than the picture itself, and as fine as one likes of a page', () => {
    expect(partInView(scan, [1050, 1950, 1051, 1951], 0.00125, limits)!.most).toBe(120);
    expect(partInView(scan, [1050, 1950, 1051, 1951], 0.00125, { ...limits, finest: 32 })!.most).toBe(960);
  });

  it('is within the picture and covers what is in view of it, however the picture lies', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: -1e-5, max: 1e-5, noNaN: true }),
        fc.integer({ min: 0, max: 20_000 }),
        fc.integer({ min: 0, max: 10_000 }),
        (turn, slant, column, row) => {
          const [a, b] = [0.01 * Math.cos(turn), 0.01 * Math.sin(turn)];
          const picture = { ...scan, matrix: [a + 1000 * slant, b, 1000, b + 2000 * slant, -a, 2000, slant, 0, 1] as Projective }; // prettier-ignore
          const at = placeOf(picture.matrix, column, row);
          const found = partInView(picture, [at.x - 4, at.y - 3, at.x + 4, at.y + 3], 0.01, limits);
          if (!found) return;
          const { part } = found;
          expect(part.column).toBeGreaterThanOrEqual(0);
          expect(part.column + part.width).toBeLessThanOrEqual(scan.width);
          expect(column).toBeGreaterThanOrEqual(part.column);
          expect(column).toBeLessThanOrEqual(part.column + part.width);
          expect(row).toBeGreaterThanOrEqual(part.row);
          expect(row).toBeLessThanOrEqual(part.row + part.height);
          expect(found.most).toBeLessThanOrEqual(3072);
        },
      ),
    );
  });

  it('of a slanted picture is none where the view reaches over its horizon', () => {
    const slanted = { ...scan, matrix: [0.01, 0, 0, 0, -0.01, 0, 0, 1e-4, 1] as Projective };
    expect(partInView(slanted, [-1e6, -1e6, 1e6, 1e6], 2500, limits)).toBeNull();
  });
});
