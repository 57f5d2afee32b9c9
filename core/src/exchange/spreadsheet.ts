import { unzipSync } from 'fflate';
import { SaxesParser } from 'saxes';

// The open spreadsheet format (ECMA-376): a zip of XML parts. The first sheet's values as rows of text.

/** Largest unpacked part, bytes: a zip may promise more than any memory holds. */
const LARGEST_PART = 200 * 1024 * 1024;
const MOST_COLUMNS = 200;
const MOST_ROWS = 1_100_000;

export const isSpreadsheet = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4 && mentions(bytes, 'xl/');

/** Whether a name stands in the zip's first or last 64 kB, where its directory is. */
function mentions(bytes: Uint8Array, name: string): boolean {
  const text = (part: Uint8Array): string => new TextDecoder('latin1').decode(part);
  return (
    text(bytes.subarray(0, 65536)).includes(name) ||
    text(bytes.subarray(Math.max(0, bytes.length - 65536))).includes(name)
  );
}

export type ReadSheet = { ok: true; text: string; sheet: string } | { ok: false; reason: string };

/** Reads the first sheet's cells; formulas give the value that was stored with them. No entities of its own, sizes bounded. */
export function readSpreadsheet(bytes: Uint8Array): ReadSheet {
  let parts: Record<string, Uint8Array>;
  let large = '';
  try {
    parts = unzipSync(bytes, {
      filter: (file) => {
        if (!/^xl\/(worksheets\/sheet\d+\.xml|sharedStrings\.xml|workbook\.xml)$/.test(file.name)) return false;
        if (file.originalSize > LARGEST_PART) {
          large = file.name;
          return false;
        }
        return true;
      },
    });
  } catch (error) {
    return {
      ok: false,
      reason: `The spreadsheet cannot be unpacked: ${(error as Error).message}. Save it again, or as CSV.`,
    };
  }
  if (large)
    return { ok: false, reason: `The spreadsheet’s part ${large} is larger than 200 MB. Save the sheet as CSV.` };
  const names = Object.keys(parts)
    .filter((n) => n.startsWith('xl/worksheets/'))
    .sort((a, b) => Number(/\d+/.exec(a)![0]) - Number(/\d+/.exec(b)![0]));
  if (names.length === 0) return { ok: false, reason: 'The spreadsheet holds no sheet. Save it again, or as CSV.' };
  try {
    const shared = parts['xl/sharedStrings.xml'] ? sharedStrings(decode(parts['xl/sharedStrings.xml'])) : [];
    return { ok: true, text: rowsOf(decode(parts[names[0]]), shared), sheet: names[0] };
  } catch (error) {
    return {
      ok: false,
      reason: `The spreadsheet’s first sheet cannot be read: ${(error as Error).message}. Save it as CSV.`,
    };
  }
}

const decode = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);

function parse(
  xml: string,
  on: { open: (name: string, at: Record<string, string>) => void; close: (name: string, text: string) => void },
): void {
  const parser = new SaxesParser();
  let text = '';
  parser.on('doctype', () => {
    throw new Error('it declares a document type');
  });
  parser.on('error', (e) => {
    throw e;
  });
  parser.on('opentag', (tag) => {
    text = '';
    on.open(tag.name.replace(/^.*:/, ''), tag.attributes as Record<string, string>);
  });
  parser.on('text', (t) => {
    text += t;
  });
  parser.on('closetag', (tag) => {
    on.close(tag.name.replace(/^.*:/, ''), text);
    text = '';
  });
  for (let i = 0; i < xml.length; i += 1 << 20) parser.write(xml.slice(i, i + (1 << 20)));
  parser.close();
}

function sharedStrings(xml: string): string[] {
  const out: string[] = [];
  let whole = '';
  let phonetic = false;
  parse(xml, {
    open(name) {
      if (name === 'si') whole = '';
      if (name === 'rPh') phonetic = true;
    },
    close(name, text) {
      if (name === 't' && !phonetic) whole += text;
      if (name === 'rPh') phonetic = false;
      if (name === 'si') out.push(whole);
    },
  });
  return out;
}

function rowsOf(xml: string, shared: string[]): string {
  const rows: string[] = [];
  let cells: string[] = [];
  let rowNumber = 0;
  let at: Record<string, string> = {};
  let value = '';
  parse(xml, {
    open(name, attributes) {
      if (name === 'row') {
        cells = [];
        rowNumber = Number(attributes.r ?? rowNumber + 1);
        if (!(rowNumber >= 1 && rowNumber <= MOST_ROWS)) throw new Error(`it has a row ${attributes.r}`);
        // Rows that were never written are blank rows: row numbers stay those that people see.
        while (rows.length < rowNumber - 1) rows.push('');
      } else if (name === 'c') {
        at = attributes;
        value = '';
      }
    },
    close(name, text) {
      if (name === 'v' || name === 't') value = name === 't' ? value + text : text;
      else if (name === 'c') {
        const column = columnOf(at.r ?? '', cells.length);
        if (column >= MOST_COLUMNS) return;
        while (cells.length < column) cells.push('');
        const plain = at.t === 's' ? (shared[Number(value)] ?? '') : value;
        cells[column] = plain.replace(/[\t\r\n]+/g, ' ');
      } else if (name === 'row') rows.push(cells.map(quoted).join('\t'));
    },
  });
  return rows.join('\n');
}

/** `AB12` is column 27, counted from 0. */
function columnOf(reference: string, next: number): number {
  const letters = /^[A-Z]{1,3}/.exec(reference)?.[0];
  if (!letters) return next;
  let column = 0;
  for (const letter of letters) column = column * 26 + letter.charCodeAt(0) - 64;
  return column - 1;
}

const quoted = (cell: string): string => (cell.includes('"') ? `"${cell.replaceAll('"', '""')}"` : cell);
