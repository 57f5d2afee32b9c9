import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  clipToRing,
  cutVoid,
  elevationIn,
  measureSurface,
  ofTriangles,
  overlay,
  triangleWalk,
  type Surface,
} from '#core/terrain';
import { surfaceOf } from '../made.ts';

/** Area of the pieces, and whether each lies in both of the triangles that it names. */
function piecesOf(a: Surface, b: Surface): { area: number; count: number; keys: Set<string>; apart: number } {
  let [area, count, apart] = [0, 0, 0];
  const keys = new Set<string>();
  const [findA, findB] = [triangleWalk(a), triangleWalk(b)];
  overlay(a, b, (t, u, piece, n, ox, oy) => {
    count++;
    keys.add(`${t} ${u}`);
    let [cx, cy] = [0, 0];
    for (let i = 0; i < n; i++) {
      cx += piece[2 * i] / n;
      cy += piece[2 * i + 1] / n;
      const j = (i + 1) % n;
      area += (piece[2 * i] * piece[2 * j + 1] - piece[2 * j] * piece[2 * i + 1]) / 2;
    }
    // Where both planes are, they give the elevations that the two surfaces have there.
    const [pa, pb] = [findA(ox + cx, oy + cy), findB(ox + cx, oy + cy)];
    const off = (s: Surface, own: number, there: number): number => there < 0 ? 0 : Math.abs(elevationIn(s, own, ox + cx, oy + cy) - elevationIn(s, there, ox + cx, oy + cy)); // prettier-ignore
    apart = Math.max(apart, off(a, t, pa), off(b, u, pb));
  });
  return { area, count, keys, apart };
}

const point = fc.tuple(
  fc.integer({ min: 0, max: 20 }),
  fc.integer({ min: 0, max: 20 }),
  fc.integer({ min: 0, max: 9 }),
);
const points = fc.uniqueArray(point, { selector: ([x, y]) => 100 * x + y, minLength: 4, maxLength: 30 });
const FRAME: [number, number, number][] = [[0, 0, 0], [20, 0, 0], [20, 20, 0], [0, 20, 0]]; // prettier-ignore
const framed = (list: [number, number, number][]): [number, number, number][] => [
  ...FRAME,
  ...list.filter(([x, y]) => !FRAME.some(([fx, fy]) => fx === x && fy === y)),
];

describe('two surfaces laid over each other', () => {
  it('are covered by their pieces once, each in its two triangles', () => {
    fc.assert(
      fc.property(points, points, (one, two) => {
        const [a, b] = [surfaceOf(framed(one)), surfaceOf(framed(two))];
        const { area, count, keys, apart } = piecesOf(a, b);
        expect(area).toBeCloseTo(400, 6);
        expect(keys.size).toBe(count);
        expect(apart).toBeLessThan(1e-6);
      }),
      { numRuns: 200 },
    );
  });

  it('have the same pieces whichever comes first, with voids, bays and parts of their own', () => {
    fc.assert(
      fc.property(points, points, fc.integer({ min: 1, max: 9 }), (one, two, at) => {
        const hole = Float64Array.of(at, at, at + 6, at + 1, at + 5, at + 7);
        const a = cutVoid(surfaceOf(framed(one)), hole);
        // Two strips that do not touch.
        const strip = clipToRing(
          surfaceOf(framed(two)),
          Float64Array.of(0, 0, 20, 0, 20, 20, 12, 20, 12, 2, 8, 2, 8, 20, 0, 20),
        );
        const b = cutVoid(strip, Float64Array.of(0, 9, 20, 9.5, 20, 11, 0, 11));
        const [there, back] = [piecesOf(a, b), piecesOf(b, a)];
        expect(there.area).toBeCloseTo(back.area, 6);
        expect(there.count).toBe(there.keys.size);
        // What is common is no more than either, and what the void leaves of the strips.
        const common = measureSurface(cutVoid(b, hole)).planArea;
        expect(there.area).toBeCloseTo(common, 5);
      }),
      { numRuns: 150 },
    );
  });

  it('are nothing where they do not meet, or where one is nothing', () => {
    const here = surfaceOf(FRAME);
    const far = surfaceOf(FRAME.map(([x, y, z]) => [x + 100, y, z]));
    const none = surfaceOf([]);
    for (const [a, b] of [[here, far], [here, none], [none, here]]) expect(piecesOf(a, b).count).toBe(0); // prettier-ignore
  });

  it('laid over itself a surface is its triangles', () => {
    const one = surfaceOf([...FRAME, [7, 8, 3], [13, 5, 1], [10, 15, 2]]);
    const { area, count } = piecesOf(one, one);
    expect(area).toBeCloseTo(400, 9);
    expect(count).toBe(one.triangles.length / 3);
  });
});

