import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipToRing, cutVoid, ofTriangles, planSurface, type Surface } from '#core/terrain';
import { differenceBetween } from '../../../src/quantities/difference/difference.ts';
import { figuresOf } from '../../../src/quantities/difference/figures.ts';
import { figuresBySides } from '../../../src/quantities/difference/one-sided.ts';

/** Repeatable numbers in 0 … 1. */
function numbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

/** Rolling ground of so many points on 100 m, rough by so much, a height above another; 400 km from the origin. */
function ground(n: number, seed: number, rough: number, lift: (x: number, y: number) => number): Surface {
  const next = numbers(seed);
  const [x, y] = [new Float64Array(n), new Float64Array(n)];
  for (let i = 0; i < n; i++) [x[i], y[i]] = [4e5 + 100 * next(), 7e5 + 100 * next()];
  const plan = planSurface({ x, y, segments: new Uint32Array(), coincidence: 1e-4, longestSide: null });
  const z = Float64Array.from(plan.x, (v, i) => {
    const [px, py] = [v - 4e5, plan.y[i] - 7e5];
    return 200 + 8 * Math.sin(px / 17) + 6 * Math.cos(py / 23) + rough * next() + lift(px, py);
  });
  return { ...plan, z };
}

function agree(a: Surface, b: Surface): boolean {
  const [bySides, byPieces] = [figuresBySides(a, b, 0, 0), figuresOf(differenceBetween(a, b), { surface: a })];
  if (!bySides) return false;
  for (const key of ['cut', 'fill', 'cutArea', 'fillArea', 'area'] as const)
    expect(bySides.volume[key]).toBeCloseTo(byPieces.volume[key], 6);
  for (const key of ['cut', 'fill'] as const) {
    expect(bySides.slope[key]).toBeCloseTo(byPieces.slope[key], 6);
    expect(bySides.deepest[key] === null).toBe(byPieces.deepest[key] === null);
    if (byPieces.deepest[key]) expect(bySides.deepest[key]!.depth).toBeCloseTo(byPieces.deepest[key].depth, 9);
  }
  return true;
}

/** So many invented sites; more by hand: SIDES=2000. */
const RUNS = Number(process.env.SIDES ?? 150);

const site = fc.record({
  one: fc.integer({ min: 4, max: 1500 }),
  two: fc.integer({ min: 4, max: 1500 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
  rough: fc.constantFrom(0, 0.02, 0.5),
  lift: fc.constantFrom<(x: number, y: number) => number>(
    () => 1,
    () => 0,
    (x) => Math.sin(x / 9),
    (x, y) => (x - 50) / 20 + (y - 40) / 30,
    (x, y) => Math.max(0, 5 - Math.hypot(x - 40, y - 60) / 4),
  ),
  hole: fc.boolean(),
  bay: fc.boolean(),
});

describe('a difference told by sides', () => {
  it('is what its pieces add up to, with zero lines, holes, bays and rims of all kinds', () => {
    let asked = 0;
    let told = 0;
    fc.assert(
      fc.property(site, ({ one, two, seed, rough, lift, hole, bay }) => {
        let a = ground(one, seed, rough, () => 0);
        let b = ground(two, seed + 7, rough, lift);
        const at = (list: number[]): Float64Array => Float64Array.from(list, (v, i) => v + (i % 2 ? 7e5 : 4e5));
        if (hole) a = cutVoid(a, at([30, 30, 60, 35, 45, 70]));
        if (bay) b = clipToRing(b, at([5, 5, 95, 5, 95, 95, 60, 95, 60, 20, 40, 20, 40, 95, 5, 95]));
        if (a.triangles.length === 0 || b.triangles.length === 0) return;
        asked++;
        if (agree(a, b)) told++;
      }),
      { numRuns: RUNS },
    );
    // Hardly ever has all to be taken piece by piece.
    expect(told / asked).toBeGreaterThan(0.9);
  });

  it('is exact between planes that cross', () => {
    const a = ground(3000, 3, 0, () => 0);
    const flat = (s: Surface, z: (x: number) => number): Surface => ({ ...s, z: Float64Array.from(s.x, (v) => z(v - 4e5)) }); // prettier-ignore
    const ring = Float64Array.of(4e5 + 10, 7e5 + 10, 4e5 + 90, 7e5 + 10, 4e5 + 90, 7e5 + 90, 4e5 + 10, 7e5 + 90);
    const level = clipToRing(flat(a, () => 50), ring); // prettier-ignore
    const tilted = flat(
      ground(3000, 5, 0, () => 0),
      (x) => 50 + (x - 50) / 40,
    );
    const got = figuresBySides(level, tilted, 0, 0)!;
    // A wedge of 1 m at its end, 40 m long and 80 m wide, on either side.
    for (const side of ['cut', 'fill'] as const) expect(got.volume[side]).toBeCloseTo((40 * 80 * 1) / 2, 7);
    expect(got.volume.area).toBeCloseTo(6400, 7);
    expect(got.deepest.fill!.depth).toBeCloseTo(1, 9);
  });

  it('leaves surfaces to their pieces whose triangles lie over each other', () => {
    const a = ground(4000, 3, 0, () => 0);
    const b = ground(4000, 4, 0, (x) => 5 + x / 10);
    const twice = [b, b].flatMap((s) => [...s.triangles].flatMap((v) => [s.x[v], s.y[v], s.z[v]]));
    const soup = ofTriangles(Float64Array.from(twice));
    // As neighbours it has only its own copy: no rim tells that there are two.
    const doubled = { ...soup, neighbours: Int32Array.from([...b.neighbours, ...b.neighbours.map((e) => (e < 0 ? e : e + b.neighbours.length))]) }; // prettier-ignore
    expect(figuresBySides(a, doubled, 0, 0)).toBeNull();
  });

  it('is not asked where pieces may be few enough to keep', () => {
    const [a, b] = [ground(500, 3, 0, () => 0), ground(500, 4, 0, () => 1)];
    expect(figuresBySides(a, b)).toBeNull();
    expect(figuresBySides(a, b, 900, 0)).not.toBeNull();
    expect(figuresBySides(a, b, 100_000, 0)).toBeNull();
  });
});
