import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { balanced, balancedPad, layPad, layStrip, levelledStrip, type PadShape } from '#core/quantities';
import { surfaceOf } from '../bodies.ts';

const SHAPE: PadShape = { ring: Float64Array.from([-10, -5, 10, -5, 10, 5, -10, 5]), level: 0, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 1.5, fillSlope: 1.5, corners: 'mitred', sagitta: 0.01, batter: 'square' }; // prettier-ignore
const slope = surfaceOf([[-80, -80, -8], [80, -80, 8], [80, 80, 8], [-80, 80, -8]]); // prettier-ignore

describe('the level at which cut and fill balance', () => {
  it('of a pad in an even slope with equal batters is the ground at its middle', () => {
    const made = balancedPad(slope, SHAPE, 1);
    if (!made.ok) throw new Error(made.reason);
    const { pad, left } = made.balance;
    expect(pad.level).toBeCloseTo(0, 5);
    expect(pad.cut).toBeCloseTo(pad.fill, 4);
    expect(Math.abs(left)).toBeLessThan(1e-4);
  });

  it('makes cut times its factor equal fill, on any ground', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -30, max: 30 }), { minLength: 25, maxLength: 25 }),
        fc.integer({ min: 6, max: 16 }),
        (heights, tenths) => {
          const ground = surfaceOf(heights.map((h, i) => [(i % 5) * 40 - 80 + h / 60, Math.floor(i / 5) * 40 - 80, h / 10])); // prettier-ignore
          const made = balancedPad(ground, { ...SHAPE, gradient: 0.02, direction: 1 }, tenths / 10);
          if (!made.ok) throw new Error(made.reason);
          const { cut, fill } = made.balance.pad;
          expect(Math.abs((cut * tenths) / 10 - fill)).toBeLessThan(1e-4);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('is the same pad as one at that level, wherever the ground lies', () => {
    const far = { ...slope, triangles: slope.triangles.slice(), x: slope.x.map((v) => v + 1000), y: slope.y.map((v) => v + 2000) }; // prettier-ignore
    const shape = { ...SHAPE, ring: SHAPE.ring.map((v, i) => v + (i % 2 ? 2000 : 1000)), fillSlope: 2 };
    const made = balancedPad(far, shape, 0.9);
    const again = made.ok && layPad(surfaceOf(Array.from(far.x, (x, i) => [x, far.y[i], far.z[i]])), { ...shape, level: made.balance.pad.level }); // prettier-ignore
    if (!made.ok || !again || !again.ok) throw new Error('no pad');
    expect(again.pad.fill).toBeCloseTo(made.balance.pad.fill, 6);
    expect(made.balance.pad.level).toBeLessThan(0);
  });

  it('asks for a factor that makes sense', () => {
    expect(balancedPad(slope, SHAPE, 0)).toMatchObject({ ok: false, reason: expect.stringContaining('factor') });
    expect(balancedPad(slope, { ...SHAPE, cutSlope: 0 }, 1)).toMatchObject({ ok: false, reason: expect.stringContaining('cut slope') }); // prettier-ignore
  });

  it('of a bank or ditch along a line makes cut times its factor equal fill too', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -30, max: 30 }), { minLength: 25, maxLength: 25 }),
        fc.integer({ min: -10, max: 10 }),
        (heights, rise) => {
          // prettier-ignore
          const ground = surfaceOf(heights.map((h, i) => [(i % 5) * 40 - 80 + h / 60, Math.floor(i / 5) * 40 - 80, h / 10])); // prettier-ignore
          const course = [[-30, -5, 0], [0, 5, rise / 10], [30, 0, rise / 5]]; // prettier-ignore
          const template = [{ offset: -2, height: 0 }, { offset: 0, height: 0.3 }, { offset: 2.5, height: -0.1 }]; // prettier-ignore
          const strip = levelledStrip(ground, {
            course,
            template,
            cutSlope: 1.5,
            fillSlope: 2,
            corners: 'mitred',
            sagitta: 0.01,
          });
          const made = balanced(strip, 0.9);
          if (!made.ok) throw new Error(made.reason);
          const { cut, fill, level } = made.balance.pad;
          expect(Math.abs(0.9 * cut - fill)).toBeLessThan(1e-4);
          // It is the strip raised, whose line begins at the level that is told.
          const again = layStrip(ground, { course: course.map(([x, y, z]) => [x, y, z + level]), template, cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.01 }); // prettier-ignore
          expect(again.ok && again.pad.cut).toBeCloseTo(cut, 6);
        },
      ),
      { numRuns: 25 },
    );
  });
});
