import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orientation } from '#core/kernel';
import { deleteTriangles, evenOut, groundFinder, measureSurface, nextEdge, raiseArea, swapSide, tiltOnto, type Surface } from '#core/terrain'; // prettier-ignore
import { surfaceOf } from './made.ts';

const plane = (n: number, z: (x: number, y: number) => number): Surface =>
  surfaceOf(Array.from({ length: n * n }, (_, i) => [i % n, Math.floor(i / n), z(i % n, Math.floor(i / n))]));
const box = (low: number, high: number): Float64Array => Float64Array.of(low, low, high, low, high, high, low, high);

/** Links go both ways, triangles turn left, and the plan area is as it was but for what went. */
function checkSound(s: Surface): void {
  for (let e = 0; e < s.triangles.length; e++) {
    const f = s.neighbours[e];
    if (f >= 0) {
      expect(s.neighbours[f]).toBe(e);
      expect(s.triangles[f]).toBe(s.triangles[nextEdge(e)]);
      expect(s.breakSides[f]).toBe(s.breakSides[e]);
    }
  }
  for (let t = 0; t < s.triangles.length; t += 3) {
    const [a, b, c] = [s.triangles[t], s.triangles[t + 1], s.triangles[t + 2]];
    expect(orientation(s.x[a], s.y[a], s.x[b], s.y[b], s.x[c], s.y[c])).toBeGreaterThan(0);
  }
}

describe('an area raised', () => {
  it('has its own vertices raised and no others, and the surface it was made from stays', () => {
    const s = plane(6, () => 10);
    const { surface, count } = raiseArea(s, box(0.5, 3.5), () => 0.25)!;
    expect(count).toBe(9);
    expect([...surface.z].filter((z) => z === 10.25)).toHaveLength(9);
    expect([...s.z].every((z) => z === 10)).toBe(true);
    expect(raiseArea(s, box(20, 30), () => 1)).toBeNull();
  });

  it('onto three given heights has them, and stays a plane where it was one', () => {
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: -2, max: 2, noNaN: true }),
          fc.double({ min: -2, max: 2, noNaN: true }),
          fc.double({ min: -2, max: 2, noNaN: true }),
        ),
        ([p, q, r]) => {
          // prettier-ignore
          const s = plane(8, (x, y) => 3 + 0.1 * x - 0.2 * y);
          const given = [{ x: 1, y: 1, z: 5 + p }, { x: 6, y: 1.5, z: 5 + q }, { x: 3, y: 6, z: 5 + r }]; // prettier-ignore
          const { surface } = raiseArea(s, box(-1, 9), tiltOnto(s, given)!)!;
          const finder = groundFinder(surface);
          for (const g of given) expect(finder.at(g.x, g.y)!.elevation).toBeCloseTo(g.z, 9);
        },
      ),
      { numRuns: 100 },
    );
    const s = plane(8, () => 0);
    expect(tiltOnto(s, [{ x: 1, y: 1, z: 1 }, { x: 2, y: 2, z: 1 }, { x: 3, y: 3, z: 1 }])).toBeNull(); // prettier-ignore
    expect(tiltOnto(s, [{ x: 1, y: 1, z: 1 }, { x: 2, y: 5, z: 1 }, { x: 30, y: 3, z: 1 }])).toBeNull(); // prettier-ignore
  });
});

describe('an area evened out', () => {
  it('leaves a plane as it is, and breaklines and the rim whatever is round them', () => {
    const s = plane(7, (x, y) => 2 * x - y);
    const { surface, count } = evenOut(s, box(-1, 7), 0.5, 5)!;
    expect(count).toBe(25);
    // The mean weighted by distance of what lies evenly around is what stands there.
    for (let v = 0; v < s.z.length; v++) expect(Math.abs(surface.z[v] - s.z[v])).toBeLessThan(0.8);
    const ridge = surfaceOf(Array.from({ length: 49 }, (_, i) => [i % 7, Math.floor(i / 7), i % 7 === 3 ? 9 : 1]), [3, 10, 10, 17, 17, 24, 24, 31, 31, 38, 38, 45]); // prettier-ignore
    const evened = evenOut(ridge, box(-1, 7), 1, 3)!.surface;
    for (let v = 0; v < 49; v++) if (v % 7 === 3 || v % 7 === 0) expect(evened.z[v]).toBe(ridge.z[v]);
  });

  it('lowers a bump by its strength, and no strength changes nothing', () => {
    const s = plane(5, (x, y) => (x === 2 && y === 2 ? 1 : 0));
    expect(evenOut(s, box(1.5, 2.5), 0.5, 1)!.surface.z[12]).toBeCloseTo(0.5, 12);
    expect(evenOut(s, box(1.5, 2.5), 1, 1)!.surface.z[12]).toBeCloseTo(0, 12);
    expect([...evenOut(s, box(-1, 6), 0, 4)!.surface.z]).toEqual([...s.z]);
  });
});

describe('a side swapped', () => {
  it('is the other diagonal, and the same again when it is swapped back', () => {
    const s = surfaceOf([[0, 0, 0], [10, 0, 4], [10, 10, 0], [0, 10, 4]]); // prettier-ignore
    const before = groundFinder(s).at(5, 5)!.elevation;
    const [p, q] = before < 2 ? [{ x: 0, y: 0 }, { x: 10, y: 10 }] : [{ x: 10, y: 0 }, { x: 0, y: 10 }]; // prettier-ignore
    const { surface } = swapSide(s, p, q)!;
    checkSound(surface);
    expect(groundFinder(surface).at(5, 5)!.elevation).toBeCloseTo(4 - before, 12);
    expect(swapSide(surface, p, q)).toBeNull();
    const [u, w] = before < 2 ? [{ x: 10, y: 0 }, { x: 0, y: 10 }] : [{ x: 0, y: 0 }, { x: 10, y: 10 }]; // prettier-ignore
    expect(groundFinder(swapSide(surface, u, w)!.surface).at(5, 5)!.elevation).toBeCloseTo(before, 12);
  });

  it('is not at the rim, on a breakline, or where the four corners are no convex quadrilateral', () => {
    const square: [number, number, number][] = [[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0]]; // prettier-ignore
    expect(swapSide(surfaceOf(square), { x: 0, y: 0 }, { x: 10, y: 0 })).toBeNull();
    expect(swapSide(surfaceOf(square, [0, 2]), { x: 0, y: 0 }, { x: 10, y: 10 })).toBeNull();
    const arrow = surfaceOf([[0, 0, 0], [10, 0, 0], [3, 2, 0], [0, 10, 0]]); // prettier-ignore
    expect(swapSide(arrow, { x: 0, y: 0 }, { x: 3, y: 2 })).toBeNull();
  });
});

describe('triangles deleted', () => {
  it('go with their area, and the others stay linked', () => {
    const s = plane(6, (x) => x);
    const { surface, count } = deleteTriangles(s, [{ x: 2.2, y: 2.7 }, { x: 2.8, y: 2.3 }, { x: 2.81, y: 2.3 }])!; // prettier-ignore
    checkSound(surface);
    expect(measureSurface(surface).planArea).toBeCloseTo(25 - 0.5 * count, 9);
    expect([1, 2]).toContain(count);
    expect(deleteTriangles(s, [{ x: 50, y: 50 }])).toBeNull();
  });
});
