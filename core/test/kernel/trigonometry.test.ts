import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { acos, asin, atan, atan2, difference, sinCos, turned } from '#core/kernel';

const run = <T>(arbitrary: fc.Arbitrary<T>, check: (v: T) => void): void =>
  fc.assert(fc.property(arbitrary, check), { numRuns: 20_000 });
const ULP = 2 ** -52;

describe('trigonometry of our own is the engine’s to the last bits', () => {
  it('sines and cosines, over many turns', () => {
    run(fc.double({ min: -1000, max: 1000, noNaN: true }), (x) => {
      const [s, c] = sinCos(x);
      expect(Math.abs(s - Math.sin(x))).toBeLessThanOrEqual(1.5 * ULP);
      expect(Math.abs(c - Math.cos(x))).toBeLessThanOrEqual(1.5 * ULP);
    });
    for (let q = -8; q <= 8; q++) {
      const [s, c] = sinCos((q * Math.PI) / 4);
      expect(Math.abs(s - Math.sin((q * Math.PI) / 4))).toBeLessThanOrEqual(ULP);
      expect(Math.abs(c - Math.cos((q * Math.PI) / 4))).toBeLessThanOrEqual(ULP);
    }
  });

  it('arc tangents in all quadrants, arc sines and cosines', () => {
    run(
      fc.tuple(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.double({ min: -1e6, max: 1e6, noNaN: true })),
      ([y, x]) => {
        if (x === 0 && y === 0) return;
        expect(Math.abs(difference(atan2(y, x) - Math.atan2(y, x)))).toBeLessThanOrEqual(4 * ULP);
        expect(Math.abs(atan(y) - Math.atan(y))).toBeLessThanOrEqual(2 * ULP);
      },
    );
    run(fc.double({ min: -1, max: 1, noNaN: true }), (x) => {
      expect(Math.abs(asin(x) - Math.asin(x))).toBeLessThan(1e-15);
      expect(Math.abs(acos(x) - Math.acos(x))).toBeLessThan(1e-15);
    });
    expect([atan2(0, 1), atan2(1, 0), atan2(0, -1), atan2(-1, 0)]).toEqual([0, Math.PI / 2, Math.PI, -Math.PI / 2]);
  });

  it('angles are brought into one turn', () => {
    expect(turned(-0.1)).toBeCloseTo(2 * Math.PI - 0.1, 14);
    expect(difference(2 * Math.PI - 0.1)).toBeCloseTo(-0.1, 14);
    expect(difference(0.1 - 4 * Math.PI)).toBeCloseTo(0.1, 14);
  });
});
