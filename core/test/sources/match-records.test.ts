import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText } from '#core/book';
import { Previewer } from '#core/chain';
import { failedRead, readPoints, type ReadPoints } from '#core/exchange';
import { applyChange, changeSchema, documentOf, editEntries, newDocument, partsOf, plainIntake, replaceFile, withEdits, type Change, type ProjectDocument } from '#core/project'; // prettier-ignore
import { matchRecords } from '#core/sources';

// A job exported twice: between the two, the crew went on measuring, deleted what was wrong, and the device wrote its rows
// in another place. Each invented record knows which it is; what is matched is counted against that.

const plain = { ...failedRead(''), failure: undefined };

interface Shot {
  is: number;
  setup: string;
  number: string;
  time: string | null;
  circle: number;
}
const shot = fc.record({
  setup: fc.constantFrom('A', 'B', 'C'),
  // Numbers come again now and then.
  number: fc.oneof({ weight: 9, arbitrary: fc.nat(4000) }, { weight: 1, arbitrary: fc.nat(3) }).map(String),
  circle: fc.integer({ min: 0, max: 359_999 }).map((v) => v / 1000),
});
const job = fc.record({ shots: fc.array(shot, { minLength: 5, maxLength: 40 }), timed: fc.boolean() });

/** The book that a device writes: setups in order, a shot a row; `head` pushes every row down. */
function bookOf(shots: readonly Shot[], head: number): { read: ReadPoints; isAt: Map<number, number> } {
  const rows = ['book 1', 'unit m', 'angle deg', ...Array.from({ length: head }, (_, i) => `remark line ${i}`)];
  const isAt = new Map<number, number>();
  for (const setup of ['A', 'B', 'C']) {
    rows.push(`setup ${setup} hi=1.5`, `back ${setup}0 circle=0 zenith=90 dist=50 th=1.5`);
    for (const s of shots.filter((one) => one.setup === setup)) {
      rows.push(`shot ${s.number} circle=${s.circle} zenith=89 dist=20 th=1.5${s.time ? ` time=${s.time}` : ''}`);
      isAt.set(rows.length, s.is);
    }
  }
  const book = readBookText([...rows, 'end'].join('\n'))!;
  return { read: { ...plain, book, rows: rows.length }, isAt };
}

const timeOf = (i: number): string => `2026-07-20T${String(8 + Math.floor(i / 60)).padStart(2, '0')}:${String(i % 60).padStart(2, '0')}:00Z`; // prettier-ignore

