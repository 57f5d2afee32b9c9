import { describe, expect, it } from 'vitest';
import { readBookText } from '#core/book';
import { runChain } from '#core/chain';
import { failedRead, readPoints, type ReadPoints } from '#core/exchange';
import { applyChange, changeSchema, documentOf, newDocument, partsOf, plainIntake, replaceFile, withEdits, type Change, type ProjectDocument } from '#core/project'; // prettier-ignore
import { goneRecords, matchRecords, rowsBeside } from '#core/sources';
import { STATE } from '#core/stages';

// A later export that lacks records of the earlier one: each is named, and stays where a person says so.

const file = { fileId: 'new', fileName: 'day1-b.csv', sha256: '2'.repeat(64) };
const apply = (doc: ProjectDocument, change: Change): { document: ProjectDocument; inverse: Change } => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied;
};
const table = (rows: string[]): ReadPoints => readPoints(rows.join('\n'), plainIntake('d').layout)!;
const bookOf = (rows: string[]): ReadPoints => {
  const book = readBookText(['book 1', 'unit m', 'angle deg', ...rows, 'end'].join('\n'))!;
  return { ...failedRead(''), failure: undefined, book, rows: rows.length };
};
/** Numbers of the points in use with their places to the millimetre, by number. */
const used = (doc: ProjectDocument, reads: Record<string, ReadPoints>): string[] => {
  const { points } = runChain(doc, (i) => reads[i.sha256]);
  const rows = Array.from(points.x.keys()).filter((r) => points.state[r] === STATE.used);
  return rows.map((r) => `${points.number[r]} ${points.x[r].toFixed(3)} ${points.y[r].toFixed(3)}`).sort();
};