describe('a part of a surface', () => {
  it('has the pieces that its triangles have in the whole, wherever a walk to them begins', () => {
    fc.assert(
      fc.property(points, points, fc.infiniteStream(fc.boolean()), fc.integer({ min: -1, max: 5 }), (one, two, leftOut, begin) => {
        const [a, b] = [surfaceOf(framed(one)), surfaceOf(framed(two))];
        const without = Uint8Array.from({ length: a.triangles.length / 3 }, () => Number(leftOut.next().value));
        const areas = new Map<number, number>();
        const note = (t: number, piece: Float64Array, n: number): void => {
          for (let i = 2; i + 3 < 2 * n; i += 2) areas.set(t, (areas.get(t) ?? 0) + ((piece[i] - piece[0]) * (piece[i + 3] - piece[1]) - (piece[i + 2] - piece[0]) * (piece[i + 1] - piece[1])) / 2); // prettier-ignore
        };
        const near = () => Math.min(begin, b.triangles.length / 3 - 1);
        overlay(a, b, (t, _u, piece, n) => note(t, piece, n), null, { without, near });
        for (let t = 0; t < without.length; t++) {
          const [p, q, r] = a.triangles.subarray(3 * t, 3 * t + 3);
          const area = ((a.x[q] - a.x[p]) * (a.y[r] - a.y[p]) - (a.x[r] - a.x[p]) * (a.y[q] - a.y[p])) / 2;
          expect(areas.get(t) ?? 0).toBeCloseTo(without[t] ? 0 : area, 6);
        }
      }), // prettier-ignore
      { numRuns: 150 },
    );
  });
});

describe('a surface of many parts', () => {
  /** Squares of a side each, every so far, as triangles that are joined within a square alone. */
  const squares = (count: number, side: number, every: number, from: number): Surface => {
    const places: number[] = [];
    for (let i = 0; i < count; i++)
      for (let j = 0; j < count; j++) {
        const [w, s] = [from + i * every, from + j * every];
        places.push(w, s, 0, w + side, s, 0, w + side, s + side, 0, w, s, 0, w + side, s + side, 0, w, s + side, 0);
      }
    return ofTriangles(Float64Array.from(places));
  };

  it('is found wherever it lies, under triangles that lie in it, over it and beside it', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 0.9, noNaN: true }),
        fc.double({ min: 0.01, max: 0.09, noNaN: true }),
        fc.double({ min: 0, max: 0.1, noNaN: true }),
        (side, small, shift) => {
          // 100 squares, 1 apart; and small ones, ten to one of theirs, of which those inside, on the rims and outside count.
          const [a, b] = [squares(100, small, 0.1, shift), squares(10, side, 1, 0)];
          const common = (at: number): number => {
            const [from, to] = [at * 0.1 + shift, at * 0.1 + shift + small];
            let length = 0;
            for (let k = 0; k < 10; k++) length += Math.max(0, Math.min(to, k + side) - Math.max(from, k));
            return length;
          };
          const along = Array.from({ length: 100 }, (_, i) => common(i)).reduce((sum, v) => sum + v, 0);
          expect(piecesOf(a, b).area).toBeCloseTo(along * along, 6);
          expect(piecesOf(b, a).area).toBeCloseTo(along * along, 6);
        },
      ),
      { numRuns: 3 },
    );
  });

  it('is found over a surface with a hole: inside it, in the hole, across its rims and off it', () => {
    const whole = surfaceOf(Array.from({ length: 441 }, (_, i) => [5 * (i % 21), 5 * Math.floor(i / 21), 0]));
    const holed = cutVoid(whole, Float64Array.of(31, 41, 62, 41, 62, 73, 31, 73));
    const parts = squares(40, 0.5, 3, -10);
    const within = (from: number, to: number): number =>
      Array.from({ length: 40 }, (_, i) => Math.max(0, Math.min(to, i * 3 - 9.5) - Math.max(from, i * 3 - 10))).reduce((sum, v) => sum + v, 0); // prettier-ignore
    const area = within(0, 100) ** 2 - within(31, 62) * within(41, 73);
    expect(piecesOf(parts, holed).area).toBeCloseTo(area, 6);
    expect(piecesOf(holed, parts).area).toBeCloseTo(area, 6);
  });

  it('is found where one triangle lies in the middle of a large one, and where it lies in a hole', () => {
    const whole = surfaceOf([[0, 0, 0], [100, 0, 0], [100, 100, 0], [0, 100, 0]]); // prettier-ignore
    const holed = cutVoid(whole, Float64Array.of(40, 40, 60, 40, 60, 60, 40, 60));
    const at = (x: number, y: number): Surface => ofTriangles(Float64Array.of(x, y, 0, x + 1, y, 0, x, y + 1, 0));
    for (const [s, area] of [
      [at(10, 30), 0.5],
      [at(50, 50), 0],
      [at(59.5, 50), 0.125],
      [at(200, 0), 0],
    ] as const) {
      // prettier-ignore
      expect(piecesOf(s, holed).area).toBeCloseTo(area, 9);
      expect(piecesOf(holed, s).area).toBeCloseTo(area, 9);
    }
  });
});

describe('triangles without an area', () => {
  it('have no piece with anything, on either side, and take nothing away from the others', () => {
    const whole = surfaceOf([[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0]]); // prettier-ignore
    // The same square with a triangle that is a line across it, and one that is turned over by rounding.
    const places = [...whole.triangles].flatMap((v) => [whole.x[v], whole.y[v], 0]);
    const line = [1, 5, 0, 9, 5, 0, 5, 5, 0];
    // And one that rounding has put into one place: it lies on every side of its own sides.
    const place = [5, 2, 0, 5, 2, 0, 5, 2, 0];
    const turned = [1, 3, 0, 5, 3.0000001, 0, 9, 3, 0];
    for (const soup of [
      ofTriangles(Float64Array.from([...place, ...line, ...turned, ...places])),
      ofTriangles(Float64Array.from([...places, ...turned, ...line, ...place])),
    ]) {
      expect(piecesOf(whole, soup).area).toBeCloseTo(100, 9);
      expect(piecesOf(soup, whole).area).toBeCloseTo(100, 9);
    }
  });
});
