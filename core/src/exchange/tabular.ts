import { isTiff } from '#core/basis';
import { withoutTail } from '#core/kernel';
import type { FileContent } from './content.ts';
import { formatOf } from './format.ts';
import { asDrawing, rowsOfContent } from './rows.ts';
import { rowsOfGrid, type ReadGrid } from './grid/elevation-grid.ts';
import { isTextGrid, readTextGrid } from './grid/text-grid.ts';
import { isTiffGrid, readTiffGrid } from './grid/tiff-grid.ts';
import { isSpreadsheet, readSpreadsheet } from './spreadsheet.ts';
import { decodeText } from './text/decode.ts';
import { unitFromHeadings } from './text/headings.ts';
import { NOTHING_LOST, type FileClaims, type FilePart, type TabularFile } from './tabular-file.ts';

const NO_CLAIMS: FileClaims = { unit: null, system: null, geoid: null };

/**
 * Any file of points as rows of text: text as it stands, a sheet of a spreadsheet, the first or by its name, with
 * tabs between cells, the points of a drawing, of LandXML or GeoJSON as number, east, north, elevation, code with tabs
 * under a heading row. What
 * reads rows afterwards needs to know nothing of the format. Pure, so that page and server read alike.
 */
export const rowsOfFile = (bytes: Uint8Array, part: FilePart = {}): TabularFile => partsOfFile(bytes)(part);

/** The same, read once for any number of parts that are asked for after one another. */
export function partsOfFile(bytes: Uint8Array): (part: FilePart) => TabularFile {
  if (isSpreadsheet(bytes)) return ({ sheet }) => rowsOfSheet(bytes, sheet);
  if (isTiff(bytes) && isTiffGrid(bytes)) return partsOfGrid(readTiffGrid(bytes));
  const format = formatOf(bytes, null);
  if (format?.instead) return () => ({ ok: false, reason: `This is a ${format.called}. ${format.instead}` });
  const ofBytes = format?.contentOfBytes?.(bytes);
  if (ofBytes) return partsOf(ofBytes, encodingOf(ofBytes));
  const decoded = decodeText(bytes);
  if (!decoded.ok) return () => decoded;
  if (isTextGrid(decoded.text)) return partsOfGrid(readTextGrid(decoded.text));
  const content = formatOf(bytes, decoded.text)?.content?.(decoded.text);
  if (content) return partsOf(content, decoded.encoding);
  const { text, encoding } = decoded;
  return () => ({ ok: true, kind: 'text', text, encoding, claims: claimsOfText(text), lost: NOTHING_LOST });
}

function partsOfGrid(read: ReadGrid): (part: FilePart) => TabularFile {
  if (!read.ok) return () => read;
  const { unit, system } = read.grid;
  return ({ step }) => {
    const { text, facts } = rowsOfGrid(read.grid, step);
    if (facts.taken === 0) return { ok: false, reason: 'None of the nodes of the grid says an elevation.' };
    return { ok: true, kind: 'grid', text, encoding: 'grid', claims: { unit, system, geoid: null }, lost: NOTHING_LOST, hasPoints: true, grid: facts }; // prettier-ignore
  };
}

function partsOf(content: FileContent, encoding: string): (part: FilePart) => TabularFile {
  const drawn = asDrawing(content);
  return (part) => rowsOfContent(content, encoding, part, drawn);
}

function rowsOfSheet(bytes: Uint8Array, sheet: string | undefined): TabularFile {
  const read = readSpreadsheet(bytes, sheet);
  if (!read.ok) return read;
  const { text, sheet: name, sheets: all } = read;
  return { ok: true, kind: 'spreadsheet', text, encoding: 'spreadsheet', claims: claimsOfText(text), lost: NOTHING_LOST, sheet: { name, all } }; // prettier-ignore
}

/** What a file of drawn or named things holds; null of any other. */
export function contentOfFile(bytes: Uint8Array): FileContent | null {
  const ofBytes = formatOf(bytes, null)?.contentOfBytes?.(bytes);
  if (ofBytes) return ofBytes;
  const decoded = decodeText(bytes);
  return decoded.ok ? (formatOf(bytes, decoded.text)?.content?.(decoded.text) ?? null) : null;
}

const encodingOf = (file: FileContent): string => (file.kind === 'geojson' ? 'utf-8' : file.content.encoding);

/** Words, and no field that is a number. */
const isHeading = (row: string): boolean => /[a-z]/i.test(row) && !/(^|[\s,;])-?\d+([.,]\d*)?(?=[\s,;]|$)/.test(row);

/** Headings and remarks at the top of a text file: `system: EPSG:32612`, `geoid: name`, a unit in brackets. */
function claimsOfText(text: string): FileClaims {
  const head = text.slice(0, 4000).split(/\r?\n/).slice(0, 12);
  const named = (pattern: RegExp): string | null => {
    for (const row of head) {
      const found = withoutTail(pattern.exec(row)?.[1] ?? '', '",;\t').trim();
      if (found) return found.slice(0, 200);
    }
    return null;
  };
  return {
    ...NO_CLAIMS,
    unit: unitFromHeadings(head.filter(isHeading).flatMap((r) => r.split(/[,;\t]/))),
    system: named(/\b(?:system|crs|grid|projection)\s*[:=]\s*([^;\t"]+)/i) ?? named(/\b(EPSG:\d{4,6})\b/i),
    geoid: named(/\bgeoid(?:\s+model)?\s*[:=]\s*([^;,\t"]+)/i),
  };
}
