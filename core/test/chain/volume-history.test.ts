import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { volumeHistory, type KeptChange } from '#core/chain';
import type { CutAndFill } from '#core/quantities';
import { applyChange, type Change, type Comparison, type ProjectDocument } from '#core/project';
import { surveyOf } from '../stages/survey-of.ts';

// Level ground at 10 m, 20 m square, down to 9 m: 400 m³ of cut.
const GROUND = ['1,0,0,10,GR', '2,20,0,10,GR', '3,20,20,10,GR', '4,0,20,10,GR'];
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 9 }, within: null };
const raise = (z: number, row = 1): Change => ({
  op: 'points.edit',
  edits: { [`f0:${row}`]: { set: { z }, undo: [] } },
});
const level = (to: number): Change => ({ op: 'comparison.set', comparison: { ...DOWN, against: { level: to } } });

function made(changes: readonly Change[]) {
  const { doc, run } = surveyOf(GROUND);
  let computed = 0;
  let document = doc;
  const kept: KeptChange[] = changes.map((change, i) => {
    const applied = applyChange(document, change);
    if (!applied.ok) throw new Error(applied.reason);
    document = applied.document;
    return { revision: i + 1, change, inverse: applied.inverse };
  });
  const volumeOf = (d: ProjectDocument): Promise<CutAndFill | null> => {
    computed++;
    const c = run(d).comparisons.find((one) => one.id === 'c');
    return Promise.resolve(c?.ok ? { cut: c.volume.cut, fill: c.volume.fill } : null);
  };
  return { history: volumeHistory(document, kept.toReversed(), 'c', volumeOf), computed: () => computed };
}

describe('what made a volume what it is', () => {
  it('is each change with its share, newest first, back to where the comparison was made', async () => {
    const { history } = made([{ op: 'settings.set', settings: { decimals: 2 } }, level(9), raise(13), level(8)]);
    const { now, steps, end, from } = await history;
    // A corner 3 m higher lifts one triangle or two by 3 / 3 of their area each.
    const lifted = now!.cut - 800;
    expect([200, 400]).toContainEqual(expect.closeTo(lifted, 6));
    expect(steps.map((s) => s.revision)).toEqual([4, 3, 2]);
    expect(steps[0]).toMatchObject({ before: { cut: expect.closeTo(400 + lifted, 6) }, after: now });
    expect(steps[1]).toMatchObject({ before: { cut: expect.closeTo(400, 6) } });
    expect(steps[2]).toMatchObject({ before: null, after: { cut: expect.closeTo(400, 6) } });
    expect([end, from]).toEqual(['made', 2]);
  });

  it('leaves out what altered nothing, and does not compute what cannot', async () => {
    const other: Change = { op: 'comparison.set', comparison: { ...DOWN, id: 'other', against: { level: 3 } } };
    const { history, computed } = made([level(9), other, { op: 'comparison.remove', id: 'other' }, { op: 'settings.set', settings: { order: 'NE' } }]); // prettier-ignore
    const { steps } = await history;
    expect(steps.map((s) => s.revision)).toEqual([1]);
    // Now, and before the change of settings.
    expect(computed()).toBe(2);
  });

  it('says where there was no volume between', async () => {
    const off: Change = { op: 'intake.switch', id: 'f0', on: false };
    const { history } = made([level(9), off, { op: 'intake.switch', id: 'f0', on: true }]);
    const { steps } = await history;
    expect(steps.map(({ before, after }) => [before?.cut ?? null, after?.cut ?? null])).toEqual([
      [null, expect.closeTo(400, 6)],
      [expect.closeTo(400, 6), null],
      [null, expect.closeTo(400, 6)],
    ]);
  });

  it('adds up, whatever was changed in whatever order', async () => {
    const any = fc.oneof(
      fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 80, max: 130 })).map(([row, z]) => raise(z / 10, row)),
      fc.integer({ min: 70, max: 120 }).map((z) => level(z / 10)),
      fc.constant<Change>({ op: 'settings.set', settings: { decimals: 1 } }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(any, { minLength: 1, maxLength: 12 }), async (changes) => {
        const { now, steps } = await made([level(9), ...changes]).history;
        const first = steps.at(-1)!;
        expect(first).toMatchObject({ revision: 1, before: null, after: { cut: expect.closeTo(400, 6) } });
        const sum = steps.reduce((s, { before, after }) => (before && after ? s + after.cut - after.fill - before.cut + before.fill : s), 0); // prettier-ignore
        expect(400 + sum).toBeCloseTo(now!.cut - now!.fill, 6);
        // Each begins where the one before it ended.
        steps.slice(1).forEach((s, i) => expect(steps[i].before).toEqual(s.after));
      }),
      { numRuns: 40 },
    );
  });
});
