import { fileRowOf } from '#core/book';
import { keepAlike } from './alike.ts';
import type { ProjectDocument } from './document.ts';
import type { PointTable } from './points.ts';

/** What a key `intake:row` speaks of; null of a key of another kind, as a traverse’s is. */
export function recordOfKey(key: string): { intake: string; row: number } | null {
  const at = key.lastIndexOf(':');
  const row = Number(key.slice(at + 1));
  return at > 0 && Number.isFinite(row) && at + 1 < key.length ? { intake: key.slice(0, at), row } : null;
}

/** A key in words: `row 12 of kerb.csv`, the traverse by its stations; null where its file is gone. */
export function whereOfKey(key: string, files: ReadonlyMap<string, string>): string | null {
  if (key.startsWith('traverse:')) return key.replace(':', ' ');
  const record = recordOfKey(key);
  const file = record && files.get(record.intake);
  return record && file !== null && file !== undefined ? `row ${fileRowOf(record.row)} of ${file}` : null;
}

/** Places in a table by the file and the row of the record that each came from. */
export class RecordRows {
  private readonly files = new Map<string, Map<number, number>>();

  /** @param file name of the file at each index, or null to pass the index over; later ones stand for earlier ones */
  constructor(row: ArrayLike<number>, file: (index: number) => string | null) {
    let last: string | null = null;
    let rows = new Map<number, number>();
    for (let i = 0; i < row.length; i++) {
      const name = file(i);
      if (name === null) continue;
      if (name !== last) {
        rows = this.files.get(name) ?? new Map<number, number>();
        this.files.set(name, rows);
        last = name;
      }
      rows.set(row[i], i);
    }
  }

  get(file: string, row: number): number | undefined {
    return this.files.get(file)?.get(row);
  }
}

type Rows = Pick<PointTable, 'intake' | 'fileRow'>;

/** A table of other heights has its points in the same rows. */
const keep = keepAlike();
const made = new WeakMap<Rows, { intakes: ProjectDocument['intakes']; rows: RecordRows }>();

/**
 * Rows of the point table by intake and row of the record, for points of books; made once for a table. An intake that
 * the document no longer holds is passed over: a page's document may be a step ahead of its tables.
 */
export function rowsByRecord({ intakes }: Pick<ProjectDocument, 'intakes'>, points: Rows): RecordRows {
  const before = made.get(points);
  if (before?.intakes === intakes) return before.rows;
  const { intake, fileRow } = points;
  const rows = keep('rows by record', [intakes.map((i) => [i.id, i.form ?? null]), intake, fileRow], () => {
    const books = intakes.map((i) => (i.form === 'book' ? i.id : null));
    return new RecordRows(fileRow, (i) => books[intake[i]] ?? null);
  });
  made.set(points, { intakes, rows });
  return rows;
}
