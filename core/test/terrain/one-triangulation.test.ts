import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { constrain, delaunay, GHOST, type Mesh } from '#core/terrain';

type Place = readonly [number, number];

/** Triangles by their corners' coordinates, in an order of their own: what remains of a mesh when storage is forgotten. */
function trianglesOf(mesh: Mesh): string[] {
  const out: string[] = [];
  for (let e = 0; e < mesh.count * 3; e += 3) {
    const corners = [mesh.corner[e], mesh.corner[e + 1], mesh.corner[e + 2]];
    if (corners.includes(GHOST)) continue;
    const named = corners.map((v) => `${mesh.x[v]} ${mesh.y[v]}`);
    const first = named.indexOf([...named].sort()[0]);
    out.push([0, 1, 2].map((k) => named[(first + k) % 3]).join(' | '));
  }
  return out.sort();
}

function triangulated(places: readonly Place[], sides: readonly (readonly [Place, Place])[] = []): Mesh {
  const mesh = delaunay(Float64Array.from(places, (p) => p[0]), Float64Array.from(places, (p) => p[1])); // prettier-ignore
  const at = (p: Place): number => places.findIndex((q) => q[0] === p[0] && q[1] === p[1]);
  constrain(mesh, Int32Array.from(sides.flatMap(([p, q]) => [at(p), at(q)])));
  return mesh;
}

const grid = (columns: number, rows: number): Place[] =>
  Array.from({ length: columns * rows }, (_, i) => [i % columns, Math.floor(i / columns)] as const);

/** Places in another order, the same one for the same number. */
function shuffled<T>(list: readonly T[], seed: number): T[] {
  const out = [...list];
  let state = (seed * 2654435761 + 12345) >>> 0;
  for (let i = out.length - 1; i > 0; i--) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const j = state % (i + 1);
    [out[i], out[j]] = [out[j], out[i]];
  }
  return out;
}

const lattice = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 7 }), fc.integer({ min: 0, max: 7 })), {
  minLength: 4,
  maxLength: 50,
  selector: ([x, y]) => `${x} ${y}`,
});

describe('one set of points', () => {
  it('on a perfect grid has the same triangles in whatever order they come', () => {
    const places = grid(20, 15);
    const triangles = trianglesOf(triangulated(places));
    expect(triangles).toHaveLength(2 * 19 * 14);
    for (let seed = 1; seed <= 25; seed++) expect(trianglesOf(triangulated(shuffled(places, seed)))).toEqual(triangles);
  });

  it('on a perfect grid loses only what a cut of its extent touches', () => {
    const whole = new Set(trianglesOf(triangulated(grid(100, 41))));
    const cut = trianglesOf(triangulated(grid(100, 41).filter(([x]) => x >= 37)));
    expect(cut.filter((t) => !whole.has(t))).toEqual([]);
  });

  it('on one circle has the same triangles in whatever order they come', () => {
    // Pythagorean triples: all exactly on a circle of radius 65.
    const on = [[16, 63], [25, 60], [33, 56], [39, 52], [52, 39], [56, 33], [60, 25], [63, 16], [65, 0], [0, 65]]; // prettier-ignore
    const places = [...new Map(on.flatMap(([x, y]) => [[x, y], [-x, y], [x, -y], [-x, -y]]).map(([x, y]) => [`${x + 0} ${y + 0}`, [x + 0, y + 0] as const])).values()]; // prettier-ignore
    const triangles = trianglesOf(triangulated(places));
    expect(triangles).toHaveLength(places.length - 2);
    for (let seed = 1; seed <= 50; seed++) expect(trianglesOf(triangulated(shuffled(places, seed)))).toEqual(triangles);
  });

  it('anywhere on a lattice has the same triangles in whatever order they come', () => {
    fc.assert(
      fc.property(lattice, fc.nat(), (places, seed) => {
        expect(trianglesOf(triangulated(shuffled(places, seed)))).toEqual(trianglesOf(triangulated(places)));
      }),
      { numRuns: 500 },
    );
  });

  it('with breaklines that do not cross has the same triangles in whatever order both come', () => {
    fc.assert(
      fc.property(lattice, fc.nat(), fc.array(fc.nat(), { maxLength: 8 }), (places, seed, picks) => {
        // Sides of rows: two neighbours in a row never cross those of another.
        const rows = new Map<number, Place[]>();
        for (const p of places) rows.set(p[1], [...(rows.get(p[1]) ?? []), p]);
        const sides: [Place, Place][] = [];
        for (const pick of picks) {
          const row = [...rows.values()][pick % rows.size].sort((a, b) => a[0] - b[0]);
          if (row.length > 1) sides.push([row[0], row[row.length - 1]]);
        }
        expect(trianglesOf(triangulated(shuffled(places, seed), shuffled(sides, seed)))).toEqual(
          trianglesOf(triangulated(places, sides)),
        );
      }),
      { numRuns: 300 },
    );
  });
});
