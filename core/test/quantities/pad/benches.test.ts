import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distanceToSide, pointInRing } from '#core/kernel';
import { groundFinder } from '#core/terrain';
import { layPad, volumeBetween, type Benches, type Pad, type PadShape } from '#core/quantities';
import { square, surfaceOf } from '../bodies.ts';

const SHAPE: PadShape = { ring: Float64Array.of(0, 0, 20, 0, 20, 10, 0, 10), level: 3, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.001, batter: 'square' }; // prettier-ignore
const floor = surfaceOf(square(300, 0));
function laid(ground = floor, shape: Partial<PadShape> = {}): Pad {
  const made = layPad(ground, { ...SHAPE, ...shape });
  if (!made.ok) throw new Error(made.reason);
  return made.pad;
}

/** How far below its rim a batter is so far out from it, m. */
function fallen(away: number, slope: number, { every, width }: Benches): number {
  const step = every * slope + width;
  const whole = Math.floor(away / step);
  return whole * every + Math.min(every, (away - whole * step) / slope);
}

describe('benches', () => {
  it('make of a pad in fill prismatoids, one above the other, each farther out', () => {
    // Layers of 1 m; Simpson's rule is exact for each: its area is a square of the depth.
    const area = (out: number): number => (20 + 2 * out) * (10 + 2 * out);
    const layer = (from: number): number => (area(from) + 4 * area(from + 1) + area(from + 2)) / 6;
    const benched = laid(floor, { benches: { every: 1, width: 1.5 } });
    expect(benched.fill).toBeCloseTo(layer(0) + layer(3.5) + layer(7), 8);
    expect(benched.fillArea).toBeCloseTo(area(9), 8);
    expect(benched.cut).toBe(0);
  });

  it('in cut lie so high above the rim', () => {
    const { surface } = laid(surfaceOf(square(300, 9)), { benches: { every: 2, width: 3 } });
    const at = groundFinder(surface());
    // 2 m at 1 : 1.5 end 3 m out, 3 m of bench 6 m out, the next batter 9 m out.
    for (const [out, up] of [[1.5, 1], [3, 2], [4, 2], [6, 2], [7.5, 3], [9, 4], [11, 4]]) expect(at.at(10, -out)!.elevation).toBeCloseTo(3 + up, 8); // prettier-ignore
  });

  it('that no batter reaches change nothing, whatever its corners', () => {
    for (const corners of ['mitred', 'rounded'] as const)
      expect(laid(floor, { corners, benches: { every: 50, width: 2 } }).fill).toBeCloseTo(
        laid(floor, { corners }).fill,
        6,
      );
  });

  it('too many of them are refused, and ones that are no height apart', () => {
    const deep = surfaceOf(square(300, -90));
    expect(layPad(deep, { ...SHAPE, benches: { every: 0.2, width: 1 } })).toMatchObject({ ok: false, reason: expect.stringContaining('benches') }); // prettier-ignore
    expect(layPad(floor, { ...SHAPE, benches: { every: 0, width: 1 } })).toMatchObject({ ok: false, reason: expect.stringContaining('above each other') }); // prettier-ignore
  });

  it('follow the distance from the boundary of any pad on any ground: cells counted one by one', () => {
    const star = fc.array(fc.integer({ min: 6, max: 30 }), { minLength: 4, maxLength: 8 });
    const hills = fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 36, maxLength: 36 });
    fc.assert(
      fc.property(
        star,
        hills,
        fc.integer({ min: -15, max: 15 }),
        fc.integer({ min: 3, max: 9 }),
        fc.integer({ min: 0, max: 15 }),
        (radii, heights, level, every, width) => {
          // prettier-ignore
          const places = Float64Array.from(radii.flatMap((r, i) => [r * Math.cos((2 * Math.PI * i) / radii.length), r * Math.sin((2 * Math.PI * i) / radii.length)])); // prettier-ignore
          const ground = surfaceOf(heights.map((h, i) => [(i % 6) * 60 - 150 + h / 50, Math.floor(i / 6) * 60 - 150, h / 20])); // prettier-ignore
          const benches = { every: every / 10, width: width / 10 };
          const shape: PadShape = { ...SHAPE, ring: places, level: level / 10, corners: 'rounded', sagitta: 0.0005, cutSlope: 1, fillSlope: 1.5, benches }; // prettier-ignore
          const pad = laid(ground, shape);
          const under = groundFinder(ground);
          const step = 0.5;
          let [cut, fill] = [0, 0];
          for (let x = -60 + step / 2; x < 60; x += step)
            for (let y = -60 + step / 2; y < 60; y += step) {
              const g = under.at(x, y)!.elevation;
              let away = pointInRing(places, x, y) ? 0 : Infinity;
              for (let i = 0; i < places.length && away > 0; i += 2) {
                const j = (i + 2) % places.length;
                away = Math.min(away, distanceToSide([x, y], [places[i], places[i + 1]], [places[j], places[j + 1]]));
              }
              fill += Math.max(0, shape.level - fallen(away, 1.5, benches) - g) * step * step;
              cut += Math.max(0, g - (shape.level + fallen(away, 1, benches))) * step * step;
            }
          expect(Math.abs(pad.fill - fill)).toBeLessThan(1 + 0.01 * fill);
          expect(Math.abs(pad.cut - cut)).toBeLessThan(1 + 0.01 * cut);
          const between = volumeBetween(ground, pad.surface());
          expect(Math.abs(between.cut - pad.cut)).toBeLessThan(1e-6 * (1 + pad.cut));
          expect(Math.abs(between.fill - pad.fill)).toBeLessThan(1e-6 * (1 + pad.fill));
        },
      ),
      { numRuns: Number(process.env.PADS ?? 12) },
    );
  });
});
