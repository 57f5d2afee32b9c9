import { describe, expect, it } from 'vitest';
import { applyChange, designRecipe, type Change, type ProjectDocument, type Series } from '#core/project';
import { surveyOf } from './survey-of.ts';

// Level ground at 10 m, 80 m square, and the same 0.5 m lower a month later.
const GROUND = Array.from({ length: 25 }, (_, i) => `${i + 1},${(i % 5) * 20},${Math.floor(i / 5) * 20},10,GR`);
const LOWER = { ...designRecipe({ id: 'later', name: 'Yard of 2026-10-31' }, []), rows: [
  { id: 'in', on: true, kind: 'surface' as const, surface: 'ground', ring: null },
  { id: 'down', on: true, kind: 'raise' as const, ring: [-1, -1, 81, -1, 81, 81, -1, 81], by: -0.5 },
] }; // prettier-ignore
const SERIES: Series = { id: 's', name: 'Yard', within: [10, 10, 30, 10, 30, 20, 10, 20], base: { level: 9 }, surfaces: [{ surface: 'later', date: '2026-10-31' }, { surface: 'ground', date: '2026-10-01' }] }; // prettier-ignore

const { doc, run } = surveyOf(GROUND);
function after(...changes: Change[]): ProjectDocument {
  return changes.reduce<ProjectDocument>((d, change) => {
    const applied = applyChange(d, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, doc);
}
const withLater = after({ op: 'surface.add', surface: LOWER }, { op: 'series.set', id: 's', series: SERIES });
const seriesIn = (d: ProjectDocument) => run(d).summary.series[0];

describe('a series of a project', () => {
  it('is measured date by date inside its boundary', () => {
    const { steps, without } = seriesIn(withLater);
    expect(without).toEqual([]);
    expect(steps.map((s) => [s.surface, Math.round(s.above), s.came, s.went && Math.round(s.went)])).toEqual([
      ['ground', 200, null, null],
      ['later', 100, 0, 100],
    ]);
    expect(steps[1].day - steps[0].day).toBe(30);
  });

  it('says what cannot be measured, and keeps what can', () => {
    const away: Series = { ...SERIES, surfaces: [...SERIES.surfaces, { surface: 'gone', date: '2026-11-30' }] };
    const { steps, without } = seriesIn({ ...withLater, series: [away] });
    expect(steps).toHaveLength(2);
    expect(without).toEqual([{ surface: 'gone', reason: 'It is no longer in the project.' }]);
    const off = seriesIn({ ...withLater, series: [{ ...SERIES, within: [900, 900, 910, 900, 910, 910] }] });
    expect(off.steps).toEqual([]);
    expect(off.without).toHaveLength(2);
    expect(seriesIn({ ...withLater, series: [{ ...SERIES, base: { surface: 'gone' } }] }).without[0].reason).toMatch(
      /base/,
    );
  });

  it('is undone, and holds the surfaces that it is made from', () => {
    const applied = applyChange(withLater, { op: 'series.set', id: 's', series: null });
    if (!applied.ok) throw new Error(applied.reason);
    expect(applied.document.series).toEqual([]);
    const back = applyChange(applied.document, applied.inverse);
    expect(back.ok && back.document.series).toEqual([SERIES]);
    expect(applyChange(withLater, { op: 'surface.remove', id: 'later' })).toMatchObject({ ok: false, reason: expect.stringContaining('series “Yard”') }); // prettier-ignore
    expect(applyChange(applied.document, { op: 'series.set', id: 's', series: null }).ok).toBe(false);
  });
});
