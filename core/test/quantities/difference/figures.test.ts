import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cellsBetween, differenceBetween, differenceToLevel, eachChunk, figuresOf, gatherInfluence, heapDifference, influenceOf, volumeBetween, volumeToLevel } from '#core/quantities'; // prettier-ignore
import { edges, square, surfaceOf } from '../bodies.ts';

const height = fc.integer({ min: -400, max: 400 }).map((v) => v / 100);
/** Two bumpy surfaces over one square, the second on a grid of its own. */
const bumpy = fc.array(height, { minLength: 41, maxLength: 41 }).map((h) => ({
  ground: surfaceOf(Array.from({ length: 16 }, (_, i) => [10 * (i % 4), 10 * Math.floor(i / 4), h[i]])),
  design: surfaceOf(Array.from({ length: 25 }, (_, i) => [7.5 * (i % 5), 7.5 * Math.floor(i / 5), h[16 + i]])),
}));
const ZONES = [{ name: 'west', ring: [-1, -1, 12.3, -1, 12.3, 31, -1, 31] }, { name: 'middle', ring: [9, 9, 21, 9, 21, 21, 9, 21] }]; // prettier-ignore

/** Every number that is told, in one list. */
const numbersIn = (of: unknown): number[] =>
  typeof of === 'number' ? [of] : of && typeof of === 'object' ? Object.values(of).flatMap(numbersIn) : [];

describe('what is told of a difference', () => {
  it('is the same whether its pieces are kept or worked off a few at a time', () => {
    const band = fc.constantFrom(undefined, 0.4);
    fc.assert(
      fc.property(bumpy, fc.integer({ min: 1024, max: 1100 }), band, ({ ground, design }, most, b) => {
        const difference = differenceBetween(ground, design);
        // The same pieces again and again, so that they are more than are kept.
        const often: typeof difference = (take) => { for (let k = 0; k < 24; k++) difference(take); }; // prettier-ignore
        const asked = { surface: ground, band: b, zones: ZONES, slice: 1.3 };
        const { pieces: all, ...whole } = figuresOf(often, asked);
        const { pieces: none, ...few } = figuresOf(often, { ...asked, most });
        expect(all).not.toBeNull();
        expect(none).toBeNull();
        const [one, other] = [numbersIn(whole), numbersIn(few)];
        expect(other).toHaveLength(one.length);
        one.forEach((v, i) => expect(other[i]).toBeCloseTo(v, 6));
      }),
      { numRuns: 10 },
    );
  });

  it('of pieces that are kept is what the volume with its pieces is', () => {
    fc.assert(
      fc.property(bumpy, ({ ground, design }) => {
        const { pieces, ...volume } = volumeBetween(ground, design);
        const told = figuresOf(differenceBetween(ground, design), { surface: ground });
        expect(told.volume).toEqual(volume);
        expect(told.pieces).toEqual(pieces);
      }),
    );
  });

  it('hangs on each vertex the same way, chunk by chunk', () => {
    fc.assert(
      fc.property(bumpy, ({ ground, design }) => {
        const difference = differenceBetween(ground, design);
        const whole = influenceOf(volumeBetween(ground, design).pieces, ground, -1, design, true);
        const gathered = gatherInfluence(ground, -1, design, true);
        let chunks = 0;
        eachChunk((take) => { for (let k = 0; k < 24; k++) difference(take); }, 1024, (p) => { chunks++; gathered.take(p); }); // prettier-ignore
        expect(chunks).toBeGreaterThan(1);
        for (const key of ['cutByZ', 'fillByX', 'fillByY'] as const)
          gathered.influence[key].forEach((v, i) => expect(v / 24).toBeCloseTo(whole[key][i], 6));
      }),
      { numRuns: 20 },
    );
  });
});

describe('areas along the ground', () => {
  const pyramid = surfaceOf([...square(6, 0), [0, 0, 6]], [...edges(0), 0, 4, 1, 4, 2, 4, 3, 4]);

  it('of a heap above a plane are those of the heap, not of what lies between', () => {
    const { slope } = figuresOf(heapDifference(pyramid, 'plane')!, { surface: pyramid });
    expect(slope.cut).toBeCloseTo(144 * Math.SQRT2, 9);
  });

  it('with a band are those of what is deeper alone', () => {
    const { slope, volume } = figuresOf(differenceToLevel(pyramid, 0), { surface: pyramid, band: 3 });
    expect(slope.cut).toBeCloseTo(36 * Math.SQRT2, 9);
    expect(volume).toMatchObject({ area: 144, fill: 0 });
    expect(volume.cutArea).toBeCloseTo(36, 9);
  });
});

describe('cells to look at', () => {
  it('lie on both surfaces, are of a round size, and cover what both have but for its rim', () => {
    fc.assert(
      fc.property(bumpy, fc.integer({ min: 100, max: 4000 }), ({ ground, design }, about) => {
        const { pieces, size } = cellsBetween(ground, design, about);
        expect([1, 2, 5].map((k) => Math.log10(size / k) % 1).some((v) => Math.abs(v - Math.round(v)) < 1e-9)).toBe(true); // prettier-ignore
        expect((pieces.length / 18) * size * size).toBeLessThanOrEqual(900 + 1e-6);
        const sum = (p: Float64Array, k: number): number => p.reduce((s, v, i) => (i % 3 === k ? s + v : s), 0);
        // Flat ones are met to the last digit.
        const flat = cellsBetween(ground, { level: 3 }, about);
        expect(sum(flat.pieces, 2) + sum(cellsBetween(ground, { level: 0 }, about).pieces, 2) * -1).toBeCloseTo((3 * flat.pieces.length) / 3, 6); // prettier-ignore
      }),
      { numRuns: 30 },
    );
  });

  it('give the volume of a plane under a level to the cells that fit', () => {
    const ramp = surfaceOf([[0, 0, 0], [10, 0, 10], [10, 10, 10], [0, 10, 0]]); // prettier-ignore
    const { pieces } = cellsBetween(ramp, { level: 10 }, 100);
    const { fill } = volumeToLevel(ramp, 10);
    let sum = 0;
    for (let i = 0; i < pieces.length; i += 9) sum += ((pieces[i + 2] + pieces[i + 5] + pieces[i + 8]) / 3) * (1 / 2);
    expect(sum).toBeCloseTo(fill, 6);
  });
});
