import type { Book } from '#core/book';
import {
  bookFormOf,
  decodeText,
  failedRead,
  isSpreadsheet,
  readBookFile,
  rowsOfFile,
  type ReadBook,
  type ReadOptions,
} from '#core/exchange';
import { carryOver, type Places } from './carry-over.ts';
import type { GridBytes, Reading, ReadingPlan } from './reading-plan.ts';

/** A book as it stands; its points come of reducing it. */
export async function readBook(
  bytes: Uint8Array,
  plan: ReadingPlan,
  grids: GridBytes,
  options: ReadOptions,
): Promise<Reading | null> {
  const decoded = rowsOrText(bytes, plan.bookLayout);
  if (!decoded.ok) return decoded;
  if (!plan.bookLayout && !bookFormOf(decoded.text))
    return { ok: false, reason: 'Its layout is not known: it does not state one, and none is given for it.' };
  const file = readBookFile(decoded.text, plan.bookLayout, options.onProgress);
  if (!file) return null;
  if (file.book.records.length === 0) {
    const [first] = file.book.problems;
    return { ok: false, reason: `It holds no records of a book${first ? `; row ${first.row}: ${first.reason}` : ''}.` };
  }
  const placed = await placeGeographic(file, plan, grids);
  if (!placed.ok) return placed;
  const { book } = placed;
  return {
    ok: true,
    read: {
      ...failedRead(''),
      failure: undefined,
      refused: book.problems,
      refusedCount: book.problemCount,
      rows: book.rows,
      book,
    },
  };
}

/** A table may come as a spreadsheet; every other book is text. */
function rowsOrText(bytes: Uint8Array, layout: ReadingPlan['bookLayout']): ReturnType<typeof decodeText> {
  if (!layout || !isSpreadsheet(bytes)) return decodeText(bytes);
  const rows = rowsOfFile(bytes, { sheet: layout.sheet });
  return rows.ok ? { ok: true, text: rows.text, encoding: 'utf-8', bom: false } : rows;
}

/** Positions by satellite in degrees, carried to the project's system; those that cannot be are listed and left out. */
async function placeGeographic(
  { book, geographic }: ReadBook,
  plan: ReadingPlan,
  grids: GridBytes,
): Promise<{ ok: true; book: Book } | { ok: false; reason: string }> {
  if (geographic.length === 0) return { ok: true, book };
  const rows = new Set(geographic);
  const there = book.records.filter((r) => r.kind === 'gnss' && rows.has(r.row));
  const columns: Places = {
    x: Float64Array.from(there, (r) => r.x),
    y: Float64Array.from(there, (r) => r.y),
    z: Float64Array.from(there, (r) => r.z),
  };
  if (plan.from) {
    const carried = await carryOver(columns, plan, grids);
    if (!carried.ok) return carried;
  } else columns.x.fill(NaN);
  const why = plan.from
    ? 'the position cannot be transformed to the project’s system: it lies outside the geoid, the datum grid or the projection'
    : 'the position is latitude and longitude, and the project has no published system to transform it to; choose it under Basis';
  const lost = new Set<number>();
  there.forEach((r, i) => {
    if (Number.isFinite(columns.x[i] + columns.y[i]))
      [r.x, r.y, r.z] = [columns.x[i], columns.y[i], plan.unlifted ? NaN : columns.z[i]];
    else lost.add(r.row);
  });
  const noGeoid = 'its height is over the ellipsoid, and the project has no geoid: it is taken without elevation';
  const problems = there
    .filter((r) => lost.has(r.row) || plan.unlifted)
    .map((r) => ({ row: r.row, text: r.number, reason: lost.has(r.row) ? why : noGeoid }));
  if (problems.length === 0) return { ok: true, book };
  return {
    ok: true,
    book: {
      ...book,
      records: book.records.filter((r) => !(r.kind === 'gnss' && lost.has(r.row))),
      problems: [...book.problems, ...problems].slice(0, 1000),
      problemCount: book.problemCount + problems.length,
    },
  };
}
