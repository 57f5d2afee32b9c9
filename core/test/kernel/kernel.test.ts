import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  CompensatedSum,
  hashBytes,
  hashValue,
  hilbertOrder,
  inCircle,
  orientation,
  packColumns,
  pointInRing,
  ringArea,
  ringCrossesItself,
  stringColumn,
  stringsOf,
  unpackColumns,
} from '#core/kernel';

/** A double as an exact integer multiple of 2⁻⁶⁰, for values that are multiples of 2⁻³⁰: an oracle without rounding. */
const exact = (v: number): bigint => BigInt(v * 2 ** 30) << 30n;
// Multiples of 2⁻³⁰ up to about 8,000: as fine as nanometres, and exact as big integers.
const value = fc.integer({ min: -(2 ** 43), max: 2 ** 43 }).map((v) => v / 2 ** 30);
const place = fc.tuple(value, value);
const sign = (v: bigint | number): number => (v > 0 ? 1 : v < 0 ? -1 : 0);

describe('predicates', () => {
  it('give the exact sign of a turn, held against big integers, nearly straight turns above all', () => {
    fc.assert(
      fc.property(
        place,
        place,
        fc.integer({ min: -5, max: 5 }),
        fc.integer({ min: -2, max: 2 }),
        ([ax, ay], [bx, by], k, ulp) => {
          // c lies on the line through a and b, or a hair beside it.
          const [cx, cy] = [ax + k * (bx - ax), ay + k * (by - ay) + ulp * 2 ** -30];
          const turn =
            (exact(bx) - exact(ax)) * (exact(cy) - exact(ay)) - (exact(by) - exact(ay)) * (exact(cx) - exact(ax));
          expect(sign(orientation(ax, ay, bx, by, cx, cy))).toBe(sign(turn));
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('give the exact sign of the empty circle, held against big integers', () => {
    fc.assert(
      fc.property(place, place, place, place, fc.boolean(), (a, b, c, d, mirrored) => {
        // Mirrored points make rectangles, whose corners lie on one circle exactly.
        const p = mirrored ? [a, [b[0], a[1]], b, [a[0], b[1]]] : [a, b, c, d];
        const [A, B, C, D] = p.map(([x, y]) => [exact(x), exact(y)]);
        const row = (q: bigint[]): [bigint, bigint, bigint] => {
          const [dx, dy] = [q[0] - D[0], q[1] - D[1]];
          return [dx, dy, dx * dx + dy * dy];
        };
        const [r, s, t] = [row(A), row(B), row(C)];
        const det =
          r[0] * (s[1] * t[2] - s[2] * t[1]) - r[1] * (s[0] * t[2] - s[2] * t[0]) + r[2] * (s[0] * t[1] - s[1] * t[0]);
        const ours = inCircle(p[0][0], p[0][1], p[1][0], p[1][1], p[2][0], p[2][1], p[3][0], p[3][1]);
        expect(sign(ours)).toBe(sign(det));
      }),
      { numRuns: 2000 },
    );
  });
});

describe('rings', () => {
  it('have the area of closed forms and know what lies inside', () => {
    const n = 360;
    const ring = Float64Array.from({ length: 2 * n }, (_, i) =>
      i % 2 ? 20 * Math.sin((Math.PI * (i - 1)) / n) : 20 * Math.cos((Math.PI * i) / n),
    );
    expect(ringArea(ring)).toBeCloseTo((n / 2) * 400 * Math.sin((2 * Math.PI) / n), 6);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 6.2, noNaN: true }), fc.double({ min: 0, max: 40, noNaN: true }), (t, r) => {
        if (Math.abs(r - 20) > 0.01) expect(pointInRing(ring, r * Math.cos(t), r * Math.sin(t))).toBe(r < 20);
      }),
    );
    expect(ringCrossesItself(ring)).toBe(false);
    expect(ringCrossesItself(Float64Array.of(0, 0, 10, 10, 10, 0, 0, 10))).toBe(true);
  });
});

describe('keys and blocks', () => {
  it('hash as SHA-256 does (FIPS 180-4, “abc”), and values by what they hold, not by how they were written', () => {
    expect(hashBytes(new TextEncoder().encode('abc'))).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    );
    expect(hashValue({ a: 1, b: [true, null], c: undefined })).toBe(hashValue({ b: [true, null], a: 1 }));
    expect(hashValue({ a: 1 })).not.toBe(hashValue({ a: '1' }));
    expect(hashValue([1, 2])).not.toBe(hashValue([2, 1]));
  });

  it('keep a mark of byte order, letters of two, three and four bytes, and nothing at all', () => {
    const strings = ['\ufeffA', '', 'ä€😀', 'b', '\ufeff', '😀😀', ''];
    expect(stringsOf(stringColumn(strings))).toEqual(strings);
    expect(stringsOf(stringColumn([]))).toEqual([]);
  });

  it('keep every string and every number of a column, odd lengths and foreign letters too', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: 'grapheme', maxLength: 12 })),
        fc.array(fc.double()),
        fc.uint8Array({ maxLength: 13 }),
        (strings, doubles, bytes) => {
          const block = packColumns({ s: stringColumn(strings), b: bytes, d: Float64Array.from(doubles) });
          // A block may arrive at any address.
          const moved = new Uint8Array(block.length + 3).subarray(3);
          moved.set(block);
          const back = unpackColumns(moved);
          expect(stringsOf(back.s as ReturnType<typeof stringColumn>)).toEqual(strings);
          expect([...(back.d as Float64Array)]).toEqual(doubles);
          expect([...(back.b as Uint8Array)]).toEqual([...bytes]);
        },
      ),
    );
  });

  it('order points along a curve without losing one', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.double({ min: -1e7, max: 1e7, noNaN: true }), fc.double({ min: -1e7, max: 1e7, noNaN: true })),
          { minLength: 1, maxLength: 200 },
        ),
        (list) => {
          const order = hilbertOrder(
            Float64Array.from(list, (p) => p[0]),
            Float64Array.from(list, (p) => p[1]),
          );
          expect([...order].sort((a, b) => a - b)).toEqual(list.map((_, i) => i));
        },
      ),
    );
  });

  it('sum without losing small parts beside large ones', () => {
    const sum = new CompensatedSum();
    for (const v of [1e16, 1, 1, 1, 1, -1e16]) sum.add(v);
    expect(sum.value()).toBe(4);
  });
});

