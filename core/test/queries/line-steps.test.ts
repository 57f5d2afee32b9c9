import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { readPoints } from '#core/exchange';
import { newDocument, plainIntake } from '#core/project';
import { stepsAlong } from '../../src/queries/ground/line-steps.ts';

/** Shots 6 m apart along a straight line at given elevations. */
const alongAt = (z: number[]) => {
  const rows = z.map((_, i) => i);
  return { rows, points: { x: Float64Array.from(rows, (i) => 6 * i), y: new Float64Array(z.length), z: Float64Array.from(z) } }; // prettier-ignore
};
const steps = (z: number[], tolerance = 0.05) => {
  const { rows, points } = alongAt(z);
  return stepsAlong(rows, points, tolerance);
};
const KERB = Array.from({ length: 15 }, (_, i) => 50 + 0.12 * i);
const with_ = (at: number, by: number): number[] => KERB.map((z, i) => (i === at ? z + by : z));

describe('steps along a line', () => {
  it('are the shots of the other edge, with what they would be between their neighbours', () => {
    expect(steps(with_(5, 0.12))).toEqual([{ row: 5, off: expect.closeTo(0.12, 9), expected: expect.closeTo(50.6, 9), usual: 0.005 }]); // prettier-ignore
    expect(steps(with_(9, -0.09)).map((s) => s.row)).toEqual([9]);
  });

  it('are not asked where nothing is wrong: a change of gradient, a driveway, a crest', () => {
    expect(steps(KERB)).toEqual([]);
    expect(steps(KERB.map((z, i) => (i > 7 ? z + 0.2 * (i - 7) : z)))).toEqual([]);
    expect(steps(KERB.map((z, i) => (i === 6 || i === 7 ? z - 0.1 : z)))).toEqual([]);
    expect(steps(KERB.map((_, i) => 52 - 0.03 * (i - 7) ** 2))).toEqual([]);
  });

  it('are not asked of a line that is uneven by as much, nor of one too short to tell', () => {
    const uneven = KERB.map((z, i) => z + [0.08, -0.05, 0.03, -0.09, 0.06][i % 5]);
    expect(steps(uneven.map((z, i) => (i === 6 ? z + 0.12 : z)))).toEqual([]);
    expect(steps([50, 50.1, 50.4, 50.3, 50.4])).toEqual([]);
  });

  it('hang neither on the direction of the line nor on where it lies', () => {
    const step = fc.tuple(fc.integer({ min: 2, max: 12 }), fc.double({ min: 0.07, max: 0.4, noNaN: true }));
    fc.assert(
      fc.property(step, fc.integer({ min: -1000, max: 1000 }), ([at, by], up) => {
        const z = with_(at, by);
        const [there] = steps(z.map((v) => v + up));
        const [back] = steps([...z].reverse());
        expect(there).toMatchObject({ row: at, off: expect.closeTo(by, 6) });
        expect(back).toMatchObject({ row: 14 - at, off: expect.closeTo(by, 6) });
      }),
    );
  });
});

it('a shot of a kerb’s top in its foot is asked about on the ground, with its line and a remedy', () => {
  const grid = Array.from({ length: 60 }, (_, i) => `${100 + i},${1000 + 9 * (i % 10)},${1980 + 9 * Math.floor(i / 10)},${(50 + 0.02 * 9 * (i % 10)).toFixed(3)},GR`); // prettier-ignore
  const kerb = with_(5, 0.12).map(
    (z, i) => `${i + 1},${1000 + 6 * i},2040,${z.toFixed(3)},KF1${i === 0 ? ' BEG' : ''}`,
  );
  const intake = plainIntake('f', { purpose: 'survey', form: 'points', layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' } }); // prettier-ignore
  const asked = (rows: string[]) =>
    runChain({ ...newDocument(), intakes: [intake] }, () => readPoints(rows.join('\n'), intake.layout)!).queries.filter((q) => q.kind === 'line-step'); // prettier-ignore
  const [query, ...more] = asked([...grid, ...kerb]);
  expect(more).toEqual([]);
  expect(query).toMatchObject({ weight: 'look', lines: ['KF1'], place: { x: 1030, y: 2040 } });
  expect(query.text).toMatch(/^Point 6 “KF1” at 50\.720 m steps 0\.12 m above line KF1/);
  expect(query.remedies.map((r) => r.label)).toContain('Exclude the point');
  expect(asked([...grid, ...KERB.map((z, i) => `${i + 1},${1000 + 6 * i},2040,${z.toFixed(3)},KF1${i === 0 ? ' BEG' : ''}`)])).toEqual([]); // prettier-ignore
});
