import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ringArea, ringCrossesItself } from '#core/kernel';
import { clipToRing, contours, findSpikes, groundFinder, measureSurface, NO_POINT, outlines } from '#core/terrain';
import { build, surfaceOf } from './made.ts';

const lattice = (n: number, height: (x: number, y: number) => number): [number, number, number][] =>
  Array.from({ length: n * n }, (_, i) => [i % n, Math.floor(i / n), height(i % n, Math.floor(i / n))]);

describe('surface', () => {
  it('reduces points nearer than the coincidence distance to the first, and says which', () => {
    const { surface, account } = build(
      [
        [0, 0, 1],
        [10, 0, 1],
        [0, 10, 1],
        [0.008, 0, 5],
        [10, 10, 2],
      ],
      [],
      null,
      0.01,
    );
    expect([...account.coincident]).toEqual([0, 3]);
    expect(surface.x.length).toBe(4);
  });

  it('leaves triangles over the longest side out, but keeps long breaklines', () => {
    const strip: [number, number, number][] = [
      [0, 0, 0],
      [100, 0, 0],
      [0, 5, 0],
      [100, 5, 0],
    ];
    expect(build(strip, [], 30).surface.triangles.length).toBe(0);
    // All long sides are breaklines: the strip stays whole.
    expect(build(strip, [0, 1, 2, 3, 0, 3], 30).surface.triangles.length).toBe(6);
    expect(build(strip, [], 30).account.tooLong).toBe(2);
  });

  it('measures a known roof: areas in plan and along the slope', () => {
    const m = measureSurface(
      surfaceOf([
        [0, 0, 0],
        [10, 0, 0],
        [10, 10, 10],
        [0, 10, 10],
      ]),
    );
    expect(m.planArea).toBeCloseTo(100, 9);
    expect(m.slopeArea).toBeCloseTo(100 * Math.SQRT2, 9);
  });

  it('knows the elevation, slope and fall of a plane anywhere on it', () => {
    const finder = groundFinder(surfaceOf(lattice(6, (x, y) => 2 * x - y + 7)));
    fc.assert(
      fc.property(fc.double({ min: 0, max: 5, noNaN: true }), fc.double({ min: 0, max: 5, noNaN: true }), (x, y) => {
        const at = finder.at(x, y)!;
        expect(at.elevation).toBeCloseTo(2 * x - y + 7, 9);
        expect(at.slope).toBeCloseTo(Math.sqrt(5), 9);
        // Falls to the west and north: bearing of (−2, 1).
        expect(at.fallsTo).toBeCloseTo(2 * Math.PI - Math.atan2(2, 1), 9);
      }),
    );
    expect(finder.at(5.1, 2)).toBeNull();
  });
});

describe('boundary', () => {
  it('cuts a surface exactly: area of the ring, elevations of the surface, links both ways', () => {
    const hilly = surfaceOf(lattice(12, (x, y) => Math.sin(x) * 2 + y * 0.3));
    const before = groundFinder(hilly);
    fc.assert(
      fc.property(
        fc.array(
          fc.integer({ min: 150, max: 999 }).map((r) => r / 1000),
          { minLength: 3, maxLength: 14 },
        ),
        (radii) => {
          const ring = Float64Array.from(
            radii.flatMap((r, i) => [
              5.5 + 5 * r * Math.cos((2 * Math.PI * i) / radii.length),
              5.5 + 5 * r * Math.sin((2 * Math.PI * i) / radii.length),
            ]),
          );
          if (ringCrossesItself(ring)) return;
          const cut = clipToRing(hilly, ring);
          expect(measureSurface(cut).planArea).toBeCloseTo(ringArea(ring), 7);
          for (let v = 0; v < cut.x.length; v++)
            if (cut.point[v] === NO_POINT) expect(cut.z[v]).toBeCloseTo(before.at(cut.x[v], cut.y[v])!.elevation, 7);
          cut.neighbours.forEach((f, e) => f >= 0 && expect(cut.neighbours[f]).toBe(e));
          // One piece, without cracks along the sides that the ring crosses.
          expect(outlines(cut)).toHaveLength(1);
        },
      ),
      { numRuns: 100 },
    );
  });

  it('leaves nothing where the ring lies off the surface', () => {
    expect(
      clipToRing(surfaceOf(lattice(4, () => 1)), Float64Array.from([50, 50, 60, 50, 60, 60])).triangles.length,
    ).toBe(0);
  });
});

