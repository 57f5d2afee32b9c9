import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fittedPlane } from '#core/terrain';
import { pointInRing, ringArea } from '#core/kernel';
import { findHeap, measureHeap, toeOf, volumeToLevel } from '#core/quantities';
import { surfaceOf } from '../bodies.ts';

/** Corners of a regular polygon. */
const around = (n: number, radius: number, z: (a: number) => number, start = 0): number[][] =>
  Array.from({ length: n }, (_, i) => {
    const a = start + (2 * Math.PI * i) / n;
    return [100 + radius * Math.cos(a), 200 + radius * Math.sin(a), z(a)];
  });
const polygonArea = (n: number, r: number): number => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);

describe('a heap down to its bases', () => {
  it('on level ground is the same above all of them: a cone of 24 sides, by its closed form', () => {
    const cone = surfaceOf([...around(24, 9, () => 61), [100, 200, 66]]);
    const { volumes, planArea, toe, lowest, top } = measureHeap(cone);
    const body = (polygonArea(24, 9) * 5) / 3;
    for (const v of Object.values(volumes)) {
      expect(v!.above).toBeCloseTo(body, 8);
      expect(v!.below).toBeCloseTo(0, 8);
    }
    expect(planArea).toBeCloseTo(polygonArea(24, 9), 9);
    expect([toe.length, lowest, top]).toEqual([24, 61, 66]);
  });

  it('on a slope: the plane and the toe give the heap itself, its lowest level the wedge below it too', () => {
    const slope = (x: number): number => 61 + 0.1 * (x - 100);
    const cone = surfaceOf([...around(24, 9, (a) => slope(100 + 9 * Math.cos(a))), [100, 200, slope(100) + 5]]);
    const { volumes, lowest } = measureHeap(cone);
    const body = (polygonArea(24, 9) * 5) / 3;
    expect(volumes.plane!.net).toBeCloseTo(body, 8);
    expect(volumes.toe!.net).toBeCloseTo(body, 8);
    expect(volumes.mean!.net).toBeCloseTo(body, 8);
    expect(volumes.mean!.below).toBeGreaterThan(1);
    expect(lowest).toBeCloseTo(slope(91), 9);
    expect(volumes.lowest!.net).toBeCloseTo(body + polygonArea(24, 9) * 0.9, 8);
  });

  it('has no plane where its toe is one line, and says so', () => {
    expect(fittedPlane([[0, 0, 1], [5, 5, 2], [9, 9, 3]])).toBeNull(); // prettier-ignore
    expect(fittedPlane([[0, 0, 1], [4, 0, 3], [0, 4, 1]])!.at(2, 2)).toBeCloseTo(2, 12); // prettier-ignore
  });
});

/** An invented heap: lobes about a middle, a top that is pointed or flat, shots on toe, flank and top, ground round it or none. */
const site = fc.record({
  radius: fc.double({ min: 4, max: 25, noNaN: true }),
  lobes: fc.integer({ min: 0, max: 3 }),
  depth: fc.double({ min: 0, max: 0.25, noNaN: true }),
  repose: fc.double({ min: 0.45, max: 0.8, noNaN: true }),
  flat: fc.double({ min: 0, max: 0.5, noNaN: true }),
  slope: fc.double({ min: 0, max: 0.08, noNaN: true }),
  toward: fc.double({ min: 0, max: 6.28, noNaN: true }),
  apron: fc.boolean(),
  wall: fc.boolean(),
  noise: fc.array(fc.double({ min: -0.02, max: 0.02, noNaN: true }), { minLength: 211, maxLength: 211 }),
});
type Site = typeof site extends fc.Arbitrary<infer T> ? T : never;

function surveyOf({ radius, lobes, depth, repose, flat, slope, toward, apron, wall, noise }: Site): {
  shots: number[][];
  toe: number[][];
  body: number;
} {
  // prettier-ignore
  const rim = (a: number): number => radius * (1 + depth * Math.cos(lobes * a));
  const ground = (x: number, y: number): number => 50 + slope * (x * Math.cos(toward) + y * Math.sin(toward));
  const rise = radius * (1 - flat) * repose;
  let k = 0;
  const shot = (a: number, share: number): number[] => {
    const r = share * rim(a);
    const [x, y] = [r * Math.cos(a), r * Math.sin(a)];
    const up = share >= 1 ? 0 : rise * Math.min(1, (1 - share) / (1 - flat));
    return [x, y, ground(x, y) + up + noise[k++ % noise.length]];
  };
  const turn = Array.from({ length: 36 }, (_, i) => (2 * Math.PI * i) / 36);
  const toe = turn.map((a) => shot(a, 1));
  const top = flat > 0.05 ? turn.filter((_, i) => i % 3 === 0).map((a) => shot(a, flat)) : [];
  const flanks = turn.filter((_, i) => i % 2 === 0).map((a) => shot(a, (1 + flat) / 2));
  const beside = apron ? [1.15, 1.4, 1.8].flatMap((share) => turn.filter((_, i) => i % 2 === 0).map((a) => shot(a, share))) : []; // prettier-ignore
  // Along one side of the ground a wall, and a bank that falls beyond it.
  const drop = (off: number, down: number): number[][] => Array.from({ length: 9 }, (_, i) => [(i - 4) * radius * 0.6, radius * (2.2 + off), ground((i - 4) * radius * 0.6, radius * 2.2) - down]); // prettier-ignore
  const edge = apron && wall ? [...drop(0, 0), ...drop(0.01, 4), ...drop(0.8, 4), ...drop(1.3, 6)] : [];
  const shots = [...toe, ...top, ...flanks, shot(0, 0), ...beside, ...edge];
  // Exactly as the shots have it, without any ground round them.
  const body = measureHeap(findHeap(surfaceOf([...toe, ...top, ...flanks, shots[toe.length + top.length + flanks.length]])).surface); // prettier-ignore
  return { shots, toe, body: body.volumes.toe!.net };
}

