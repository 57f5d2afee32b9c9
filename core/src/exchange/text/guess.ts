import { distance, DIGITS, withoutTail } from '#core/kernel';
import { METRES_IN_FILE, type FileUnit, type LengthUnit } from '#core/measure';
import { headingRoles, unitFromHeadings } from './headings.ts';
import { readNumber, splitRow, type Role, type Separator, type TextLayout } from './layout.ts';

/** What is known besides the file itself. Coordinates in metres. */
export interface GuessContext {
  fileName: string;
  unit: LengthUnit;
  /** Places that the points should lie near: control, or points already in the project. */
  near: { x: number; y: number }[];
  /** Order that the project prefers, when nothing else speaks. */
  order: 'EN' | 'NE';
  knownCodes: ReadonlySet<string>;
  /** What the file says elsewhere than in its headings: in a remark, or as a format of its own. */
  unitSaid?: FileUnit | null;
}

export interface GuessedLayout {
  layout: TextLayout;
  /** One reason a column, and one for the separator, unit and rows. */
  why: { columns: string[]; separator: string; unit: string; skip: string; order: string };
  /** What the file says itself; the rest is the project's, or what the numbers look like. */
  said: { order: boolean; unit: boolean };
  /** Whether it looks like control, by the codes of its points. */
  control: boolean;
}

/** Guesses how a text file of points is laid out from its first rows, and says why. */
export function guessLayout(rows: readonly string[], context: GuessContext): GuessedLayout {
  const sample = rows.filter((r) => r.trim() !== '').slice(0, 200);
  const { separator, reason: separatorWhy } = guessSeparator(sample);
  const decimal = guessDecimal(sample, separator);
  const split = sample.map((r) => splitRow(r, separator));
  const firstData = split.findIndex((f) => f.filter((v) => !Number.isNaN(readNumber(v, decimal))).length >= 2);
  // Names may stand in one row and units in the next.
  const above = firstData > 0 ? split.slice(Math.max(0, firstData - HEADING_ROWS), firstData).reverse() : [];
  // Blank rows before the first point count as rows to skip too.
  const skipRows = firstData < 0 ? 0 : rows.indexOf(sample[firstData]);
  const data = split.slice(Math.max(firstData, 0));
  const width = commonWidth(data);
  const columns = Array.from({ length: width }, (_, i) => columnFacts(data, i, decimal, context));

  const roles: Role[] = new Array<Role>(width).fill('_');
  const why: string[] = new Array<string>(width).fill('no sign of what it is');
  const unitSaid = (above.length ? above : split.slice(0, 1)).map(unitFromHeadings).find((u) => u !== null) ?? context.unitSaid ?? null; // prettier-ignore
  const unit = unitSaid ?? context.unit;
  let orderWhy = '';
  const headingRow = above.find((row) => headingRoles(row, width) !== null);
  const headed = headingRow ? headingRoles(headingRow, width) : null;
  if (headed) {
    headed.forEach((role, i) => {
      roles[i] = role;
      why[i] = role === '_' ? `heading “${headingRow![i] ?? ''}” is not read` : `heading “${headingRow![i]}”`;
    });
    orderWhy = 'the headings say so';
  } else orderWhy = rolesFromContents(columns, roles, why, context);

  // Headings can be wrong about the order; where control lies cannot.
  const swap = orderFromControl(roles, data, decimal, context, unit);
  if (swap === 'swap') {
    const e = roles.indexOf('E');
    const n = roles.indexOf('N');
    roles[e] = 'N';
    roles[n] = 'E';
    orderWhy = headed
      ? 'the headings say the opposite, but only this way round do the points lie where control lies'
      : 'only this way round do the points lie where control lies';
    why[e] = why[n] = orderWhy;
  } else if (swap === 'keep' && !headed) {
    orderWhy = 'this way round the points lie where control lies';
    for (const role of ['E', 'N'] as const) why[roles.indexOf(role)] = orderWhy;
  }

  const degrees = headed !== null && headingRow!.some((f) => /^(lat|latitude)\b/i.test(f.trim()));
  return {
    layout: {
      separator,
      decimal,
      skipRows: Math.max(0, skipRows),
      roles,
      unit,
      ...(degrees ? { degrees: true } : {}),
    },
    why: {
      columns: why,
      separator: separatorWhy,
      unit: unitSaid ? 'the file names it' : 'the project’s unit; the file does not say',
      skip: skipRows > 0 ? `the first point is in row ${skipRows + 1}` : 'the first row is a point',
      order: orderWhy,
    },
    said: { order: headed !== null, unit: unitSaid !== null },
    control: looksLikeControl(data, roles),
  };
}

