import { beforeAll, describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { applyChange, newDocument, type Change, type Intake, type ProjectDocument } from '#core/project';
import { bookReport, fileRows, reportCsv, reportPoints, type BookReport } from '#core/report';
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
  let report: BookReport;
  const reportOf = (doc: ProjectDocument): BookReport => {
    const result = runChain(doc, readOf);
    queries = result.queries;
    const whole = unpackReduction(packReduction(result));
    const text = { number: (r: number) => result.points.number[r], code: (r: number) => result.points.description[r] };
    return bookReport(doc, whole, reportPoints(doc, result.points, whole, text), result.queries, { name: 'Kessa', revision: 4 }, 'known', { files: result.summary.files }); // prettier-ignore
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

  it('tells after what is open what became of each file: rows, what was read of them, what was not and why, who gave it', () => {
    const at = report.rows.findIndex((r) => r.kind === 'file');
    expect(report.rows[at - 1].kind).toBe('query');
    const files = report.rows.filter((r) => r.kind === 'file');
    expect(files.map((r) => r.cells[0])).toEqual(start.intakes.map((i) => i.fileName));
    const records = reads.get(start.intakes.find((i) => i.form === 'book')!.id)!.book!.records.length;
    expect(files.find((r) => r.cells[1].startsWith('field book'))!.cells[1]).toContain(`${records} records, all read`);
    expect(files.find((r) => r.cells[1].startsWith('control'))!.cells[1]).toMatch(/checksum [0-9a-f]{12}; \d+ rows, \d+ points/); // prettier-ignore
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
    const rows = fileRows(start, [{ id: one, ...account }, none]);
    expect(rows.map((r) => r.marked)).toEqual([true, true]);
    expect(rows[0].cells[1]).toContain('9 rows, 6 points, 3 rows not read (row 4: no elevation …)');
    expect(rows[1].cells[1]).toContain('not read: it is empty');
  });

  it('begins with what is open, stops first, the unknown code among it, and says how much that is', () => {
    const firstSetup = report.rows.findIndex((r) => r.kind === 'setup');
    const open = report.rows.slice(0, firstSetup).filter((r) => r.kind !== 'file');
    expect(open.every((r) => r.kind === 'query')).toBe(true);
    expect(report.rows.slice(firstSetup).some((r) => r.kind === 'query')).toBe(false);
    const wanted = queries.filter((q) => !q.accepted && (q.stage === 'book' || q.kind === 'unknown-code'));
    expect(open.map((r) => r.cells[1]).sort()).toEqual(wanted.map((q) => q.text).sort());
    expect(open.some((r) => r.cells[1].startsWith('Code DR'))).toBe(true);
    const weights = open.map((r) => ['stop', 'look', 'note'].indexOf(r.cells[0]));
    expect(weights).toEqual([...weights].sort());
    expect(report.about[0]).toBe(`${open.length} open queries, listed first`);
    // In the file as on the screen.
    expect(reportCsv(report).split('\n')[1 + report.about.length]).toContain(open[0].cells[0]);
  });

  it('says so where nothing is open', () => {
    const accept = (doc: ProjectDocument, q: Query): ProjectDocument =>
      apply(doc, { op: 'query.accept', key: q.key, accepted: { evidence: q.evidence, reason: 'seen', by: 'Ina', at: '2026-11-28' } }); // prettier-ignore
    const none = reportOf(queries.reduce(accept, start));
    expect(none.rows.filter((r) => r.kind === 'query')).toEqual([]);
    expect(none.about[0]).toBe('no open queries');
  });
});
