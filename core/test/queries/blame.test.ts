import { describe, expect, it } from 'vitest';
import { inventedSurvey, SLIP_KINDS, type SlipKind } from '#demo';
import { judge, surveyProject } from '../../../bench/blame-judge.ts';

// Who is blamed is to blame: invented surveys with planted slips, and as many without. The long form, a thousand of
// each, is npm run bench -- blame.

const EACH = 6;
// On ground with a kerb every few metres a single height stands out less.
const MISSED: Partial<Record<SlipKind, number>> = { 'target-height-typed': 2, 'target-height-left': 2 };

describe('a slip planted in a survey', () => {
  for (const kind of SLIP_KINDS)
    it(`${kind}: is named with what mends it, and nothing else is blamed`, () => {
      const told = { right: 0, among: 0, missed: 0, wrong: 0 };
      for (let i = 0; i < EACH; i++) {
        const judged = judge(inventedSurvey(20_000 + 17 * i, [kind]));
        for (const slip of judged.slips) told[slip.named]++;
        told.wrong += judged.wrong.length;
      }
      expect(told.wrong).toBe(0);
      expect(told.missed).toBeLessThanOrEqual(MISSED[kind] ?? 1);
      // What the evidence leaves open is said to be open: a circle that turned where the walk does not show it.
      expect(told.right).toBeGreaterThanOrEqual(kind === 'circle-turned' ? 3 : EACH - (MISSED[kind] ?? 1));
    });

  it('in one setup with another one is named too', () => {
    const pairs: SlipKind[][] = [
      ['instrument-height', 'backsight-wrong'],
      ['station-wrong', 'backsight-wrong'],
      ['target-height-known', 'code-forgotten'],
      ['control-elevation', 'target-height-left'],
      ['face-exchanged', 'instrument-height'],
      ['number-twice', 'target-height-left', 'code-mistyped'],
    ];
    let [right, missed, wrong] = [0, 0, 0];
    pairs.forEach((kinds, i) => {
      for (const seed of [30_002 + 3 * i, 30_100 + 3 * i]) {
        const judged = judge(inventedSurvey(seed, kinds));
        right += judged.slips.filter((s) => s.named === 'right').length;
        missed += judged.slips.filter((s) => s.named === 'missed').length;
        wrong += judged.wrong.length;
      }
    });
    expect(wrong).toBe(0);
    expect(missed).toBeLessThanOrEqual(2);
    expect(right).toBeGreaterThanOrEqual(22);
  });
});

describe('a survey without a slip', () => {
  it('blames nobody, on any ground, from any number of setups', () => {
    const blamed: string[] = [];
    for (let i = 0; i < 60; i++) {
      const judged = judge(inventedSurvey(70_000 + i, []));
      blamed.push(...judged.wrong.map((q) => `${i}: ${q.text}`));
    }
    expect(blamed).toEqual([]);
  });

  it('has every point where it truly is', () => {
    const survey = inventedSurvey(70_004, []);
    const { doc, run } = surveyProject(survey);
    const result = run(doc);
    expect(result.reduction!.setups.every((s) => !s.waits && !s.failed)).toBe(true);
    expect(result.points.state.every((s) => s === 0)).toBe(true);
  });
});
