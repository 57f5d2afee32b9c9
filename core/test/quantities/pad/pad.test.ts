import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distanceToSide, pointInRing, ringArea } from '#core/kernel';
import { groundFinder, measureSurface, ofTriangles, type Surface } from '#core/terrain';
import {
  differenceToLevel,
  layPad,
  measured,
  NearGround,
  volumeBetween,
  type Pad,
  type PadShape,
} from '#core/quantities';
import { surfaceOf } from '../bodies.ts';

const floor = (z: number, half = 200): Surface => surfaceOf([[-half, -half, z], [half, -half, z], [half, half, z], [-half, half, z]]); // prettier-ignore
const ring = (...places: number[]): Float64Array => Float64Array.from(places);
const SHAPE: PadShape = { ring: ring(0, 0, 20, 0, 20, 10, 0, 10), level: 3, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.001, batter: 'square' }; // prettier-ignore
function laid(ground: Surface, shape: Partial<PadShape> = {}): Pad {
  const made = layPad(ground, { ...SHAPE, ...shape });
  if (!made.ok) throw new Error(made.reason);
  return made.pad;
}

/** Area A, perimeter P; corners add the tangents of half their turns, those that point inwards negative. */
const mitred = (a: number, p: number, corners: number, h: number, slope: number): number => a * h + (p * slope * h * h) / 2 + (corners * slope * slope * h ** 3) / 3; // prettier-ignore

describe('a pad on level ground, by its closed form', () => {
  it('in fill, with arrises: a prismatoid', () => {
    const { fill, cut, fillArea, padArea, daylight, offSurvey } = laid(floor(0));
    expect(fill).toBeCloseTo(mitred(200, 60, 4, 3, 2), 8);
    expect(cut).toBe(0);
    expect(fillArea).toBeCloseTo(32 * 22, 8);
    expect([padArea, offSurvey.length]).toEqual([expect.closeTo(200, 9), 0]);
    expect(daylight).toHaveLength(1);
    expect(Math.abs(ringArea(daylight[0].filter((_, i) => i % 3 !== 2)))).toBeCloseTo(32 * 22, 6);
  });

  it('in cut the same, with its own slope', () => {
    const { cut, fill } = laid(floor(7));
    expect(cut).toBeCloseTo(mitred(200, 60, 4, 4, 1.5), 8);
    expect(fill).toBe(0);
  });

  it('with cones at its corners, to the chords that are asked for', () => {
    const exact = 200 * 3 + (60 * 2 * 9) / 2 + (Math.PI * 4 * 27) / 3;
    const errors = [0.05, 0.005, 0.0005].map((sagitta) => Math.abs(laid(floor(0), { corners: 'rounded', sagitta }).fill / exact - 1)); // prettier-ignore
    expect(errors[0]).toBeLessThan(2e-3);
    expect(errors[2]).toBeLessThan(2e-5);
    expect(errors[2]).toBeLessThan(errors[0]);
  });

  it('with a corner that points inwards: the higher batter counts', () => {
    const l = ring(0, 0, 20, 0, 20, 8, 8, 8, 8, 20, 0, 20);
    // Five corners point outwards, one inwards.
    expect(laid(floor(0), { ring: l }).fill).toBeCloseTo(mitred(256, 80, 5 - 1, 3, 2), 8);
    expect(laid(floor(7), { ring: l }).cut).toBeCloseTo(mitred(256, 80, 5 - 1, 4, 1.5), 8);
  });

  it('whichever way round its boundary runs, wherever it lies, and with corners on its sides', () => {
    const far = (v: number[]): number[] => v.map((c, i) => c + (i % 2 ? 5_120_000 : 432_000));
    const ground = floor(0);
    const away: Surface = { ...ground, x: ground.x.map((v) => v + 432_000), y: ground.y.map((v) => v + 5_120_000) };
    for (const places of [
      [0, 0, 20, 0, 20, 10, 0, 10],
      [0, 10, 20, 10, 20, 0, 0, 0],
      [0, 0, 7, 0, 20, 0, 20, 10, 0, 10],
    ])
      // prettier-ignore
      expect(laid(away, { ring: Float64Array.from(far(places)) }).fill).toBeCloseTo(mitred(200, 60, 4, 3, 2), 3);
  });
});

