import { NONE_SIGNS } from './none.ts';
import type { Book } from '#core/book';
import type { Underlay } from '../underlay.ts';
import { METRES_IN_FILE, readAngle } from '#core/measure';
import { endsInQuotes, layoutProblem, readNumber, splitRow, type TextLayout } from './layout.ts';

/** A row that was left out, as it stood in the file. */
export interface RefusedRow {
  /** Row in the file, counted from 1. */
  row: number;
  text: string;
  reason: string;
}

/** Points as columns, metres; in plan degrees where the layout says so. A missing elevation is NaN. */
export interface ReadPoints {
  number: string[];
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  description: string[];
  /** Row in the file of each point, counted from 1. */
  row: Uint32Array;
  refused: RefusedRow[];
  /** All refused rows; `refused` holds the first thousand of them. */
  refusedCount: number;
  blank: number;
  rows: number;
  /** Why nothing could be read at all. */
  failure?: string;
  /** The field book that the file is; its points come of reducing it. */
  book?: Book;
  /** Of reduced points: 1 where a decision is missing. */
  waits?: Uint8Array;
  /** Standard deviations, m, of east and of north each, and of elevation; NaN where none is known. */
  sdPlan?: Float32Array;
  sdHeight?: Float32Array;
  /** Of a ready-made surface: its triangles, as rows of these columns. */
  triangles?: Uint32Array;
  /** Rows of the file from this one on are ground-only: nobody needs a number for them. */
  lightFrom?: number;
  /** Day of the observation, year month day as one number; 0 where none was said. */
  date?: Uint32Array;
  /** What of it lies under the drawing, and is no point. */
  underlay?: Underlay;
}

/** A read that brought nothing, and why. */
export const failedRead = (failure: string): ReadPoints => ({
  number: [],
  x: new Float64Array(),
  y: new Float64Array(),
  z: new Float64Array(),
  description: [],
  row: new Uint32Array(),
  refused: [],
  refusedCount: 0,
  blank: 0,
  rows: 0,
  failure,
});

/** No place on earth is further than this from any grid's origin, m. */
const FARTHEST = 1e8;
/** Beyond any elevation, m. */
const HIGHEST = 1e5;
/** A standard deviation beyond this is none, m. */
const MOST_SD = 1000;
/** What stands where nothing was measured. */
const NO_VALUE = /^(?:[-*–]{0,5}|nan|none)$/i;
const LONGEST_ROW = 20_000;
const KEPT_REFUSALS = 1000;
/** Of one quoted field. */
const MOST_LINES = 100;

export interface ReadOptions {
  /** Read at most so many rows: a trial on a part. */
  mostRows?: number;
  /** Called about every 20,000 rows with the share done; return false to stop. */
  onProgress?: (share: number) => boolean | void;
}

