import { rowsByRecord, type PointTable } from '#core/stages';
import type { Line } from '#core/linework';
import type { ProjectDocument } from '#core/project';

/** Points of a report, by columns: what both a reduction and the page's own tables can give. */
export interface ReportPoints {
  count: number;
  setup: ArrayLike<number>;
  /** Row of the record that each came from. */
  row: ArrayLike<number>;
  number: (i: number) => string;
  code: (i: number) => string;
  /** The lines that each point is in, empty for none. */
  line: (i: number) => string;
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  sdPlan: ArrayLike<number>;
  sdHeight: ArrayLike<number>;
}

/** Points that the books give, for a report; texts of a row as the caller's table holds them. */
export function reportPoints(
  doc: ProjectDocument,
  points: Pick<PointTable, 'intake' | 'fileRow' | 'x' | 'y' | 'z' | 'sdPlan' | 'sdHeight'>,
  reduction: { books: readonly string[] } & Record<'book' | 'row' | 'setup', ArrayLike<number>>,
  text: { number: (row: number) => string; code: (row: number) => string },
  lines: readonly Pick<Line, 'code' | 'lineNumber' | 'rows'>[],
): ReportPoints {
  const rowAt = rowsByRecord(doc, points);
  const inLines = linesByRow(lines);
  const rows: number[] = [];
  const setup: number[] = [];
  for (let i = 0; i < reduction.row.length; i++) {
    const row = rowAt.get(reduction.books[reduction.book[i]], reduction.row[i]);
    if (row === undefined) continue;
    rows.push(row);
    setup.push(reduction.setup[i]);
  }
  const column = (values: ArrayLike<number>): number[] => rows.map((row) => values[row]);
  return {
    count: rows.length,
    setup,
    row: column(points.fileRow),
    number: (i) => text.number(rows[i]),
    code: (i) => text.code(rows[i]),
    line: (i) => inLines.get(rows[i]) ?? '',
    x: column(points.x),
    y: column(points.y),
    z: column(points.z),
    sdPlan: column(points.sdPlan),
    sdHeight: column(points.sdHeight),
  };
}

/** Names of the lines through each row of the point table, each once. */
function linesByRow(lines: readonly Pick<Line, 'code' | 'lineNumber' | 'rows'>[]): Map<number, string> {
  const out = new Map<number, string>();
  for (const { code, lineNumber, rows } of lines) {
    const name = code + lineNumber;
    for (const row of new Set(rows)) {
      const before = out.get(row);
      if (before === undefined) out.set(row, name);
      else if (!before.split(' ').includes(name)) out.set(row, `${before} ${name}`);
    }
  }
  return out;
}
