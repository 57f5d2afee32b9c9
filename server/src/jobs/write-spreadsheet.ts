import ExcelJS from 'exceljs';
import { readSpreadsheet, splitRow } from '#core/exchange';

/** Rows of text, cells parted by tabs, as a sheet; which columns are numbers. */
export interface SheetTask {
  name: string;
  text: string;
  numeric: boolean[];
}

/**
 * Writes a sheet of the open spreadsheet format and reads it back by the reader of imports. Numbers are numbers with the
 * decimals that the text has; everything else is text as it stands, whatever it begins with. Throws Error where the file
 * does not say what was meant.
 */
export async function writeSpreadsheet({ name, text, numeric }: SheetTask): Promise<Uint8Array> {
  const rows = rowsOf(text);
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
  for (const cells of rows) {
    const row = sheet.addRow(cells.map((cell, k) => (isNumber(cell, numeric[k]) ? Number(cell) : cell || null)));
    cells.forEach((cell, k) => {
      if (isNumber(cell, numeric[k])) row.getCell(k + 1).numFmt = formatOf(cell);
    });
  }
  const bytes = new Uint8Array(await book.xlsx.writeBuffer());
  const wrong = differing(rows, numeric, bytes);
  if (wrong !== null) throw new Error(`The spreadsheet does not read back as it was meant: ${wrong}.`);
  return bytes;
}

const rowsOf = (text: string): string[][] => text.trimEnd().split(/\r?\n/).map((line) => splitRow(line, '\t')); // prettier-ignore

const isNumber = (cell: string, numeric: boolean): boolean => numeric && /^-?\d+(\.\d+)?$/.test(cell);

const formatOf = (cell: string): string => {
  const decimals = cell.split('.')[1]?.length ?? 0;
  return decimals ? `0.${'0'.repeat(decimals)}` : '0';
};

/** Where what was read is another than what was meant; null where it is the same. */
function differing(rows: readonly string[][], numeric: boolean[], bytes: Uint8Array): string | null {
  const read = readSpreadsheet(bytes);
  if (!read.ok) return read.reason;
  const back = read.text.split('\n').map((line) => splitRow(line, '\t'));
  if (back.length !== rows.length) return `${back.length} rows where ${rows.length} were meant`;
  for (const [i, cells] of rows.entries())
    for (const [k, cell] of cells.entries()) {
      const found = back[i][k] ?? '';
      if (isNumber(cell, numeric[k]) ? Number(found) !== Number(cell) : found !== cell)
        return `row ${i + 1}, column ${k + 1} holds “${found}” where “${cell}” was meant`;
    }
  return null;
}
