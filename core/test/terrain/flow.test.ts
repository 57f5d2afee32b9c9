import fc from 'fast-check';
import { expect, test } from 'vitest';
import { findHollows, flowFinder, measureSurface } from '#core/terrain';
import { surfaceOf } from './made.ts';

const plane = (fall: (x: number, y: number) => number) =>
  surfaceOf([0, 10, 20].flatMap((x) => [0, 10, 20].map((y) => [x, y, fall(x, y)] as [number, number, number])));

test('on a plane water runs straight down to the rim', () => {
  const flow = flowFinder(plane((x, y) => 100 - 0.1 * x - 0.05 * y))(3, 4)!;
  expect(flow.end).toBe('rim');
  // Down by (0.1, 0.05): the rim x = 20 is reached after 17 in x and 8.5 in y.
  const [x, y, z] = flow.line.slice(-3);
  expect([x, y, z].map((v) => Number(v.toFixed(6)))).toEqual([20, 12.5, 97.375]);
});

test('in a valley it comes to the valley’s line and follows that', () => {
  const valley = surfaceOf(
    [
      [0, 0, 10],
      [20, 0, 9],
      [0, 10, 6],
      [20, 10, 5],
      [0, 20, 10],
      [20, 20, 9],
    ],
    [2, 3],
  );
  const flow = flowFinder(valley)(4, 17)!;
  expect(flow.end).toBe('rim');
  expect(flow.line.slice(-3)).toEqual([20, 10, 5]);
});

test('off the surface there is none, on level ground it stays', () => {
  expect(flowFinder(plane(() => 5))(40, 4)).toBeNull();
  expect(flowFinder(plane(() => 5))(3, 4)).toMatchObject({ end: 'level', line: [3, 4, 5] });
});

const points = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 30 })), { selector: ([x, y]) => x * 100 + y, minLength: 6, maxLength: 60 }); // prettier-ignore

test('no line rises, and each ends at the rim, on level ground or in a hollow', () => {
  fc.assert(
    fc.property(
      points,
      fc.double({ min: 0, max: 40, noNaN: true }),
      fc.double({ min: 0, max: 40, noNaN: true }),
      (list, x, y) => {
        // prettier-ignore
        const surface = surfaceOf(list);
        const flow = flowFinder(surface)(x, y);
        if (!flow) return;
        for (let i = 5; i < flow.line.length; i += 3) expect(flow.line[i]).toBeLessThanOrEqual(flow.line[i - 3] + 1e-9);
        if (flow.end !== 'hollow') return;
        const [ex, ey] = flow.line.slice(-3);
        const pits = findHollows(surface).flatMap((h) => h.vertices);
        expect(pits.some((v) => surface.x[v] === ex && surface.y[v] === ey)).toBe(true);
      },
    ),
    { numRuns: 400 },
  );
});

test('a pyramid upside down holds a third of its base by its depth', () => {
  const [hollow, ...more] = findHollows(
    surfaceOf([
      [0, 0, 12],
      [10, 0, 12],
      [10, 10, 12],
      [0, 10, 12],
      [5, 5, 9],
    ]),
  );
  expect(more).toEqual([]);
  expect(hollow).toMatchObject({ x: 5, y: 5, bottom: 9, spill: 12, vertices: [4] });
  expect(hollow.area).toBeCloseTo(100, 9);
  expect(hollow.volume).toBeCloseTo((100 * 3) / 3, 9);
});

test('it runs over at the lowest place of its rim, and a shallow one is not told', () => {
  const rim: [number, number, number][] = [
    [0, 0, 12],
    [10, 0, 12],
    [10, 10, 12],
    [0, 10, 12],
    [5, 0, 10],
    [5, 5, 9],
  ];
  expect(findHollows(surfaceOf(rim))[0].spill).toBe(10);
  expect(findHollows(surfaceOf(rim), 1.5)).toEqual([]);
});

test('filled hollows leave none, and none is larger than the surface', () => {
  fc.assert(
    fc.property(points, (list) => {
      const surface = surfaceOf(list);
      const hollows = findHollows(surface);
      const z = surface.z.slice();
      for (const h of hollows) for (const v of h.vertices) z[v] = h.spill;
      expect(findHollows({ ...surface, z })).toEqual([]);
      const area = hollows.reduce((sum, h) => sum + h.area, 0);
      if (hollows.length) expect(area).toBeLessThanOrEqual(measureSurface(surface).planArea * (1 + 1e-9));
    }),
    { numRuns: 300 },
  );
});
