import { ringArea, ringCrossesItself } from '#core/kernel';
import { readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { Settings } from './document/settings-schema.ts';

export type TypedRing = { ring: number[] } | { reason: string };

const MOST_CORNERS = 10_000;
/** m² */
const NO_AREA = 1e-6;
/** m; a last corner this near to the first one says it again. */
const AGAIN = 1e-6;

/**
 * Corners that somebody types or pastes, two coordinates a row in the order and unit of the project, in whatever separates
 * columns; a first column that is a number of the corner alone is passed over. x, y …, m; or which row cannot be read.
 */
export function readTypedRing(text: string, { unit, order }: Pick<Settings, 'unit' | 'order'>): TypedRing {
  const rows = text.split(/\r?\n/).map((r, i) => ({ row: i + 1, text: r.trim() })).filter((r) => r.text); // prettier-ignore
  if (rows.length > MOST_CORNERS) return { reason: `That is more than ${MOST_CORNERS} corners.` };
  const [first, second] = order === 'EN' ? ['east', 'north'] : ['north', 'east'];
  const ring: number[] = [];
  for (const { row, text: typed } of rows) {
    const columns = columnsOf(typed);
    const read = (columns.length > 2 ? columns.slice(-2) : columns).map((c) => coordinateOf(c, unit));
    if (columns.length < 2 || columns.length > 3 || read.some((v) => v === null)) return { reason: `Row ${row}, “${typed.slice(0, 60)}”, is no corner: type ${first} and ${second} in ${UNIT_SIGN[unit]}.` }; // prettier-ignore
    ring.push(...(order === 'EN' ? read : read.toReversed()).map((v) => v!));
  }
  const n = ring.length;
  if (n > 6 && Math.abs(ring[0] - ring[n - 2]) < AGAIN && Math.abs(ring[1] - ring[n - 1]) < AGAIN) ring.length = n - 2;
  if (ring.length < 6) return { reason: 'A boundary has three corners or more, one a row.' };
  const closed = Float64Array.from(ring);
  if (ringCrossesItself(closed)) return { reason: 'The sides of that boundary cross each other: its corners stand in another order.' }; // prettier-ignore
  if (Math.abs(ringArea(closed)) < NO_AREA) return { reason: 'That boundary has no area.' };
  return { ring };
}

/** Tabs and semicolons separate; else spaces do, a comma then being a decimal one; else commas. */
function columnsOf(text: string): string[] {
  const cut = (by: RegExp, of = text): string[] => of.split(by).map((c) => c.trim()).filter(Boolean); // prettier-ignore
  if (/[\t;]/.test(text)) return cut(/[\t;]/);
  const tight = cut(/,/).join(',');
  return /\s/.test(tight) ? cut(/\s/, tight) : cut(/,/, tight);
}

function coordinateOf(text: string, unit: LengthUnit): number | null {
  const read = readLength(text.replace(/,$/, '').replace('−', '-'), unit);
  return read.ok ? read.metres : null;
}
