import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  before,
  columnsOf,
  distance,
  distanceToSide,
  inverseSymmetric,
  joinedText,
  lowOrder,
  meanOf,
  naturally,
  nthSmallest,
  onceFor,
  onceForLast,
  pointInRing,
  ringArea,
  ringCrossesItself,
  Skyline,
  stringColumn,
  withoutTail,
} from '#core/kernel';

const number = fc.double({ min: -1e6, max: 1e6, noNaN: true });

describe('the n-th smallest', () => {
  it('is the one that sorting puts there', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(number, fc.constantFrom(0, 1, 1)), { minLength: 1, maxLength: 60 }),
        fc.nat(59),
        (list, k) => {
          // prettier-ignore
          const at = k % list.length;
          const sorted = [...list].sort((a, b) => a - b);
          expect(nthSmallest(Float64Array.from(list), at) === sorted[at]).toBe(true);
        },
      ),
    );
  });

  it('is no number where there is none', () => {
    expect([nthSmallest(new Float64Array(), 0), nthSmallest(Float64Array.of(1), 1), nthSmallest(Float64Array.of(1), -1)]).toEqual([NaN, NaN, NaN]); // prettier-ignore
  });
});

describe('a mean', () => {
  it('has the same last bit in whatever order its values come', () => {
    fc.assert(fc.property(fc.array(number, { minLength: 1 }), fc.infiniteStream(fc.nat()), (list, keys) => {
      const other = list.map((v) => [keys.next().value, v]).sort((a, b) => a[0] - b[0]).map(([, v]) => v); // prettier-ignore
      expect(Object.is(meanOf(other), meanOf(list))).toBe(true);
    })); // prettier-ignore
  });
});

describe('the tail and the head of a text', () => {
  it('end where the last and the first of other characters stand', () => {
    const text = fc.string({ unit: fc.constantFrom('a', ' ', ';', '1'), maxLength: 30 });
    fc.assert(
      fc.property(text, (t) => {
        expect(withoutTail(t, ' ;')).toBe(t.slice(0, [...t].findLastIndex((c) => !' ;'.includes(c)) + 1));
        expect(before(t, ' ;')).toBe(/^[^ ;]*/.exec(t)![0]);
      }),
    );
  });

  it('are found in a text of a million without looking twice', () => {
    const hostile = `${' '.repeat(1_000_000)}x`;
    expect(withoutTail(hostile, ' ')).toHaveLength(1_000_001);
    expect(withoutTail(' '.repeat(1_000_000), ' ')).toBe('');
  });
});

describe('the order of numbers as people count', () => {
  it('puts 9 before 10, and is an order', () => {
    expect(['10', '9', 'KT10', 'KT2', 'A', 'a1', '009', ''].sort(naturally)).toEqual(['', '9', '009', '10', 'A', 'KT2', 'KT10', 'a1']); // prettier-ignore
    const name = fc.string({ unit: fc.constantFrom('a', 'B', '0', '1', '9'), maxLength: 6 });
    fc.assert(
      fc.property(name, name, name, (a, b, c) => {
        expect(Math.sign(naturally(a, b))).toBe(-Math.sign(naturally(b, a)) + 0);
        if (naturally(a, b) < 0 && naturally(b, c) < 0) expect(naturally(a, c)).toBeLessThan(0);
      }),
    );
  });
});

describe('a column of texts as one', () => {
  it('gives each of them by where it begins, whatever its letters', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: fc.constantFrom('a', 'ß', '€', '𝔸', '\ufeff'), maxLength: 5 })),
        (list) => {
          // prettier-ignore
          const { text, starts } = joinedText(stringColumn(list));
          expect(list.map((_, i) => text.slice(starts[i], starts[i + 1]))).toEqual(list);
        },
      ),
    );
  });
});

describe('rings', () => {
  it('keep their area and what is in them when they are shifted, and turn its sign with their direction', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 12 }), fc.integer({ min: -1000, max: 1000 }), (n, shift) => {
        // Corners of a many-sided figure in a circle of 10 m, on whole centimetres.
        const ring = Float64Array.from({ length: 2 * n }, (_, i) => Math.round((i % 2 ? Math.sin : Math.cos)((2 * Math.PI * (i >> 1)) / n) * 1000) / 100 + shift); // prettier-ignore
        const back = Float64Array.from({ length: 2 * n }, (_, i) => ring[2 * (n - 1 - (i >> 1)) + (i % 2)]);
        expect(ringArea(ring)).toBeGreaterThan(0);
        expect(ringArea(back)).toBeCloseTo(-ringArea(ring), 6);
        expect([pointInRing(ring, shift + 0.1, shift + 0.2), pointInRing(back, shift + 0.1, shift + 0.2), pointInRing(ring, shift + 11, shift)]).toEqual([true, true, false]); // prettier-ignore
        expect(ringCrossesItself(ring)).toBe(false);
      }),
    );
  });

  it('that cross themselves are known, and those that only touch are not', () => {
    expect(ringCrossesItself(Float64Array.of(0, 0, 10, 10, 10, 0, 0, 10))).toBe(true);
    expect(ringCrossesItself(Float64Array.of(0, 0, 10, 0, 10, 10, 5, 0, 0, 10))).toBe(false);
  });
});

