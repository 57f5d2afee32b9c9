import { withoutTail } from '#core/kernel';
import type { FileUnit } from '#core/measure';
import { isLandXml } from './landxml/survey-read.ts';
import { readLandXml } from './landxml/read.ts';
import { unitOfLandXml } from './landxml/surface.ts';
import { isSpreadsheet, readSpreadsheet } from './spreadsheet.ts';
import { decodeText } from './text/decode.ts';
import { unitFromHeadings } from './text/headings.ts';
import type { RefusedRow } from './text/read.ts';

/** What a file says of its own numbers, as far as it says anything. */
export interface FileClaims {
  unit: FileUnit | null;
  system: string | null;
  geoid: string | null;
}

export type TabularFile =
  | {
      ok: true;
      kind: 'text' | 'spreadsheet' | 'landxml';
      text: string;
      encoding: string;
      claims: FileClaims;
      lost: Lost;
      sheet?: Sheet;
    }
  | { ok: false; reason: string };

/** The sheet of a spreadsheet that was read, and all of them in the order of their tabs. */
export interface Sheet {
  name: string;
  all: string[];
}

/** What the format itself could not give as rows, by line of the file. */
export interface Lost {
  list: RefusedRow[];
  count: number;
}

const NOTHING: Lost = { list: [], count: 0 };

/** What was read of a file's rows, with what the file itself could not give. */
export const withLost = <T extends { refused: RefusedRow[]; refusedCount: number }>(read: T, lost: Lost): T =>
  lost.count === 0 ? read : { ...read, refused: [...lost.list, ...read.refused], refusedCount: read.refusedCount + lost.count }; // prettier-ignore

const NO_CLAIMS: FileClaims = { unit: null, system: null, geoid: null };

/**
 * Any file of points as rows of text: text as it stands, a sheet of a spreadsheet, the first or by its name, with
 * tabs between cells, the points of LandXML as number, east, north, elevation, code with tabs under a heading row. What
 * reads rows afterwards needs to know nothing of the format. Pure, so that page and server read alike.
 */
export function rowsOfFile(bytes: Uint8Array, sheet?: string): TabularFile {
  if (isSpreadsheet(bytes)) {
    const read = readSpreadsheet(bytes, sheet);
    if (!read.ok) return read;
    const { text, sheet: name, sheets: all } = read;
    return { ok: true, kind: 'spreadsheet', text, encoding: 'spreadsheet', claims: claimsOfText(text), lost: NOTHING, sheet: { name, all } }; // prettier-ignore
  }
  const decoded = decodeText(bytes);
  if (!decoded.ok) return decoded;
  if (isLandXml(decoded.text)) return landXmlRows(decoded.text, decoded.encoding);
  return {
    ok: true,
    kind: 'text',
    text: decoded.text,
    encoding: decoded.encoding,
    claims: claimsOfText(decoded.text),
    lost: NOTHING,
  };
}

function landXmlRows(text: string, encoding: string): TabularFile {
  const read = readLandXml(text);
  if (read.problems.length && read.points.length === 0)
    return { ok: false, reason: `LandXML, line ${read.problems[0].line}: ${read.problems[0].what}.` };
  if (read.points.length === 0)
    return {
      ok: false,
      reason: 'This LandXML holds no points (CgPoints). Surfaces and lines of it are not taken in as points.',
    };
  if (!read.whole) {
    const [first] = read.problems;
    return {
      ok: false,
      reason: `LandXML, line ${first.line}: ${first.what}. The file breaks off there; ask for it whole.`,
    };
  }
  const unit = unitOfLandXml(read.linearUnit);
  const cell = (value: string): string => value.replace(/[\t\r\n"]+/g, ' ').trim();
  const rows = read.points.map((p) => [cell(p.name), p.x, p.y, Number.isNaN(p.z) ? '' : p.z, cell(p.code)].join('\t'));
  return {
    ok: true,
    kind: 'landxml',
    text: [`number\teast${unit ? ` [${unit === 'usft' ? 'us ft' : unit}]` : ''}\tnorth\televation\tcode`, ...rows].join(
      '\n',
    ),
    encoding,
    claims: { unit, system: read.system || null, geoid: read.verticalDatum || null },
    lost: { list: read.problems.map((p) => ({ row: p.line, text: '', reason: p.what })), count: read.problemCount },
  };
}

/** Words, and no field that is a number. */
const isHeading = (row: string): boolean => /[a-z]/i.test(row) && !/(^|[\s,;])-?\d+([.,]\d*)?(?=[\s,;]|$)/.test(row);

/** Headings and remarks at the top of a text file: `system: EPSG:25833`, `geoid: name`, a unit in brackets. */
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