describe('records of a later export', () => {
  it('find those of the earlier one: hundreds of jobs, counted right, wrong and missed', () => {
    const counted = { right: 0, wrong: 0, missed: 0 };
    fc.assert(
      fc.property(job, fc.array(shot, { maxLength: 6 }), fc.array(fc.nat(39), { maxLength: 4 }), fc.nat(5), ({ shots, timed }, added, deleted, head) => {
        const all: Shot[] = [...shots, ...added].map((s, is) => ({ ...s, is, time: timed ? timeOf(is) : null }));
        const gone = new Set(deleted.map((i) => i % shots.length));
        const before = bookOf(all.slice(0, shots.length), 0);
        const after = bookOf(all.filter((s) => !gone.has(s.is)), head);
        const rows = matchRecords(before.read, after.read);
        expect(new Set(rows.values()).size).toBe(rows.size);
        for (const [row, is] of before.isAt) {
          const to = rows.get(row);
          if (gone.has(is)) counted[to === undefined ? 'right' : 'wrong']++;
          else if (to === undefined) counted.missed++;
          else counted[after.isAt.get(to) === is ? 'right' : 'wrong']++;
        }
        // Setups and backsights are found whatever happened to the shots.
        const heads = before.read.book!.records.filter((r) => r.kind === 'setup' || r.role === 'back');
        for (const r of heads) expect(after.read.book!.records.find((o) => o.row === rows.get(r.row))?.number).toBe(r.number);
      }), // prettier-ignore
      { numRuns: 400, seed: 7 },
    );
    const sum = counted.right + counted.wrong + counted.missed;
    expect(counted.wrong / sum).toBeLessThan(0.003);
    expect(counted.missed / sum).toBeLessThan(0.01);
  });

  it('by satellite and of levels find theirs as sightings do, though staffs stand on one point again and again', () => {
    const place = fc.integer({ min: 0, max: 99_999 }).map((v) => v / 1000);
    const record = fc.oneof(
      fc.record({ kind: fc.constant('gnss'), number: fc.nat(300), x: place, y: place }),
      fc.record({ kind: fc.constantFrom('level back', 'level inter', 'level fore'), number: fc.nat(12), x: place, y: fc.constant(0) }), // prettier-ignore
    );
    const write = (list: { is: number; row: string }[], head: number): ReturnType<typeof bookOf> => {
      const rows = ['book 1', 'unit m', 'angle deg', ...Array.from({ length: head }, () => 'remark late')];
      const isAt = new Map(list.map(({ is, row }) => [rows.push(row), is]));
      const book = readBookText([...rows, 'end'].join('\n'))!;
      expect(book.records.filter((r) => r.kind === 'gnss' || r.kind === 'level')).toHaveLength(list.length);
      return { read: { ...plain, book, rows: rows.length }, isAt };
    };
    const counted = { right: 0, wrong: 0, missed: 0 };
    fc.assert(
      fc.property(fc.array(record, { minLength: 4, maxLength: 40 }), fc.boolean(), fc.array(fc.nat(39), { maxLength: 4 }), fc.nat(5), (list, timed, deleted, head) => {
        const all = list.map((r, is) => {
          const time = timed ? ` time=${timeOf(is)}` : '';
          return { is, row: r.kind === 'gnss' ? `gnss G${r.number} ${r.x} ${r.y} 10 sp=0.01 sh=0.02${time}` : `${r.kind} B${r.number} reading=${(r.x / 40).toFixed(4)} dist=20${time}` }; // prettier-ignore
        });
        const gone = new Set(deleted.map((i) => i % all.length));
        const [before, after] = [write(all, 0), write(all.filter((r) => !gone.has(r.is)), head)]; // prettier-ignore
        const rows = matchRecords(before.read, after.read);
        for (const [row, is] of before.isAt) {
          const to = rows.get(row);
          if (gone.has(is)) counted[to === undefined ? 'right' : 'wrong']++;
          else if (to === undefined) counted.missed++;
          else counted[after.isAt.get(to) === is ? 'right' : 'wrong']++;
        }
      }), // prettier-ignore
      { numRuns: 400, seed: 11 },
    );
    const sum = counted.right + counted.wrong + counted.missed;
    expect(counted.wrong / sum).toBeLessThan(0.003);
    expect(counted.missed / sum).toBeLessThan(0.01);
  });

  it('whose readings were mended in the field are the same by when and of what', () => {
    const one = bookOf([{ is: 0, setup: 'A', number: '7', time: timeOf(0), circle: 10 }], 0);
    const two = bookOf([{ is: 0, setup: 'A', number: '7', time: timeOf(0), circle: 12 }], 3);
    const [[from]] = [...one.isAt];
    const [[to]] = [...two.isAt];
    expect(matchRecords(one.read, two.read).get(from)).toBe(to);
  });

  it('of a table are known by number and place, and by number alone where that is one', () => {
    const table = (list: [number: string, x: number, y: number][]): ReadPoints => ({
      ...plain,
      number: list.map(([n]) => n),
      x: Float64Array.from(list, ([, x]) => x),
      y: Float64Array.from(list, ([, , y]) => y),
      z: new Float64Array(list.length),
      description: list.map(() => ''),
      row: Uint32Array.from(list, (_, i) => i + 1),
    });
    const rows = matchRecords(table([['1', 0, 0], ['2', 5, 5], ['3', 9, 9], ['3', 1, 1], ['', 2, 2]]), table([['9', 7, 7], ['', 2, 2], ['3', 1, 1], ['2', 5.2, 5], ['1', 0, 0]])); // prettier-ignore
    expect([...rows].sort()).toEqual([[1, 5], [2, 4], [4, 3], [5, 2]]); // prettier-ignore
  });
});