function guessSeparator(rows: readonly string[]): { separator: Separator; reason: string } {
  const candidates: Separator[] = [';', '\t', '|', ',', ' '];
  let best: Separator = ',';
  let bestScore = -1;
  for (const separator of candidates) {
    const widths = rows.map((r) => splitRow(r, separator).length);
    const common = mostCommon(widths);
    if (common < 3) continue;
    const share = widths.filter((w) => w === common).length / widths.length;
    // Semicolons and tabs part decimal commas too; spaces also stand inside descriptions.
    const handicap = separator === ' ' ? 0.5 : separator === ',' ? 0.1 : 0;
    // Headings that name east and north, one a column, say it better than any count: blanks beside decimal commas.
    const headed = rows.slice(0, HEADING_ROWS).some((r) => isHeading(splitRow(r, separator), common)) ? 1 : 0;
    const score = share - handicap + Math.min(common, 6) * 0.01 + headed;
    if (score > bestScore) [best, bestScore] = [separator, score];
  }
  return {
    separator: best,
    reason:
      bestScore < 0
        ? 'no separator splits the rows into three columns or more'
        : 'it splits most rows into the same number of columns',
  };
}

const isHeading = (fields: readonly string[], width: number): boolean => fields.length === width && headingRoles(fields, width) !== null; // prettier-ignore

function guessDecimal(rows: readonly string[], separator: Separator): '.' | ',' {
  if (separator === ',') return '.';
  let commas = 0;
  let dots = 0;
  for (const row of rows)
    for (const field of splitRow(row, separator)) {
      if (/^[+-]?\d+,\d+$/.test(field)) commas++;
      if (/^[+-]?\d+\.\d+$/.test(field)) dots++;
    }
  return commas > dots ? ',' : '.';
}

interface ColumnFacts {
  numeric: number;
  decimals: number;
  distinct: number;
  spread: number;
  middle: number;
  coded: number;
  filled: number;
}

function columnFacts(data: string[][], i: number, decimal: '.' | ',', context: GuessContext): ColumnFacts {
  const fields = data.map((r) => r[i] ?? '');
  const numbers = fields.map((f) => readNumber(f, decimal)).filter((v) => Number.isFinite(v));
  const sorted = [...numbers].sort((a, b) => a - b);
  const quantile = (q: number): number => sorted[Math.floor(q * (sorted.length - 1))] ?? 0;
  const letters = fields.filter((f) => {
    const code = f.toUpperCase().split(/[\s/]/)[0];
    return context.knownCodes.has(code) || context.knownCodes.has(withoutTail(code, DIGITS));
  });
  const n = Math.max(1, fields.length);
  return {
    numeric: numbers.length / n,
    decimals: fields.filter((f) => /[.,]\d+$/.test(f)).length / n,
    distinct: new Set(fields).size / n,
    spread: quantile(0.95) - quantile(0.05),
    middle: quantile(0.5),
    coded: letters.length / n,
    filled: fields.filter((f) => f !== '').length / n,
  };
}

function rolesFromContents(columns: ColumnFacts[], roles: Role[], why: string[], context: GuessContext): string {
  const set = (i: number, role: Role, reason: string): void => {
    roles[i] = role;
    why[i] = reason;
  };
  const measured = columns.flatMap((c, i) => (c.numeric > 0.6 && c.decimals > 0.4 ? [i] : []));
  const plain = columns.flatMap((c, i) => (c.numeric > 0.6 && c.decimals <= 0.4 ? [i] : []));
  const coordinates = coordinatesOf(measured, plain);
  const first = columns.findIndex((c, i) => !coordinates.includes(i) && c.distinct > 0.8 && c.filled > 0.9);
  if (first >= 0 && (coordinates.length === 0 || first < coordinates[0]))
    set(first, 'P', 'each value once, before the coordinates');
  const coded = columns.findIndex((c, i) => roles[i] === '_' && !coordinates.includes(i) && c.coded > 0.3);
  if (coded >= 0) set(coded, 'D', `${Math.round(columns[coded].coded * 100)} % of the values are codes of the list`);
  else {
    const text = columns.findIndex(
      (c, i) => roles[i] === '_' && !coordinates.includes(i) && c.numeric < 0.5 && c.filled > 0,
    );
    if (text >= 0) set(text, 'D', 'text after the coordinates');
  }
  // Words of a description that spaces have parted belong to it.
  if (roles.includes('D'))
    for (let i = roles.indexOf('D') + 1; i < roles.length; i++)
      if (roles[i] === '_' && columns[i].numeric < 0.6) set(i, 'D', 'goes on with the description');

  if (coordinates.length < 2) return 'no two columns hold coordinates';
  const [a, b] = coordinates;
  const z: number | undefined = coordinates[2];
  const doubt = z === undefined ? null : elevationDoubt(columns, coordinates);
  if (z !== undefined) set(z, 'Z', `the third measured column${doubt ? `; ${doubt}` : ''}`);
  const nameOrder = orderFromName(context.fileName);
  const order = nameOrder ?? context.order;
  const reason = nameOrder
    ? `the file’s name says ${nameOrder === 'EN' ? 'east, north' : 'north, east'}`
    : 'the project’s order; the file does not say';
  set(a, order === 'EN' ? 'E' : 'N', reason);
  set(b, order === 'EN' ? 'N' : 'E', reason);
  return reason;
}

