import fc from 'fast-check';
import Delaunator from 'delaunator';
import { describe, expect, it } from 'vitest';
import { inCircle, orientation } from '#core/kernel';
import { constrain, delaunay, GHOST, nextEdge, previousEdge, type Mesh } from '#core/terrain';

const real = (mesh: Mesh): number[] => {
  const out: number[] = [];
  for (let t = 0; t < mesh.count; t++) if (![0, 1, 2].some((k) => mesh.corner[3 * t + k] === GHOST)) out.push(t);
  return out;
};

/** Every link goes both ways over the same side, every real triangle turns left. */
function checkSound(mesh: Mesh): void {
  for (let e = 0; e < mesh.count * 3; e++) {
    const f = mesh.twin[e];
    expect(mesh.twin[f]).toBe(e);
    expect(mesh.corner[f]).toBe(mesh.corner[nextEdge(e)]);
  }
  for (const t of real(mesh)) {
    const [a, b, c] = [mesh.corner[3 * t], mesh.corner[3 * t + 1], mesh.corner[3 * t + 2]];
    expect(orientation(mesh.x[a], mesh.y[a], mesh.x[b], mesh.y[b], mesh.x[c], mesh.y[c])).toBeGreaterThan(0);
  }
}

/** No side that is not fixed could be flipped to the better: with convex hull and links this is Delaunay's empty circle. */
function checkEmptyCircles(mesh: Mesh, fixed?: Uint8Array): void {
  for (let e = 0; e < mesh.count * 3; e++) {
    if (fixed?.[e]) continue;
    const f = mesh.twin[e];
    const [a, b, p, d] = [mesh.corner[e], mesh.corner[f], mesh.corner[previousEdge(e)], mesh.corner[previousEdge(f)]];
    if (Math.min(a, b, p, d) < 0) continue;
    expect(
      inCircle(mesh.x[a], mesh.y[a], mesh.x[b], mesh.y[b], mesh.x[p], mesh.y[p], mesh.x[d], mesh.y[d]),
    ).toBeLessThanOrEqual(0);
  }
}

const hullSize = (mesh: Mesh): number => mesh.count - real(mesh).length;
const distinct = (x: number[], y: number[]): number => new Set(x.map((v, i) => `${v} ${y[i]}`)).size;

// Coordinates on a coarse lattice give coincident, collinear and cocircular points in plenty.
const awkward = fc.array(fc.tuple(fc.integer({ min: 0, max: 8 }), fc.integer({ min: 0, max: 8 })), {
  minLength: 3,
  maxLength: 60,
});
// Nearer to zero than 1e-30 m is zero: there the predicates' products would underflow.
const coordinate = fc.double({ min: -1e7, max: 1e7, noNaN: true }).map((v) => (Math.abs(v) < 1e-30 ? 0 : v));
const anywhere = fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 80 });

describe('Delaunay triangulation', () => {
  for (const [name, points] of [
    ['on a lattice', awkward],
    ['anywhere', anywhere],
  ] as const)
    it(`has empty circles, sound links and Euler’s number of triangles, points ${name}`, () => {
      fc.assert(
        fc.property(points, (list: [number, number][]) => {
          const [x, y] = [list.map((p) => p[0]), list.map((p) => p[1])];
          const mesh = delaunay(Float64Array.from(x), Float64Array.from(y));
          checkSound(mesh);
          checkEmptyCircles(mesh);
          const kept = distinct(x, y);
          expect(mesh.coincidesWith.filter((c) => c >= 0).length).toBe(list.length - kept);
          // triangles = 2n − 2 − h, with h the points on the hull, those within its sides included
          if (mesh.count) expect(real(mesh).length).toBe(2 * kept - 2 - hullSize(mesh));
        }),
        { numRuns: 300 },
      );
    });

  it('makes as many triangles as delaunator on random points', () => {
    for (const n of [10, 1000, 20000]) {
      const xy = Float64Array.from({ length: 2 * n }, (_, i) => ((i * 7919.77) % 1009) + ((i * 104729.13) % 1) * 3);
      const mesh = delaunay(
        xy.filter((_, i) => i % 2 === 0),
        xy.filter((_, i) => i % 2 === 1),
      );
      expect(real(mesh).length).toBe(new Delaunator(xy).triangles.length / 3);
    }
  });

  it('gives no triangle, and no failure, for one point, two, or all in a line', () => {
    for (const list of [
      [],
      [[1, 1]],
      [
        [0, 0],
        [1, 1],
      ],
      [
        [0, 0],
        [1, 1],
        [2, 2],
        [2, 2],
      ],
    ] as number[][][]) {
      const mesh = delaunay(
        Float64Array.from(list, (p) => p[0]),
        Float64Array.from(list, (p) => p[1]),
      );
      expect(mesh.count).toBe(0);
    }
  });
});

describe('constraints', () => {
  it('stand as sides, or are named as crossing; everything else stays Delaunay', () => {
    fc.assert(
      fc.property(
        fc.oneof(awkward, anywhere),
        fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 12 }),
        (list, pairs) => {
          const x = Float64Array.from(list, (p) => p[0]);
          const y = Float64Array.from(list, (p) => p[1]);
          const mesh = delaunay(x, y);
          if (mesh.count === 0) return;
          const segments = Int32Array.from(pairs.flatMap(([a, b]) => [a % list.length, b % list.length]));
          const { fixed, crossings } = constrain(mesh, segments);
          checkSound(mesh);
          checkEmptyCircles(mesh, fixed);
          for (let e = 0; e < fixed.length; e++) expect(fixed[e]).toBe(fixed[mesh.twin[e]]);
          const named = new Set(crossings.map((c) => c.segment));
          for (let s = 0; s < segments.length / 2; s++)
            if (!named.has(s))
              expect(coveredByFixed(mesh, fixed, x, y, segments[2 * s], segments[2 * s + 1])).toBe(true);
        },
      ),
      { numRuns: 400 },
    );
  });
});

/** Whether fixed sides that lie on the straight a–b cover all of it. */
function coveredByFixed(
  mesh: Mesh,
  fixed: Uint8Array,
  x: Float64Array,
  y: Float64Array,
  a: number,
  b: number,
): boolean {
  if (x[a] === x[b] && y[a] === y[b]) return true;
  const length = (x[b] - x[a]) ** 2 + (y[b] - y[a]) ** 2;
  const along = (v: number): number =>
    ((mesh.x[v] - x[a]) * (x[b] - x[a]) + (mesh.y[v] - y[a]) * (y[b] - y[a])) / length;
  let covered = 0;
  for (let e = 0; e < fixed.length; e++) {
    if (!fixed[e] || mesh.twin[e] < e) continue;
    const [u, v] = [mesh.corner[e], mesh.corner[nextEdge(e)]];
    if (u < 0 || v < 0) continue;
    const on = [u, v].every((w) => orientation(x[a], y[a], x[b], y[b], mesh.x[w], mesh.y[w]) === 0);
    if (!on) continue;
    const [s, t] = [along(u), along(v)].sort((p, q) => p - q);
    covered += Math.max(0, Math.min(1, t) - Math.max(0, s));
  }
  return Math.abs(covered - 1) < 1e-9;
}
