import { describe, expect, it } from 'vitest';
import { guessLayout, readPoints } from '#core/exchange';
import { compare, type BuiltSurface } from '#core/stages';
import { packRead, unpackRead } from '#core/sources';
import type { Comparison } from '#core/project';
import { buildSurface } from '#core/terrain';

const square = (z: number, rows: number[], role: BuiltSurface['role'] = 'design'): BuiltSurface => {
  const { surface } = buildSurface({ x: Float64Array.of(0, 20, 20, 0), y: Float64Array.of(0, 0, 20, 20), z: Float64Array.of(z, z, z, z), segments: new Uint32Array(0), longestSide: null, coincidence: 0 }); // prettier-ignore
  return { id: `at ${z}`, name: `at ${z}`, role, surface: { ...surface, point: surface.point.map((p) => rows[p]) } } as unknown as BuiltSurface; // prettier-ignore
};
const [GROUND, DESIGN] = [square(50, [0, 1, 2, 3]), square(48, [4, 5, 6, 7])];
const WITHIN = [-1, -1, 21, -1, 21, 21, -1, 21];
const netSd = (own: boolean, sdHeight: number[], against: Comparison['against'] = { level: 48 }): number => {
  const comparison: Comparison = { id: 'c', name: 'c', surface: 'at 50', against, within: WITHIN, sd: { plan: 0, height: 0.02, own: own || undefined } }; // prettier-ignore
  const points = { sdPlan: new Float32Array(8).fill(0), sdHeight: Float32Array.from(sdHeight) };
  const out = compare(comparison, [GROUND, DESIGN], 'm', points);
  if (!out.ok) throw new Error(out.reason);
  return out.sd!.net;
};

describe('each point’s own precision', () => {
  const all = (v: number): number[] => Array.from({ length: 8 }, () => v);

  it('counts where it is known, and what is typed elsewhere', () => {
    expect(netSd(true, all(0.05)) / netSd(false, all(0.05))).toBeCloseTo(2.5, 5);
    expect(netSd(true, all(NaN))).toBeCloseTo(netSd(false, all(0.05)), 9);
    const one = netSd(true, [0.5, 0, 0, 0, 0, 0, 0, 0]);
    expect(one).toBeGreaterThan(0.5 * 66);
    expect(one).toBeLessThan(0.5 * 134);
  });

  it('of both surfaces adds up by squares where both were surveyed', () => {
    const against = { surface: 'at 48' };
    const ours = netSd(true, [0.05, 0.05, 0.05, 0.05, 0, 0, 0, 0], against);
    const theirs = netSd(true, [0, 0, 0, 0, 0.03, 0.03, 0.03, 0.03], against);
    expect(netSd(true, [0.05, 0.05, 0.05, 0.05, 0.03, 0.03, 0.03, 0.03], against)).toBeCloseTo(Math.hypot(ours, theirs), 6); // prettier-ignore
    expect(theirs / ours).toBeCloseTo(0.6, 5);
  });

  it('of two surfaces that were measured is that of both, typed or their own', () => {
    const earlier = square(48, [4, 5, 6, 7], 'other');
    const sdOf = (to: BuiltSurface): number => {
      const c = compare({ id: 'c', name: 'c', surface: 'at 50', against: { surface: 'at 48' }, within: WITHIN, sd: { plan: 0, height: 0.02 } }, [GROUND, to], 'm'); // prettier-ignore
      if (!c.ok) throw new Error(c.reason);
      return c.sd!.net;
    };
    expect(sdOf(earlier)).toBeCloseTo(Math.SQRT2 * sdOf(DESIGN), 9);
    // Points that both surfaces have raise and lower both alike.
    expect(sdOf(square(48, [0, 1, 2, 3], 'other'))).toBeCloseTo(0, 9);
    expect(sdOf(square(48, [0, 1, 9, 8], 'other'))).toBeLessThan(sdOf(earlier));
  });

  it('is read from a column that is headed so, in the file’s unit, and outlives being kept', () => {
    const text = 'Number,East [ft],North [ft],Elevation [ft],SD [ft]\n1,10,20,5,0.1\n2,20,20,6,-\n3,30,25,7,bad';
    const { layout } = guessLayout(text.split('\n'), { fileName: 'a.csv', unit: 'm', near: [], order: 'EN', knownCodes: new Set() }); // prettier-ignore
    expect(layout.roles).toEqual(['P', 'E', 'N', 'Z', 'S']);
    const read = unpackRead(packRead(readPoints(text, layout)!));
    expect(Array.from(read.sdHeight!)).toEqual([Math.fround(0.1 * 0.3048), NaN]);
    expect(read.sdPlan).toEqual(read.sdHeight);
    expect(read.refused.map((r) => r.reason)).toEqual(['the standard deviation “bad” is not a length of 0 or more']);
  });
});
