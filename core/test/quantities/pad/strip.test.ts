import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ringArea } from '#core/kernel';
import { groundFinder, measureSurface } from '#core/terrain';
import { layPad, layStrip, volumeBetween, type Pad, type StripShape } from '#core/quantities';
import { square, surfaceOf } from '../bodies.ts';

const SHAPE: StripShape = { course: [[0, 0, 3], [20, 0, 3]], template: [{ offset: -5, height: 0 }, { offset: 5, height: 0 }], cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.001 }; // prettier-ignore
const floor = surfaceOf(square(300, 0));
function laid(ground = floor, shape: Partial<StripShape> = {}): Pad {
  const made = layStrip(ground, { ...SHAPE, ...shape });
  if (!made.ok) throw new Error(made.reason);
  return made.pad;
}

describe('a template along a line', () => {
  it('that is level and straight is the pad of that rectangle', () => {
    for (const corners of ['mitred', 'rounded'] as const) {
      const pad = layPad(floor, { ...SHAPE, corners, ring: Float64Array.of(0, -5, 20, -5, 20, 5, 0, 5), level: 3, levelAt: 'centre', gradient: 0, direction: 0, batter: 'square' }); // prettier-ignore
      if (!pad.ok) throw new Error(pad.reason);
      const strip = laid(floor, { corners });
      expect(strip.fill).toBeCloseTo(pad.pad.fill, 6);
      expect(strip.fillArea).toBeCloseTo(pad.pad.fillArea, 6);
      expect(strip.level).toBe(3);
    }
  });

  it('a ditch 1 m wide at its bottom has its section all along, and two ends', () => {
    // Section b d + s d² and, at either end, a prism of the bottom and the halves of a pyramid, as a pad has.
    const { cut, fill } = laid(floor, { course: [[0, 0, -1.2], [40, 0, -1.2]], template: [{ offset: -0.5, height: 0 }, { offset: 0.5, height: 0 }] }); // prettier-ignore
    const [a, p, d, s] = [40, 82, 1.2, 1.5];
    expect(cut).toBeCloseTo(a * d + (p * s * d * d) / 2 + (4 * s * s * d ** 3) / 3, 8);
    expect(fill).toBe(0);
  });

  it('a crowned road bed keeps its crossfall and gradient along a straight line, and round a bend where it is level', () => {
    const template = [{ offset: -3, height: -0.09 }, { offset: 0, height: 0 }, { offset: 3, height: -0.09 }]; // prettier-ignore
    const rising = groundFinder(laid(floor, { template, course: [[0, 0, 2], [30, 0, 3.5], [60, 0, 3.5]] }).surface()); // prettier-ignore
    for (const [x, y, z] of [[10, 0, 2.5], [10, 1.5, 2.455], [10, -3, 2.41], [45, 2, 3.44]]) expect(rising.at(x, y)!.elevation).toBeCloseTo(z, 8); // prettier-ignore
    // Fill falls 1 : 2 from the edge, square to it.
    expect(rising.at(10, -4)!.elevation).toBeCloseTo(2.41 - 0.5, 6);
    const bent = groundFinder(
      laid(floor, {
        template,
        course: [
          [0, 0, 3],
          [30, 0, 3],
          [60, 30, 3],
        ],
      }).surface(),
    );
    for (const [x, y, z] of [[29, 0, 3], [29, 1.5, 2.955], [30, -3, 2.91], [45, 15, 3]]) expect(bent.at(x, y)!.elevation).toBeCloseTo(z, 8); // prettier-ignore
  });

  it('run the other way, its template turned over, is the same body', () => {
    const template = [{ offset: -4, height: 0.3 }, { offset: -1, height: 0 }, { offset: 2, height: 0.1 }]; // prettier-ignore
    const course = [[-60, -20, 1], [-10, 0, 2.5], [30, -15, 0.5], [70, 20, -1]]; // prettier-ignore
    const turned = template.map(({ offset, height }) => ({ offset: -offset, height })).toReversed();
    const [one, other] = [laid(floor, { template, course }), laid(floor, { template: turned, course: course.toReversed() })]; // prettier-ignore
    expect(one.fill).toBeGreaterThan(10);
    expect(one.cut).toBeGreaterThan(1);
    expect(other.fill).toBeCloseTo(one.fill, 6);
    expect(other.cut).toBeCloseTo(one.cut, 6);
  });

  it.each<[string, Partial<StripShape>, RegExp]>([
    [
      'a bend too sharp for its width',
      {
        course: [
          [0, 0, 1],
          [20, 0, 1],
          [0, 1, 1],
        ],
      },
      /cross/,
    ],
    ['a template from right to left', { template: [{ offset: 2, height: 0 }, { offset: -2, height: 0 }] }, /left to right/], // prettier-ignore
    [
      'a line of one place',
      {
        course: [
          [0, 0, 1],
          [0, 0, 2],
        ],
      },
      /two places/,
    ],
    ['a slope of 0', { cutSlope: 0 }, /cut slope/],
    [
      'ground elsewhere',
      {
        course: [
          [900, 0, 1],
          [920, 0, 1],
        ],
      },
      /no ground under the strip/,
    ],
  ])('%s is refused in a sentence', (_, shape, why) => {
    expect(layStrip(floor, { ...SHAPE, ...shape })).toMatchObject({ ok: false, reason: expect.stringMatching(why) });
  });

  it('on any ground is a surface that gives the volumes it says, and ends on the ground', () => {
    const bends = fc.array(fc.tuple(fc.integer({ min: -12, max: 12 }), fc.integer({ min: -20, max: 20 })), { minLength: 3, maxLength: 7 }); // prettier-ignore
    const hills = fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 36, maxLength: 36 });
    const width = fc.integer({ min: 5, max: 60 });
    fc.assert(
      fc.property(
        bends,
        hills,
        width,
        width,
        fc.boolean(),
        fc.boolean(),
        (places, heights, left, right, round, benched) => {
          // prettier-ignore
          const course = places.map(([y, z], i) => [i * 25 - 75, y, z / 10]);
          const ground = surfaceOf(heights.map((h, i) => [(i % 6) * 60 - 150 + h / 50, Math.floor(i / 6) * 60 - 150, h / 20])); // prettier-ignore
          const pad = laid(ground, { course, template: [{ offset: -left / 10, height: 0.1 }, { offset: 0, height: 0 }, { offset: right / 10, height: -0.05 }], corners: round ? 'rounded' : 'mitred', sagitta: 0.01, benches: benched ? { every: 0.7, width: 0.4 } : null }); // prettier-ignore
          const own = pad.surface();
          const between = volumeBetween(ground, own);
          expect(Math.abs(between.cut - pad.cut)).toBeLessThan(1e-5 * (1 + pad.cut));
          expect(Math.abs(between.fill - pad.fill)).toBeLessThan(1e-5 * (1 + pad.fill));
          expect(pad.offSurvey).toEqual([]);
          expect(measureSurface(own).planArea).toBeCloseTo(pad.cutArea + pad.fillArea, 4);
          const under = groundFinder(ground);
          for (const line of pad.daylight)
          for (let i = 0; i < line.length; i += 3) expect(Math.abs(line[i + 2] - under.at(line[i], line[i + 1])!.elevation)).toBeLessThan(1e-5); // prettier-ignore
          // One line round it all, where nothing but the strip is touched.
          if (pad.daylight.length === 1) expect(Math.abs(ringArea(pad.daylight[0].filter((_, k) => k % 3 !== 2)))).toBeCloseTo(measureSurface(own).planArea, 3); // prettier-ignore
        },
      ),
      { numRuns: Number(process.env.PADS ?? 25) },
    );
  });
});
