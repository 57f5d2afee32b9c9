import type { BookRecord } from './records.ts';

// Lookups into a book's records, made once for a list of them, however many queries ask.

/** The place of each row’s record. */
const places = new WeakMap<readonly BookRecord[], ReadonlyMap<number, number>>();

function placesIn(records: readonly BookRecord[]): ReadonlyMap<number, number> {
  let at = places.get(records);
  if (!at) places.set(records, (at = new Map(records.map((r, i) => [r.row, i]))));
  return at;
}

/** Records with some of them replaced, by their rows, in the same order. */
export function replaceRecords(
  records: readonly BookRecord[],
  rows: Iterable<number>,
  replaced: (r: BookRecord) => BookRecord,
): BookRecord[] {
  const at = placesIn(records);
  const out = records.slice();
  const changed: number[] = [];
  for (const row of rows) {
    const i = at.get(row);
    if (i === undefined) continue;
    out[i] = replaced(records[i]);
    changed.push(i);
  }
  places.set(out, at);
  replacedIn.set(out, { before: records, places: changed });
  return out;
}

/** Records as columns, for whoever asks the same of all of them. NaN of what a record does not have. */
export interface RecordColumns {
  row: Float64Array;
  circle: Float64Array;
  /** Of sightings. */
  zenith: Float64Array;
  height: Float64Array;
  /** What a record is, as bits of RECORD. */
  is: Uint8Array;
}
export const RECORD = { setup: 1, sighting: 2, deleted: 4, shot: 8 } as const;
const columns = new WeakMap<readonly BookRecord[], RecordColumns>();

/** Columns of a list; of one whose records were replaced, those of the list before with the replaced ones written anew. */
export function columnsOf(records: readonly BookRecord[]): RecordColumns {
  const known = columns.get(records);
  if (known) return known;
  const from = replacedIn.get(records);
  const before = from && columnsOf(from.before);
  const n = records.length;
  const made: RecordColumns = {
    row: before?.row ?? Float64Array.from(records, (r) => r.row),
    circle: before?.circle.slice() ?? new Float64Array(n),
    zenith: before?.zenith.slice() ?? new Float64Array(n),
    height: before?.height.slice() ?? new Float64Array(n),
    is: before?.is.slice() ?? new Uint8Array(n),
  };
  const write = (i: number): void => {
    const r = records[i];
    made.circle[i] = r.circle;
    made.zenith[i] = r.kind === 'sighting' ? r.zenith : NaN;
    made.height[i] = r.height;
    made.is[i] =
      (r.kind === 'setup' ? RECORD.setup : 0) |
      (r.kind === 'sighting' ? RECORD.sighting : 0) |
      (r.deleted ? RECORD.deleted : 0) |
      (r.role === 'shot' ? RECORD.shot : 0);
  };
  if (from) from.places.forEach(write);
  else for (let i = 0; i < n; i++) write(i);
  columns.set(records, made);
  return made;
}

/** Of which list another is a copy, and at which places its records are others. */
const replacedIn = new WeakMap<readonly BookRecord[], { before: readonly BookRecord[]; places: number[] }>();

/** How many sightings carry each target height, from the lowest up. */
const heights = new WeakMap<readonly BookRecord[], ReadonlyMap<number, number>>();

function heightsIn(records: readonly BookRecord[]): ReadonlyMap<number, number> {
  const known = heights.get(records);
  if (known) return known;
  const from = replacedIn.get(records);
  const counts = new Map(from ? heightsIn(from.before) : []);
  const count = (list: readonly BookRecord[], i: number, by: number): void => {
    const { kind, height } = list[i];
    if (kind === 'sighting' && !Number.isNaN(height)) counts.set(height, (counts.get(height) ?? 0) + by);
  };
  for (const i of from ? from.places : records.keys()) {
    if (from) count(from.before, i, -1);
    count(records, i, 1);
  }
  const sorted = new Map([...counts].filter(([, n]) => n > 0).sort(([a], [b]) => a - b));
  heights.set(records, sorted);
  return sorted;
}

/** The record of a row. */
export function recordIn(records: readonly BookRecord[], row: number): BookRecord | undefined {
  const at = placesIn(records).get(row);
  return at === undefined ? undefined : records[at];
}

/** Every target height of a book, from the lowest up, m. */
export const targetHeightsOf = (records: readonly BookRecord[]): readonly number[] => [...heightsIn(records).keys()];

/** How many sightings of a book carry a target height. */
export const sightingsOfHeight = (records: readonly BookRecord[], height: number): number =>
  heightsIn(records).get(height) ?? 0;

/** What stands between the setup in a row and the next one, of one kind, deleted records apart. */
export function recordsOfSetup(
  records: readonly BookRecord[],
  row: number,
  kind: BookRecord['kind'] = 'sighting',
): BookRecord[] {
  const from = placesIn(records).get(row);
  const out: BookRecord[] = [];
  if (from === undefined || records[from].kind !== 'setup') return out;
  for (let i = from + 1; i < records.length && records[i].kind !== 'setup'; i++)
    if (records[i].kind === kind && !records[i].deleted) out.push(records[i]);
  return out;
}

/** The sightings before and behind a record, as far as they carry its height without a break; at most so many. */
export function runOfHeight(records: readonly BookRecord[], record: BookRecord, most: number): BookRecord[] {
  const at = placesIn(records).get(record.row)!;
  const run = [record];
  for (const step of [-1, 1]) {
    for (let i = at + step; i >= 0 && i < records.length && run.length < most; i += step) {
      const r = records[i];
      if (r.kind !== 'sighting' || r.deleted) continue;
      if (r.height !== record.height) break;
      if (step < 0) run.unshift(r);
      else run.push(r);
    }
  }
  return run;
}