/** Position of a cell along a Hilbert curve of order 16, one level at a time, as it is written in any textbook. */
function positionOf(x: number, y: number): number {
  let d = 0;
  for (let s = 32768; s > 0; s /= 2) {
    const [rx, ry] = [(x & s) > 0 ? 1 : 0, (y & s) > 0 ? 1 : 0];
    d += s * s * ((3 * rx) ^ ry);
    if (ry === 0) {
      if (rx === 1) [x, y] = [65535 - x, 65535 - y];
      [x, y] = [y, x];
    }
  }
  return d;
}

describe('the order along a Hilbert curve', () => {
  it('is that of the curve taken level by level', () => {
    const cell = fc.integer({ min: 0, max: 65535 });
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(cell, cell), { selector: ([x, y]) => `${x} ${y}`, maxLength: 60 }),
        (cells) => {
          // Two corners make the extent that of the curve, so that a cell's numbers are its coordinates.
          const all: [number, number][] = [
            ...cells.filter(([x, y]) => x + y > 0 && x + y < 131070),
            [0, 0],
            [65535, 65535],
          ];
          const order = hilbertOrder(Float64Array.from(all, (c) => c[0]), Float64Array.from(all, (c) => c[1])); // prettier-ignore
          const along = [...order].map((i) => positionOf(...all[i]));
          expect(along).toEqual([...along].sort((a, b) => a - b));
        },
      ),
      { numRuns: 300 },
    );
  });
});
