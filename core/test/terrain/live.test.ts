import fc from 'fast-check';
import { expect, test } from 'vitest';
import { liveSurface, type Surface } from '#core/terrain';
import { surfaceOf } from './made.ts';

/** Triangles by the places of their corners, in an order of their own. */
const shape = (s: Surface): string[] =>
  Array.from({ length: s.triangles.length / 3 }, (_, t) => {
    const corners = [0, 1, 2].map((k) => {
      const v = s.triangles[3 * t + k];
      return `${s.x[v]},${s.y[v]},${s.z[v]}`;
    });
    const least = corners.indexOf([...corners].sort()[0]);
    return [0, 1, 2].map((k) => corners[(least + k) % 3]).join(' ');
  }).sort();

const breaks = (s: Surface): string[] =>
  [
    ...new Set(
      [...s.breakSides].flatMap((b, e) => {
        if (!b) return [];
        const f = e % 3 === 2 ? e - 2 : e + 1;
        return [[s.triangles[e], s.triangles[f]].map((v) => `${s.x[v]},${s.y[v]}`).sort().join(' ')]; // prettier-ignore
      }),
    ),
  ].sort();

/** Every side is seen from both of its triangles, and every triangle turns left. */
function expectWhole(s: Surface): void {
  for (let e = 0; e < s.neighbours.length; e++) {
    const f = s.neighbours[e];
    if (f >= 0) expect(s.neighbours[f]).toBe(e);
  }
  for (let t = 0; t < s.triangles.length; t += 3) {
    const [a, b, c] = s.triangles.subarray(t, t + 3);
    expect((s.x[b] - s.x[a]) * (s.y[c] - s.y[a]) - (s.y[b] - s.y[a]) * (s.x[c] - s.x[a])).toBeGreaterThan(0);
  }
}

const FRAME: [number, number, number][] = [
  [-1, -1, 0],
  [13, -1, 0],
  [13, 13, 0],
  [-1, 13, 0],
];
const place = fc.tuple(
  fc.integer({ min: 0, max: 12 }),
  fc.integer({ min: 0, max: 12 }),
  fc.integer({ min: 0, max: 9 }),
);
const places = fc.uniqueArray(place, { selector: ([x, y]) => 100 * x + y, minLength: 3, maxLength: 40 });
const step = fc.record({ what: fc.constantFrom('insert', 'remove', 'move', 'lift'), of: fc.nat(), to: place });

test('points that go in, out and elsewhere give what a rebuild gives, on grids too', () => {
  fc.assert(
    fc.property(places, fc.array(step, { maxLength: 12 }), (inside, steps) => {
      const now = new Map<number, [number, number, number]>();
      [...FRAME, ...inside].forEach((p, v) => now.set(v, p));
      const live = liveSurface(surfaceOf([...now.values()]));
      for (const { what, of, to } of steps) {
        const free = ![...now.values()].some(([x, y]) => x === to[0] && y === to[1]);
        const movable = [...now.keys()].filter((v) => v >= FRAME.length);
        const v = movable[of % movable.length];
        if (what === 'insert' && free) now.set(live.insert(...to)!, to);
        if (v === undefined) continue;
        const [x, y] = now.get(v)!;
        if (what === 'remove') {
          expect(live.remove(v)).toBe(true);
          now.delete(v);
        }
        if (what === 'move' && free) {
          expect(live.move(v, ...to)).toBe(true);
          now.set(v, to);
        }
        if (what === 'lift') {
          expect(live.move(v, x, y, to[2])).toBe(true);
          now.set(v, [x, y, to[2]]);
        }
      }
      const edited = live.surface();
      expectWhole(edited);
      expect(shape(edited)).toEqual(shape(surfaceOf([...now.values()])));
    }),
    { numRuns: 600 },
  );
});

