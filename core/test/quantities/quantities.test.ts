import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipToRing, type Surface } from '#core/terrain';
import { volumeBetween, volumeToLevel } from '#core/quantities';
import { edges, square, surfaceOf } from './bodies.ts';

// Closed forms of the textbook bodies.
describe('volume to a level', () => {
  it('of a pyramid: a third of base times height', () => {
    const v = volumeToLevel(surfaceOf([...square(5, 0), [0, 0, 6]]), 0);
    expect(v.cut).toBeCloseTo((100 * 6) / 3, 9);
    expect(v.fill).toBe(0);
  });

  it('of the part of a pyramid above a level: by similarity', () => {
    const v = volumeToLevel(surfaceOf([...square(5, 0), [0, 0, 6]]), 3);
    expect(v.cut).toBeCloseTo((25 * 3) / 3, 9);
    expect(v.cutArea).toBeCloseTo(25, 9);
    // What lacks up to the level: the slab less what of the pyramid fills it.
    expect(v.fill).toBeCloseTo(100 * 3 - (200 - 25), 9);
  });

  it('of a frustum: h/3 (A1 + A2 + √(A1 A2)), which the prismoidal rule gives too', () => {
    const v = volumeToLevel(surfaceOf([...square(5, 0), ...square(2, 4)], [...edges(0), ...edges(4)]), 0);
    const [a1, a2, h] = [100, 16, 4];
    expect(v.cut).toBeCloseTo((h / 3) * (a1 + a2 + Math.sqrt(a1 * a2)), 9);
    const middle = 7 * 7;
    expect(v.cut).toBeCloseTo((h / 6) * (a1 + 4 * middle + a2), 9);
  });

  it('keeps cut − fill and cut + fill consistent with the whole integral, at any level', () => {
    const points = Array.from({ length: 60 }, (_, i) => [(i * 37) % 59, (i * 53) % 61, (i * 17) % 13]);
    const s = surfaceOf(points);
    let integral = 0;
    let area = 0;
    for (let t = 0; t < s.triangles.length; t += 3) {
      const [a, b, c] = s.triangles.slice(t, t + 3);
      const plan = ((s.x[b] - s.x[a]) * (s.y[c] - s.y[a]) - (s.x[c] - s.x[a]) * (s.y[b] - s.y[a])) / 2;
      integral += (plan * (s.z[a] + s.z[b] + s.z[c])) / 3;
      area += plan;
    }
    fc.assert(
      fc.property(fc.double({ min: -3, max: 16, noNaN: true }), (level) => {
        const v = volumeToLevel(s, level);
        expect(v.cut - v.fill).toBeCloseTo(integral - level * area, 6);
        expect(v.area).toBeCloseTo(area, 6);
        expect(v.cut).toBeGreaterThanOrEqual(0);
        expect(v.fill).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('volume between surfaces', () => {
  const ground = surfaceOf(
    Array.from({ length: 81 }, (_, i) => [(i % 9) - 4, Math.floor(i / 9) - 4, 0.4 * Math.sin(i)]),
  );

  it('equals the volume to a level when the design is level', () => {
    fc.assert(
      fc.property(fc.double({ min: -1, max: 1, noNaN: true }), (level) => {
        const within = Float64Array.from([-3, -3, 3, -3, 3, 3, -3, 3]);
        const exact = volumeToLevel(clipToRing(ground, within), level);
        const between = volumeBetween(ground, surfaceOf(square(3, level)));
        expect(between.cut).toBeCloseTo(exact.cut, 7);
        expect(between.fill).toBeCloseTo(exact.fill, 7);
        expect(between.area).toBeCloseTo(36, 7);
      }),
      { numRuns: 50 },
    );
  });

  it('is nothing against itself, and turns its sign when the two change places', () => {
    const other = surfaceOf(
      Array.from({ length: 49 }, (_, i) => [(i % 7) - 3.1, Math.floor(i / 7) - 2.9, 0.3 * Math.cos(2 * i)]),
    );
    const self = volumeBetween(ground, ground);
    expect(self.cut + self.fill).toBeLessThan(1e-9);
    const [ab, ba] = [volumeBetween(ground, other), volumeBetween(other, ground)];
    expect(ab.cut).toBeCloseTo(ba.fill, 8);
    expect(ab.fill).toBeCloseTo(ba.cut, 8);
  });

  it('keeps its digits at large coordinates', () => {
    const far = (s: Surface): Surface => ({ ...s, x: s.x.map((v) => v + 432_000), y: s.y.map((v) => v + 5_120_000) });
    const other = surfaceOf(square(3, 0.1));
    const [near, away] = [volumeBetween(ground, other), volumeBetween(far(ground), far(other))];
    expect(away.cut).toBeCloseTo(near.cut, 5);
  });
});