const RUNS = Number(process.env.HEAPS ?? 150);

describe('the toe of a heap', () => {
  it('is found among hundreds of invented heaps, with ground round them and without', () => {
    const count = { right: 0, wrong: 0 };
    fc.assert(
      fc.property(site, (of) => {
        const { shots, toe, body } = surveyOf(of);
        const found = findHeap(surfaceOf(shots)).surface;
        const area = Math.abs(ringArea(toe.flatMap(([x, y]) => [x, y])));
        const isRight = Math.abs(ringArea(toeOf(found).flatMap(([x, y]) => [x, y])) / area - 1) < 0.04 && Math.abs(measureHeap(found).volumes.toe!.net / body - 1) < 0.03; // prettier-ignore
        count[isRight ? 'right' : 'wrong']++;
        if (!isRight && process.env.HEAPS) console.log(JSON.stringify({ ...of, noise: 0 }), ringArea(toeOf(found).flatMap(([x, y]) => [x, y])) / area, measureHeap(found).volumes.toe!.net / body); // prettier-ignore
      }),
      { numRuns: RUNS },
    );
    if (process.env.HEAPS) console.log(count);
    expect(count.right / (count.right + count.wrong)).toBeGreaterThan(0.97);
  });

  it('is that of the heap and not of a slip: a yard walked evenly, a wall in it, and one shot that is wrong', () => {
    const next = fc.double({ min: 0, max: 1, noNaN: true });
    const yard = fc.record({
      jitter: fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 374, maxLength: 374 }),
      heap: fc.record({ u: next, v: next, radius: next, height: next }),
      slip: fc.record({ at: fc.nat(186), by: next }),
    });
    const count = { right: 0, wrong: 0 };
    fc.assert(
      fc.property(yard, ({ jitter, heap, slip }) => {
        const [u, v, radius, height] = [35 + 40 * heap.u, 28 + 14 * heap.v, 12 + 5 * heap.radius, 2 + 1.5 * heap.height]; // prettier-ignore
        const off = (x: number, y: number): number => Math.hypot(x - u, y - v);
        const ground = (x: number, y: number): number => 84 + 0.018 * x + 0.012 * y + (off(x, y) < radius ? height * (1 - (off(x, y) / radius) ** 2) : 0); // prettier-ignore
        // No shot stands at the toe: 17 by 11 of them, 7 m apart, and the head and foot of a wall beyond.
        const shots = Array.from({ length: 187 }, (_, i) => [7 * (i % 17) + 1.2 * jitter[2 * i], 7 * Math.floor(i / 17) + 1.2 * jitter[2 * i + 1]]); // prettier-ignore
        const places = shots.map(([x, y]) => [x, y, ground(x, y)]);
        const away = places.filter(([x, y]) => off(x, y) > radius + 8);
        away[slip.at % away.length][2] += 1 + slip.by;
        for (let x = 20; x <= 90; x += 7) places.push([x, 80, ground(x, 80)], [x, 80.3, ground(x, 80) + 1.6]);
        const { surface } = findHeap(surfaceOf(places));
        const toe = toeOf(surface).flatMap(([x, y]) => [x, y]);
        const held = measureHeap(surface).volumes.toe!.net / ((Math.PI * radius * radius * height) / 2);
        const isRight = pointInRing(Float64Array.from(toe), u, v) && held > 0.6 && held < 1.4;
        count[isRight ? 'right' : 'wrong']++;
        if (!isRight && process.env.HEAPS) console.log(u, v, radius, height, held, toe.length / 2);
      }),
      { numRuns: RUNS },
    );
    if (process.env.HEAPS) console.log(count);
    expect(count.right / (count.right + count.wrong)).toBeGreaterThan(0.85);
  });

  it('of ground without a heap is its own rim: nothing is taken off', () => {
    const gentle = surfaceOf(
      Array.from({ length: 80 }, (_, i) => [(i * 37) % 79, (i * 53) % 71, 0.05 * ((i * 37) % 79)]),
    );
    expect(findHeap(gentle)).toMatchObject({ takenOff: 0, others: 0 });
  });

  it('is that of the larger of two heaps, and the other is told', () => {
    const cone = (x: number, r: number): number[][] => [...around(16, r, () => 0).map(([px, py]) => [px - 100 + x, py - 200, 0]), [x, 0, r * 0.6]]; // prettier-ignore
    const floor = [[-20, -20, 0], [70, -20, 0], [70, 20, 0], [-20, 20, 0]]; // prettier-ignore
    const { surface, others } = findHeap(surfaceOf([...cone(0, 10), ...cone(40, 6), ...floor]));
    expect(others).toBe(1);
    expect(volumeToLevel(surface, 0).cut).toBeCloseTo((polygonArea(16, 10) * 6) / 3, 6);
  });
});
