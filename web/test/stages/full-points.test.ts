import { expect, it } from 'vitest';
import { fullPoints } from '../../src/stages/book/full-points.ts';

const NUMBERS = ['7', '', '', '12', '', '900'];
const points = {
  x: NUMBERS,
  light: Uint8Array.from([0, 1, 1, 0, 1, 1]),
  number: { get: (row: number) => NUMBERS[row] },
} as never;

it('gives ground-only points numbers in a row, passing over those that are there, and one description', () => {
  const made = fullPoints(points, [5, 1, 0, 4, 2], '11', ' GR ');
  expect([...(made as Map<number, unknown>)]).toEqual([
    [5, { full: true, number: '11', description: 'GR' }],
    [1, { full: true, number: '13', description: 'GR' }],
    [4, { full: true, number: '14', description: 'GR' }],
    [2, { full: true, number: '15', description: 'GR' }],
  ]);
});

it('does not take the number of a ground-only point that stays one', () => {
  expect([...(fullPoints(points, [1], '899', '') as Map<number, unknown>)]).toEqual([[1, { full: true, number: '899' }]]); // prettier-ignore
  expect([...(fullPoints(points, [1], '900', '') as Map<number, unknown>)]).toEqual([[1, { full: true, number: '901' }]]); // prettier-ignore
});

it('leaves them their own without a first number, and refuses what is no number', () => {
  expect([...(fullPoints(points, [5, 3], '', '') as Map<number, unknown>)]).toEqual([[5, { full: true }]]);
  expect(fullPoints(points, [5], 'A7', '')).toBe('Numbers in a row begin with a whole number.');
  expect(fullPoints(points, [5], '-3', '')).toBe('Numbers in a row begin with a whole number.');
});
