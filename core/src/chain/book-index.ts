import type { BookRecord } from '#core/book';

// Lookups into a book's records, made once for a list of them, however many queries ask.

interface BookIndex {
  at: ReadonlyMap<number, number>;
  targetHeights: readonly number[];
  /** How many sightings carry each. */
  heightCounts: ReadonlyMap<number, number>;
}

const made = new WeakMap<readonly BookRecord[], BookIndex>();

function indexOf(records: readonly BookRecord[]): BookIndex {
  const before = made.get(records);
  if (before) return before;
  const at = new Map<number, number>();
  const heights = new Map<number, number>();
  records.forEach((r, i) => {
    at.set(r.row, i);
    if (r.kind === 'sighting' && !Number.isNaN(r.height)) heights.set(r.height, (heights.get(r.height) ?? 0) + 1);
  });
  const index = { at, targetHeights: [...heights.keys()], heightCounts: heights };
  made.set(records, index);
  return index;
}

/** The record of a row. */
export function recordIn(records: readonly BookRecord[], row: number): BookRecord | undefined {
  const at = indexOf(records).at.get(row);
  return at === undefined ? undefined : records[at];
}

/** Every target height of a book, in the order of their first use, m. */
export const targetHeightsOf = (records: readonly BookRecord[]): readonly number[] => indexOf(records).targetHeights;

/** How many sightings of a book carry a target height. */
export const sightingsOfHeight = (records: readonly BookRecord[], height: number): number =>
  indexOf(records).heightCounts.get(height) ?? 0;

/** What stands between the setup in a row and the next one, of one kind, deleted records apart. */
export function recordsOfSetup(
  records: readonly BookRecord[],
  row: number,
  kind: BookRecord['kind'] = 'sighting',
): BookRecord[] {
  const from = indexOf(records).at.get(row);
  const out: BookRecord[] = [];
  if (from === undefined || records[from].kind !== 'setup') return out;
  for (let i = from + 1; i < records.length && records[i].kind !== 'setup'; i++)
    if (records[i].kind === kind && !records[i].deleted) out.push(records[i]);
  return out;
}

/** The sightings before and behind a record, as far as they carry its height without a break; at most so many. */
export function runOfHeight(records: readonly BookRecord[], record: BookRecord, most: number): BookRecord[] {
  const at = indexOf(records).at.get(record.row)!;
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