/**
 * Coordinates without decimals happen, and then elevations may have some all the same: the two columns before a single one with
 * decimals are its place, as the last three are where none has any. The number is the first column that counts up.
 */
function coordinatesOf(measured: readonly number[], plain: readonly number[]): number[] {
  if (measured.length >= 2) return measured.slice(0, 3);
  const before = plain.filter((i) => i < measured[0]);
  return measured.length === 1 && before.length >= 2 ? [...before.slice(-2), measured[0]] : plain.slice(-3);
}

/**
 * Elevation stands third in nearly every file. A line of points along one axis varies less across it than in height, so
 * spread decides nothing; where another column looks more like elevations, by size and spread, that is said.
 */
function elevationDoubt(columns: readonly ColumnFacts[], [a, b, z]: readonly number[]): string | null {
  const like = [a, b].find((i) => {
    const other = i === a ? b : a;
    const size = (k: number): number => Math.abs(columns[k].middle);
    return columns[i].spread < 0.3 * columns[z].spread && size(i) < 0.2 * size(z) && size(i) < 0.2 * size(other);
  });
  return like === undefined ? null : `column ${like + 1} looks more like elevations: is the order right?`;
}

const CONTROL_CODE = /^(cp|bm|tbm|stn|sta|station|ctrl|control|mon|monument|gcp|fp|pp|trig)\d*$/i;

function looksLikeControl(data: readonly string[][], roles: readonly Role[]): boolean {
  const at = roles.indexOf('D');
  if (at < 0 || data.length === 0) return false;
  const coded = data.filter((r) => CONTROL_CODE.test((r[at] ?? '').trim().split(/\s/)[0])).length;
  return coded > 0.8 * data.length;
}

/** Headings and a row of units at the most, and a remark between them. */
const HEADING_ROWS = 3;

function orderFromName(name: string): 'EN' | 'NE' | null {
  const base = name.replace(/\.[^.]*$/, '').toUpperCase();
  if (/(^|[^A-Z])(P?ENZ?D?|P?E_?N_?Z?|XYZ?)([^A-Z]|$)/.test(base)) return 'EN';
  if (/(^|[^A-Z])(P?NEZ?D?|P?N_?E_?Z?|YXZ?)([^A-Z]|$)/.test(base)) return 'NE';
  return null;
}

/** Whether the points lie near the known places as the roles stand, or only with east and north exchanged. */
function orderFromControl(
  roles: Role[],
  data: string[][],
  decimal: '.' | ',',
  context: GuessContext,
  unit: FileUnit,
): 'keep' | 'swap' | 'silent' {
  const e = roles.indexOf('E');
  const n = roles.indexOf('N');
  if (e < 0 || n < 0 || context.near.length < 2) return 'silent';
  const factor = METRES_IN_FILE[unit];
  const places = data
    .map((r) => ({ x: readNumber(r[e] ?? '', decimal) * factor, y: readNumber(r[n] ?? '', decimal) * factor }))
    .filter((p) => Number.isFinite(p.x) && Number.isFinite(p.y));
  if (places.length === 0) return 'silent';
  const middle = (v: number[]): number => [...v].sort((p, q) => p - q)[Math.floor(v.length / 2)];
  const cx = middle(context.near.map((p) => p.x));
  const cy = middle(context.near.map((p) => p.y));
  const reach = Math.max(50, ...context.near.map((p) => distance(p.x - cx, p.y - cy))) * 5;
  const px = middle(places.map((p) => p.x));
  const py = middle(places.map((p) => p.y));
  const straight = distance(px - cx, py - cy);
  const swapped = distance(py - cx, px - cy);
  if (straight <= reach && swapped > reach) return 'keep';
  if (swapped <= reach && straight > reach) return 'swap';
  return 'silent';
}

/** As many columns as a layout may have. */
const MOST_COLUMNS = 200;

function commonWidth(data: string[][]): number {
  // The widest of the usual widths: descriptions parted by spaces make some rows longer.
  const counts = new Map<number, number>();
  for (const r of data) counts.set(r.length, (counts.get(r.length) ?? 0) + 1);
  const widest = Math.max(0, ...[...counts].filter(([, c]) => c >= Math.max(1, data.length * 0.02)).map(([w]) => w));
  return Math.min(widest, MOST_COLUMNS);
}

function mostCommon(values: number[]): number {
  const counts = new Map<number, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 0;
}
