import { describe, expect, it } from 'vitest';
import { readBookText } from '#core/book';
import { receivedValues, failedRead } from '#core/exchange';
import {
  applyChange,
  asksReceived,
  changeDetails,
  detailText,
  newDocument,
  withReceived,
  type Change,
  type ProjectDocument,
} from '#core/project';
import { bookReport, handEdits, type ToldChange } from '#core/report';

// What a checker reads: which value stood there, which stands there now, who set it and why; in the project's unit.

const FOOT = 1200 / 3937;
const BOOK = `book 1
unit usft
angle dms
order NE
setup A hi=5
back B circle=0-00-00 zenith=90-00-00 dist=100 th=5
shot 1 circle=14-02-10 zenith=89-00-00 dist=135.2758 th=5 code="KB"
end
`;
const read = { ...failedRead(''), book: readBookText(BOOK)! };
const shotRow = read.book.records.find((r) => r.number === '1')!.row;
const key = `i1:${shotRow}`;

const doc: ProjectDocument = {
  ...newDocument(),
  settings: { ...newDocument().settings, unit: 'usft', order: 'NE', angle: 'dms' },
  intakes: [{ id: 'i1', fileName: 'monday.txt', form: 'book' } as ProjectDocument['intakes'][number]],
};
const units = doc.settings;

/** Changes made one after the other, as the history tells them: newest first, received values beside. */
function history(changes: (Change & { why?: string })[]): { doc: ProjectDocument; told: ToldChange[] } {
  let now = doc;
  const told: ToldChange[] = [];
  for (const [i, change] of changes.entries()) {
    const applied = applyChange(now, change);
    if (!applied.ok) throw new Error(applied.reason);
    const details = changeDetails(change, applied.inverse, units).map((d) => {
      if (!asksReceived(d)) return d;
      const [value] = receivedValues(read, [{ row: Number(d.key!.slice(3)), field: d.name }]);
      return withReceived(d, value, units);
    });
    told.unshift({
      by: 'Ina Quillow',
      at: `2026-11-0${i + 1}T08:00:00Z`,
      details,
      ...(change.why ? { why: change.why } : {}),
    });
    now = applied.document;
  }
  return { doc: now, told };
}
const height = (feet: number, why?: string): Change => ({ op: 'points.edit', edits: { [key]: { set: { height: feet * FOOT }, undo: [] } }, ...(why ? { why } : {}) }); // prettier-ignore

describe('what a change set', () => {
  it('is told from the value as received to the new one, in the project’s unit', () => {
    const { told } = history([height(5.25)]);
    expect(told[0].details!.map(detailText)).toEqual(['5.000 US ft (as received) → 5.250 US ft']);
  });

  it('is told from the last value where one was set before, and back to what was received', () => {
    const back: Change = { op: 'points.edit', edits: { [key]: { set: {}, undo: ['height'] } } };
    const { told } = history([height(5.25), height(5.5), back]);
    expect(told.map((t) => t.details!.map(detailText)[0])).toEqual([
      '5.500 US ft → 5.000 US ft (as received)',
      '5.250 US ft → 5.500 US ft',
      '5.000 US ft (as received) → 5.250 US ft',
    ]);
  });

  it('says codes, circles and decisions as people read them', () => {
    const { told } = history([
      { op: 'points.edit', edits: { [key]: { set: { description: 'KT', circle: 0.25 }, undo: [] } } },
      { op: 'record.decide', key, decision: 'aside' },
    ]);
    expect(told.flatMap((t) => t.details!.map((d) => `${d.field}: ${detailText(d)}`))).toEqual([
      'decision: by the rules → set it aside',
      'code: KB (as received) → KT',
      'circle: 14°02′10″ (as received) → 14°19′26″',
    ]);
  });

  it('says settings in words, lengths in the project’s unit', () => {
    const { told } = history([{ op: 'settings.set', settings: { order: 'EN', unit: 'm', coincidence: FOOT / 10, network: true } }]); // prettier-ignore
    expect(told[0].details!.map((d) => `${d.field}: ${detailText(d)}`)).toEqual([
      'the coordinate order: north before east → east before north',
      'the unit: US survey feet → metres',
      'the coincidence distance: 0.033 US ft → 0.100 US ft',
      'whether stations are adjusted together: no → yes',
    ]);
  });

  it('invents no value where the file has none, or is gone', () => {
    expect(receivedValues(read, [{ row: 99, field: 'height' }, { row: shotRow, field: 'no such' }])).toEqual([undefined, undefined]); // prettier-ignore
    // A shot has no coordinates of its own as received.
    expect(receivedValues(read, [{ row: shotRow, field: 'z' }])).toEqual([null]);
    const detail = changeDetails(height(5.25), height(5.25), units)[0];
    expect(detailText({ ...detail, before: null })).toBe('as received → 5.250 US ft');
  });
});

describe('what stands changed by hand', () => {
  it('is listed with the value as received, who and why, however often it was changed', () => {
    const { doc: now, told } = history([height(5.25, 'typed wrong'), height(5.5, 'the pole was drawn out'), { op: 'record.decide', key, decision: 'aside' }]); // prettier-ignore
    expect(handEdits(now, told, units)).toEqual([
      { key, where: `row ${shotRow} of monday.txt`, field: 'height', received: '5.000 US ft', now: '5.500 US ft', by: 'Ina Quillow', at: '2026-11-02T08:00:00Z', why: 'the pole was drawn out' }, // prettier-ignore
      { key, where: `row ${shotRow} of monday.txt`, field: 'decision', received: 'by the rules', now: 'set it aside', by: 'Ina Quillow', at: '2026-11-03T08:00:00Z', why: '' }, // prettier-ignore
    ]);
  });

  it('is listed without who where the history does not reach back, and not at all where its file is gone', () => {
    const { doc: now } = history([height(5.25)]);
    expect(handEdits(now, [], units)).toMatchObject([{ received: 'as received', now: '5.250 US ft', by: '', why: '' }]);
    expect(handEdits({ ...now, intakes: [] }, [], units)).toEqual([]);
  });

  it('stands in the report with its why, a traverse distributed on purpose too', () => {
    const { doc: now, told } = history([height(5.25, 'typed wrong'), { op: 'record.decide', key: 'traverse:A-T1-B', decision: 'used', why: 'measured again on Monday' }]); // prettier-ignore
    const columns = { setups: [], traverses: [], levelling: null, gnss: [], known: [], network: null };
    const points = { count: 0, setup: [], row: [], number: () => '', code: () => '', line: () => '', x: [], y: [], z: [], sdPlan: [], sdHeight: [] }; // prettier-ignore
    const { tables } = bookReport(now, columns as never, points, [], { name: 'Mole', revision: 3 }, 'setups', { changes: told }); // prettier-ignore
    const rows = tables.find((t) => t.kind === 'edit')!.rows.map((r) => r.cells.map((c) => c.text));
    expect(rows).toEqual([
      [`row ${shotRow} of monday.txt`, 'height', '5.000 US ft', '5.250 US ft', 'typed wrong (Ina Quillow, 2026-11-01)'], // prettier-ignore
      ['traverse A-T1-B', 'decision', 'by the rules', 'use it', 'measured again on Monday (Ina Quillow, 2026-11-02)'], // prettier-ignore
    ]);
  });
});
