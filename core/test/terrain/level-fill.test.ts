import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildSurface, elevationIn, fillLevelParts, flatParts, triangleWalk, type Surface } from '#core/terrain';

/** A surface of contours: lines of places, each at one elevation; a closed one ends where it begins. */
function ofContours(
  lines: readonly { z: number; course: readonly [number, number][] }[],
  more: number[][] = [],
): Surface {
  const places: number[][] = [];
  const segments: number[] = [];
  for (const { z, course } of lines) {
    const closed = course.at(-1)![0] === course[0][0] && course.at(-1)![1] === course[0][1];
    const first = places.length;
    const own = closed ? course.slice(0, -1) : course;
    own.forEach(([x, y], i) => {
      places.push([x, y, z]);
      if (i > 0) segments.push(first + i - 1, first + i);
    });
    if (closed) segments.push(first + own.length - 1, first);
  }
  places.push(...more);
  const column = (k: number): Float64Array => Float64Array.from(places, (p) => p[k]);
  return buildSurface({ x: column(0), y: column(1), z: column(2), segments: Uint32Array.from(segments), coincidence: 0, longestSide: null }).surface; // prettier-ignore
}

/** A surface with what fills it put in. */
function filled(s: Surface, summit = 0.5): Surface {
  const { x, y, z } = fillLevelParts(s, summit);
  const both = (a: Float64Array, b: Float64Array): Float64Array => Float64Array.from([...a, ...b]);
  const segments: number[] = [];
  for (let e = 0; e < s.triangles.length; e++)
    if (s.breakSides[e]) segments.push(s.triangles[e], s.triangles[e % 3 === 2 ? e - 2 : e + 1]);
  return buildSurface({ x: both(s.x, x), y: both(s.y, y), z: both(s.z, z), segments: Uint32Array.from(segments), coincidence: 0, longestSide: null }).surface; // prettier-ignore
}

const levelArea = (s: Surface): number => flatParts(s, 1).reduce((sum, p) => sum + p.area, 0);

/** Contours of a ridge (or valley) that falls along its crest by a tenth and to its sides by a half: V after V. */
function ridge(up: 1 | -1, step: number, off: (i: number) => number = () => 0): Surface {
  const lines = [];
  for (let z = 2; z <= 18; z += 2) {
    const tip = 10 * (20 - z);
    const arm: [number, number][] = [];
    for (let x = tip, i = 0; x >= tip - 60 && x >= 0; x -= step, i++) arm.push([x, (tip - x) / 5 + off(i)]);
    const course = [...arm.slice(1).reverse(), ...arm.map(([x, y]): [number, number] => [x, -y])];
    lines.push({ z: up * z, course });
  }
  return ofContours(lines);
}