describe('the surface of a pad', () => {
  it('against the ground gives the volumes that the pad says, and ends at the daylight line', () => {
    const ground = surfaceOf([[-90, -80, -4], [110, -85, 5], [120, 90, 9], [-80, 95, 1], [5, 30, 6], [12, -20, 2]]); // prettier-ignore
    for (const corners of ['mitred', 'rounded'] as const) {
      const pad = laid(ground, { corners, sagitta: 0.01, level: 3.9 });
      const between = volumeBetween(ground, pad.surface());
      expect(pad.cut).toBeGreaterThan(10);
      expect(pad.fill).toBeGreaterThan(10);
      expect(between.cut / pad.cut).toBeCloseTo(1, 6);
      expect(between.fill / pad.fill).toBeCloseTo(1, 6);
      expect(measureSurface(pad.surface()).planArea).toBeCloseTo(pad.cutArea + pad.fillArea, 4);
      const under = groundFinder(ground);
      for (const line of pad.daylight)
        for (let i = 0; i < line.length; i += 3) expect(line[i + 2]).toBeCloseTo(under.at(line[i], line[i + 1])!.elevation, 6); // prettier-ignore
    }
  });

  it('rises towards its bearing by its gradient, from its centre or from its first corner', () => {
    const at = (pad: Pad): (number | undefined)[] => [[0.5, 5], [19.5, 5], [10, 5]].map(([x, y]) => groundFinder(pad.surface()).at(x, y)?.elevation); // prettier-ignore
    const tilted = { gradient: 0.02, direction: Math.PI / 2 };
    expect(at(laid(floor(0), tilted))).toEqual([2.81, 3.19, 3].map((v) => expect.closeTo(v, 9)));
    expect(at(laid(floor(0), { ...tilted, levelAt: 'first' }))).toEqual(
      [3.01, 3.39, 3.2].map((v) => expect.closeTo(v, 9)),
    );
  });

  it('of a side that slopes: square to it in plan, or where the batter is steepest', () => {
    const tilted = { gradient: 0.1, direction: Math.PI / 2 };
    const slopes = (batter: 'square' | 'steepest'): number => {
      const { surface } = laid(floor(0), { ...tilted, batter });
      return groundFinder(surface()).at(10, -1)!.slope;
    };
    expect(slopes('steepest')).toBeCloseTo(1 / 2, 9);
    expect(slopes('square')).toBeCloseTo(Math.hypot(0.5, 0.1), 9);
  });
});

describe('a pad that is tried at one level after the other', () => {
  const ground = surfaceOf([[-90, -80, -4], [110, -85, 5], [120, 90, 9], [-80, 95, 1], [5, 30, 6], [12, -20, 2], [40, 10, 7], [-30, 5, 0]]); // prettier-ignore

  it('is at each of them what it is by itself, in whatever order, and of another ring too', () => {
    const site = new NearGround(ground);
    const level = fc.double({ min: -6, max: 12, noNaN: true });
    const rings = [SHAPE.ring, ring(2, 1, 25, 4, 18, 16, -3, 12)];
    fc.assert(
      fc.property(level, fc.integer({ min: 0, max: 1 }), (at, k) => {
        const shape = { ...SHAPE, ring: rings[k], level: at };
        const [tried, alone] = [layPad(site, shape), layPad(ground, shape)];
        if (!tried.ok || !alone.ok) throw new Error('not laid');
        for (const of of ['cut', 'fill', 'cutArea', 'fillArea', 'padArea'] as const) expect(tried.pad[of]).toBeCloseTo(alone.pad[of], 6); // prettier-ignore
        expect(tried.pad.daylight.length).toBe(alone.pad.daylight.length);
      }),
      { numRuns: 60 },
    );
  });

  it('has pieces to paint that add up to its cut and fill, over its area', () => {
    for (const level of [1, 3.9, 8]) {
      const { pieces, cut, fill, cutArea, fillArea } = laid(ground, { level });
      const sum = measured(differenceToLevel(ofTriangles(pieces()), 0));
      // What stands above 0 lies above the ground.
      expect([sum.fill, sum.cut]).toEqual([expect.closeTo(cut, 6), expect.closeTo(fill, 6)]);
      expect(sum.area).toBeCloseTo(cutArea + fillArea, 4);
    }
  });
});

