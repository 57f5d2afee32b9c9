import { expect, test } from 'vitest';
import { applyChange, type ProjectDocument, type SurfaceRow } from '#core/project';
import { surfaceFitness, surfaceReport, type Report } from '#core/report';
import { surveyOf } from '../stages/survey-of.ts';

/** Nine by nine shots 5 m apart on a slope, and check shots between them that are off by so much. */
const shots = (checks: number, off: number): string[] => [
  ...Array.from({ length: 81 }, (_, i) => `${i + 1},${(i % 9) * 5},${Math.floor(i / 9) * 5},${(10 + (i % 9) * 0.5).toFixed(3)},GR`), // prettier-ignore
  ...Array.from({ length: checks }, (_, i) => `C${i + 1},${2.5 + (i % 7) * 5},${2.5 + Math.floor(i / 7) * 5},${(10.25 + (i % 7) * 0.5 - off).toFixed(3)},CK`), // prettier-ignore
];
const withRow = (doc: ProjectDocument, row: SurfaceRow): ProjectDocument => {
  const applied = applyChange(doc, { op: 'surface.row', surface: 'ground', row });
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const CHECKS: SurfaceRow = { id: 'c', on: true, kind: 'checks', rule: { codes: ['CK'] }, within: 0.05 };

function reportOf(rows: readonly string[], ...more: SurfaceRow[]): Report {
  const { doc, run } = surveyOf(rows);
  const all = more.reduce(withRow, doc);
  const result = run(all);
  const places = { ...result.points, number: (r: number) => result.points.number[r] };
  return surfaceReport(all, result.summary.surfaces[0], surfaceFitness(result.surfaces[0].surface), result.queries, places); // prettier-ignore
}
const verdict = (r: Report, what: string): string[] =>
  r.tables[0].rows
    .find((row) => row.cells[0].text === what)!
    .cells.slice(1)
    .map((c) => c.text);

test('a surface that its check shots bear out is fit to use, and says by what', () => {
  const report = reportOf(shots(24, 0.01), CHECKS);
  expect(report.about).toEqual(['Nothing that was looked at speaks against it.']);
  const [found, ok] = verdict(report, 'Check shots');
  expect(found).toBe('95 % within 0.020 m (root mean square 0.010, 24 shots); wanted 0.050 m');
  expect(ok).toBe('yes');
  // What the shots say is said one by one, and they are no points of the surface.
  const table = report.tables.find((t) => t.kind === 'checks')!;
  expect(table.rows).toHaveLength(24);
  expect(table.rows.every((r) => r.cells[4].text === '0.010')).toBe(true);
  expect(report.tables.find((t) => t.kind === 'excluded')!.rows.map((r) => r.cells.map((c) => c.text))).toContainEqual(['check shots, kept out of the surface', '24']); // prettier-ignore
});

test('one that they do not bear out is not, and the worst is asked about', () => {
  const report = reportOf(shots(24, 0.1), CHECKS);
  expect(report.about[0]).toMatch(/^Not yet: /);
  expect(report.about[0]).toContain('95 % within 0.196 m');
  expect(verdict(report, 'Check shots')[1]).toBe('no');
  expect(verdict(report, 'Queries to be settled')).toEqual(['1 stop query', 'no']);
  expect(report.tables.find((t) => t.kind === 'queries')!.rows[0].cells[1].text).toContain('0.050 m is wanted');
});

test('too few check shots, no class and no check shots are said', () => {
  expect(verdict(reportOf(shots(6, 0.01), CHECKS), 'Check shots')).toEqual([
    '95 % within 0.020 m (root mean square 0.010, 6 shots; fewer than the 20 that the standard asks for); wanted 0.050 m',
    'look',
  ]);
  expect(verdict(reportOf(shots(24, 0.01), { ...CHECKS, within: null }), 'Check shots')[1]).toBe('not known');
  expect(verdict(reportOf(shots(0, 0)), 'Check shots')).toEqual(['none on the surface', 'not known']);
});

test('areas by slope, what it is made from and its weakest parts are listed', () => {
  const report = reportOf(shots(0, 0));
  const of = (kind: string): string[][] => report.tables.find((t) => t.kind === kind)!.rows.map((r) => r.cells.map((c) => c.text)); // prettier-ignore
  expect(of('slopes').filter((r) => r[2] !== '0.0')).toEqual([['10 – 25', '1\u2009600.0 m²', '100.0']]);
  expect(of('recipe')[0]).toEqual(['1', 'points of all survey files', '81 points']);
  expect(of('parts').every((r) => r.at(-1) === '0.000')).toBe(true);
  // A row whose source is gone speaks against it.
  const lost = reportOf(shots(0, 0), { id: 'm', on: true, kind: 'move', points: ['gone:1'], by: { x: 1, y: 0, z: 0 } });
  expect(verdict(lost, 'Rows of its recipe')).toEqual(['1 row without effect: its source or place is gone', 'no']);
});
