import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutByMaterial, volumeToLevel, type MaterialBed } from '#core/quantities';
import { square, surfaceOf } from '../bodies.ts';

// 20 m square of level ground at 10 m, cut down to 4 m: 6 m deep everywhere, closed forms by hand.
const GROUND = surfaceOf(square(10, 10));
const CUT = volumeToLevel(GROUND, 4).pieces;
const AREA = 400;
const volumes = (beds: readonly MaterialBed[], pieces = CUT, ground = GROUND): number[] =>
  cutByMaterial(pieces, ground, beds).materials.map((m) => m.cut);
const close = (values: readonly number[]): unknown[] => values.map((v) => expect.closeTo(v, 6) as unknown);

describe('the cut by materials', () => {
  it('goes by depths under the ground, and what is above the first is told', () => {
    const told = cutByMaterial(CUT, GROUND, [
      { name: 'clay', top: { depth: 0.5 } },
      { name: 'gravel', top: { depth: 2 } },
      { name: 'rock', top: { depth: 7 } },
    ]);
    expect(told.above).toBeCloseTo(0.5 * AREA, 6);
    expect(told.materials).toMatchObject([
      { name: 'clay', cut: expect.closeTo(1.5 * AREA, 6) as number, area: expect.closeTo(AREA, 6) as number },
      { name: 'gravel', cut: expect.closeTo(4 * AREA, 6) as number },
      { name: 'rock', cut: 0, area: 0, unknown: 0 },
    ]);
  });

  it('goes by a surface: rock that rises from 2 m under the cut to 2 m above the ground', () => {
    // Top of rock z = 7 + x / 2: under the cut’s floor (4) up to x = −6, above the ground (10) from x = 6.
    const rock = surfaceOf(square(10, 0).map(([x, y]) => [x, y, 7 + x / 2]));
    // Rock from x = −6 to 6 is a wedge of 12 m, then 4 m at the whole depth, each 20 m long.
    const wedge = (12 * 6) / 2 + 4 * 6;
    const told = cutByMaterial(CUT, GROUND, [{ name: 'soil', top: { depth: 0 } }, { name: 'rock', top: { surface: rock } }]); // prettier-ignore
    expect(told.materials.map((m) => m.cut)).toEqual(close([6 * AREA - 20 * wedge, 20 * wedge]));
    expect(told.materials[1].area).toBeCloseTo(16 * 20, 6);
    expect(told.above).toBeCloseTo(0, 6);
  });

  it('a lower bed never begins above the one before it', () => {
    const rock = surfaceOf(square(10, 9.8));
    expect(volumes([{ name: 'clay', top: { depth: 1 } }, { name: 'rock', top: { surface: rock } }])).toEqual(close([0, 5 * AREA])); // prettier-ignore
    // Two surfaces that cross along x = 0.
    const rising = surfaceOf(square(10, 0).map(([x, y]) => [x, y, 7 + x / 10]));
    const falling = surfaceOf(square(10, 0).map(([x, y]) => [x, y, 7 - x / 10]));
    const between = (20 * 10 * 2) / 2;
    expect(volumes([{ name: 'a', top: { surface: rising } }, { name: 'b', top: { surface: falling } }])).toEqual(close([between, 3 * AREA - between])); // prettier-ignore
  });

  it('a top that is known on a part alone says on how much it is not', () => {
    const rock = surfaceOf([[0, -10, 7], [10, -10, 7], [10, 10, 7], [0, 10, 7]]); // prettier-ignore
    const [, told] = cutByMaterial(CUT, GROUND, [{ name: 'soil', top: { depth: 0 } }, { name: 'rock', top: { surface: rock } }]).materials; // prettier-ignore
    expect(told).toMatchObject({ cut: expect.closeTo(600, 6) as number, unknown: expect.closeTo(200, 6) as number });
  });

  it('the ground itself as a top is counted once', () => {
    expect(volumes([{ name: 'all', top: { surface: GROUND } }])).toEqual(close([6 * AREA]));
    expect(volumes([{ name: 'a', top: { surface: GROUND } }, { name: 'b', top: { surface: GROUND } }])).toEqual(close([0, 6 * AREA])); // prettier-ignore
  });

  it('of any ground and any beds adds up to the cut', () => {
    const height = fc.double({ min: 0, max: 12, noNaN: true });
    const site = fc.array(height, { minLength: 5, maxLength: 5 });
    const over = (z: readonly number[]) => surfaceOf([...square(10, 0), [1, 2, 0]].map(([x, y], i) => [x, y, z[i]]));
    const bed = fc.oneof(
      fc.record({ name: fc.constant('m'), top: fc.record({ depth: fc.double({ min: 0, max: 8, noNaN: true }) }) }),
      fc.record({ name: fc.constant('m'), top: fc.record({ surface: site.map(over) }) }),
    );
    fc.assert(
      fc.property(site, height, fc.array(bed, { minLength: 1, maxLength: 4 }), (z, level, beds) => {
        const ground = over(z);
        const { cut, pieces } = volumeToLevel(ground, level);
        const { above, materials } = cutByMaterial(pieces, ground, beds);
        const all = [above, ...materials.map((m) => m.cut)];
        expect(all.reduce((a, b) => a + b, 0)).toBeCloseTo(cut, 6);
        for (const v of all) expect(v).toBeGreaterThan(-1e-6 * Math.max(1, cut));
      }),
      { numRuns: 200 },
    );
  });
});
