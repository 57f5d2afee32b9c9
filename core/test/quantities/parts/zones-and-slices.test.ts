import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { differenceBetween, differenceToLevel, figuresOf, volumeBetween, volumeToLevel, zeroLines, zoneVolumes, type DepthSlice, type Difference } from '#core/quantities'; // prettier-ignore
import type { Surface } from '#core/terrain';
import { edges, square, surfaceOf } from '../bodies.ts';

const height = fc.integer({ min: -400, max: 400 }).map((v) => v / 100);
/** Two bumpy surfaces over one square. */
const bumpy = fc.array(height, { minLength: 32, maxLength: 32 }).map((h) => {
  const grid = (from: number) => surfaceOf(Array.from({ length: 16 }, (_, i) => [10 * (i % 4), 10 * Math.floor(i / 4), h[from + i]])); // prettier-ignore
  return { ground: grid(0), design: grid(16) };
});

const slicesOf = (difference: Difference, surface: Surface, slice: number): DepthSlice[] => {
  const { slices } = figuresOf(difference, { surface, slice });
  if (!slices || 'reason' in slices) throw new RangeError(slices?.reason);
  return slices;
};

describe('zones of a comparison', () => {
  const strips = (at: number) => [
    { name: 'west', ring: [-1, -1, at, -1, at, 31, -1, 31] },
    { name: 'east', ring: [at, -1, 31, -1, 31, 31, at, 31] },
  ];

  it('that part it add up to the whole, and nothing lies outside', () => {
    fc.assert(
      fc.property(bumpy, fc.integer({ min: 1, max: 29 }), ({ ground, design }, at) => {
        const whole = volumeBetween(ground, design);
        const { zones, outside } = zoneVolumes(whole, whole.pieces, strips(at + 0.37));
        for (const of of ['cut', 'fill', 'area', 'cutArea', 'fillArea'] as const)
          expect(zones[0][of] + zones[1][of]).toBeCloseTo(whole[of], 8);
        expect(zones.map((z) => z.net)).toEqual(zones.map((z) => z.cut - z.fill));
        for (const left of Object.values(outside)) expect(left).toBeCloseTo(0, 8);
      }),
    );
  });

  it('says what lies in none, and by how much zones lie over each other', () => {
    const whole = volumeToLevel(surfaceOf(square(5, 2)), 0);
    const left = { name: 'left', ring: [-5, -5, 0, -5, 0, 5, -5, 5] };
    expect(zoneVolumes(whole, whole.pieces, [left]).outside).toMatchObject({ cut: 100, area: 50 });
    expect(zoneVolumes(whole, whole.pieces, [left, left, left]).outside.area).toBeCloseTo(-50, 9);
    const beside = { name: 'beside', ring: [50, 50, 60, 50, 60, 60] };
    expect(zoneVolumes(whole, whole.pieces, [beside]).zones[0]).toMatchObject({ cut: 0, fill: 0, area: 0 });
  });
});

describe('slices by depth', () => {
  it('of a pyramid are frusta: V = h (A1 + A2 + √(A1 A2)) / 3', () => {
    const pyramid = surfaceOf([...square(6, 0), [0, 0, 6]], [...edges(0), 0, 4, 1, 4, 2, 4, 3, 4]);
    const slices = slicesOf(differenceToLevel(pyramid, 0), pyramid, 2);
    const area = (k: number): number => (12 - 4 * k) ** 2;
    expect(slices).toHaveLength(3);
    slices.forEach((slice, k) => {
      expect(slice.cut).toBeCloseTo((2 * (area(k) + area(k + 1) + Math.sqrt(area(k) * area(k + 1)))) / 3, 9);
      expect(slice.cutArea).toBeCloseTo(area(k), 9);
      expect(slice.fill).toBe(0);
    });
  });

  it('add up to the whole, whatever their thickness, and none is below nothing', () => {
    fc.assert(
      fc.property(bumpy, fc.integer({ min: 5, max: 300 }), ({ ground, design }, thick) => {
        const whole = volumeBetween(ground, design);
        const slices = slicesOf(differenceBetween(ground, design), ground, thick / 100);
        const sum = (of: 'cut' | 'fill'): number => slices.reduce((all, s) => all + s[of], 0);
        expect(sum('cut')).toBeCloseTo(whole.cut, 8);
        expect(sum('fill')).toBeCloseTo(whole.fill, 8);
        for (const s of slices) expect(Math.min(s.cut, s.fill)).toBeGreaterThan(-1e-9);
      }),
    );
  });

  it('are none where nothing is deep, and refused where there would be thousands', () => {
    const flat = surfaceOf(square(5, 2));
    expect(slicesOf(differenceToLevel(flat, 2), flat, 1)).toEqual([]);
    expect(() => slicesOf(differenceToLevel(flat, 0), flat, 0.001)).toThrow(/500 slices of 0.001 m/);
  });
});

describe('areas along the ground', () => {
  it('of a ramp 3 on 4 are 5 to 4 of those in plan, split where it passes through the level', () => {
    const ramp = surfaceOf([[0, 0, 0], [8, 0, 6], [8, 5, 6], [0, 5, 0]]); // prettier-ignore
    const { cut, fill } = figuresOf(differenceToLevel(ramp, 1.5), { surface: ramp }).slope;
    expect(fill).toBeCloseTo(2 * 5 * 1.25, 9);
    expect(cut).toBeCloseTo(6 * 5 * 1.25, 9);
  });

  it('count what is neither as fill, as in plan does', () => {
    const flat = surfaceOf(square(5, 2));
    expect(figuresOf(differenceToLevel(flat, 2), { surface: flat }).slope).toEqual({ cut: 0, fill: 100 });
  });
});

describe('the line between cut and fill', () => {
  it('round a pyramid closes at its level', () => {
    const pyramid = surfaceOf([...square(6, 0), [0, 0, 6]], [...edges(0), 0, 4, 1, 4, 2, 4, 3, 4]);
    const [line, ...more] = zeroLines(volumeToLevel(pyramid, 2).pieces);
    expect(more).toEqual([]);
    expect(line.slice(0, 2)).toEqual(line.slice(-2));
    for (let i = 0; i < line.length; i += 2)
      expect(Math.max(Math.abs(line[i]), Math.abs(line[i + 1]))).toBeCloseTo(4, 9);
  });

  it('lies where both surfaces have one elevation, far from the origin too, and ends at the rim alone', () => {
    fc.assert(
      fc.property(bumpy, ({ ground, design }) => {
        const far = (s: typeof ground) => ({ ...s, x: s.x.map((v) => v + 5e5), y: s.y.map((v) => v + 5e6) });
        const { pieces } = volumeBetween(far(ground), far(design));
        const lines = zeroLines(pieces);
        for (const line of lines) {
          const [x0, y0, x1, y1] = [line[0], line[1], line.at(-2)!, line.at(-1)!];
          const atRim = (x: number, y: number): boolean => Math.min(Math.abs(x - 5e5), Math.abs(x - 5e5 - 30), Math.abs(y - 5e6), Math.abs(y - 5e6 - 30)) < 1e-4; // prettier-ignore
          expect((x0 === x1 && y0 === y1) || (atRim(x0, y0) && atRim(x1, y1))).toBe(true);
        }
      }),
    );
  });

  it('is none where there is but one side', () => {
    expect(zeroLines(volumeToLevel(surfaceOf(square(5, 2)), 0).pieces)).toEqual([]);
    expect(zeroLines(new Float64Array(0))).toEqual([]);
  });
});
