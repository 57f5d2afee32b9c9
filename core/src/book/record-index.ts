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
  for (const row of rows) {
    const i = at.get(row);
    if (i !== undefined) out[i] = replaced(records[i]);
  }
  places.set(out, at);
  return out;
}

/** How many sightings carry each target height, in the order of their first use. */
const heights = new WeakMap<readonly BookRecord[], ReadonlyMap<number, number>>();

function heightsIn(records: readonly BookRecord[]): ReadonlyMap<number, number> {
  const before = heights.get(records);
  if (before) return before;
  const counts = new Map<number, number>();
  for (const r of records)
    if (r.kind === 'sighting' && !Number.isNaN(r.height)) counts.set(r.height, (counts.get(r.height) ?? 0) + 1);
  heights.set(records, counts);
  return counts;
}

/** The record of a row. */
export function recordIn(records: readonly BookRecord[], row: number): BookRecord | undefined {
  const at = placesIn(records).get(row);
  return at === undefined ? undefined : records[at];
}

/** Every target height of a book, in the order of their first use, m. */
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
