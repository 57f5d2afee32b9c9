import { describe, expect, it } from 'vitest';
import { applyChange, proposedRecipe, type Change, type Comparison, type ProjectDocument } from '#core/project';
import type { CrossSection } from '#core/quantities';
import { quantityReport, reportCsv, type Report } from '#core/report';
import { surveyOf } from '../stages/survey-of.ts';

// Level ground at 10 m, 80 m square.
const GROUND = Array.from({ length: 25 }, (_, i) => `${i + 1},${(i % 5) * 20},${Math.floor(i / 5) * 20},10,GR`);
const OF = { name: 'Wharf', revision: 7, date: '30 November 2026', checked: null };

function reportOf(comparison: Comparison, ...changes: Change[]): Report {
  return reportWith(comparison, OF, ...changes);
}
/** Sections of a ditch, the second of them where nothing is cut; and the points that it was made from. */
const SECTIONS: CrossSection[] = [[0, 3], [10, 0], [20, 5]].map(([chainage, cut]) => ({ chainage, x: 10 + chainage, y: 15, ex: 0, ey: -1, skew: 0, surfaces: [{ name: 'Ground', runs: [{ offset: [-5, 5], z: [10, 10] }] }, { name: 'level', runs: [{ offset: [-5, 5], z: [8, 8] }] }], cut, fill: 0 })); // prettier-ignore
const POINTS = [{ number: 'A1', x: 10, y: 20, z: 10.5, code: 'GR', from: 'survey.csv' }];

