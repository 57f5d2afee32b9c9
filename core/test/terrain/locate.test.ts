import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipToRing, elevationsAt, groundFinder, thinPoints, triangleWalk, verticalAccuracy } from '#core/terrain';
import { surfaceOf } from './made.ts';

const hills = (n: number): [number, number, number][] =>
  Array.from({ length: n * n }, (_, i) => {
    const [x, y] = [i % n, Math.floor(i / n)];
    return [x + 0.3 * Math.sin(7 * y), y + 0.3 * Math.cos(5 * x), 4 * Math.sin(x / 3) + 2 * Math.cos(y / 2)];
  });
const somewhere = fc.array(fc.tuple(fc.double({ min: -2, max: 21, noNaN: true }), fc.double({ min: -2, max: 21, noNaN: true })), { minLength: 1, maxLength: 60 }); // prettier-ignore

describe('elevations at many places', () => {
  const whole = surfaceOf(hills(20));
  const bay = clipToRing(whole, Float64Array.from([1, 1, 18, 1, 18, 18, 10, 6, 1, 18]));

  it.each([
    ['a convex surface', whole],
    ['one with a bay', bay],
  ] as const)('are those asked for one by one, on %s and off it', (_, s) => {
    // prettier-ignore
    const finder = groundFinder(s);
    fc.assert(
      fc.property(somewhere, (places) => {
        const { z, triangle } = elevationsAt(s, Float64Array.from(places, (p) => p[0]), Float64Array.from(places, (p) => p[1])); // prettier-ignore
        places.forEach(([x, y], i) => {
          const at = finder.at(x, y);
          expect(Number.isNaN(z[i])).toBe(at === null);
          expect(triangle[i] < 0).toBe(at === null);
          if (at) expect(z[i]).toBeCloseTo(at.elevation, 9);
        });
      }),
      { numRuns: 200 },
    );
  });

  it('off a surface without triangles are none', () => {
    const empty = clipToRing(whole, Float64Array.from([50, 50, 60, 50, 60, 60]));
    expect([...elevationsAt(empty, Float64Array.of(1), Float64Array.of(1)).z]).toEqual([NaN]);
  });

  it('are found from any place to any other', () => {
    const find = triangleWalk(bay);
    for (const [x, y] of [[2, 2], [17, 16], [2, 16], [17, 2], [9, 5.2]]) expect(find(x, y)).toBeGreaterThanOrEqual(0); // prettier-ignore
    // In the bay, between two parts of the surface.
    expect(find(10, 16)).toBe(-1);
  });
});

describe('thinning', () => {
  const input = (points: [number, number, number][], segments: number[] = []) => ({
    x: Float64Array.from(points, (p) => p[0]),
    y: Float64Array.from(points, (p) => p[1]),
    z: Float64Array.from(points, (p) => p[2]),
    segments: Uint32Array.from(segments),
    coincidence: 0,
  });

  it('of a plane leaves its corners, and all of a breakline', () => {
    const plane = hills(12).map(([x, y]): [number, number, number] => [x, y, 2 * x - y]);
    const { kept, largestError } = thinPoints(input(plane, [40, 41, 41, 42]), 0.01);
    for (const i of [40, 41, 42]) expect(kept[i]).toBe(1);
    expect(largestError).toBeLessThan(1e-9);
    expect(kept.reduce((a, b) => a + b, 0)).toBeLessThan(60);
  });

  it('leaves every point that goes within the stated height of the surface of those that stay', () => {
    const points = hills(20);
    fc.assert(
      fc.property(fc.double({ min: 0.02, max: 2, noNaN: true }), (error) => {
        const { kept, largestError } = thinPoints(input(points), error);
        const s = surfaceOf(points.filter((_, i) => kept[i]));
        const { z } = elevationsAt(
          s,
          Float64Array.from(points, (p) => p[0]),
          Float64Array.from(points, (p) => p[1]),
        );
        const off = points.map((p, i) => Math.abs(z[i] - p[2]));
        expect(Math.max(...off)).toBeLessThanOrEqual(error + 1e-9);
        expect(largestError).toBeLessThanOrEqual(error);
        expect(Math.max(...off)).toBeCloseTo(largestError, 9);
      }),
      { numRuns: 25 },
    );
  });

  it('keeps with a point that stays those that are one place with it, so that the surface can choose', () => {
    const points: [number, number, number][] = [[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0], [5, 5, 3], [5, 5, 4], [2, 3, 0.001]]; // prettier-ignore
    const { kept } = thinPoints(input(points), 0.5);
    expect([...kept]).toEqual([1, 1, 1, 1, 1, 1, 1]);
    const level = points.map(([x, y, z], i): [number, number, number] => [x, y, i === 4 || i === 5 ? 0.1 : z]);
    expect([...thinPoints(input(level), 0.5).kept]).toEqual([1, 1, 1, 1, 0, 0, 0]);
  });

  it('ends where a breakline goes through points that stand there already', () => {
    const points: [number, number, number][] = [[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0], [5, 5, 3], [3, 7, 0], [0, 0, 0], [5, 5, 3], [10, 10, 0]]; // prettier-ignore
    const { kept, largestError } = thinPoints(input(points, [6, 7, 7, 8]), 5);
    expect([...kept]).toEqual([1, 1, 1, 1, 1, 0, 1, 1, 1]);
    expect(largestError).toBeLessThanOrEqual(5);
  });

  it('of points in line leaves all', () => {
    expect([...thinPoints(input([[0, 0, 1], [1, 1, 2], [2, 2, 9]]), 0.1).kept]).toEqual([1, 1, 1]); // prettier-ignore
  });
});

describe('check shots', () => {
  it('give mean, root mean square, the 95 % figure and the largest', () => {
    const a = verticalAccuracy([0.03, -0.01, 0.02, -0.04]);
    expect(a.mean).toBeCloseTo(0, 12);
    expect(a.rmse).toBeCloseTo(Math.sqrt(0.003 / 4), 12);
    expect(a.nssda).toBeCloseTo(1.96 * a.rmse, 12);
    expect(a).toMatchObject({ shots: 4, largest: 0.04, enough: false });
    expect(verticalAccuracy(Array<number>(20).fill(0.01)).enough).toBe(true);
  });
});
