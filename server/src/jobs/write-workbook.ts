import ExcelJS from 'exceljs';
import { readSpreadsheet } from '#core/exchange';
import type { WorkbookCell, WorkbookSheet } from '#core/report';

/**
 * Writes sheets whose cells calculate and reads each back by the reader of imports: a cell that calculates holds what it came
 * to as well. Throws Error where the file does not say what was meant.
 */
export async function writeWorkbook(sheets: readonly WorkbookSheet[]): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  for (const { name, widths, rows } of sheets) {
    const sheet = book.addWorksheet(name);
    widths.forEach((width, k) => (sheet.getColumn(k + 1).width = width));
    for (const cells of rows) {
      const row = sheet.addRow(cells.map(valueOf));
      cells.forEach((cell, k) => {
        if (typeof cell === 'object' && cell?.format) row.getCell(k + 1).numFmt = cell.format;
        if (typeof cell === 'object' && cell?.bold) row.getCell(k + 1).font = { bold: true };
      });
    }
  }
  const bytes = new Uint8Array(await book.xlsx.writeBuffer());
  for (const sheet of sheets) {
    const wrong = differing(sheet, bytes);
    if (wrong !== null) throw new Error(`The spreadsheet does not read back as it was meant: ${wrong}.`);
  }
  return bytes;
}

const valueOf = (cell: WorkbookCell): ExcelJS.CellValue => {
  if (cell === null || typeof cell !== 'object') return cell;
  if (cell.formula !== undefined) return { formula: cell.formula, result: cell.value as number };
  return cell.value;
};

/** Share by which a number may differ for being written in decimals. */
const ROUNDING = 1e-9;

function differing({ name, rows }: WorkbookSheet, bytes: Uint8Array): string | null {
  const read = readSpreadsheet(bytes, name);
  if (!read.ok) return read.reason;
  const back = read.text.split('\n').map((line) => line.split('\t'));
  for (const [i, cells] of rows.entries())
    for (const [k, cell] of cells.entries()) {
      const value = cell !== null && typeof cell === 'object' ? cell.value : cell;
      if (typeof value !== 'number') continue;
      const found = Number(back[i]?.[k]);
      if (!(Math.abs(found - value) <= ROUNDING * Math.max(1, Math.abs(value))))
        return `${name}, row ${i + 1}, column ${k + 1} holds “${back[i]?.[k] ?? ''}” where ${value} was meant`;
    }
  return null;
}