describe('lengths', () => {
  it('are those of right triangles, and to a side the shortest there is', () => {
    expect([distance(3, 4), distance(2, 3, 6)]).toEqual([5, 7]);
    expect(distanceToSide([5, 3, 0], [0, 0, 0], [10, 0, 0])).toBe(3);
    expect(distanceToSide([-3, 4, 0], [0, 0, 0], [10, 0, 0])).toBe(5);
    expect(distanceToSide([3, 4, 0], [0, 0, 0], [0, 0, 0])).toBe(5);
  });

  it('have a column for each coordinate', () => {
    expect(columnsOf([1, 2, 3, 4, 5, 6])).toEqual([[1, 4], [2, 5], [3, 6]]); // prettier-ignore
  });
});

/** A matrix that has an inverse: a random one times itself turned over, and something on the diagonal. */
const definite = fc.integer({ min: 1, max: 6 }).chain((n) =>
  fc.array(fc.array(fc.integer({ min: -9, max: 9 }), { minLength: n, maxLength: n }), { minLength: n, maxLength: n }).map((a) => // prettier-ignore
    a.map((r, i) => a.map((q, j) => r.reduce((sum, v, k) => sum + v * q[k], 0) + (i === j ? 5 : 0)))),
); // prettier-ignore
const unit = (a: number[][], inverse: (i: number, j: number) => number): void =>
  a.forEach((r, i) => a.forEach((_, j) => expect(r.reduce((sum, v, k) => sum + v * inverse(k, j), 0)).toBeCloseTo(i === j ? 1 : 0, 6))); // prettier-ignore

describe('normal equations', () => {
  it('have an inverse that times them is one', () => {
    fc.assert(fc.property(definite, (a) => unit(a, (i, j) => inverseSymmetric(a)![i][j])));
  });

  it('that do not determine their unknowns have none', () => {
    expect(inverseSymmetric([[1, 1], [1, 1]])).toBeNull(); // prettier-ignore
    expect(inverseSymmetric([[0]])).toBeNull();
    expect(inverseSymmetric([[NaN]])).toBeNull();
  });

  it('kept under a skyline are solved and inverted as when they are whole', () => {
    fc.assert(
      fc.property(definite, (a) => {
        const n = a.length;
        const s = new Skyline(new Int32Array(n));
        a.forEach((r, i) => r.slice(0, i + 1).forEach((v, j) => s.add(i, j, v)));
        expect(s.factor()).toBe(-1);
        const x = Float64Array.from(a, (_, i) => i + 1);
        const b = Float64Array.from(a, (r) => r.reduce((sum, v, k) => sum + v * x[k], 0));
        s.solve(b);
        b.forEach((v, i) => expect(v).toBeCloseTo(x[i], 6));
        const inverse = s.inverse();
        unit(a, (i, j) => inverse.get(i, j));
      }),
    );
  });

  it('name the unknown that they do not determine', () => {
    const s = new Skyline(Int32Array.of(0, 0, 0));
    for (const [i, j, v] of [[0, 0, 1], [1, 1, 1], [1, 0, 1], [2, 2, 4]]) s.add(i, j, v); // prettier-ignore
    expect(s.factor()).toBe(1);
  });

  it('are put in an order of all their nodes, each once, neighbours near each other', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 20 }), fc.infiniteStream(fc.nat()), (n, keys) => {
        // A chain whose nodes were numbered at random: along it, every node's neighbour is the next one.
        const place = Array.from({ length: n }, (_, i) => [keys.next().value, i]).sort((a, b) => a[0] - b[0] || a[1] - b[1]).map(([, i]) => i); // prettier-ignore
        const neighbours: number[][] = Array.from({ length: n }, () => []);
        for (let k = 0; k + 1 < n; k++) {
          neighbours[place[k]].push(place[k + 1]);
          neighbours[place[k + 1]].push(place[k]);
        }
        const order = lowOrder(neighbours);
        expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i));
        const at = new Map(order.map((node, i) => [node, i]));
        for (const [node, beside] of neighbours.entries())
          for (const other of beside) expect(Math.abs(at.get(node)! - at.get(other)!)).toBe(1);
      }),
    );
  });
});

describe('what is made once', () => {
  it('is made once for each object, or for the last alone', () => {
    const made: string[] = [];
    const make = (o: { name: string }): string => (made.push(o.name), o.name);
    const [a, b] = [{ name: 'a' }, { name: 'b' }];
    const each = onceFor(make);
    [a, b, a, b].forEach(each);
    expect(made.splice(0)).toEqual(['a', 'b']);
    const last = onceForLast(make);
    [a, a, b, a].forEach(last);
    expect(made).toEqual(['a', 'b', 'a']);
  });
});