/** Reads points from text by a layout. Never throws on content; null when the caller stopped it. */
export function readPoints(text: string, layout: TextLayout, options: ReadOptions = {}): ReadPoints | null {
  const roles = layout.roles;
  const at = {
    P: roles.indexOf('P'),
    E: roles.indexOf('E'),
    N: roles.indexOf('N'),
    Z: roles.indexOf('Z'),
    S: roles.indexOf('S'),
  };
  const described = roles.flatMap((r, i) => (r === 'D' ? [i] : []));
  const lastDescribed = described.at(-1);
  const lineAt = roles.indexOf('L');
  const words = roles.flatMap((r, i) => (r === 'W' ? [i] : []));
  const factor = METRES_IN_FILE[layout.unit];
  const number: string[] = [];
  const x: number[] = [];
  const y: number[] = [];
  const z: number[] = [];
  const sd: number[] = [];
  const description: string[] = [];
  const rowOf: number[] = [];
  const refused: RefusedRow[] = [];
  let refusedCount = 0;
  let blank = 0;
  let row = 0;
  /** Where the row at hand begins, when a quoted field of it goes over several lines. */
  let first = 0;
  const problem = layoutProblem(layout);

  const refuse = (line: string, reason: string): void => {
    refusedCount++;
    if (refused.length < KEPT_REFUSALS) refused.push({ row: first, text: line.slice(0, 300), reason });
  };

  let from = 0;
  const most = options.mostRows ?? Infinity;
  while (from < text.length && row < most) {
    let to = text.indexOf('\n', from);
    if (to < 0) to = text.length;
    const line = text.slice(from, text[to - 1] === '\r' ? to - 1 : to);
    from = to + 1;
    row++;
    first = row;
    if (row % 20_000 === 0 && options.onProgress?.(from / text.length) === false) return null;
    if (row <= layout.skipRows) continue;
    if (line.trim() === '' || line === '\x1a') {
      blank++;
      continue;
    }
    if (problem) {
      refuse(line, problem);
      continue;
    }
    if (line.length > LONGEST_ROW) {
      refuse(line, `the row has ${line.length} characters; at most ${LONGEST_ROW} are read`);
      continue;
    }
    const goesOn = endsInQuotes(line, layout.separator) ? restOfQuoted(from, line) : null;
    if (goesOn) {
      from = goesOn.to;
      row += goesOn.lines;
    }
    readRow(goesOn?.row ?? line);
  }

  return {
    number,
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    z: Float64Array.from(z),
    description,
    row: Uint32Array.from(rowOf),
    ...(at.S < 0 ? {} : { sdPlan: Float32Array.from(sd), sdHeight: Float32Array.from(sd) }),
    refused,
    refusedCount,
    blank,
    rows: row,
  };

  /**
   * A quoted field may hold line ends: the lines up to the one that closes it. A quote that is never closed, or only
   * behind what is a point of its own, was a slip: the row is then read as it stands.
   */
  function restOfQuoted(start: number, line: string): { row: string; to: number; lines: number } | null {
    let whole = line;
    let at = start;
    for (let lines = 1; lines <= MOST_LINES && at < text.length; lines++) {
      let to = text.indexOf('\n', at);
      if (to < 0) to = text.length;
      const next = text.slice(at, text[to - 1] === '\r' ? to - 1 : to);
      const fields = splitRow(next, layout.separator);
      if (whole.length + next.length > LONGEST_ROW || typeof readLengths(fields) !== 'string') return null;
      whole += ` ${next}`;
      at = to + 1;
      if (!endsInQuotes(whole, layout.separator)) return { row: whole, to: at, lines };
    }
    return null;
  }

  function readRow(line: string): void {
    const fields = splitRow(line, layout.separator);
    const plan = layout.degrees ? readDegrees(fields) : readLengths(fields);
    if (typeof plan === 'string') return refuse(line, plan);
    const [east, north] = plan;
    const typed = at.Z >= 0 ? (fields[at.Z] ?? '') : '';
    let elevation = NaN;
    if (!NO_VALUE.test(typed)) {
      elevation = readNumber(typed, layout.decimal) * factor;
      if (Number.isNaN(elevation)) return refuse(line, notNumber('elevation', typed));
      if (Math.abs(elevation) > HIGHEST) return refuse(line, `the elevation ${typed} is beyond any height on earth`);
    }
    if (at.S >= 0) {
      const given = precisionOf(fields[at.S] ?? '');
      if (Number.isNaN(given) && !NO_VALUE.test(fields[at.S] ?? '')) return refuse(line, `the standard deviation “${fields[at.S].slice(0, 40)}” is not a length of 0 or more`); // prettier-ignore
      sd.push(given);
    }
    number.push(at.P >= 0 ? said(fields[at.P]) : '');
    x.push(east);
    y.push(north);
    z.push(elevation);
    description.push(describe(fields));
    rowOf.push(first);
  }

  /** m; NaN where none stands, or what stands is none. */
  function precisionOf(field: string): number {
    const value = readNumber(field, layout.decimal) * factor;
    return value >= 0 && value <= MOST_SD ? value : NaN;
  }

  function readLengths(fields: string[]): [number, number] | string {
    const east = readNumber(fields[at.E] ?? '', layout.decimal) * factor;
    const north = readNumber(fields[at.N] ?? '', layout.decimal) * factor;
    if (Number.isNaN(east)) return notNumber('east', fields[at.E]);
    if (Number.isNaN(north)) return notNumber('north', fields[at.N]);
    if (Math.abs(east) > FARTHEST || Math.abs(north) > FARTHEST)
      return 'the coordinates are farther away than any place on earth';
    return [east, north];
  }

  function readDegrees(fields: string[]): [number, number] | string {
    const [longitude, latitude] = [degreesOf(fields[at.E] ?? ''), degreesOf(fields[at.N] ?? '')];
    if (Number.isNaN(longitude)) return notNumber('longitude', fields[at.E]);
    if (Number.isNaN(latitude)) return notNumber('latitude', fields[at.N]);
    if (Math.abs(latitude) > 90)
      return `a latitude of ${latitude.toFixed(4)}° is beyond a pole; are latitude and longitude swapped?`;
    if (Math.abs(longitude) > 360) return `a longitude of ${longitude.toFixed(4)}° goes round the earth more than once`;
    return [longitude, latitude];
  }

  /** Decimal degrees as a number, or degrees, minutes and seconds with N, S, E, W. */
  function degreesOf(field: string): number {
    const plain = readNumber(field, layout.decimal);
    if (!Number.isNaN(plain)) return plain;
    const angle = readAngle(field, 'deg');
    return angle.ok ? (angle.radians / Math.PI) * 180 : NaN;
  }

  function describe(fields: string[]): string {
    // The last described column takes what goes beyond it, so that no word is lost.
    const extra = lastDescribed === roles.length - 1 ? fields.slice(roles.length) : [];
    const whole = [...described.map((i) => said(fields[i])), ...extra].join(' ').trim();
    if (lineAt < 0 && words.length === 0) return whole;
    return withLine(whole, said(fields[lineAt]), words.map((i) => said(fields[i])).filter((w) => w !== '')); // prettier-ignore
  }
}

/** A description with the line number and line words that stood in columns of their own, put to its first code. */
function withLine(said: string, line: string, words: string[]): string {
  const [code = '', ...rest] = said.split(/ +/);
  // A line's number, or its whole name.
  const named = /^\d{1,9}$/.test(line) ? code + line : line === '' ? code : line;
  return [named, ...words, ...rest].filter((t) => t !== '').join(' ');
}

/** A text, or nothing where the cell says that there is none. */
const said = (cell: string | undefined): string =>
  cell === undefined || (NONE_SIGNS as readonly string[]).includes(cell) ? '' : cell;

const notNumber = (role: string, field: string | undefined): string =>
  field === undefined || field === ''
    ? `the ${role} column is empty`
    : `${role} “${field.slice(0, 40)}” is not a number`;
