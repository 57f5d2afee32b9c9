import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { keepAlike, makeAnew, nthSmallest } from '#core/kernel';
import { findSpikes, planeFits, planeResiduals, planSurface, raiseSurface, type Surface } from '#core/terrain';

// What is kept must be what making it anew would give, for every input that differs and every one that does not.

describe('what depends on some columns alone', () => {
  const once = (keep = keepAlike()) => {
    let made = 0;
    const ask = (...inputs: unknown[]): number => keep('what', inputs, () => ++made);
    return ask;
  };

  it('is made again when a number, a text, a length or a part of an input differs, and else not', () => {
    const ask = once();
    const column = [1, 2, NaN];
    expect(ask(Float64Array.from(column), ['a', 'b'], 5, { unit: 'm', list: [1] })).toBe(1);
    expect(ask(Float64Array.from(column), ['a', 'b'], 5, { unit: 'm', list: [1] })).toBe(1);
    for (const inputs of [
      [Float64Array.from([1, 2, 3]), ['a', 'b'], 5, { unit: 'm', list: [1] }],
      [Float64Array.from(column), ['a', 'c'], 5, { unit: 'm', list: [1] }],
      [Float64Array.from(column), ['a', 'b'], 6, { unit: 'm', list: [1] }],
      [Float64Array.from(column), ['a', 'b'], 5, { unit: 'm', list: [1, 2] }],
      [Float64Array.from(column), ['a', 'b'], 5, { unit: 'ft', list: [1] }],
      [Float64Array.from([1, 2]), ['a', 'b'], 5, { unit: 'm', list: [1] }],
      [Float64Array.from(column), ['a', 'b'], 5],
      [Uint32Array.from([1, 2, 0]), ['a', 'b'], 5, null],
      [null, ['a', 'b'], 5, { unit: 'm', list: [1] }],
    ]) {
      const before = ask(Float64Array.from(column), ['a', 'b'], 5, { unit: 'm', list: [1] });
      expect(ask(...inputs)).toBe(before + 1);
    }
  });

  it('is told apart as the columns are, of any kind', () => {
    const numbers = fc.array(fc.oneof(fc.integer({ min: -3, max: 3 }), fc.constant(NaN)), { maxLength: 4 });
    const same = (a: number[], b: number[]): boolean => a.length === b.length && a.every((v, i) => Object.is(v, b[i]) || v === b[i]); // prettier-ignore
    fc.assert(
      fc.property(numbers, numbers, (a, b) => {
        for (const as of [
          (v: number[]) => v,
          (v: number[]) => Float64Array.from(v),
          (v: number[]) => Float32Array.from(v),
        ]) {
          const ask = once();
          expect(ask(as(a)) === ask(as(b))).toBe(same(a, b));
        }
      }),
    );
  });

  it('is kept of so many kinds, and not at all by who keeps nothing', () => {
    const keep = keepAlike(2);
    let made = 0;
    const ask = (what: string): number => keep(what, [1], () => ++made);
    expect([ask('a'), ask('b'), ask('a'), ask('c'), ask('a'), ask('b')]).toEqual([1, 2, 1, 3, 1, 4]);
    expect([makeAnew('a', [1], () => 7), makeAnew('a', [1], () => 8)]).toEqual([7, 8]);
  });
});

describe('the value at a place in order', () => {
  it('is what sorting gives', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ noNaN: true }), { minLength: 1, maxLength: 40 }), fc.nat(), (list, k) => {
        const at = k % list.length;
        expect(nthSmallest(Float64Array.from(list), at)).toBe(Float64Array.from(list).sort()[at]);
      }),
    );
    expect([nthSmallest(new Float64Array(0), 0), nthSmallest(Float64Array.of(1), 1)]).toEqual([NaN, NaN]);
  });
});

describe('planes through rings', () => {
  const places = Array.from({ length: 64 }, (_, i) => [(i % 8) * 5 + ((i * 37) % 11) / 9, Math.floor(i / 8) * 5 + ((i * 53) % 13) / 9]); // prettier-ignore
  const plan = planSurface({
    x: Float64Array.from(places, (p) => p[0]),
    y: Float64Array.from(places, (p) => p[1]),
    segments: Uint32Array.of(10, 11, 11, 12),
    coincidence: 0.01,
    longestSide: null,
  });
  const surfaceOf = (z: readonly number[]): Surface => raiseSurface(plan, Float64Array.from(z)).surface;
  /** The same surface with triangles of its own, so that nothing is known of it. */
  const anew = (s: Surface): Surface => ({ ...s, triangles: s.triangles.slice() });

  it('are the same to the last bit whatever heights were there before', () => {
    const heights = fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 64, maxLength: 64 });
    fc.assert(
      fc.property(
        heights,
        fc.array(fc.tuple(fc.nat(63), fc.double({ min: -5, max: 5, noNaN: true })), { maxLength: 5 }),
        (z, moves) => {
          // prettier-ignore
          const before = surfaceOf(z);
          expect(planeFits(before).expected).toEqual(planeFits(anew(before)).expected);
          const moved = z.slice();
          for (const [v, by] of moves) moved[v] += by;
          const now = surfaceOf(moved);
          expect(now.triangles).toBe(before.triangles);
          const [kept, made] = [planeFits(now), planeFits(anew(now))];
          expect([kept.expected, kept.scatter]).toEqual([made.expected, made.scatter]);
          expect(findSpikes(now, 0.5)).toEqual(findSpikes(anew(now), 0.5));
          expect(planeResiduals(now, [9, 20, 30])).toEqual(planeResiduals(anew(now), [9, 20, 30]));
        },
      ),
      { numRuns: 40 },
    );
  });
});
