import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pointsNumbered, whyUnclear } from '../../src/project-state/points-numbered.ts';

const tableOf = (numbers: string[]) => ({
  x: numbers,
  number: { get: (row: number) => numbers[row] } as never,
});
const table = tableOf(['1', '2', '1', '3', '1']) as never;

describe('a point called by its number', () => {
  it('is the one that has it', () => {
    expect(pointsNumbered(table, ['2', '9'])).toEqual(new Map([['2', [1]], ['9', []]])); // prettier-ignore
  });

  it('is that of the first choice which has any of them', () => {
    const choices = [new Set([3]), new Set([0, 1, 4])];
    expect(pointsNumbered(table, ['1', '3', '2'], choices)).toEqual(new Map([['1', [0, 4]], ['3', [3]], ['2', [1]]])); // prettier-ignore
  });

  it('is said to be missing or not clear', () => {
    expect([[], [4], [0, 4]].map((rows) => whyUnclear('1', rows))).toEqual([
      'No point has the number 1.',
      null,
      '2 points have the number 1: which is meant cannot be told.',
    ]);
  });

  it('is the same in whatever order the table stands', () => {
    const some = fc.array(fc.constantFrom('1', '2', '3'), { maxLength: 12 });
    fc.assert(
      fc.property(some, fc.infiniteStream(fc.nat()), (numbers, keys) => {
        const order = numbers.map((_, i) => [keys.next().value, i]).sort((a, b) => a[0] - b[0]).map(([, i]) => i); // prettier-ignore
        const of = (list: string[]) => pointsNumbered(tableOf(list) as never, ['1', '2', '3']);
        const turned = of(order.map((i) => numbers[i]));
        for (const [number, rows] of of(numbers))
          expect(turned.get(number)!.map((r) => order[r]).sort((a, b) => a - b)).toEqual(rows); // prettier-ignore
      }),
    );
  });
});
