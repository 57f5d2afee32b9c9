import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { volumeToLevel, withoutBand } from '#core/quantities';
import { surfaceOf } from './bodies.ts';

describe('a band that counts as neither', () => {
  it('of a wedge is its thin end, by its closed form', () => {
    // From 0 to 4 m deep over 20 m, 10 m wide: within 1 m a quarter of its length.
    const wedge = surfaceOf([[0, 0, 0], [20, 0, 4], [20, 10, 4], [0, 10, 0]]); // prettier-ignore
    const { cut, fill, cutArea, area } = withoutBand(volumeToLevel(wedge, 0), 1);
    expect(cut).toBeCloseTo(400 - (5 * 1 * 10) / 2, 9);
    expect([fill, cutArea, area]).toEqual([0, expect.closeTo(150, 9), expect.closeTo(200, 9)]);
  });

  it('takes away no more than its depth times its area, on either side, and nothing where it is 0', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -40, max: 40 }), { minLength: 16, maxLength: 16 }),
        fc.integer({ min: 0, max: 20 }),
        (z, tenths) => {
          const whole = volumeToLevel(
            surfaceOf(z.map((v, i) => [(i % 4) * 5 + v / 100, Math.floor(i / 4) * 5, v / 10])),
            0,
          );
          const band = tenths / 10;
          const left = withoutBand(whole, band);
          const gone = whole.area - left.cutArea - left.fillArea;
          for (const side of ['cut', 'fill'] as const) {
            expect(left[side]).toBeLessThanOrEqual(whole[side] + 1e-9);
            expect(whole[side] - left[side]).toBeLessThanOrEqual(band * gone + 1e-9);
          }
          if (band === 0)
            expect([left.cut, left.fill]).toEqual([expect.closeTo(whole.cut, 9), expect.closeTo(whole.fill, 9)]);
        },
      ),
    );
  });
});
