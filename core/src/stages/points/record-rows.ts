import { keepAlike } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import type { PointTable } from './points.ts';

/** Places in a table by the file and the row of the record that each came from. */
export class RecordRows {
  private readonly files = new Map<string, Map<number, number>>();
  private lastFile: string | null = null;
  private lastRows: Map<number, number> | undefined;

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
    if (file !== this.lastFile) [this.lastFile, this.lastRows] = [file, this.files.get(file)];
    return this.lastRows?.get(row);
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
