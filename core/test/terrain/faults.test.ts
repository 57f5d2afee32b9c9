import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaBySlope, elevationIn, errorMap, flatParts, leaveOneOut, lonePeaks, measureSurface, offAt, slivers, triangleWalk } from '#core/terrain'; // prettier-ignore
import { surfaceOf } from './made.ts';

const grid = (n: number, z: (x: number, y: number) => number): [number, number, number][] =>
  Array.from({ length: n * n }, (_, i) => [(i % n) * 5, Math.floor(i / n) * 5, z((i % n) * 5, Math.floor(i / n) * 5)]);

describe('level triangles', () => {
  it('between points of one contour are found as one part, with their area', () => {
    // A bend of the contour 12, and ground that falls around it.
    const level: [number, number, number][] = [[10, 10, 12], [14, 11, 12], [18, 10, 12], [14, 14, 12], [12, 17, 12], [16, 17, 12]]; // prettier-ignore
    const around: [number, number, number][] = [[0, 0, 8], [30, 0, 8.5], [30, 30, 7], [0, 30, 7.5]]; // prettier-ignore
    const [part, ...more] = flatParts(surfaceOf([...level, ...around]));
    expect(more).toEqual([]);
    expect(part.elevation).toBe(12);
    expect(part.triangles.length).toBeGreaterThanOrEqual(3);
  });

  it('are none on a slope, and a level floor is one part as large as it is', () => {
    expect(flatParts(surfaceOf(grid(5, (x) => x / 10)))).toEqual([]);
    const [floor] = flatParts(surfaceOf(grid(5, () => 3)));
    expect(floor.area).toBeCloseTo(400, 9);
  });
});

describe('slivers', () => {
  it('are told with their angle and whether they are at the rim; those of a breakline are not', () => {
    const points: [number, number, number][] = [
      [0, 0, 0],
      [50, -0.2, 0],
      [100, 0, 0],
      [50, 40, 0],
    ];
    const found = slivers(surfaceOf(points), Math.sin((2 * Math.PI) / 180));
    expect(found).toEqual([]);
    const bent = slivers(
      surfaceOf([...points.slice(0, 1), [50, 0.2, 0], ...points.slice(2)]),
      Math.sin((2 * Math.PI) / 180),
    );
    expect(bent).toHaveLength(1);
    expect(bent[0]).toMatchObject({ atRim: true });
    expect(bent[0].sine).toBeCloseTo(Math.sin(Math.atan(0.2 / 50)), 6);
    const held = surfaceOf([...points.slice(0, 1), [50, 0.2, 0], ...points.slice(2)], [0, 1, 1, 2]);
    expect(slivers(held, Math.sin((2 * Math.PI) / 180))).toEqual([]);
  });
});

describe('contours around one point', () => {
  it('are counted for tops and bottoms, not for the rim and not for slopes', () => {
    const surface = surfaceOf(grid(5, (x, y) => (x === 10 && y === 10 ? 13.1 : x === 15 && y === 15 ? 8.3 : 10 + x / 100))); // prettier-ignore
    const peaks = lonePeaks(surface, 0.5, 2);
    expect(peaks.map((p) => [surface.x[p.vertex], surface.y[p.vertex], p.contours])).toEqual([
      [10, 10, 6],
      [15, 15, 4],
    ]);
    expect(peaks[0].off).toBeCloseTo(13.1 - 10.15, 9);
    expect(peaks[1].off).toBeCloseTo(8.3 - 10.1, 9);
    expect(lonePeaks(surfaceOf(grid(5, (x) => x)), 0.5, 1)).toEqual([]);
  });
});

describe('the error without a point', () => {
  it('is that of the surface made from all others', () => {
    const place = fc.tuple(fc.integer({ min: 1, max: 19 }), fc.integer({ min: 1, max: 19 }), fc.integer({ min: 0, max: 9 })); // prettier-ignore
    const frame: [number, number, number][] = [[0, 0, 0], [20, 0, 1], [20, 20, 2], [0, 20, 3]]; // prettier-ignore
    fc.assert(
      fc.property(
        fc.uniqueArray(place, { selector: ([x, y]) => 100 * x + y, minLength: 1, maxLength: 25 }),
        (inside) => {
          // prettier-ignore
          const points = [...frame, ...inside];
          const surface = surfaceOf(points);
          const { vertex, off, of } = leaveOneOut(surface);
          expect(of).toBe(inside.length);
          expect(vertex).toHaveLength(inside.length);
          vertex.forEach((v, i) => {
            const others = surfaceOf(points.filter((_, k) => k !== v));
            const t = triangleWalk(others)(surface.x[v], surface.y[v]);
            expect(off[i]).toBeCloseTo(elevationIn(others, t, surface.x[v], surface.y[v]) - surface.z[v], 9);
          });
        },
      ),
      { numRuns: 150 },
    );
  });

  it('is nothing on a plane, and larger where the ground is rough, by part of the site', () => {
    const flat = errorMap(surfaceOf(grid(9, (x, y) => x / 10 + y / 20)), leaveOneOut(surfaceOf(grid(9, (x, y) => x / 10 + y / 20))), 2)!; // prettier-ignore
    expect(Math.max(...flat.rmse)).toBeLessThan(1e-9);
    const rough = surfaceOf(grid(13, (x, y) => (x > 30 ? (((x * 7 + y * 3) / 5) % 5) / 5 : x / 10)));
    const map = errorMap(rough, leaveOneOut(rough), 2)!;
    expect([map.columns, map.rows]).toEqual([2, 2]);
    expect(map.rmse[1]).toBeGreaterThan(3 * map.rmse[0]);
  });
});

it('check shots are off the surface by surface − shot; off it there is none', () => {
  const surface = surfaceOf(grid(3, (x) => x / 10));
  expect([...offAt(surface, [5.5, 99], [2, 2], [0.5, 0])].map((v) => Number(v.toFixed(9)))).toEqual([0.05, NaN]);
});

it('plan area by slope adds up to all of it', () => {
  const surface = surfaceOf(grid(6, (x, y) => (x * x + y) / 50));
  const parts = areaBySlope(surface, [0.05, 0.2, 0.5]);
  expect(parts).toHaveLength(4);
  expect(parts.reduce((a, b) => a + b, 0)).toBeCloseTo(measureSurface(surface).planArea, 9);
  const half = areaBySlope(surfaceOf(grid(3, (x) => x * 0.1)), [0.05, 0.2]);
  expect(half.map((v) => Math.round(v))).toEqual([0, 100, 0]);
});

it('heights that change give what a look at all of them gives', () => {
  const height = fc.integer({ min: 0, max: 4 });
  fc.assert(
    fc.property(
      fc.array(height, { minLength: 36, maxLength: 36 }),
      fc.array(fc.tuple(fc.nat(35), height), { maxLength: 6 }),
      (heights, edits) => {
        // prettier-ignore
        const surface = surfaceOf(grid(6, (x, y) => heights[x / 5 + 6 * (y / 5)]));
        lonePeaks(surface, 0.5, 1);
        const z = surface.z.slice();
        for (const [v, h] of edits) z[v] = h;
        const edited = { ...surface, z };
        // The same triangles, in another list: nothing is known of it.
        const anew = { ...edited, triangles: surface.triangles.slice() };
        expect(lonePeaks(edited, 0.5, 1)).toEqual(lonePeaks(anew, 0.5, 1));
        expect(flatParts(edited, 1)).toEqual(flatParts(anew, 1));
      },
    ),
    { numRuns: 300 },
  );
});