describe('level parts between contours', () => {
  it.each([
    ['ridge', 1],
    ['valley', -1],
  ] as const)('get the crest of a %s, which runs evenly from one contour’s tip to the next', (_, up) => {
    const s = ridge(up, 5);
    const fill = fillLevelParts(s, 0.5);
    expect(fill.x.length).toBeGreaterThanOrEqual(40);
    // Closed form: along the crest z = 20 − x / 10; the middle line zigzags about it by the spacing of the vertices.
    for (let i = 0; i < fill.x.length; i++) {
      expect(Math.abs(fill.y[i])).toBeLessThan(1.1);
      expect(up * fill.z[i]).toBeGreaterThan(20 - fill.x[i] / 10 - 0.65);
      expect(up * fill.z[i]).toBeLessThan(20 - fill.x[i] / 10 + 0.65);
    }
    // What is left is the top one, whose contour is cut open by the edge: nothing says how high it goes on.
    expect(levelArea(s)).toBeGreaterThan(400);
    expect(levelArea(filled(s))).toBeCloseTo((20 * 8) / 2, 6);
  });

  it('raise a summit and sink a hollow by a share of the step to the contour outside', () => {
    const ring = (half: number): [number, number][] => [[-3 * half, -half], [0, -half], [3 * half, -half], [3 * half, half], [0, half], [-3 * half, half], [-3 * half, -half]]; // prettier-ignore
    for (const up of [1, -1]) {
      const s = ofContours([{ z: 10 * up, course: ring(20) }, { z: 12 * up, course: ring(8) }]); // prettier-ignore
      const { z } = fillLevelParts(s, 0.5);
      const inside = [...z].map((v) => up * v).filter((v) => v > 12);
      expect(Math.max(...inside)).toBeCloseTo(13, 9);
      expect(inside.every((v) => v > 12 && v <= 13 + 1e-9)).toBe(true);
      expect([...fillLevelParts(s, 0).z].every((v) => up * v < 12)).toBe(true);
    }
  });

  it('sink to half way between two openings of one elevation', () => {
    // A saddle: the ground rises to 12 at both ends of a strip whose sides are at 10.
    const side = (y: number): [number, number][] => Array.from({ length: 9 }, (_, i) => [-40 + 10 * i, y]);
    const s = ofContours([{ z: 10, course: side(5) }, { z: 10, course: side(-5) }], [[-45, 0, 12], [45, 0, 12]]); // prettier-ignore
    const { x, z } = fillLevelParts(s, 0.5);
    const middle = x.findIndex((v) => Math.abs(v) < 3);
    expect(z[middle]).toBeGreaterThan(10.9);
    expect(z[middle]).toBeLessThan(11.2);
    expect([...z].every((v) => v > 10.9 && v < 12)).toBe(true);
  });

  it('are left where the ground is level: a floor with a rim that is no contour has nothing beyond it', () => {
    const floor = ofContours([{ z: 5, course: [[0, 0], [10, 0], [20, 0], [20, 10], [10, 10], [0, 10], [0, 0]] }]); // prettier-ignore
    expect(fillLevelParts(floor, 0.5).x.length).toBe(0);
  });

  it('are told and filled however large they are: a plain of 140,000 triangles with bumps in it', () => {
    const n = 70_000;
    const [x, y, z] = [0, 1, 2].map(() => new Float64Array(n));
    let seed = 7;
    const next = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
    for (let i = 0; i < n; i++) [x[i], y[i], z[i]] = [600 * next(), 600 * next(), i % 20_000 === 0 ? 1 + next() : 0];
    const s = buildSurface({ x, y, z, segments: new Uint32Array(), coincidence: 0, longestSide: null }).surface;
    const [plain] = flatParts(s, 3);
    expect(plain.triangles.length).toBeGreaterThan(130_000);
    const { z: filled } = fillLevelParts(s, 0.5);
    expect(filled.length).toBeGreaterThan(100_000);
    expect(filled.every((v) => v > 0 && v < 2)).toBe(true);
  });

  it('come nearer to the ground that the contours were drawn from', () => {
    const truth = (x: number, y: number): number => 20 - x / 10 - Math.abs(y) / 2;
    const errors = (s: Surface): number => {
      const walk = triangleWalk(s);
      let worst = 0;
      for (let x = 20; x <= 160; x += 1.7) {
        const t = walk(x, 0.01);
        if (t >= 0) worst = Math.max(worst, Math.abs(elevationIn(s, t, x, 0.01) - truth(x, 0.01)));
      }
      return worst;
    };
    const s = ridge(1, 2);
    expect(errors(s)).toBeGreaterThan(1.5);
    expect(errors(filled(s))).toBeLessThan(0.4);
  });

  it('never reach the next contour, whatever the lines: every point lies between two elevations that are there', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -900, max: 900 }), { minLength: 14, maxLength: 14 }), (offs) => {
        const s = ridge(1, 5, (i) => offs[i] / 1000);
        const { z } = fillLevelParts(s, 0.5);
        for (const v of z) {
          expect(v).toBeGreaterThan(2);
          expect(v).toBeLessThan(20);
          // Strictly between contours: no contour is drawn through a point that was put in.
          expect(Math.abs(v / 2 - Math.round(v / 2))).toBeGreaterThan(1e-6);
        }
        expect(levelArea(filled(s))).toBeLessThanOrEqual(levelArea(s));
      }),
      { numRuns: 60 },
    );
  });
});
