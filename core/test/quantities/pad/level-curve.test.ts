import { describe, expect, it } from 'vitest';
import { balancedPad, cheapestLevel, costOf, levelCurve, levelledPad, type PadShape } from '#core/quantities';
import { surfaceOf } from '../bodies.ts';

// A plane that rises 1 in 10 to the east, 200 m square, and a pad of 20 m in its middle: vertical would be simple prisms.
const GROUND = surfaceOf([[-100, -100, 90], [100, -100, 110], [100, 100, 110], [-100, 100, 90]]); // prettier-ignore
const SHAPE: PadShape = { ring: Float64Array.of(-10, -10, 10, -10, 10, 10, -10, 10), level: 100, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' }; // prettier-ignore

const OF = levelledPad(GROUND, SHAPE);

describe('a pad at every level', () => {
  const curve = levelCurve(OF, 98, 102);

  it('takes less and needs more the higher it lies, each ever faster', () => {
    expect(curve.map((c) => c.level)[12]).toBeCloseTo(100, 9);
    for (let i = 1; i < curve.length; i++) {
      expect(curve[i - 1].cut - curve[i].cut).toBeGreaterThan(curve[i - 1].cut > 0 ? 0 : -1e-9);
      expect(curve[i].fill - curve[i - 1].fill).toBeGreaterThan(curve[i].fill > 0 ? 0 : -1e-9);
    }
    for (let i = 2; i < curve.length; i++)
      expect(curve[i].fill - 2 * curve[i - 1].fill + curve[i - 2].fill).toBeGreaterThan(-1e-6);
  });

  it('is the same from either side of the middle on a plane, cut and fill swapped', () => {
    curve.forEach((c, i) => expect(c.cut).toBeCloseTo(curve[curve.length - 1 - i].fill, 6));
  });

  it('balances where the curves cross', () => {
    const found = balancedPad(GROUND, SHAPE, 1);
    expect(found.ok && found.balance.pad.level).toBeCloseTo(100, 5);
  });
});

describe('the cheapest level', () => {
  it('of equal prices is where both sides are least, of dear fill lower, of dear cut higher', () => {
    const level = (cut: number, fill: number): number => cheapestLevel(OF, { cut, fill }, 95, 105)!.level;
    expect(level(5, 5)).toBeCloseTo(100, 2);
    expect(level(5, 15)).toBeLessThan(99.9);
    expect(level(15, 5)).toBeGreaterThan(100.1);
  });

  it('costs no more than any level of the curve', () => {
    const prices = { cut: 4, fill: 11 };
    const best = cheapestLevel(OF, prices, 95, 105)!;
    for (const c of levelCurve(OF, 95, 105)) expect(best.cost).toBeLessThanOrEqual(costOf(c, prices) + 1e-6);
  });

  it('is none where the pad has no ground', () => {
    const off = levelledPad(GROUND, { ...SHAPE, ring: Float64Array.of(900, 0, 910, 0, 910, 10) });
    expect(cheapestLevel(off, { cut: 1, fill: 1 }, 95, 105)).toBeNull();
    expect(levelCurve(off, 95, 105)).toEqual([]);
  });
});
