import { RECORD_KINDS, ROLES, type Book, type BookRecord } from '#core/book';
import { stringsOf, unpackColumns, type StringColumn } from '#core/kernel';
import type { PointEdit } from '#core/project';
import { LazyText } from './columns.ts';

/** The records of a field book as the page holds them: columns, texts decoded when somebody looks. */
export interface BookColumns {
  head: Omit<Book, 'records'>;
  count: number;
  row: Float64Array;
  kind: (i: number) => BookRecord['kind'];
  role: (i: number) => BookRecord['role'];
  face: Uint8Array;
  round: Uint32Array;
  deleted: Uint8Array;
  height: Float64Array;
  circle: Float64Array;
  zenith: Float64Array;
  distance: Float64Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  temperature: Float64Array;
  pressure: Float64Array;
  humidity: Float64Array;
  number: LazyText;
  code: LazyText;
  time: LazyText;
  text: LazyText;
  target: LazyText;
  instrument: LazyText;
  gnss: LazyText;
  /** Index of the setup that each record belongs to; −1 before the first. */
  setup: Int32Array;
}

export function bookColumnsOf(block: Uint8Array): BookColumns | null {
  const c = unpackColumns(block);
  if (!c['book.head']) return null;
  const text = (field: string): LazyText => new LazyText(c[`book.${field}`] as StringColumn);
  const f64 = (field: string): Float64Array => c[`book.${field}`] as Float64Array;
  const kinds = c['book.kind'] as Uint8Array;
  const roles = c['book.role'] as Uint8Array;
  const row = c['book.row'] as Float64Array;
  const setup = new Int32Array(row.length);
  const isSetup = RECORD_KINDS.indexOf('setup');
  let current = -1;
  for (let i = 0; i < row.length; i++) {
    if (kinds[i] === isSetup) current = i;
    setup[i] = current;
  }
  return {
    head: JSON.parse(stringsOf(c['book.head'] as StringColumn)[0]) as BookColumns['head'],
    count: row.length,
    row,
    kind: (i) => RECORD_KINDS[kinds[i]],
    role: (i) => ROLES[roles[i]],
    face: c['book.face'] as Uint8Array,
    round: c['book.round'] as Uint32Array,
    deleted: c['book.deleted'] as Uint8Array,
    height: f64('height'),
    circle: f64('circle'),
    zenith: f64('zenith'),
    distance: f64('distance'),
    x: f64('x'),
    y: f64('y'),
    z: f64('z'),
    temperature: f64('temperature'),
    pressure: f64('pressure'),
    humidity: f64('humidity'),
    number: text('number'),
    code: text('code'),
    time: text('time'),
    text: text('text'),
    target: text('target'),
    instrument: text('instrument'),
    gnss: text('gnss'),
    setup,
  };
}

export type ReadingField = 'height' | 'circle' | 'zenith' | 'distance';

/** A record's values with a person's edit laid over; `edited` names what differs from what was received. */
export function recordValues(book: BookColumns, i: number, edit: PointEdit | undefined) {
  return {
    kind: book.kind(i),
    role: edit?.role ?? book.role(i),
    number: edit?.number ?? book.number.get(i),
    code: edit?.description ?? book.code.get(i),
    height: edit?.height ?? book.height[i],
    circle: edit?.circle ?? book.circle[i],
    zenith: edit?.zenith ?? book.zenith[i],
    distance: edit?.distance ?? book.distance[i],
    face: edit?.face ?? book.face[i],
    off: edit?.off ?? book.deleted[i] === 1,
    edited: edit ? Object.keys(edit) : [],
  };
}

/** What each record says of when, with what and in which air. */
export const recordFacts = (c: BookColumns) => (i: number) => ({
  kind: c.kind(i),
  row: c.row[i],
  time: c.time.get(i),
  instrument: c.instrument.get(i),
  temperature: c.temperature[i],
  pressure: c.pressure[i],
  humidity: c.humidity[i],
});

/** Values of the sightings of the setup in a row, those that are left out apart, in the order observed. */
export function sightingsOfSetup(
  book: BookColumns | undefined,
  setupRow: number,
  editOf: (row: number) => PointEdit | undefined,
) {
  const out: (ReturnType<typeof recordValues> & { row: number; time: string })[] = [];
  const from = book ? book.row.indexOf(setupRow) : -1;
  if (!book || from < 0) return out;
  for (let i = from + 1; i < book.count && book.setup[i] === from; i++) {
    const row = book.row[i];
    if (book.kind(i) !== 'sighting') continue;
    const values = recordValues(book, i, editOf(row));
    if (!values.off) out.push({ ...values, row, time: book.time.get(i) });
  }
  return out;
}
