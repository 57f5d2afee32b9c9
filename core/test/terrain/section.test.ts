import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elevationsAt, groundFinder, ofTriangles, sectionAlong, triangleIndex, type Surface } from '#core/terrain';
import { surfaceOf } from './made.ts';

const along = (s: Surface, course: number[]) => sectionAlong(s, course, triangleIndex(s)!);
/** To the millimetre, as a survey has them. */
const millimetres = (most: number) => fc.integer({ min: 0, max: 1000 * most }).map((mm) => mm / 1000);
const coordinate = millimetres(100);
const points = fc.uniqueArray(fc.tuple(coordinate, coordinate, millimetres(20)), {
  minLength: 4,
  maxLength: 60,
  selector: ([x, y]) => `${x} ${y}`,
});

/** A square of 10 m, its diagonal from south-west to north-east a ridge 2 m high. */
const roof = surfaceOf([[0, 0, 2], [10, 0, 0], [10, 10, 2], [0, 10, 0]], [0, 2]); // prettier-ignore

describe('a section', () => {
  it('bends where the ground does, and nowhere else', () => {
    expect(along(roof, [0, 10, 10, 0])).toEqual([{ at: [0, Math.SQRT1_2 * 10, Math.SQRT2 * 10].map((v) => expect.closeTo(v, 9)), z: [0, 2, 0].map((v) => expect.closeTo(v, 9)) }]); // prettier-ignore
  });

  it('along a breakline has its elevations once', () => {
    const [run, ...more] = along(roof, [0, 0, 10, 10]);
    expect(more).toEqual([]);
    expect(run.at).toHaveLength(2);
    expect(run.z).toEqual([2, 2]);
  });

  it('ends where the surface does and begins again behind a gap, its chainage counted through', () => {
    const two = surfaceOf([[0, 0, 5], [4, 0, 5], [4, 4, 5], [0, 4, 5], [20, 0, 7], [24, 0, 7], [24, 4, 7], [20, 4, 7]], [], 8); // prettier-ignore
    const runs = along(two, [-3, 1, 30, 1]);
    expect(runs.map((r) => [r.at[0], r.at.at(-1)])).toEqual([[3, 7].map((v) => expect.closeTo(v, 9)), [23, 27].map((v) => expect.closeTo(v, 9))]); // prettier-ignore
    expect(runs.flatMap((r) => r.z).every((z) => z === 5 || z === 7)).toBe(true);
  });

  it('passes over triangles that have no area, or that rounding turned over', () => {
    const thin = [0, 5, 1, 10, 5, 1, 5, 5, 1, 2, 0, 3, 2, 10, 3, 2, 5, 3, 4, 0, 9, 4, 5, 9, 4.0000001, 10, 9]; // prettier-ignore
    const s = ofTriangles(Float64Array.from([0, 0, 2, 10, 0, 2, 10, 10, 2, 0, 0, 2, 10, 10, 2, 0, 10, 2, ...thin]));
    for (const course of [
      [-1, 5, 11, 5],
      [2, -1, 2, 11],
      [-1, -1, 11, 11],
      [4, 11, 4, -1],
      [-1, 4, 11, 6],
    ])
      for (const run of along(s, course)) expect(run.z.map((z) => Math.round(z))).toEqual(run.z.map(() => 2));
  });

  it('off the surface, and of a course without a length, is nothing', () => {
    expect(along(roof, [20, 20, 30, 30])).toEqual([]);
    expect(along(roof, [5, 5, 5, 5])).toEqual([]);
    expect(groundFinder({ ...roof, triangles: new Uint32Array(0) }).along([0, 0, 10, 10])).toEqual([]);
  });

  it('has the elevation that the surface has at every one of its chainages, in one piece over convex ground', () => {
    fc.assert(
      fc.property(points, coordinate, coordinate, coordinate, coordinate, (of, ax, ay, bx, by) => {
        const s = surfaceOf(of);
        fc.pre(s.triangles.length > 0);
        const length = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2);
        fc.pre(length > 0.01);
        const runs = along(s, [ax, ay, bx, by]);
        expect(runs.length).toBeLessThanOrEqual(1);
        for (const { at, z } of runs) {
          expect([...at].sort((p, q) => p - q)).toEqual(at);
          const places = at.slice(1).flatMap((end, i) => {
            const share = (at[i] + end) / 2 / length;
            return end - at[i] > 1e-3 ? [{ x: ax + share * (bx - ax), y: ay + share * (by - ay), z: (z[i] + z[i + 1]) / 2 }] : []; // prettier-ignore
          });
          const found = elevationsAt(
            s,
            Float64Array.from(places, (p) => p.x),
            Float64Array.from(places, (p) => p.y),
          ).z;
          places.forEach((p, i) => Math.abs(found[i] - p.z) < 1e-6 || expect(found[i]).toBeCloseTo(p.z, 5));
        }
      }),
      { numRuns: 300, endOnFailure: true },
    );
  });

  it('there and back again is the same ground', () => {
    fc.assert(
      fc.property(points, coordinate, coordinate, coordinate, coordinate, (of, ax, ay, bx, by) => {
        const s = surfaceOf(of);
        fc.pre(s.triangles.length > 0);
        const reach = (runs: ReturnType<typeof along>): number => runs.reduce((sum, r) => sum + r.at.at(-1)! - r.at[0], 0); // prettier-ignore
        expect(reach(along(s, [ax, ay, bx, by]))).toBeCloseTo(reach(along(s, [bx, by, ax, ay])), 6);
      }),
    );
  });
});
