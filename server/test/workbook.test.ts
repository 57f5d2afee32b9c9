import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ExcelJS from 'exceljs';
import { afterAll, describe, expect, it } from 'vitest';
import { newDocument, type Comparison } from '#core/project';
import { quantityWorkbook, type WorkbookCell, type WorkbookSheet } from '#core/report';
import { compare } from '#core/stages';
import { buildSurface } from '#core/terrain';
import { readSpreadsheet, splitRow } from '#core/exchange';
import { writeWorkbook } from '../src/jobs/write-workbook.ts';

// A comparison as a spreadsheet is calculated again by a program that nobody here wrote: Debian's gnumeric.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-workbook-'));
afterAll(() => rmSync(folder, { recursive: true }));

const grid = Array.from({ length: 36 }, (_, i) => [12 * (i % 6), 9 * Math.floor(i / 6)]);
const surface = buildSurface({
  x: Float64Array.from(grid, ([x]) => 4000 + x),
  y: Float64Array.from(grid, ([, y]) => 7000 + y),
  z: Float64Array.from(grid, ([x, y]) => 50 + 2 * Math.sin(x / 9) + Math.cos(y / 7)),
  segments: new Uint32Array(0),
  longestSide: null,
  coincidence: 0,
}).surface;
const COMPARISON: Comparison = {
  id: 'c',
  name: 'To 50',
  surface: 'ground',
  against: { level: 50 },
  within: [4003, 7002, 4055, 7004, 4050, 7041, 4010, 7038],
  zones: [{ name: 'West', ring: [4000, 7000, 4030, 7000, 4030, 7050, 4000, 7050] }],
  factors: { cut: 1.25, fill: 1.1 },
  materials: [
    { name: 'Topsoil', top: { depth: 0 } },
    { name: 'Gravel', top: { depth: 0.3 }, factors: { cut: 1.15 } },
  ],
  sd: { plan: 0.01, height: 0.02 },
};

function workbook(unit: 'm' | 'usft'): WorkbookSheet[] {
  const doc = newDocument();
  const settings = { ...doc.settings, unit, order: 'NE' as const };
  const built = { id: 'ground', name: 'Ground', surface } as unknown as Parameters<typeof compare>[1][number];
  const compared = compare(COMPARISON, [built], unit);
  if (!compared.ok) throw new Error(compared.reason);
  const { volume, ...rest } = compared;
  const { pieces, ...figures } = volume;
  const of = { name: 'Yard', revision: 3, date: '30 November 2026', checked: null };
  return quantityWorkbook({ ...doc, settings, comparisons: [COMPARISON] }, COMPARISON, { ...rest, ...figures }, pieces, of); // prettier-ignore
}
const valueOf = (cell: WorkbookCell) => (cell !== null && typeof cell === 'object' ? cell.value : cell);

/** What the other program makes of each sheet, having forgotten every result. */
async function calculated(sheets: readonly WorkbookSheet[]): Promise<Map<string, string[][]>> {
  const book = new ExcelJS.Workbook();
  for (const { name, rows } of sheets) {
    const sheet = book.addWorksheet(name);
    for (const cells of rows) sheet.addRow(cells.map((c) => (c !== null && typeof c === 'object' ? (c.formula ? { formula: c.formula } : c.value) : c))); // prettier-ignore
  }
  const file = join(folder, 'empty.xlsx');
  writeFileSync(file, new Uint8Array(await book.xlsx.writeBuffer()));
  const run = spawnSync('ssconvert', ['--recalc', '-S', file, join(folder, 'sheet-%s.csv')], { encoding: 'utf8' });
  expect(run.status, run.stderr).toBe(0);
  return new Map(sheets.map(({ name }) => [name, readFileSync(join(folder, `sheet-${name}.csv`), 'utf8').split('\n').map((l) => splitRow(l, ','))])); // prettier-ignore
}

describe('a comparison as a spreadsheet', () => {
  it.each(['m', 'usft'] as const)('in %s calculates what the program says, without its results', async (unit) => {
    const sheets = workbook(unit);
    expect(sheets.map((s) => s.name)).toEqual(['Volumes', 'Sections', 'Boundary', 'Prisms']);
    const found = await calculated(sheets);
    let formulas = 0;
    for (const { name, rows } of sheets)
      rows.forEach((cells, i) => {
        cells.forEach((cell, k) => {
          if (cell === null || typeof cell !== 'object' || cell.formula === undefined) return;
          formulas++;
          expect(Number(found.get(name)![i][k]), `${name} ${i + 1}, ${k + 1}`).toBeCloseTo(Number(cell.value), 5);
        });
      });
    expect(formulas).toBeGreaterThan(100);
  });

  it('is written with its results, and read back by the reader of imports', async () => {
    const sheets = workbook('m');
    const bytes = await writeWorkbook(sheets);
    const read = readSpreadsheet(bytes, 'Volumes');
    if (!read.ok) throw new Error(read.reason);
    const cut = read.text.split('\n').find((l) => l.startsWith('Cut\t'))!.split('\t'); // prettier-ignore
    expect(Number(cut[1])).toBeCloseTo(Number(valueOf(sheets[0].rows[4][1])), 9);
    // Materials add up to the cut, each loose by its own factor.
    const rows = read.text.split('\n').map((l) => l.split('\t'));
    const at = rows.findIndex(([name]) => name === 'The cut by material');
    const [, above, soil, gravel, sum] = rows.slice(at, at + 5);
    expect([above[0], soil[0], gravel[0], sum[0]]).toEqual(['above the first', 'Topsoil', 'Gravel', 'sum']);
    expect(Number(sum[1])).toBeCloseTo(Number(cut[1]), 6);
    expect(Number(sum[4])).toBeCloseTo(1.25 * Number(soil[1]) + 1.15 * Number(gravel[1]), 6);
  });

  it('too large to be summed there says so, and gives its volumes', () => {
    const doc = newDocument();
    const built = { id: 'ground', name: 'Ground', surface } as unknown as Parameters<typeof compare>[1][number];
    const compared = compare({ ...COMPARISON, zones: undefined, within: null }, [built], 'm');
    if (!compared.ok) throw new Error(compared.reason);
    const { volume, ...rest } = compared;
    const { pieces, ...figures } = volume;
    const many = new Float64Array(9 * 20_001);
    for (let i = 0; i < many.length; i += pieces.length) many.set(pieces.subarray(0, Math.min(pieces.length, many.length - i)), i); // prettier-ignore
    const of = { name: 'Yard', revision: 3, date: 'today', checked: null };
    const [volumes, ...others] = quantityWorkbook(doc, { ...COMPARISON, within: null }, { ...rest, ...figures }, many, of); // prettier-ignore
    expect(others.map((s) => s.name)).toEqual(['Sections']);
    expect(volumes.rows.flat().some((c) => typeof c === 'string' && c.includes('20000 prisms'))).toBe(true);
    expect(valueOf(volumes.rows[4][1])).toBe(volume.cut);
  });
});
