import { beforeAll, describe, expect, it } from 'vitest';
import { recordsOfSetup } from '#core/book';
import { runChain, type ChainResult } from '#core/chain';
import { applyChange, editEntries, newDocument, type Change, type Intake, type ProjectDocument } from '#core/project';
import { bookReport, reportPoints, setupFacts, type Report } from '#core/report';
import { readByPlan, readingPlan, packRead, unpackRead } from '#core/sources';
import { editedRecords, STATE, packReduction, unpackReduction } from '#core/stages';
import type { ReadPoints } from '#core/exchange';
import { formatAngle, formatLength } from '#core/measure';
import { kessaFiles, kessaProject } from '#demo';
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};

describe('Kessa Bank', () => {
  const demo = kessaProject();
  const start = demo.changes.reduce(apply, newDocument());
  const reads = new Map<string, ReadPoints>();
  const readOf = (i: Intake): ReadPoints => reads.get(i.id)!;
  let first: ChainResult;
  beforeAll(async () => {
    for (const i of start.intakes) {
      const reading = await readByPlan(
        demo.files.find((f) => f.id === i.fileId)!.bytes,
        readingPlan(start.basis, i),
        {},
      );
      if (!reading?.ok) throw new Error('not read');
      reads.set(i.id, unpackRead(packRead(reading.read)));
    }
    first = runChain(start, readOf);
  });

  for (const slip of kessaFiles().slips)
    it(`${slip.kind} at ${slip.where} is found and named`, () => {
      // A carried station waits for its own setup first.
      const seen = [first, runChain(mend(start, 2), readOf)].flatMap((r) => r.queries);
      expect(seen.some((q) => q.kind === slip.kind && q.text.includes(slip.where))).toBe(true);
    });

  function mend(doc: ProjectDocument, most: number): ProjectDocument {
    let out = doc;
    for (let turn = 0; turn < most; turn++) {
      const query = runChain(out, readOf).queries.find((q) => q.weight !== 'note' && q.remedies.length && !q.accepted);
      if (!query) break;
      out = apply(out, query.remedies[0].change);
    }
    return out;
  }

  it('keeps points of an undecided setup out of lines and ground', () => {
    const { points, linework, reduction } = first;
    const waiting = reduction!.setups.findIndex((s) => s.number === 'KB4');
    const rows = reduction!.points.list().filter((p) => p.setup === waiting);
    expect(rows.length).toBeGreaterThan(20);
    for (let r = 0; r < points.x.length; r++)
      if (rows.some((p) => p.row === points.fileRow[r] && start.intakes[points.intake[r]].id === p.book))
        expect(points.state[r]).toBe(STATE.waits);
    expect(linework.lines.some((l) => l.key.startsWith('BT3'))).toBe(false);
  });

  it('mended by its first remedies gives the true ground, 95 % of it within the stated precision', () => {
    const result = runChain(mend(start, 12), readOf);
    expect(result.queries.filter((q) => q.weight === 'stop' && !q.accepted)).toEqual([]);
    const truth = new Map(kessaFiles().truth.map((m) => [m.number, m]));
    let [count, plan, height] = [0, 0, 0];
    const { points: p } = result;
    for (let r = 0; r < p.x.length; r++) {
      const m = truth.get(p.number[r]);
      if (!m || Number.isNaN(p.sdPlan[r])) continue;
      count++;
      // 95 % of a two-dimensional normal lies within 2.45 standard deviations of one axis, of a height within 1.96.
      if (Math.hypot(p.x[r] - m.x, p.y[r] - m.y) <= 2.45 * p.sdPlan[r]) plan++;
      if (Math.abs(p.z[r] - m.z) <= 1.96 * p.sdHeight[r]) height++;
    }
    expect(count).toBeGreaterThan(150);
    expect(plan / count).toBeGreaterThanOrEqual(0.95);
    expect(height / count).toBeGreaterThanOrEqual(0.95);
  });

  it('an edited height previews, applies and is taken back to the same bits; what is computed is not typed over', () => {
    const one = start.intakes.find((i) => i.fileName === 'kessa-one.book')!;
    const shot = first.reduction!.points.list().find((p) => p.book === one.id && p.number === '104')!;
    const key = `${one.id}:${shot.row}`;
    const change: Change = {
      op: 'points.edit',
      edits: { [key]: { set: { height: 2.1 }, undo: [] } },
      why: 'pole read again',
    };
    const applied = applyChange(start, change);
    if (!applied.ok) throw new Error(applied.reason);
    const after = runChain(applied.document, readOf);
    const rowOf = (r: ChainResult): number =>
      r.points.fileRow.findIndex((row, i) => row === shot.row && r.points.intake[i] === start.intakes.indexOf(one));
    expect(after.points.z[rowOf(after)] - first.points.z[rowOf(first)]).toBeCloseTo(1.5 - 2.1, 9);
    const back = applyChange(applied.document, applied.inverse);
    expect(back.ok && back.document).toEqual(start);
    const typed = apply(start, { op: 'points.edit', edits: { [key]: { set: { z: 99 }, undo: [] } } });
    const result = runChain(typed, readOf);
    expect(result.points.z[rowOf(result)]).toBe(first.points.z[rowOf(first)]);
  });

  it('mended, all of it adjusts together with a variance factor that chance explains, and reports every setup', () => {
    const doc = mend(start, 12);
    const { reduction, network, traverses, points, queries, linework } = runChain(doc, readOf);
    expect(network?.ok).toBe(true);
    if (!network?.ok) return;
    expect(network.varianceFactor).toBeGreaterThan(network.bounds[0]);
    expect(network.varianceFactor).toBeLessThan(network.bounds[1]);
    const truth = new Map(kessaFiles().truth.map((m) => [m.number, m]));
    const peg = network.points.find((p) => p.number === 'T1')!;
    expect(Math.hypot(peg.x - truth.get('T1')!.x, peg.y - truth.get('T1')!.y)).toBeLessThan(3 * peg.ellipse.major);
    const whole = unpackReduction(packReduction({ reduction, traverses }));
    const text = { number: (row: number) => points.number[row], code: (row: number) => points.description[row] };
    const columns = reportPoints(doc, points, whole, text, linework.lines);
    const told = { name: 'Kessa', revision: 9 };
    const report = bookReport(doc, whole, columns, queries, told, 'known');
    const rowsOf = (of: Report, kind: string): string[][] =>
      of.tables.filter((t) => t.kind === kind).flatMap((t) => t.rows.map((r) => r.cells.map((c) => c.text)));
    // Every point that came out is in the long report, with its code, its line and the coordinates of the point table.
    const long = rowsOf(bookReport(doc, whole, columns, queries, told, 'all'), 'points');
    expect(long.length).toBe(reduction!.points.count);
    const at = points.number.indexOf('104');
    expect(long.find((r) => r[0] === '104')!.slice(1, 6)).toEqual(['BF1', 'BF1', ...[points.x[at], points.y[at]].map((v) => formatLength(v, 'm', 3)), points.z[at].toFixed(3)]); // prettier-ignore
    // With readings: every sighting that counts, as it was observed, with the point that it gave.
    const now = new Map(doc.intakes.flatMap((i) => (reads.get(i.id)?.book ? [[i.id, editedRecords(doc, i.id, reads.get(i.id)!.book!.records)] as const] : []))); // prettier-ignore
    const facts = new Map([...now].map(([id, records]) => [id, setupFacts(records.length, (i) => records[i])]));
    const full = bookReport(doc, whole, columns, queries, told, 'readings', { readingsOf: (book, row) => recordsOfSetup(now.get(book)!, row), factsOf: ({ book, row }) => facts.get(book)?.get(row) }); // prettier-ignore
    const sightings = [...now.values()].flat().filter((r) => r.kind === 'sighting' && !r.deleted);
    const read = rowsOf(full, 'readings');
    expect(read.map((r) => r[0])).toEqual(sightings.map((r) => r.number));
    const shot = sightings.find((r) => r.number === '104')!;
    expect(read.find((r) => r[0] === '104')).toEqual(['104', 'shot, face 1', shot.time.slice(11), formatAngle(shot.circle, 'dms', 0), formatAngle(shot.zenith, 'dms', 0), shot.distance.toFixed(3), shot.height.toFixed(3), ...long.find((r) => r[0] === '104')!.slice(1)]); // prettier-ignore
    const ofShots = read.filter((r) => r[9] !== '').length + rowsOf(full, 'points').length;
    expect(ofShots).toBe(long.length);
    // When, with what and in which air, and a bearing that is never negative.
    const [about] = full.tables.filter((t) => t.kind === 'setup').map((t) => t.about.join('; '));
    expect(about).toMatch(
      /orientation \d+°\d\d′\d\d″ .*2026-07-20 07:45; instrument T1; 19 °C, 1004 hPa, 55 % humidity/,
    );
    expect(full.tables.filter((t) => t.kind === 'setup').map((t) => t.about[0]).join()).not.toContain('orientation −'); // prettier-ignore
    expect(report.tables.filter((t) => t.kind === 'setup').map((t) => t.title.split(',')[0])).toEqual(
      ['KB1', 'KB4', 'FS1', 'T1', 'KB5', 'TR1', 'TR2', 'KB6'].map((s) => `Setup at ${s}`),
    );
    expect(rowsOf(report, 'setup').filter((r) => r[0] === 'KB3' && r[1] === 'backsight')).not.toEqual([]);
    // Traverse and levelling close within what the project allows, and are said to.
    const closed = report.tables.filter((t) => t.kind === 'traverses' || t.kind === 'levels');
    expect(closed.flatMap((t) => t.rows.map((r) => [r.cells[0].text, r.marked]))).toEqual([
      ['KB5 – TR1 – TR2 – KB6', false],
      ['KB5 → KB6', false],
    ]);
    // What was changed by hand is said with its record, last of all.
    expect(rowsOf(report, 'edit').length).toBe(editEntries(doc).length);
    expect(report.tables.at(-1)!.kind).toBe('edit');
  });

  it('a pole that was long for one shot is named, mended by the height that the crew used too', () => {
    const two = start.intakes.find((i) => i.fileName === 'kessa-two.book')!;
    const shot = first.reduction!.points.list().find((p) => p.book === two.id && p.number === '405')!;
    const key = `${two.id}:${shot.row}`;
    const tight = apply(start, { op: 'settings.set', settings: { spike: 0.5 } });
    const wrong = apply(tight, { op: 'points.edit', edits: { [key]: { set: { height: 2.8 }, undo: [] } } });
    const spikeOf = (r: ChainResult) =>
      r.queries.find((q) => q.kind === 'target-height' && q.text.startsWith('Shot 405 '));
    const query = spikeOf(runChain(wrong, readOf));
    expect(query?.remedies[0].label).toBe('Target height 1.800 m');
    expect(spikeOf(runChain(apply(wrong, query!.remedies[0].change), readOf))).toBeUndefined();
  });

  it('packs and unpacks without a bit lost', () => {
    const block = packReduction({ reduction: first.reduction });
    const r = unpackReduction(block);
    expect(r.setups).toEqual(first.reduction!.setups);
    expect([...r.row]).toEqual(first.reduction!.points.list().map((p) => p.row));
  });
});