describe('contours', () => {
  it('lie on the surface at their elevation, everywhere', () => {
    const s = surfaceOf(lattice(15, (x, y) => 3 * Math.sin(x / 2) + 2 * Math.cos(y / 3)));
    const finder = groundFinder(s);
    const list = contours(s, { interval: 0.25, indexEvery: 4 });
    expect(list.length).toBeGreaterThan(10);
    for (const c of list)
      for (let i = 0; i + 3 < c.line.length; i += 2) {
        const at = finder.at((c.line[i] + c.line[i + 2]) / 2, (c.line[i + 1] + c.line[i + 3]) / 2);
        if (at) expect(at.elevation).toBeCloseTo(c.elevation, 6);
      }
    expect(list.filter((c) => c.index).every((c) => Number.isInteger(c.elevation))).toBe(true);
  });

  it('close up round a cone, with the length of the level’s polygon', () => {
    const n = 24;
    const rim = Array.from({ length: n }, (_, i): [number, number, number] => [
      10 * Math.cos((2 * Math.PI * i) / n),
      10 * Math.sin((2 * Math.PI * i) / n),
      0,
    ]);
    const [line, ...more] = contours(surfaceOf([...rim, [0, 0, 10]]), { interval: 5, indexEvery: 0 });
    expect(more).toHaveLength(0);
    expect(line.closed).toBe(true);
    let length = 0;
    for (let i = 0; i + 3 < line.line.length; i += 2)
      length += Math.hypot(line.line[i + 2] - line.line[i], line.line[i + 3] - line.line[i + 1]);
    expect(length).toBeCloseTo(n * 2 * 5 * Math.sin(Math.PI / n), 9);
    // Higher ground on the left: counter-clockwise round a top.
    expect(ringArea(line.line.slice(0, -2))).toBeGreaterThan(0);
  });

  it('do not branch or fail on level ground and on vertices exactly at a level', () => {
    expect(contours(surfaceOf(lattice(5, () => 2)), { interval: 1, indexEvery: 5 })).toHaveLength(0);
    for (const c of contours(surfaceOf(lattice(7, (x, y) => (x + y) % 3)), { interval: 1, indexEvery: 5 }))
      expect(c.line.length).toBeGreaterThanOrEqual(2);
  });

  it('refuse an interval that is none, or one for another surface', () => {
    const s = surfaceOf(lattice(3, (x) => x * 1000));
    expect(() => contours(s, { interval: 0, indexEvery: 0 })).toThrow(/greater than zero/);
    expect(() => contours(s, { interval: 1e-6, indexEvery: 0 })).toThrow(/larger/);
  });
});

describe('spikes', () => {
  it('names the one wrong height on a slope, with where it should be', () => {
    const points = lattice(9, (x, y) => 0.3 * x + 0.1 * y);
    points[40][2] -= 1.2;
    const [spike, ...more] = findSpikes(surfaceOf(points), 0.5);
    expect(more).toHaveLength(0);
    expect(spike.vertex).toBe(40);
    expect(spike.off).toBeCloseTo(-1.2, 6);
    expect(spike.expected).toBeCloseTo(0.3 * 4 + 0.1 * 4, 6);
  });

  it('says nothing about an honest rough slope', () => {
    expect(findSpikes(surfaceOf(lattice(9, (x, y) => 0.6 * x + 0.2 * Math.sin(7 * x + 3 * y))), 0.5)).toHaveLength(0);
  });
});