describe('a file replaced by a later export', () => {
  const file = { fileId: 'new', fileName: 'day1-b.csv', sha256: '2'.repeat(64) };
  const start: ProjectDocument = {
    ...newDocument(),
    intakes: [plainIntake('d'), plainIntake('other')],
    edits: withEdits({}, [['d:2', { z: 1 }], ['d:3', { number: 'x', z: 2 }], ['d:4', { off: true }], ['other:2', { z: 9 }]]), // prettier-ignore
    decisions: { 'd:2': 'used', 'd:9': 'aside', 'other:1': 'used', 'traverse:A B': 'used' },
    accepted: Object.fromEntries(['spike:d:2', 'spike:d:3', 'far-outlier:d:8', 'target-height-run:d:2:3', 'number-twice:7', 'spike:other:2'].map((key) => [key, { evidence: key, reason: 'seen', by: 'Ida', at: '2026-07-21T08:00:00Z' }])), // prettier-ignore
    drawing: { ...newDocument().drawing, moved: { 'd:2/code': [1, 1], 'other:3/code': [2, 2] } },
    handLines: { K1: { code: 'K', lineNumber: '1', closed: false, replaces: null, vertices: [{ point: 'd:3', x: 0, y: 0, z: 1, bulge: 0, side: 0 }, { point: 'd:8', x: 1, y: 1, z: 1, bulge: 0, side: 0 }] } }, // prettier-ignore
  };
  // Rows shifted by one; 4 and 8 and 9 are gone. 3 comes where 4 was.
  const rows = new Map([[2, 3], [3, 4], [5, 6]]); // prettier-ignore
  const apply = (doc: ProjectDocument, change: Change): { document: ProjectDocument; inverse: Change } => {
    const applied = applyChange(doc, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied;
  };

  it('takes along what a person did, names what has no record, and comes back to the letter', () => {
    const { change, kept, lost } = replaceFile(start, 'd', file, rows);
    expect(changeSchema.safeParse(change).success).toBe(true);
    const { document, inverse } = apply(start, change);
    expect(document.intakes[0]).toMatchObject({ id: 'd', ...file });
    expect(editEntries(document)).toEqual([['d:3', { z: 1 }], ['d:4', { number: 'x', z: 2 }], ['other:2', { z: 9 }]]); // prettier-ignore
    expect(document.decisions).toEqual({ 'd:3': 'used', 'other:1': 'used', 'traverse:A B': 'used' });
    expect(document.drawing.moved).toEqual({ 'd:3/code': [1, 1], 'other:3/code': [2, 2] });
    expect(document.handLines.K1.vertices.map((v) => v.point)).toEqual(['d:4', null]);
    // As they were accepted, by whom and for what: one goes where another was.
    const by = Object.fromEntries(Object.entries(document.accepted).map(([key, a]) => [key, `${a.evidence} ${a.by}`]));
    expect(by).toEqual({ 'spike:d:3': 'spike:d:2 Ida', 'spike:d:4': 'spike:d:3 Ida', 'target-height-run:d:3:4': 'target-height-run:d:2:3 Ida', 'number-twice:7': 'number-twice:7 Ida', 'spike:other:2': 'spike:other:2 Ida' }); // prettier-ignore
    // Kept: two edits, a decision, a label, a vertex, three queries; lost: an edit, a decision, a vertex, a query.
    expect([kept, lost]).toEqual([8, 4]);
    expect(apply(document, inverse).document).toEqual(start);
    expect(documentOf(partsOf(document)).document).toEqual(document);
  });

  it('is previewed record by record: only what is new, gone or different counts as changed', async () => {
    const table = (rowsOf: string[]): ReadPoints => readPoints(rowsOf.join('\n'), plainIntake('d').layout)!;
    const reads: Record<string, ReadPoints> = { old: table(['1,0,0,5', '2,10,0,5', '3,10,10,5', '4,0,10,5']), new: table(['9,5,5,6', '1,0,0,5', '3,10,10,5.5', '4,0,10,5']) }; // prettier-ignore
    const doc = { ...newDocument(), intakes: [plainIntake('d', { sha256: 'a'.repeat(64) })] };
    const found = matchRecords(reads.old, reads.new);
    const { change } = replaceFile(doc, 'd', file, found);
    const moved = { intake: 'd', before: new Map([...found].map(([was, is]) => [is, was])) };
    const { preview } = await new Previewer().preview(doc, change, () => reads.old, async () => Promise.resolve(() => reads.new), moved); // prettier-ignore
    // 9 is new, 2 is gone, 3 is half a metre higher.
    expect([preview.pointsChanged, preview.pointsMoved, preview.largestMove]).toEqual([3, 1, 0.5]);
    expect([preview.queriesGone, preview.queriesNew]).toEqual([[], []]);
  });

  it('of which nothing was edited is one plain change', () => {
    expect(replaceFile({ ...newDocument(), intakes: [plainIntake('d')] }, 'd', file, rows).change).toEqual({ op: 'intake.file', id: 'd', ...file }); // prettier-ignore
  });
});