function reportWith(comparison: Comparison, of: Parameters<typeof quantityReport>[4], ...changes: Change[]): Report {
  const { doc, run } = surveyOf(GROUND);
  const all = [...changes, { op: 'comparison.set' as const, comparison }].reduce<ProjectDocument>((d, change) => {
    const applied = applyChange(d, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, doc);
  const { summary } = run(all);
  const figures = summary.comparisons[0];
  if (!figures.ok) throw new Error(figures.reason);
  const pieces = Float64Array.of(10, 10, -2, 30, 10, -2, 30, 20, -2, 10, 10, -2, 30, 20, 1, 10, 20, 1);
  return quantityReport(all, comparison, figures, summary, of, { pieces, sections: SECTIONS, points: POINTS });
}
const table = (r: Report, kind: string): string[][] => r.tables.find((t) => t.kind === kind)!.rows.map((row) => row.cells.map((c) => c.text)); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down to 8', surface: 'ground', against: { level: 8 }, within: [10, 10, 30, 10, 30, 20, 10, 20] }; // prettier-ignore

describe('the report of a comparison', () => {
  it('says what against what, at which revision and when, and every volume in both units', () => {
    const report = reportOf(DOWN);
    expect(report.about[0]).toBe('Ground to level 8.000 m, inside its boundary. Wharf, revision 7, 30 November 2026.');
    // 20 × 10 × 2 m; 400 / 0.9144³ yd³.
    expect(table(report, 'volumes')).toEqual([['Cut', '400.0', '', '523.2'], ['Fill', '0.0', '', '0.0'], ['Cut − fill', '400.0', '', '523.2']]); // prettier-ignore
    expect(report.tables[0].about[0]).toContain('was not stated');
    expect(table(report, 'methods').map((r) => r[0])).toHaveLength(5);
    expect(table(report, 'boundary')).toEqual([['1', '10.000', '10.000'], ['2', '30.000', '10.000'], ['3', '30.000', '20.000'], ['4', '10.000', '20.000']]); // prettier-ignore
    expect(table(report, 'surfaces')[0].slice(0, 3)).toEqual(['Ground', '25', '32']);
    expect(table(report, 'signed').map((r) => r[0])).toEqual(['Made by', 'Checked by']);
  });

  it('has all its sections by their areas, those that cut anything drawn, and the points that it was made from', () => {
    const report = reportOf(DOWN);
    // 10 m × (3 + 0) / 2, then 10 m × (0 + 5) / 2.
    expect(table(report, 'areas').map((r) => [r[0], r[1], r[3]])).toEqual([['0.00', '3.0 m²', ''], ['10.00', '0.0 m²', '15.0'], ['20.00', '5.0 m²', '25.0'], ['Together', '', '40.0']]); // prettier-ignore
    const drawn = report.tables.filter((t) => t.kind === 'section');
    expect(drawn.map((t) => t.title)).toEqual([expect.stringMatching(/^Section at 0\.00 m; cut 3\.0 m².*, 1 : 100$/), expect.stringMatching(/^Section at 20\.00 m; cut 5\.0 m²/)]); // prettier-ignore
    expect(drawn.every((t) => t.drawing?.startsWith('<svg'))).toBe(true);
    expect(table(report, 'points')).toEqual([['A1', '10.000', '20.000', '10.500', 'GR', 'survey.csv']]);
  });

  it('has the precision of each volume where that of the points is stated', () => {
    const [cut] = table(reportOf({ ...DOWN, sd: { plan: 0, height: 0.02 } }), 'volumes');
    // 200 m² on a few points good to 2 cm: between what one point would give, and what they would if all erred alike.
    expect(Number(cut[2])).toBeGreaterThan(1);
    expect(Number(cut[2])).toBeLessThan(1.96 * 0.02 * 200);
  });

  it('says what was taken off and added', () => {
    const report = reportOf({ ...DOWN, strip: 0.25, factors: { cut: 1.2, fill: 1 }, voids: [[12, 12, 22, 12, 22, 18, 12, 18]] }); // prettier-ignore
    const said = table(report, 'measures');
    // 140 m² are left: 35 m³ of topsoil, 1.75 m of cut below it.
    expect(said).toContainEqual(['Topsoil, 0.250 m that go first', '35.0 m³, not in the cut']);
    expect(said).toContainEqual(['Cut × 1.2, loose', '294.0 m³']);
    expect(said).toContainEqual(['Voids', '1, not compared']);
  });

  it('says of a pad how it is set, and what of it is open', () => {
    const pad = proposedRecipe({ id: 'pad', name: 'Pad' }, { kind: 'pad', surface: 'ground', ring: [30, 35, 50, 35, 50, 45, 30, 45], level: 40, levelAt: 'centre', gradient: 0.02, direction: 0, cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' }); // prettier-ignore
    const report = reportOf(
      { ...DOWN, against: { surface: 'pad' }, within: null },
      { op: 'surface.add', surface: pad },
    );
    expect(table(report, 'proposed')[0]).toEqual(['pad at 40.000 m, rising 2.00 %, batters 1 : 1.5 in cut, 1 : 2 in fill', 'mitred', 'square to the side']); // prettier-ignore
    expect(table(report, 'queries').some(([, text]) => text.includes('run off the survey'))).toBe(true);
    expect(report.about[2]).toMatch(/quer(y is|ies are) open/);
  });

  it('is a table for a spreadsheet, whole', () => {
    const csv = reportCsv(reportOf({ ...DOWN, name: 'Down, to "8"' }), 'deg');
    expect(csv).toContain('523.2');
    expect(csv).toContain('V = L (A1 + 4 Am + A2) / 6');
  });

  it('has a plan with both sides hatched, the line between them and the boundary', () => {
    const plan = reportOf(DOWN).tables.find((t) => t.kind === 'plan')!;
    const svg = plan.rows[0].cells[0].drawing!;
    expect(plan.about[0]).toContain('the bar is 5.00 m');
    for (const part of ['url(#cut)', 'url(#fill)', 'stroke-dasharray']) expect(svg).toContain(part);
    expect(svg).not.toMatch(/NaN|Infinity/);
  });

  it('says by zone and by depth what was asked for', () => {
    const zones = [{ name: 'Rock', ring: [10, 10, 20, 10, 20, 20, 10, 20], factors: { cut: 1.5, fill: 1 } }];
    const report = reportOf({ ...DOWN, zones, slice: 1 });
    expect(table(report, 'zones')).toEqual([
      ['Rock', '200.0', '0.0', '200.0', '100.0 m²', '300.0', '0.0'],
      ['In no zone', '200.0', '0.0', '200.0', '100.0 m²', '', ''],
    ]);
    expect(table(report, 'slices')).toEqual([
      ['0.00', '1.00', '200.0', '200.0 m²', '0.0', '0.0 m²'],
      ['1.00', '2.00', '200.0', '200.0 m²', '0.0', '0.0 m²'],
    ]);
  });

  it('says the cut by material, each with its factor, and what their sum is loose', () => {
    const materials = [
      { name: 'Clay', top: { depth: 0.5 } },
      { name: 'Rock', top: { depth: 1.5 }, factors: { cut: 1.6 } },
    ];
    const report = reportOf({ ...DOWN, materials, factors: { cut: 1.2, fill: 1 } });
    expect(table(report, 'materials')).toEqual([
      ['Above the first', '', '100.0', '', '1.2', '120.0'],
      ['Clay', '0.50 m under the ground', '200.0', '200.0 m²', '1.2', '240.0'],
      ['Rock', '1.50 m under the ground', '100.0', '200.0 m²', '1.6', '160.0'],
      ['Sum', '', '400.0', '', '', '520.0'],
    ]);
  });

  it('says whether somebody’s check covers it', () => {
    const said = (checked: typeof OF.checked | { revision: number; by: string; at: string; since: number }): string => reportWith(DOWN, { ...OF, checked }).tables.at(-1)!.about[1]; // prettier-ignore
    expect(said(null)).toBe('Nobody has marked this project as checked.');
    expect(said({ revision: 7, by: 'Ira', at: '1 December 2026', since: 0 })).toMatch(/^Ira marked revision 7 as checked on 1 December 2026: it covers/); // prettier-ignore
    expect(said({ revision: 5, by: 'Ira', at: '1 December 2026', since: 2 })).toMatch(/2 changes came after it, so that it no longer covers/); // prettier-ignore
  });
});
