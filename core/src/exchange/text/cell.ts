import { plainNumber } from '#core/measure';

// A cell that begins with =, +, - or @ and is no number is a formula to a spreadsheet that opens the file (OWASP, CSV
// injection): it gets an apostrophe before it, which spreadsheets show as text; reading takes that off again.

const FORMULA = /^[=+\-@\t]./;
const MARKED = /^'['=+\-@\t]./;

/** A text as a cell of a table that spreadsheets may open: guarded, and quoted where the separator asks for it. */
export function cellText(text: string, separator: ',' | ';' | '\t'): string {
  const line = guarded(text.replace(/[\r\n]+/g, ' '));
  return line.includes(separator) || line.includes('"') ? `"${line.replaceAll('"', '""')}"` : line;
}

const guarded = (text: string): string =>
  (FORMULA.test(text) && Number.isNaN(plainNumber(text.trim()))) || MARKED.test(text) ? `'${text}` : text;

/** A cell as it was meant: without the apostrophe that only marks it as text. */
export const unmarked = (cell: string): string =>
  cell.charCodeAt(0) === 39 && MARKED.test(cell) ? cell.slice(1) : cell;

/** A table with commas, rows ended as RFC 4180 has them. */
export const csvTable = (rows: readonly (readonly string[])[]): string =>
  rows.map((row) => row.map((cell) => cellText(cell, ',')).join(',')).join('\r\n') + '\r\n';
