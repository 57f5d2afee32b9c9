import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ringArea, ringCrossesItself, ringThrough } from '#core/kernel';

describe('a ring through places', () => {
  it('keeps their order wherever that makes a ring, a hollow one too', () => {
    const [x, y] = [[0, 4, 4, 2, 0], [0, 0, 4, 1, 4]]; // prettier-ignore
    expect(ringThrough(x, y)).toEqual({ order: [0, 1, 2, 3, 4], byDirection: false });
  });

  it('of places in one line, or of two, is none', () => {
    expect(ringThrough([0, 1, 2], [0, 1, 2])).toBeNull();
    expect(ringThrough([0, 1], [0, 1])).toBeNull();
  });

  it('round any middle is found however they were taken', () => {
    const places = fc.uniqueArray(fc.integer({ min: 0, max: 359 }), { minLength: 5, maxLength: 40 });
    fc.assert(
      fc.property(places, (degrees) => {
        const [x, y] = [Math.cos, Math.sin].map((f) => degrees.map((d) => 30 * f((d * Math.PI) / 180)));
        const through = ringThrough(x, y)!;
        const ring = Float64Array.from(through.order.flatMap((i) => [x[i], y[i]]));
        expect(ringCrossesItself(ring)).toBe(false);
        expect(ringArea(ring)).not.toBe(0);
        expect(through.order.toSorted((a, b) => a - b)).toEqual(degrees.map((_, i) => i));
      }),
    );
  });
});
