import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ringArea } from '#core/kernel';
import { areaOfSurface, areasByAspect, areasByElevation, areasBySlope, LEVEL_SLOPE, clipToRing, cutVoid, gridOf, measureSurface, type Polygon } from '#core/terrain'; // prettier-ignore
import { surfaceOf } from './made.ts';

const areaOf = (polygons: readonly Polygon[]): number =>
  polygons.reduce((sum, rings) => sum + rings.reduce((s, r) => s + ringArea(r), 0), 0);
const point = fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 12 })); // prettier-ignore
const points = fc.uniqueArray(point, { selector: ([x, y]) => 100 * x + y, minLength: 4, maxLength: 40 });
const pyramid = surfaceOf([
  [0, 0, 0],
  [10, 0, 0],
  [10, 10, 0],
  [0, 10, 0],
  [5, 5, 10],
]);

describe('areas by elevation', () => {
  it('of a pyramid are squares round squares', () => {
    const [low, middle, high] = areasByElevation(pyramid, [0, 2, 6, 10]);
    expect(areaOf(low.polygons)).toBeCloseTo(100 - 64, 9);
    expect(areaOf(middle.polygons)).toBeCloseTo(64 - 16, 9);
    expect(areaOf(high.polygons)).toBeCloseTo(16, 9);
    // One area with one hole, the top without any.
    expect([low, middle, high].map((a) => a.polygons.map((p) => p.length))).toEqual([[2], [2], [1]]);
  });

  it('together are the surface, whatever it is like', () => {
    fc.assert(
      fc.property(points, (list) => {
        const surface = surfaceOf(list);
        const all = areasByElevation(surface, [-1, 2.5, 5, 7.5, 13]);
        const sum = all.reduce((s, a) => s + areaOf(a.polygons), 0);
        expect(sum).toBeCloseTo(surface.triangles.length ? measureSurface(surface).planArea : 0, 6);
        for (const { polygons } of all)
          for (const rings of polygons) rings.forEach((r, i) => expect(ringArea(r) > 0).toBe(i === 0));
      }),
      { numRuns: 300 },
    );
  });
});

describe('areas by slope', () => {
  it('together are the surface; the sides of a pyramid are one area', () => {
    const [flat, steep] = areasBySlope(pyramid, [1]);
    expect(flat.polygons).toEqual([]);
    expect(areaOf(steep.polygons)).toBeCloseTo(100, 9);
    expect(steep.polygons).toHaveLength(1);
    expect(steep.to).toBe(Infinity);
  });
});

it('the area of a surface has its voids as holes', () => {
  const wide = surfaceOf([
    [0, 0, 0],
    [10, 0, 0],
    [10, 10, 0],
    [0, 10, 0],
  ]);
  const holed = cutVoid(wide, Float64Array.of(3, 3, 6, 3, 6, 6, 3, 6));
  const [rings, ...more] = areaOfSurface(holed);
  expect(more).toEqual([]);
  expect(rings.map((r) => Number(ringArea(r).toFixed(6)))).toEqual([100, -9]);
  expect(areaOf(areaOfSurface(clipToRing(wide, Float64Array.of(1, 1, 4, 1, 4, 4))))).toBeCloseTo(4.5, 9);
});

describe('a grid of elevations', () => {
  it('has the surface at the middles of its cells, and nothing beside it', () => {
    const grid = gridOf(pyramid, 2);
    expect([grid.west, grid.north, grid.columns, grid.rows]).toEqual([0, 10, 5, 5]);
    expect([...grid.values.slice(10, 15)].map((v) => Number(v.toFixed(4)))).toEqual([2, 6, 10, 6, 2]);
    const corner = gridOf(clipToRing(pyramid, Float64Array.of(0, 0, 10, 0, 0, 10)), 2);
    expect(Number.isNaN(corner.values[4])).toBe(true);
  });

  it('is refused where its cell makes no sense', () => {
    expect(() => gridOf(pyramid, 0)).toThrow('larger than zero');
    expect(() => gridOf(pyramid, 0.0001)).toThrow('Choose a larger one');
  });
});

describe('areas by aspect', () => {
  it('of a pyramid are its four faces, clockwise from the north one', () => {
    expect(areasByAspect(pyramid).map(areaOf)).toEqual([25, 0, 25, 0, 25, 0, 25, 0].map((v) => expect.closeTo(v, 9)));
  });

  it('together are the ground that is not level', () => {
    fc.assert(
      fc.property(points, (list) => {
        const surface = surfaceOf(list);
        const [, sloping] = areasBySlope(surface, [LEVEL_SLOPE * (1 + 1e-9)]);
        const sum = areasByAspect(surface).reduce((s, polygons) => s + areaOf(polygons), 0);
        expect(sum).toBeCloseTo(areaOf(sloping.polygons), 6);
      }),
    );
  });
});