describe('records that a later export has no more', () => {
  it('of a table are named as points, with code and place', () => {
    const before = table(['1,0,0,5', '2,10,0,5', '3,10,10,5']);
    const gone = goneRecords(before, matchRecords(before, table(['3,10,10,5', '1,0,0,5'])));
    expect(gone.map(({ row, number, kind, x, y }) => [row, number, kind, x, y])).toEqual([[2, '2', 'point', 10, 0]]);
  });

  it('of a book are named with what they are and from where; what was deleted in the field is not asked about', () => {
    const before = bookOf(['setup A hi=1.5', 'back B circle=0 zenith=90 dist=50 th=1.5', 'shot 7 circle=10 zenith=90 dist=20 th=1.5 code=KERB', 'deleted shot 8 circle=20 zenith=90 dist=20 th=1.5', 'remark rain']); // prettier-ignore
    const gone = goneRecords(before, matchRecords(before, bookOf(['setup A hi=1.5', 'back B circle=0 zenith=90 dist=50 th=1.5']))); // prettier-ignore
    expect(gone.map(({ number, kind, from, code }) => [number, kind, from, code])).toEqual([['7', 'shot', 'A', 'KERB']]); // prettier-ignore
  });

  it('stay where a person says so, with their edits; the rest of the earlier file is excluded', () => {
    const reads = { a: table(['1,0,0,5', '2,10,0,5', '3,10,10,5', '4,0,10,5']), [file.sha256]: table(['4,0,10,5', '1,0,0,5', '5,5,5,5']) }; // prettier-ignore
    const doc: ProjectDocument = {
      ...newDocument(),
      intakes: [plainIntake('d', { sha256: 'a' })],
      edits: withEdits({}, [['d:2', { x: 11 }], ['d:3', { x: 12 }], ['d:4', { x: 1 }]]), // prettier-ignore
    };
    const found = matchRecords(reads.a, reads[file.sha256]);
    const rows = new Set([2]);
    const { change, kept, lost } = replaceFile(doc, 'd', file, found, { as: 'e', rows, others: rowsBeside(reads.a, rows) }); // prettier-ignore
    expect([kept, lost]).toEqual([2, 1]);
    const { document, inverse } = apply(doc, change);
    // 2 stays as it was edited, 3 is gone with its edit, 4 has its edit in its new row, 5 is new.
    expect(used(document, reads)).toEqual(['1 0.000 0.000', '2 11.000 0.000', '4 1.000 10.000', '5 5.000 5.000']);
    expect(apply(document, inverse).document).toEqual(doc);
    expect(documentOf(partsOf(document)).document).toEqual(document);
  });

  it('remain in the surface that names their file', () => {
    const surface = { ...newDocument().surfaces[0], id: 'pad', rows: [{ id: 'r1', on: true, kind: 'file' as const, intake: 'd' }] }; // prettier-ignore
    const doc: ProjectDocument = { ...newDocument(), intakes: [plainIntake('d', { purpose: 'design' })], surfaces: [...newDocument().surfaces, surface] }; // prettier-ignore
    const { change } = replaceFile(doc, 'd', file, new Map(), { as: 'e', rows: new Set([1]), others: [] });
    expect(changeSchema.safeParse(change).success).toBe(true);
    const { document, inverse } = apply(doc, change);
    const named = document.surfaces.find((s) => s.id === 'pad')!.rows.map((r) => 'intake' in r && r.intake);
    expect(named).toEqual(['e', 'd']);
    expect(apply(document, inverse).document).toEqual(doc);
  });

  it('take rows of surfaces along that name points: moved, deleted, those of a plane', () => {
    const reads = { a: table(['1,0,0,5', '2,10,0,5', '3,10,10,5', '4,0,10,5']), [file.sha256]: table(['9,5,5,5', '4,0,10,5', '2,10,0,5', '1,0,0,5']) }; // prettier-ignore
    const [ground] = newDocument().surfaces;
    const pad = { id: 'p', on: true, kind: 'pad' as const, surface: ground.id, ring: [0, 0, 1, 0, 1, 1], level: 0, levelAt: 'centre' as const, gradient: 0, direction: 0, cutSlope: 2, fillSlope: 2, corners: 'mitred' as const, sagitta: 0.01, batter: 'square' as const }; // prettier-ignore
    const moved = { id: 'm', on: true, kind: 'move' as const, points: ['d:2', 'd:3', 'x:1'], by: { x: 0, y: 0, z: 1 } };
    const omitted = { id: 'o', on: true, kind: 'omit' as const, points: ['d:3'] };
    const doc: ProjectDocument = {
      ...newDocument(),
      intakes: [plainIntake('d', { sha256: 'a' })],
      surfaces: [
        { ...ground, rows: [...ground.rows, moved, omitted] },
        { ...ground, id: 'pads', role: 'design', rows: [{ ...pad, through: ['d:1', 'd:2', 'd:4'] }, { ...pad, id: 'q', through: ['d:1', 'd:2', 'd:3'] }] }, // prettier-ignore
      ],
    };
    const { change, lost } = replaceFile(doc, 'd', file, matchRecords(reads.a, reads[file.sha256]), null);
    const { document, inverse } = apply(doc, change);
    const rows = document.surfaces.flatMap((s) => s.rows);
    expect(rows.find((r) => r.id === 'm')).toMatchObject({ points: ['d:3', 'x:1'] });
    expect(rows.find((r) => r.id === 'o')).toBeUndefined();
    expect(rows.find((r) => r.id === 'p')).toMatchObject({ through: ['d:4', 'd:3', 'd:2'] });
    // A plane that has lost a point of three is not put elsewhere in silence.
    expect(rows.find((r) => r.id === 'q')).toMatchObject({ through: ['d:1', 'd:2', 'd:3'] });
    expect(lost).toBe(3);
    expect(apply(document, inverse).document).toEqual(doc);
  });

  it('of a book are computed from their own setup, beside which nothing else of the earlier book counts', () => {
    const head = ['setup A hi=1.5', 'back B circle=0 zenith=90 dist=50 th=1.5'];
    const second = ['setup B hi=1.5', 'back A circle=0 zenith=90 dist=50 th=1.5', 'shot 9 circle=30 zenith=90 dist=10 th=1.5']; // prettier-ignore
    const shots = ['shot 7 circle=90 zenith=90 dist=20 th=1.5', 'shot 8 circle=180 zenith=90 dist=20 th=1.5'];
    const control = table(['A,100,100,5', 'B,100,150,5']);
    const reads = { c: control, a: bookOf([...head, ...shots, ...second]), [file.sha256]: bookOf([...head, shots[1], ...second]) }; // prettier-ignore
    const doc: ProjectDocument = {
      ...newDocument(),
      intakes: [plainIntake('c', { sha256: 'c', purpose: 'control' }), plainIntake('d', { sha256: 'a', form: 'book' })],
    };
    const found = matchRecords(reads.a, reads[file.sha256]);
    const rows = new Set(goneRecords(reads.a, found).map((r) => r.row));
    expect(rows.size).toBe(1);
    const { change } = replaceFile(doc, 'd', file, found, { as: 'e', rows, others: rowsBeside(reads.a, rows) });
    const { document } = apply(doc, change);
    expect(used(document, reads)).toEqual(used(doc, reads));
    expect(used(document, reads).some((p) => p.startsWith('7 120.000 100.000'))).toBe(true);
    // Nothing is asked that was not asked before.
    const asked = (d: ProjectDocument): string[] => runChain(d, (i) => reads[i.sha256 as keyof typeof reads]).queries.map((q) => q.kind).sort(); // prettier-ignore
    expect(asked(document)).toEqual(asked(doc));
  });
});
