import fc from 'fast-check';
import { expect, test } from 'vitest';
import { layIn, measureSurface, outlines, peelRim, triangleWalk, elevationIn, type Surface } from '#core/terrain';
import { pointInRing } from '#core/kernel';
import { surfaceOf } from './made.ts';

const frame = (low: number, high: number, z: number): [number, number, number][] => [
  [low, low, z],
  [high, low, z],
  [high, high, z],
  [low, high, z],
];
const centimetres = fc.integer({ min: 100, max: 1900 });
const inner = fc.uniqueArray(fc.tuple(centimetres, centimetres, fc.integer({ min: 0, max: 9 })).map(([x, y, z]): [number, number, number] => [x / 100, y / 100, z]), { selector: ([x, y]) => `${x},${y}`, minLength: 4, maxLength: 30 }); // prettier-ignore
const heights = (s: Surface) => {
  const find = triangleWalk(s);
  return (x: number, y: number): number => {
    const t = find(x, y);
    return t < 0 ? NaN : elevationIn(s, t, x, y);
  };
};

/** Every side is seen from both of its triangles; triangles turn left or are as thin as rounding. */
function expectSound(s: Surface): void {
  for (let e = 0; e < s.neighbours.length; e++) if (s.neighbours[e] >= 0) expect(s.neighbours[s.neighbours[e]]).toBe(e);
  for (let t = 0; t < s.triangles.length; t += 3) {
    const [a, b, c] = s.triangles.subarray(t, t + 3);
    expect((s.x[b] - s.x[a]) * (s.y[c] - s.y[a]) - (s.y[b] - s.y[a]) * (s.x[c] - s.x[a])).toBeGreaterThan(-1e-9);
  }
}

const RING = Float64Array.of(5, 6, 15.5, 5, 14, 15, 6, 13.5);

const onRing = (x: number, y: number): boolean =>
  [0, 2, 4, 6].some((i) => {
    const [ax, ay, bx, by] = [RING[i], RING[i + 1], RING[(i + 2) % 8], RING[(i + 3) % 8]];
    return Math.abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) < 1e-6 * Math.hypot(bx - ax, by - ay);
  });

test('inside the boundary it is what is laid in, outside what was there, with no gap between', () => {
  fc.assert(
    fc.property(inner, inner, (a, b) => {
      const base = surfaceOf([...frame(0, 20, 0), ...a]);
      const laid = surfaceOf([...frame(0, 20, 5), ...b]);
      const { surface } = layIn(base, laid, RING)!;
      expectSound(surface);
      expect(measureSurface(surface).planArea).toBeCloseTo(400, 6);
      // No rim but the outer one: the seam is closed.
      expect(outlines(surface)).toHaveLength(1);
      const [before, after, within] = [heights(base), heights(surface), heights(laid)];
      for (let x = 0.7; x < 20; x += 1.3)
        for (let y = 0.9; y < 20; y += 1.3)
          if (pointInRing(RING, x, y)) expect(after(x, y)).toBeCloseTo(within(x, y), 6);
      // Vertices outside are those that were there; one on the boundary takes the elevation of what is laid in.
      for (let v = 0; v < base.x.length; v++)
        if (!pointInRing(RING, base.x[v], base.y[v]) && !onRing(base.x[v], base.y[v])) expect(after(base.x[v], base.y[v])).toBeCloseTo(before(base.x[v], base.y[v]), 6); // prettier-ignore
    }),
    // The first vertex lies on the boundary.
    { numRuns: 150, examples: [[[[14.33, 12.8, 0], [1, 1, 0], [1, 1.01, 0], [1, 1.02, 0]], [[1, 1, 0], [1, 1.01, 0], [1, 1.02, 0], [1, 1.03, 0]]]] }, // prettier-ignore
  );
});

test('without a boundary all of it is laid in; what it does not reach stays', () => {
  const base = surfaceOf(frame(0, 20, 10));
  const pad = surfaceOf([...frame(5, 12, 12), [8, 8, 12]]);
  const { surface, count } = layIn(base, pad, null)!;
  expectSound(surface);
  expect(count).toBe(pad.triangles.length / 3);
  expect(heights(surface)(7, 9)).toBe(12);
  expect(heights(surface)(5, 5)).toBe(12);
  expect(heights(surface)(0, 20)).toBe(10);
  expect(measureSurface(surface).planArea).toBeCloseTo(400, 9);
});

test('surfaces without a place in common are not joined', () => {
  expect(layIn(surfaceOf(frame(0, 10, 1)), surfaceOf(frame(20, 30, 1)), Float64Array.of(1, 1, 4, 1, 4, 4))).toBeNull();
});

test('a boundary that runs off what is laid in leaves the rest of the void open', () => {
  const base = surfaceOf(frame(0, 20, 10));
  const half = surfaceOf([
    [0, 0, 11],
    [10, 0, 11],
    [10, 20, 11],
    [0, 20, 11],
  ]);
  const { surface } = layIn(base, half, Float64Array.of(5, 5, 15, 5, 15, 15, 5, 15))!;
  expectSound(surface);
  expect(measureSurface(surface).planArea).toBeCloseTo(350, 6);
});

test('a rim that is peeled opens bays, leaves breaklines, and nothing inside', () => {
  // An L of points 5 m apart: the sides across its opening are long, but for the one in its corner.
  const corner: [number, number, number][] = [];
  for (let x = 0; x <= 20; x += 5) for (let y = 0; y <= 20; y += 5) if (x <= 5 || y <= 5) corner.push([x, y, 0]);
  const whole = surfaceOf(corner);
  const { surface, count } = peelRim(whole, 8);
  expectSound(surface);
  expect(count).toBeGreaterThan(0);
  expect(measureSurface(surface).planArea).toBeCloseTo(5 * 20 + 5 * 15 + 12.5, 9);
  expect(peelRim(whole, 100).surface).toBe(whole);
  const ends = [corner.findIndex(([x, y]) => x === 5 && y === 20), corner.findIndex(([x, y]) => x === 20 && y === 5)];
  const held = surfaceOf(corner, ends);
  expect(measureSurface(peelRim(held, 8).surface).planArea).toBeGreaterThan(190);
});
