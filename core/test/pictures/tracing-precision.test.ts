import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitPicture, scaledByLength, tracingPrecision, type Projective } from '#core/pictures';

const at = (pixel: number, turn = 0): Projective => [pixel * Math.cos(turn), pixel * Math.sin(turn), 100, pixel * Math.sin(turn), -pixel * Math.cos(turn), 200, 0, 0, 1]; // prettier-ignore
const size = { width: 1000, height: 800 };

describe('how well a place traced over a picture is known', () => {
  it('is a pixel in plan, however the picture is turned', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.001, max: 10, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        (p, turn) => {
          // prettier-ignore
          const got = tracingPrecision({ matrix: at(p, turn), ...size }, { by: 'file' })!;
          expect(got.plan / p).toBeCloseTo(1, 6);
          expect(got.scale).toBe(0);
        },
      ),
    );
  });

  it('of one that lies anywhere is not known at all', () => {
    expect(tracingPrecision({ matrix: at(1), ...size }, { by: 'view' })).toBeNull();
  });

  it('by a known length is what a pixel at either end does to the scale (Monte Carlo)', () => {
    const random = (
      (state) => () =>
        (state = (state * 48271) % 2147483647) / 2147483647
    )(20);
    const normal = (): number => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random());
    const length = { from: [100, 100], to: [400, 500], length: 50 } as const;
    const { scale } = tracingPrecision({ matrix: at(0.1), ...size }, { by: 'length', ...length })!;
    const scales = Array.from({ length: 20_000 }, () => {
      const end = ([c, r]: readonly [number, number]): [number, number] => [c + normal(), r + normal()];
      const m = scaledByLength(at(1), { from: end(length.from), to: end(length.to), length: 50 })!;
      return Math.hypot(m[0], m[3]) / 0.1;
    });
    const mean = scales.reduce((s, v) => s + v, 0) / scales.length;
    const sd = Math.sqrt(scales.reduce((s, v) => s + (v - mean) ** 2, 0) / scales.length);
    expect(sd / scale).toBeGreaterThan(0.95);
    expect(sd / scale).toBeLessThan(1.05);
  });

  it('by marks is what they do to the scale of their fit (Monte Carlo)', () => {
    const random = (
      (state) => () =>
        (state = (state * 48271) % 2147483647) / 2147483647
    )(7);
    const normal = (): number => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random());
    const places = [[0, 0], [900, 50], [850, 780], [40, 700]]; // prettier-ignore
    const sigma = 0.4;
    const exact = places.map(([column, row]) => ({ column, row, x: 100 + 0.1 * column, y: 200 - 0.1 * row, on: true }));
    const { scale } = tracingPrecision({ matrix: at(0.1), ...size }, { by: 'marks', marks: exact, sigma })!;
    const scales = Array.from({ length: 4000 }, () => {
      const fitted = fitPicture(exact.map((m) => ({ ...m, x: m.x + sigma * normal(), y: m.y + sigma * normal() })), 'similarity', size); // prettier-ignore
      if (!fitted.ok) throw new Error(fitted.reason);
      return Math.hypot(fitted.fit.matrix[0], fitted.fit.matrix[3]) / 0.1;
    });
    const mean = scales.reduce((s, v) => s + v, 0) / scales.length;
    const sd = Math.sqrt(scales.reduce((s, v) => s + (v - mean) ** 2, 0) / scales.length);
    expect(sd / scale).toBeGreaterThan(0.95);
    expect(sd / scale).toBeLessThan(1.05);
  });
});
