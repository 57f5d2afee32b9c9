import { keepAlike } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import type { PointTable } from './points.ts';

/** Places in a table by the file and the row of the record that each came from. */
export class RecordRows {
  /** Place + 1 by row, 0 where there is none; as a list where most rows have one. */
  private readonly files = new Map<string, Uint32Array | Map<number, number>>();
  private lastFile: string | null = null;
  private last: Uint32Array | Map<number, number> | undefined;

  /** @param file name of the file at each index, or null to pass the index over; later ones stand for earlier ones */
  constructor(row: ArrayLike<number>, file: (index: number) => string | null) {
    const most = new Map<string, number>();
    for (let i = 0; i < row.length; i++) {
      const name = file(i);
      if (name !== null) most.set(name, Math.max(most.get(name) ?? 0, row[i]));
    }
    for (const [name, highest] of most)
      this.files.set(name, highest < 4 * row.length + 1024 ? new Uint32Array(highest + 1) : new Map<number, number>());
    for (let i = 0; i < row.length; i++) {
      const name = file(i);
      const rows = name === null ? undefined : this.files.get(name);
      if (rows instanceof Map) rows.set(row[i], i + 1);
      else if (rows) rows[row[i]] = i + 1;
    }
  }

  get(file: string, row: number): number | undefined {
    if (file !== this.lastFile) [this.lastFile, this.last] = [file, this.files.get(file)];
    const place = this.last instanceof Map ? this.last.get(row) : this.last?.[row];
    return place ? place - 1 : undefined;
  }
}

type Rows = Pick<PointTable, 'intake' | 'fileRow'>;

/** A table of other heights has its points in the same rows. */
const keep = keepAlike();
const made = new WeakMap<Rows, { intakes: ProjectDocument['intakes']; rows: RecordRows }>();

/**
 * Rows of the point table by intake and row of the record, for points of books; made once for a table. An intake that
 * the document no longer holds is skipped: a page's document may be a step ahead of its tables.
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
