import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaBetween, chainagesOf, crossSections, volumeBetween, volumeOfSections, type OffsetRun } from '#core/quantities'; // prettier-ignore
import { groundFinder } from '#core/terrain';
import { square, surfaceOf } from '../bodies.ts';

const L_LINE = [0, 0, 30, 0, 30, 20];
const ASKED = { course: L_LINE, spacing: 8, bends: true, left: 6, right: 4 };

describe('sections across a line', () => {
  it('stand every so far, at its end and where it bends', () => {
    expect(chainagesOf(ASKED)).toEqual([0, 8, 16, 24, 30, 32, 40, 48, 50]);
    expect(chainagesOf({ ...ASKED, bends: false })).toEqual([0, 8, 16, 24, 32, 40, 48, 50]);
    expect(() => chainagesOf({ ...ASKED, spacing: 0.001 })).toThrow(/more than 2000/);
    expect(() => chainagesOf({ ...ASKED, course: [1, 1, 1, 1] })).toThrow(RangeError);
  });

  it('have offsets to the right of the line positive, and the elevations of every surface there', () => {
    // Rises 1 in 10 to the north: to the left of a line that runs east.
    const slope = surfaceOf([[-50, -50, 5], [50, -50, 5], [50, 50, 15], [-50, 50, 15]]); // prettier-ignore
    const [first] = crossSections(ASKED, [{ name: 'slope', finder: groundFinder(slope) }, { name: 'level', level: 10 }]); // prettier-ignore
    const [{ runs }] = first.surfaces;
    expect(runs).toHaveLength(1);
    expect([runs[0].offset[0], runs[0].offset.at(-1)]).toEqual([-6, 4].map((v) => expect.closeTo(v, 9)));
    expect([runs[0].z[0], runs[0].z.at(-1)]).toEqual([10.6, 9.6].map((v) => expect.closeTo(v, 9)));
    // To the left 6 m of ground above the level, to the right 4 m below it.
    expect([first.cut, first.fill]).toEqual([expect.closeTo(1.8, 9), expect.closeTo(0.8, 9)]);
    expect(first).toMatchObject({ chainage: 0, x: 0, y: 0, ex: 0, ey: -1, skew: 0 });
  });

  it('end where a surface does, and have an area only where both are', () => {
    const half = surfaceOf([[-50, -50, 12], [50, -50, 12], [50, 2, 12], [-50, 2, 12]]); // prettier-ignore
    const [first] = crossSections(ASKED, [{ name: 'ground', finder: groundFinder(half) }, { name: 'level', level: 10 }]); // prettier-ignore
    expect(first.surfaces[0].runs[0].offset[0]).toBeCloseTo(-2, 9);
    expect([first.cut, first.fill]).toEqual([expect.closeTo(12, 9), 0]);
    const [off] = crossSections({ ...ASKED, course: [200, 0, 210, 0] }, [{ name: 'ground', finder: groundFinder(half) }, { name: 'level', level: 10 }]); // prettier-ignore
    expect([off.surfaces[0].runs, off.cut, off.fill]).toEqual([[], 0, 0]);
  });

  it('that are skewed run ahead on their right, and are as much wider as they are skewed', () => {
    const ground = surfaceOf(square(60, 10));
    const trench = surfaceOf([[-40, -3, 10], [40, -3, 10], [-40, -1, 8], [40, -1, 8], [-40, 1, 8], [40, 1, 8], [-40, 3, 10], [40, 3, 10]], [0, 1, 2, 3, 4, 5, 6, 7]); // prettier-ignore
    const through = [{ name: 'ground', finder: groundFinder(ground) }, { name: 'trench', finder: groundFinder(trench) }]; // prettier-ignore
    fc.assert(
      fc.property(fc.double({ min: -1.2, max: 1.2, noNaN: true }), (skew) => {
        const [first] = crossSections({ course: [-10, 0, 10, 0], spacing: 20, bends: false, left: 12, right: 12, skew }, through); // prettier-ignore
        expect(first.cut).toBeCloseTo(8 / Math.cos(skew), 6);
        // To the right of a line that runs east is south; ahead is east.
        expect([first.ex, first.ey]).toEqual([expect.closeTo(Math.sin(skew), 12), expect.closeTo(-Math.cos(skew), 12)]);
      }),
      { numRuns: 50 },
    );
  });

  it('of a prism give its volume by their areas', () => {
    const ground = surfaceOf(square(60, 10));
    const trench = surfaceOf([[-40, -3, 10], [40, -3, 10], [-40, -1, 8], [40, -1, 8], [-40, 1, 8], [40, 1, 8], [-40, 3, 10], [40, 3, 10]], [0, 1, 2, 3, 4, 5, 6, 7]); // prettier-ignore
    const asked = { course: [-30, 0, 30, 0], spacing: 7, bends: false, left: 10, right: 10 };
    const cut = crossSections(asked, [{ name: 'ground', finder: groundFinder(ground) }, { name: 'trench', finder: groundFinder(trench) }]); // prettier-ignore
    for (const s of cut) expect(s.cut).toBeCloseTo(8, 9);
    const sum = volumeOfSections(cut.map((s, i) => ({ chainage: s.chainage, cut: s.cut!, fill: s.fill!, row: i + 1 })));
    expect(sum.ok && sum.volumes.averageEndArea.cut).toBeCloseTo(480, 6);
    expect(volumeBetween(ground, trench).cut / 80).toBeCloseTo(8, 9);
  });
});

describe('the area between two cuts', () => {
  const run = fc.array(fc.tuple(fc.integer({ min: 1, max: 50 }), fc.integer({ min: -40, max: 40 })), { minLength: 2, maxLength: 9 }); // prettier-ignore
  const made = (steps: [number, number][]): OffsetRun => {
    let at = -20;
    return { offset: steps.map(([step]) => (at += step / 10)), z: steps.map(([, z]) => z / 10) };
  };

  it('is that of thin strips, cut and fill swapped when the two are', () => {
    fc.assert(
      fc.property(run, run, (one, other) => {
        const [a, b] = [made(one), made(other)];
        const there = areaBetween([a], [b]);
        const back = areaBetween([b], [a]);
        expect([back.cut, back.fill]).toEqual([expect.closeTo(there.fill, 9), expect.closeTo(there.cut, 9)]);
        const z = ({ offset, z: up }: OffsetRun, o: number): number => {
          const k = Math.max(1, offset.findIndex((v) => v >= o)); // prettier-ignore
          return up[k - 1] + ((up[k] - up[k - 1]) * (o - offset[k - 1])) / (offset[k] - offset[k - 1]);
        };
        const [from, to] = [Math.max(a.offset[0], b.offset[0]), Math.min(a.offset.at(-1)!, b.offset.at(-1)!)];
        let [cut, fill] = [0, 0];
        const n = 4000;
        for (let i = 0; i < n && to > from; i++) {
          const o = from + ((i + 0.5) / n) * (to - from);
          const d = (z(b, o) - z(a, o)) * ((to - from) / n);
          if (d > 0) fill += d;
          else cut -= d;
        }
        expect(Math.abs(there.cut - cut)).toBeLessThan(0.01 + 0.002 * cut);
        expect(Math.abs(there.fill - fill)).toBeLessThan(0.01 + 0.002 * fill);
      }),
    );
  });
});
