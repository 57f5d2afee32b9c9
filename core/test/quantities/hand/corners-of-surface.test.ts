import { describe, expect, it } from 'vitest';
import { cornersOfSurface, workByHand } from '#core/quantities';
import { groundFinder } from '#core/terrain';
import { surfaceOf } from '../bodies.ts';

// Contours of a ramp that rises 1 m in 10 to the north, as lines at 50, 51 and 52 m, 40 m long.
const ramp = surfaceOf([[0, 0, 50], [40, 0, 50], [0, 10, 51], [40, 10, 51], [0, 20, 52], [40, 20, 52]], [0, 1, 2, 3, 4, 5]); // prettier-ignore
const finder = groundFinder(ramp);
const at = (x: number, y: number): number | null => finder.at(x, y)?.elevation ?? null;

describe('corners read off contours', () => {
  it('lie straight between them, the north row first, and give the volume of the ramp', () => {
    const read = cornersOfSurface(at, [0, 0, 40, 20], 5, 'm');
    if ('reason' in read) throw new Error(read.reason);
    expect([read.rows, read.columns, read.x, read.y]).toEqual([5, 9, 0, 20]);
    expect(read.text.split('\n').map((r) => r.split('\t')[0])).toEqual(['52.000', '51.500', '51.000', '50.500', '50.000']); // prettier-ignore
    const worked = workByHand({ kind: 'corners', unit: 'm', text: read.text, cell: 5, level: 50 });
    expect(worked.ok && worked.cut).toBeCloseTo(800, 6);
  });

  it('off the surface are dashes, and stand at whole multiples of the cell wherever it lies', () => {
    const read = cornersOfSurface((x, y) => (x > 12 ? null : at(x, y)), [-3, 1, 40, 20], 10, 'ft');
    if ('reason' in read) throw new Error(read.reason);
    expect(read.text.split('\n')[0]).toBe(['52.000', '52.000', '-', '-', '-'].map((v) => (v === '-' ? v : (52 / 0.3048).toFixed(3))).join('\t')); // prettier-ignore
    expect([read.x, read.y]).toEqual([0, 20]);
  });

  it('too few or too many are refused in a sentence', () => {
    expect(cornersOfSurface(at, [0, 0, 40, 20], 50, 'm')).toMatchObject({ reason: expect.stringContaining('too long') }); // prettier-ignore
    expect(cornersOfSurface(at, [0, 0, 40, 20], 0.1, 'm')).toMatchObject({ reason: expect.stringContaining('80601') });
  });
});
