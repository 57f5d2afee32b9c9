import type { BookRecord } from '#core/book';
import type { ReadPoints } from '#core/exchange';

/** A record that a later export has no more: enough of it for a person to know it again. Metres; NaN and '' where unsaid. */
export interface GoneRecord {
  row: number;
  number: string;
  /** What it is: point, setup, backsight, shot, GNSS shot … */
  kind: string;
  /** The station it was observed from; '' of what needs none. */
  from: string;
  code: string;
  time: string;
  x: number;
  y: number;
}

/** What only says how others were observed is not asked about. */
const ASKED = new Set<BookRecord['kind']>(['setup', 'sighting', 'gnss', 'level', 'point']);

/** Records of an earlier export that are not among those found in the later one, in the order in which they stand. */
export function goneRecords(before: ReadPoints, found: ReadonlyMap<number, number>): GoneRecord[] {
  if (!before.book) return placesOf(before).filter((r) => !found.has(r.row));
  let station = '';
  return before.book.records.flatMap((r): GoneRecord[] => {
    if (r.kind === 'setup') station = r.number;
    if (found.has(r.row) || !ASKED.has(r.kind) || r.deleted) return [];
    return [{ row: r.row, number: r.number, kind: kindOf(r), from: r.kind === 'sighting' ? station : '', code: r.code, time: r.time, x: r.x, y: r.y }]; // prettier-ignore
  });
}

const placesOf = ({ row, number, description, x, y }: ReadPoints): GoneRecord[] =>
  Array.from(row, (at, i) => ({ row: at, number: number[i], kind: 'point', from: '', code: description[i], time: '', x: x[i], y: y[i] })); // prettier-ignore

function kindOf({ kind, role }: BookRecord): string {
  if (kind === 'gnss') return 'GNSS shot';
  if (kind === 'level') return 'level reading';
  if (kind !== 'sighting') return kind;
  return role === 'back' ? 'backsight' : role === 'check' ? 'check' : 'shot';
}

/**
 * Rows of an earlier export that are to be excluded where only `kept` of it remain in use: everything else that was
 * observed. A setup from which something remains keeps its backsights, without which nothing of it can be computed.
 */
export function rowsBeside(before: ReadPoints, kept: ReadonlySet<number>): number[] {
  if (!before.book) return Array.from(before.row).filter((row) => !kept.has(row));
  const { records } = before.book;
  const needed = setupsOf(records, (r) => kept.has(r.row));
  let setup = -1;
  return records.flatMap((r, i): number[] => {
    if (r.kind === 'setup') setup = i;
    const orients = needed.has(setup) && (r.kind === 'setup' || (r.kind === 'sighting' && r.role === 'back'));
    return kept.has(r.row) || orients || !ASKED.has(r.kind) ? [] : [r.row];
  });
}

/** Places of the setups that some record belongs to. */
function setupsOf(records: readonly BookRecord[], wanted: (record: BookRecord) => boolean): Set<number> {
  const out = new Set<number>();
  let setup = -1;
  records.forEach((r, i) => {
    if (r.kind === 'setup') setup = i;
    if (wanted(r)) out.add(setup);
  });
  return out;
}
