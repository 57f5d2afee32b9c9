import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { applyChange, newDocument, type Change, type Intake, type ProjectDocument } from '#core/project';
import {
  bookReport,
  controlReport,
  filesTable,
  reportCsv,
  reportPoints,
  type Report,
  type ReportTable,
} from '#core/report';
import { packRead, readByPlan, readingPlan, unpackRead } from '#core/sources';
import { packReduction, unpackReduction } from '#core/stages';
import type { ReadPoints } from '#core/exchange';
import type { Query } from '#core/queries';
import { kessaProject } from '#demo';

const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};

describe('the report of the books', () => {
  const demo = kessaProject();
  const start = demo.changes.reduce(apply, newDocument());
  const reads = new Map<string, ReadPoints>();
  const readOf = (i: Intake): ReadPoints => reads.get(i.id)!;
  let queries: Query[];
  let report: Report;
  const reportOf = (doc: ProjectDocument): Report => {
    const result = runChain(doc, readOf);
    queries = result.queries;
    const whole = unpackReduction(packReduction(result));
    const text = { number: (r: number) => result.points.number[r], code: (r: number) => result.points.description[r] };
    return bookReport(doc, whole, reportPoints(doc, result.points, whole, text, result.linework.lines), result.queries, { name: 'Kessa', revision: 4 }, 'known', { files: result.summary.files }); // prettier-ignore
  };
  beforeAll(async () => {
    for (const i of start.intakes) {
      const bytes = demo.files.find((f) => f.id === i.fileId)!.bytes;
      const reading = await readByPlan(bytes, readingPlan(start.basis, i), {});
      if (!reading?.ok) throw new Error('not read');
      reads.set(i.id, unpackRead(packRead(reading.read)));
    }
    report = reportOf(start);
  });

  const tableOf = (kind: string, of = report): ReportTable => of.tables.find((t) => t.kind === kind)!;
  const textOf = (t: ReportTable): string[][] => t.rows.map((r) => r.cells.map((c) => c.text));

  it('tells after what is open what became of each file: rows, what was read of them, what was not and why, who gave it', () => {
    expect(report.tables.slice(0, 3).map((t) => t.kind)).toEqual(['query', 'file', 'setups']);
    const files = textOf(tableOf('file'));
    expect(files.map((r) => r[0])).toEqual(start.intakes.map((i) => i.fileName));
    const records = reads.get(start.intakes.find((i) => i.form === 'book')!.id)!.book!.records.length;
    expect(files.find((r) => r[1] === 'field book')![2]).toContain(`${records} records, all read`);
    expect(files.find((r) => r[1] === 'control')).toEqual(['kessa-control.csv', 'control', '7 rows, 6 points, all read', 'Kessa drainage board, 2026-07-20, traverse of July', expect.stringMatching(/^[0-9a-f]{12}$/)]); // prettier-ignore
  });

  it('names the rows of a file that were not read, with their reasons, and a file of which nothing was', () => {
    const account = {
      rows: 9,
      read: 6,
      blank: 0,
      refused: 3,
      first: [{ row: 4, reason: 'no elevation' }],
      failure: null,
    };
    const [one, two] = [start.intakes[0].id, start.intakes[1].id];
    const none = { id: two, rows: 0, read: 0, blank: 0, refused: 0, first: [], failure: 'it is empty' };
    const files = filesTable(start, [{ id: one, ...account }, none]);
    expect(files.rows.map((r) => r.marked)).toEqual([true, true]);
    expect(textOf(files).map((r) => r[2])).toEqual(['9 rows, 6 points, 3 rows not read (row 4: no elevation …)', 'not read: it is empty']); // prettier-ignore
  });

  it('begins with what is open, stops first, the unknown code among it, and says how much that is', () => {
    const open = textOf(report.tables[0]);
    const wanted = queries.filter((q) => !q.accepted && (q.stage === 'book' || q.kind === 'unknown-code'));
    expect(open.map((r) => r[1]).sort()).toEqual(wanted.map((q) => q.text).sort());
    expect(open.some((r) => r[1].startsWith('Code DR'))).toBe(true);
    const weights = open.map((r) => ['stop', 'look', 'note'].indexOf(r[0]));
    expect(weights).toEqual([...weights].sort());
    expect(report.about[0]).toBe(`${open.length} open queries, listed first`);
  });

  it('says so where nothing is open', () => {
    const accept = (doc: ProjectDocument, q: Query): ProjectDocument =>
      apply(doc, { op: 'query.accept', key: q.key, accepted: { evidence: q.evidence, reason: 'seen', by: 'Ina', at: '2026-11-28' } }); // prettier-ignore
    const none = reportOf(queries.reduce(accept, start));
    expect(tableOf('query', none)).toBeUndefined();
    expect(none.about[0]).toBe('no open queries');
  });

  it('is one table for a spreadsheet: a heading row, as many cells in each row, numbers bare and angles as decimals too', () => {
    const { data, errors } = Papa.parse<string[]>(reportCsv(report, 'deg'), { skipEmptyLines: true });
    expect(errors).toEqual([]);
    const [head, ...rows] = data;
    expect(new Set(head).size).toBe(head.length);
    expect(new Set(rows.map((r) => r.length))).toEqual(new Set([head.length]));
    expect(rows.length).toBe(report.tables.reduce((sum, t) => sum + t.rows.length, 0));
    const at = (name: string): number => head.indexOf(name);
    const setup = rows.find((r) => r[0] === 'setups' && r[at('Station')] === 'KB1')!;
    const [d, m, sec] = setup[at('Orientation')].match(/\d+/g)!.map(Number);
    expect(Math.abs(Number(setup[at('Orientation, deg')]) - (d + m / 60 + sec / 3600)) * 3600).toBeLessThan(0.51);
    const off = rows.filter((r) => r[0] === 'setup').map((r) => r[at('Distance, obs − comp, m')]);
    expect(off.every((v) => v === '' || /^-?\d+\.\d{3}$/.test(v))).toBe(true);
    expect(off.some((v) => v.startsWith('-'))).toBe(true);
  });

  it('of control says which of two points of one number counts, and why the other does not', () => {
    const at = start.intakes.findIndex((i) => i.purpose === 'control');
    const twice = {
      ...start,
      intakes: [...start.intakes, { ...start.intakes[at], id: 'again', fileName: 'later.csv' }],
    };
    const points = runChain(twice, (i) => readOf(i.id === 'again' ? start.intakes[at] : i)).points;
    const [table] = controlReport(twice, points, { name: 'Kessa' }).tables;
    const kb1 = textOf(table).filter((r) => r[0] === 'KB1');
    expect(kb1.map((r) => r.at(-1))).toEqual(['no: later.csv, row 2, gives the number again, later', 'yes']);
    expect(kb1[1].slice(4, 7)).toEqual(['fixed', '0.003', '0.003']);
  });
});