test('a vertex of a breakline takes its sides along, as a rebuild has them', () => {
  fc.assert(
    fc.property(places, place, (inside, to) => {
      // A course from west to east, whose middle is moved.
      const points = [...FRAME, [-0.5, 6.5, 5], [6.5, 6.5, 5], [12.5, 6.5, 5], ...inside] as [number, number, number][];
      if (points.some(([x, y]) => x === to[0] && y === to[1])) return;
      const course = [4, 5, 5, 6];
      const live = liveSurface(surfaceOf(points, course));
      expect(live.move(5, ...to)).toBe(true);
      const moved = points.map((p, i) => (i === 5 ? to : p));
      const edited = live.surface();
      expectWhole(edited);
      const rebuilt = surfaceOf(moved, course);
      expect(breaks(edited)).toEqual(breaks(rebuilt));
      expect(shape(edited)).toEqual(shape(rebuilt));
    }),
    { numRuns: 400 },
  );
});

test('a breakline that goes in is that of a rebuild; when it goes out again, nothing is left of it', () => {
  fc.assert(
    fc.property(places, fc.nat(), fc.nat(), (inside, i, j) => {
      const points = [...FRAME, ...inside];
      const [a, b] = [i % points.length, j % points.length];
      if (a === b) return;
      const plain = surfaceOf(points);
      const live = liveSurface(plain);
      expect(live.putBreakline(a, b)).toBe(true);
      const rebuilt = surfaceOf(points, [a, b]);
      expect(breaks(live.surface())).toEqual(breaks(rebuilt));
      expect(shape(live.surface())).toEqual(shape(rebuilt));
      // Vertices on its way split it: its pieces go one by one.
      const { triangles, breakSides } = live.surface();
      breakSides.forEach((is, e) => {
        const f = e % 3 === 2 ? e - 2 : e + 1;
        if (is) live.takeBreakline(triangles[e], triangles[f]);
      });
      expectWhole(live.surface());
      expect(breaks(live.surface())).toEqual([]);
      expect(shape(live.surface())).toEqual(shape(plain));
    }),
    { numRuns: 400 },
  );
});

test('what would change the rim is refused: a vertex of it, a place beyond it, on it or on another vertex', () => {
  const live = liveSurface(surfaceOf([...FRAME, [6, 6, 3]]));
  expect(live.remove(0)).toBe(false);
  expect(live.move(1, 5, 5, 1)).toBe(false);
  expect(live.insert(20, 5, 1)).toBeNull();
  expect(live.insert(6, -1, 1)).toBeNull();
  expect(live.insert(6, 6, 1)).toBeNull();
  expect(shape(live.surface())).toEqual(shape(surfaceOf([...FRAME, [6, 6, 3]])));
  // Its elevation is no part of the rim in plan.
  expect(live.move(0, -1, -1, 7)).toBe(true);
});

test('a breakline that would cross another is refused', () => {
  const points: [number, number, number][] = [...FRAME, [0, 6, 1], [6, 6, 1], [12, 6, 1], [1, 9, 1], [11, 9, 1]];
  const live = liveSurface(surfaceOf(points, [4, 5, 5, 6, 7, 8]));
  expect(live.move(5, 6, 11, 1)).toBe(false);
});

test('the patch is what changed, of the same area before and after; back again it is empty', () => {
  const points = [
    ...FRAME,
    ...[2, 6, 10].flatMap((x) => [2, 6, 10].map((y): [number, number, number] => [x, y, x + y])),
  ];
  const live = liveSurface(surfaceOf(points));
  const area = (p: Float64Array): number => {
    let sum = 0;
    for (let i = 0; i < p.length; i += 9)
      sum += ((p[i + 3] - p[i]) * (p[i + 7] - p[i + 1]) - (p[i + 6] - p[i]) * (p[i + 4] - p[i + 1])) / 2;
    return sum;
  };
  expect(live.move(8, 7, 5, 20)).toBe(true);
  const { gone, made } = live.patch();
  expect(area(made)).toBeCloseTo(area(gone), 9);
  expect(gone.length / 9).toBeLessThan(12);
  expect(live.move(8, 6, 6, 12)).toBe(true);
  expect(live.patch()).toEqual({ gone: new Float64Array(), made: new Float64Array() });
});
