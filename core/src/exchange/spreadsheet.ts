import { unzipSync } from 'fflate';
import { SaxesParser } from 'saxes';

// The open spreadsheet format (ECMA-376): a zip of XML parts. One sheet's values as rows of text.

/** Largest sum of unpacked parts, bytes, and of the text made from them: a zip may promise more than any memory holds. */
const LARGEST = 200 * 1024 * 1024;
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

export type ReadSheet =
  /** The sheet that was read, among all of them in the order of their tabs. */
  { ok: true; text: string; sheet: string; sheets: string[] } | { ok: false; reason: string };

/** Reads the cells of a sheet by its name, or of the first; only what is read is unpacked. Formulas give the value that was stored with them. No entities of its own, sizes bounded. */
export function readSpreadsheet(bytes: Uint8Array, sheet?: string): ReadSheet {
  let left = LARGEST;
  const unpack = (wanted: (name: string) => boolean): Record<string, Uint8Array> =>
    unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (!wanted(name)) return false;
        left -= originalSize;
        if (left < 0) throw new TooLarge();
        return true;
      },
    });
  try {
    const named = new Set<string>();
    const about = unpack((name) => {
      if (/^xl\/worksheets\/[^/]+\.xml$/.test(name)) named.add(name);
      return name === 'xl/workbook.xml' || name === 'xl/_rels/workbook.xml.rels';
    });
    const tabs = tabsOf(about, named);
    if (tabs.length === 0) return { ok: false, reason: 'The spreadsheet holds no sheet. Save it again, or as CSV.' };
    const tab = sheet === undefined ? tabs[0] : tabs.find((t) => t.name === sheet);
    const sheets = tabs.map((t) => t.name);
    if (!tab) return { ok: false, reason: `The spreadsheet has no sheet “${sheet!.slice(0, 60)}”; it has ${sheets.slice(0, 20).join(', ')}.` }; // prettier-ignore
    const parts = unpack((name) => name === tab.part || name === 'xl/sharedStrings.xml');
    const shared = parts['xl/sharedStrings.xml'] ? sharedStrings(decode(parts['xl/sharedStrings.xml'])) : [];
    return { ok: true, text: rowsOf(decode(parts[tab.part]), shared), sheet: tab.name, sheets };
  } catch (error) {
    const reason = error instanceof TooLarge ? 'it unpacks to more than 200 MB. Save the sheet as CSV' : `${(error as Error).message}. Save it again, or as CSV`; // prettier-ignore
    return { ok: false, reason: `The spreadsheet cannot be read: ${reason}.` };
  }
}

class TooLarge extends Error {}

/** Sheets in the order of their tabs, each with its part of the zip; where the workbook does not say, by their numbers. */
function tabsOf(about: Record<string, Uint8Array>, parts: ReadonlySet<string>): { name: string; part: string }[] {
  const target = new Map<string, string>();
  const rels = about['xl/_rels/workbook.xml.rels'];
  if (rels)
    parse(decode(rels), {
      open(name, at) {
        if (name === 'Relationship' && at.Id && at.Target) target.set(at.Id, at.Target.replace(/^\/?(xl\/)?/, 'xl/'));
      },
      close() {},
    });
  const tabs: { name: string; part: string }[] = [];
  if (about['xl/workbook.xml'])
    parse(decode(about['xl/workbook.xml']), {
      open(name, at) {
        const part = name === 'sheet' ? target.get(at['r:id'] ?? '') : undefined;
        if (part && parts.has(part)) tabs.push({ name: at.name ?? part, part });
      },
      close() {},
    });
  if (tabs.length) return tabs;
  const number = (part: string): number => Number(/\d+/.exec(part)?.[0] ?? 0);
  return [...parts]
    .sort((a, b) => number(a) - number(b))
    .map((part) => ({ name: part.replace(/^.*\/|\.xml$/g, ''), part }));
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
  let left = LARGEST;
  parse(xml, {
    open(name, attributes) {
      if (name === 'row') {
        cells = [];
        rowNumber = Number(attributes.r ?? rowNumber + 1);
        if (!(Number.isInteger(rowNumber) && rowNumber >= 1 && rowNumber <= MOST_ROWS))
          throw new Error(`it has a row ${attributes.r}`);
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
        const plain = at.t === 's' ? (shared[Number(value)] ?? `#no text ${value}`) : value;
        // A long text that a million cells share is unpacked a million times.
        left -= plain.length;
        if (left < 0) throw new TooLarge();
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