describe('batters', () => {
  it('that would lie above the ground again farther out end where they first meet it', () => {
    // Beyond a bank 3 m above the floor, the ground drops to −20 m.
    const ground = surfaceOf([[-90, -90, 0], [25, -90, 0], [30, -90, 3], [40, -90, -20], [90, -90, -20], [-90, 90, 0], [25, 90, 0], [30, 90, 3], [40, 90, -20], [90, 90, -20]], [1, 6, 2, 7, 3, 8]); // prettier-ignore
    const pad = laid(ground);
    const east = Math.max(...pad.daylight.flatMap((l) => l.filter((_, i) => i % 3 === 0)));
    expect(east).toBeLessThan(30);
    expect(pad.fill).toBeLessThan(mitred(200, 60, 4, 3, 2));
  });

  it('that run off the survey are told, with the places', () => {
    const { offSurvey, fill } = laid(floor(0, 22));
    expect(offSurvey.length).toBeGreaterThan(0);
    for (const [x] of offSurvey) expect(x).toBeCloseTo(22, 6);
    expect(fill).toBeLessThan(mitred(200, 60, 4, 3, 2));
  });

  it('of a pad partly beyond the ground: its area there is told', () => {
    const pad = laid(floor(0, 15), { ring: ring(10, 0, 20, 0, 20, 10, 10, 10) });
    expect(pad.beyond).toBeCloseTo(50, 9);
    expect(pad.padArea).toBeCloseTo(50, 9);
  });
});

describe('bad input', () => {
  it.each<[string, Partial<PadShape>, RegExp]>([
    ['a boundary that crosses itself', { ring: ring(0, 0, 10, 10, 10, 0, 0, 10) }, /crosses itself/],
    ['a boundary without an area', { ring: ring(0, 0, 5, 0, 10, 0) }, /no area/],
    ['a slope of 0', { fillSlope: 0 }, /fill slope/],
    ['no slope', { cutSlope: NaN }, /cut slope/],
    ['a side steeper than the batter', { gradient: 0.6, direction: Math.PI / 2, batter: 'steepest' }, /flatter/],
    ['ground that is elsewhere', { ring: ring(900, 0, 910, 0, 910, 10) }, /no ground under/],
  ])('%s is refused in a sentence', (_, shape, why) => {
    const made = layPad(floor(0), { ...SHAPE, ...shape });
    expect(made).toMatchObject({ ok: false, reason: expect.stringMatching(why) });
  });
});

/** Stars about the origin with corners that point in and out. */
const star = fc.array(fc.integer({ min: 6, max: 30 }), { minLength: 4, maxLength: 9 });
const hills = fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 36, maxLength: 36 });

describe('any pad on any ground', () => {
  it('with cones at its corners is the distance to its boundary: cells counted one by one', () => {
    fc.assert(
      fc.property(star, hills, fc.integer({ min: -15, max: 15 }), (radii, heights, level) => {
        const places = Float64Array.from(radii.flatMap((r, i) => [r * Math.cos((2 * Math.PI * i) / radii.length), r * Math.sin((2 * Math.PI * i) / radii.length)])); // prettier-ignore
        const ground = surfaceOf(heights.map((h, i) => [(i % 6) * 60 - 150 + h / 50, Math.floor(i / 6) * 60 - 150, h / 20])); // prettier-ignore
        const shape: PadShape = { ...SHAPE, ring: places, level: level / 10, corners: 'rounded', sagitta: 0.0005, cutSlope: 2, fillSlope: 3 }; // prettier-ignore
        const pad = laid(ground, shape);
        const under = groundFinder(ground);
        const step = 0.5;
        let [cut, fill] = [0, 0];
        for (let x = -60 + step / 2; x < 60; x += step)
          for (let y = -60 + step / 2; y < 60; y += step) {
            const g = under.at(x, y)!.elevation;
            let away = 0;
            if (!pointInRing(places, x, y)) {
              away = Infinity;
              for (let i = 0; i < places.length; i += 2) {
                const j = (i + 2) % places.length;
                away = Math.min(away, distanceToSide([x, y], [places[i], places[i + 1]], [places[j], places[j + 1]]));
              }
            }
            fill += Math.max(0, shape.level - away / 3 - g) * step * step;
            cut += Math.max(0, g - (shape.level + away / 2)) * step * step;
          }
        expect(pad.offSurvey).toEqual([]);
        expect(Math.abs(pad.fill - fill)).toBeLessThan(1 + 0.01 * fill);
        expect(Math.abs(pad.cut - cut)).toBeLessThan(1 + 0.01 * cut);
        const between = volumeBetween(ground, pad.surface());
        expect(Math.abs(between.cut - pad.cut)).toBeLessThan(1e-6 * (1 + pad.cut));
        expect(Math.abs(between.fill - pad.fill)).toBeLessThan(1e-6 * (1 + pad.fill));
      }),
      { numRuns: Number(process.env.PADS ?? 25) },
    );
  });
});
