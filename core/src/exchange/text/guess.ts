import { distance } from '#core/kernel';
import type { LengthUnit } from '#core/measure';
import { METRES_IN } from '#core/measure';
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
}

export interface GuessedLayout {
  layout: TextLayout;
  /** One reason a column, and one for the separator, unit and rows. */
  why: { columns: string[]; separator: string; unit: string; skip: string; order: string };
}

const HEADINGS: [Role, RegExp][] = [
  ['P', /^(p|pt|pnt|point|nr|no|num|number|id|name|point.?(no|nr|id|number|name))\.?$/i],
  ['E', /^(e|x|east|easting|eastings|lon|long|longitude)\b/i],
  ['N', /^(n|y|north|northing|northings|lat|latitude)\b/i],
  ['Z', /^(z|h|el|elev|elevation|height|level|ortho.*|ellips.*)\b/i],
  ['L', /^(line|line.?(no|nr|number|name|id))$/i],
  ['W', /^(line.?)?words?$/i],
  ['D', /^(d|desc|description|code|codes|remark|remarks|note|feature)\b/i],
];

/** Guesses how a text file of points is laid out from its first rows, and says why. */
export function guessLayout(rows: readonly string[], context: GuessContext): GuessedLayout {
  const sample = rows.filter((r) => r.trim() !== '').slice(0, 200);
  const { separator, reason: separatorWhy } = guessSeparator(sample);
  const decimal = guessDecimal(sample, separator);
  const split = sample.map((r) => splitRow(r, separator));
  const firstData = split.findIndex((f) => f.filter((v) => !Number.isNaN(readNumber(v, decimal))).length >= 2);
  const headingRow = firstData > 0 ? split[firstData - 1] : undefined;
  // Blank rows before the first point count as rows to skip too.
  const skipRows = firstData < 0 ? 0 : rows.indexOf(sample[firstData]);
  const data = split.slice(Math.max(firstData, 0));
  const width = commonWidth(data);
  const columns = Array.from({ length: width }, (_, i) => columnFacts(data, i, decimal, context));

  const roles: Role[] = new Array<Role>(width).fill('_');
  const why: string[] = new Array<string>(width).fill('nothing speaks for it');
  const unit = unitFromHeadings(headingRow ?? split[0] ?? []) ?? context.unit;
  let orderWhy = '';
  const headed = headingRow ? headingRoles(headingRow, width) : null;
  if (headed) {
    headed.forEach((role, i) => {
      roles[i] = role;
      why[i] = role === '_' ? `heading “${headingRow![i] ?? ''}” is none that is read` : `heading “${headingRow![i]}”`;
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
      unit: unitFromHeadings(headingRow ?? split[0] ?? [])
        ? 'a heading names it'
        : 'the project’s unit; the file does not say',
      skip: skipRows > 0 ? `the first point stands in row ${skipRows + 1}` : 'the first row is a point',
      order: orderWhy,
    },
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
    const score = share - handicap + Math.min(common, 6) * 0.01;
    if (score > bestScore) [best, bestScore] = [separator, score];
  }
  return {
    separator: best,
    reason:
      bestScore < 0
        ? 'no separator parts the rows into three columns or more'
        : 'it parts most rows into the same number of columns',
  };
}

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
    return context.knownCodes.has(code) || context.knownCodes.has(code.replace(/\d+$/, ''));
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
  // Coordinates without decimals happen; then the number is the first column that counts up.
  const coordinates = measured.length >= 2 ? measured.slice(0, 3) : plain.slice(-3);
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
  let [a, b] = coordinates;
  let z: number | undefined = coordinates[2];
  if (z !== undefined && context.near.length === 0) {
    // The elevation is the column that varies least; mostly the last one.
    const least = [...coordinates].sort((p, q) => columns[p].spread - columns[q].spread)[0];
    if (columns[least].spread < 0.3 * columns[z].spread) {
      z = least;
      [a, b] = coordinates.filter((i) => i !== least);
    }
  }
  if (z !== undefined) set(z, 'Z', 'the third measured column, varies least');
  const nameOrder = orderFromName(context.fileName);
  const order = nameOrder ?? context.order;
  const reason = nameOrder
    ? `the file’s name says ${nameOrder === 'EN' ? 'east, north' : 'north, east'}`
    : 'the project’s order; the file does not say';
  set(a, order === 'EN' ? 'E' : 'N', reason);
  set(b, order === 'EN' ? 'N' : 'E', reason);
  return reason;
}

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
  unit: LengthUnit,
): 'keep' | 'swap' | 'silent' {
  const e = roles.indexOf('E');
  const n = roles.indexOf('N');
  if (e < 0 || n < 0 || context.near.length < 2) return 'silent';
  const factor = METRES_IN[unit];
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

function headingRoles(fields: string[], width: number): Role[] | null {
  const roles = fields.slice(0, width).map((f): Role => {
    const plain = f.replace(/[[(].*?[\])]/g, '').trim();
    return HEADINGS.find(([, pattern]) => pattern.test(plain))?.[0] ?? '_';
  });
  while (roles.length < width) roles.push(roles.at(-1) === 'D' ? 'D' : '_');
  const once = (r: Role): boolean => roles.filter((q) => q === r).length === 1;
  return once('E') && once('N') ? roles : null;
}

/** The unit that headings name, in brackets or behind the name; null where none does or they do not agree. */
export function unitFromHeadings(fields: readonly string[]): LengthUnit | null {
  const named = new Set(fields.map((f) => unitOfHeading(f.toLowerCase())).filter((u) => u !== null));
  return named.size === 1 ? [...named][0] : null;
}

function unitOfHeading(text: string): LengthUnit | null {
  if (/us\s?(survey\s?)?(ft|feet|foot)|usft|ftus/.test(text)) return 'usft';
  const found = /[[(]\s*([a-z ]+?)\s*[\])]|[a-z]{1,20}[\s_]+([a-z]{1,10})\s*$/.exec(text);
  const unit = found?.[1] ?? found?.[2] ?? '';
  if (['ft', 'feet', 'foot', 'international feet'].includes(unit)) return 'ft';
  return ['m', 'metres', 'meters'].includes(unit) ? 'm' : null;
}

function commonWidth(data: string[][]): number {
  // The widest of the usual widths: descriptions parted by spaces make some rows longer.
  const counts = new Map<number, number>();
  for (const r of data) counts.set(r.length, (counts.get(r.length) ?? 0) + 1);
  return Math.max(0, ...[...counts].filter(([, c]) => c >= Math.max(1, data.length * 0.02)).map(([w]) => w));
}

function mostCommon(values: number[]): number {
  const counts = new Map<number, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 0;
}
