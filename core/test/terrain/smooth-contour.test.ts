import fc from 'fast-check';
import { expect, test } from 'vitest';
import { orientation } from '#core/kernel';
import { contours, elevationIn, triangleWalk, type Contour } from '#core/terrain';
import { surfaceOf } from './made.ts';

const point = fc.tuple(
  fc.integer({ min: 0, max: 20 }),
  fc.integer({ min: 0, max: 20 }),
  fc.integer({ min: 0, max: 9 }),
);
const points = fc.uniqueArray(point, { selector: ([x, y]) => 100 * x + y, minLength: 5, maxLength: 18 });
const settings = { interval: 1.3, indexEvery: 5 };

const crosses = (a: ArrayLike<number>, i: number, b: ArrayLike<number>, j: number): boolean => {
  const [ax, ay, bx, by] = [a[i], a[i + 1], a[i + 2], a[i + 3]];
  const [cx, cy, dx, dy] = [b[j], b[j + 1], b[j + 2], b[j + 3]];
  const turn = (o: number, p: number): boolean => o * p < 0;
  return (
    turn(orientation(ax, ay, bx, by, cx, cy), orientation(ax, ay, bx, by, dx, dy)) &&
    turn(orientation(cx, cy, dx, dy, ax, ay), orientation(cx, cy, dx, dy, bx, by))
  );
};

test('smoothed contours stay in the band between their neighbours, cross none of them, and end where they ended', () => {
  fc.assert(
    fc.property(points, (list) => {
      const surface = surfaceOf(list);
      const plain = contours(surface, settings);
      const smooth = contours(surface, { ...settings, smooth: true });
      expect(smooth.map((c) => [c.elevation, c.closed])).toEqual(plain.map((c) => [c.elevation, c.closed]));
      const find = triangleWalk(surface);
      smooth.forEach((c, k) => {
        const { line } = c;
        if (!c.closed) {
          expect([line[0], line[1]]).toEqual([plain[k].line[0], plain[k].line[1]]);
          expect([line.at(-2), line.at(-1)]).toEqual([plain[k].line.at(-2), plain[k].line.at(-1)]);
        } else expect([line.at(-2), line.at(-1)]).toEqual([line[0], line[1]]);
        for (let i = 0; i + 3 < line.length; i += 2) {
          const [x, y] = [(line[i] + line[i + 2]) / 2, (line[i + 1] + line[i + 3]) / 2];
          const t = find(x, y);
          // On the rim rounding may put a place beside the surface.
          if (t >= 0)
            expect(Math.abs(elevationIn(surface, t, x, y) - c.elevation)).toBeLessThan(0.5 * settings.interval);
        }
      });
      let met = 0;
      smooth.forEach((a, k) => {
        for (const b of smooth.slice(k + 1))
          for (let i = 0; i + 3 < a.line.length; i += 2)
            for (let j = 0; j + 3 < b.line.length; j += 2) if (crosses(a.line, i, b.line, j)) met++;
      });
      expect(met).toBe(0);
    }),
    // Two lines of one level on both sides of a narrow valley.
    { numRuns: 150, examples: [[[[1, 3, 1], [0, 0, 3], [3, 0, 1], [2, 4, 7], [0, 17, 1]]]] }, // prettier-ignore
  );
});

test('corners are gentler: a smoothed line turns less at its sharpest', () => {
  // A pyramid: its contours are squares.
  const pyramid = surfaceOf([[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0], [5, 5, 10]]); // prettier-ignore
  const sharpest = ({ line }: Contour): number => {
    let most = 0;
    for (let i = 0; i + 5 < line.length; i += 2) {
      const [ux, uy, vx, vy] = [line[i + 2] - line[i], line[i + 3] - line[i + 1], line[i + 4] - line[i + 2], line[i + 5] - line[i + 3]]; // prettier-ignore
      most = Math.max(most, Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)));
    }
    return most;
  };
  const [plain, smooth] = [false, true].map((s) => contours(pyramid, { interval: 4, indexEvery: 0, smooth: s })[0]);
  expect(sharpest(plain)).toBeCloseTo(Math.PI / 2, 6);
  expect(sharpest(smooth)).toBeLessThan(0.9);
});
