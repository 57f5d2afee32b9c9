import { plainNumber } from '#core/measure';
import { FAR_APART, MOST_NODES, type ReadGrid } from './elevation-grid.ts';

// A grid of elevations as text: some rows of a word and a number, then the values from the north-west row by row (as GDAL
// documents the format AAIGrid).

const WORDS = new Set('NCOLS NROWS XLLCORNER YLLCORNER XLLCENTER YLLCENTER CELLSIZE DX DY NODATA_VALUE'.split(' '));
const MOST_HEAD = 12;

export const isTextGrid = (text: string): boolean => /^\s{0,20}(?:ncols|nrows)[ \t]+\d/i.test(text.slice(0, 200));

export function readTextGrid(text: string): ReadGrid {
  const said = new Map<string, number>();
  let at = 0;
  for (let n = 0; n < MOST_HEAD; n++) {
    const end = text.indexOf('\n', at);
    const row = text.slice(at, end < 0 ? text.length : end).trim();
    const [word, value, ...more] = row.split(/\s+/);
    if (!WORDS.has(word.toUpperCase()) || more.length) break;
    said.set(word.toUpperCase(), plainNumber(value ?? ''));
    at = end < 0 ? text.length : end + 1;
  }
  const of = (word: string): number => said.get(word) ?? NaN;
  const [columns, rows] = [of('NCOLS'), of('NROWS')];
  const [dx, dy] = said.has('CELLSIZE') ? [of('CELLSIZE'), of('CELLSIZE')] : [of('DX'), of('DY')];
  const west = said.has('XLLCENTER') ? of('XLLCENTER') : of('XLLCORNER') + dx / 2;
  const south = said.has('YLLCENTER') ? of('YLLCENTER') : of('YLLCORNER') + dy / 2;
  if (
    ![columns, rows].every((n) => Number.isInteger(n) && n > 0) ||
    !(dx > 0) ||
    !(dy > 0) ||
    !Number.isFinite(west + south)
  )
    // prettier-ignore
    return { ok: false, reason: 'The head of the grid does not say its columns, rows, cell size and corner.' };
  if (columns * rows > MOST_NODES) return { ok: false, reason: `The grid has ${rows} × ${columns} nodes, too many to hold.` }; // prettier-ignore
  // Each value takes a letter and what parts it from the next one.
  if (columns * rows > text.length) return { ok: false, reason: `The grid is cut short: its head says ${rows} × ${columns} nodes, the file is too small for them.` }; // prettier-ignore
  const values = new Float64Array(columns * rows).fill(NaN);
  const none = of('NODATA_VALUE');
  const word = /\S+/g;
  word.lastIndex = at;
  for (let i = 0; i < values.length; i++) {
    const found = word.exec(text);
    if (!found) return { ok: false, reason: `The grid is cut short: its head says ${rows} × ${columns} nodes, ${i} are there.` }; // prettier-ignore
    const value = plainNumber(found[0]);
    if (Number.isNaN(value) && !/^nan$/i.test(found[0])) return { ok: false, reason: `Value ${i + 1} of the grid is “${found[0].slice(0, 30)}”, which is not a number.` }; // prettier-ignore
    if (value !== none) values[i] = value;
  }
  // It says no unit: nodes that would be millimetres apart, where degrees can be, are in degrees.
  const [east, north] = [west + (columns - 1) * dx, south + (rows - 1) * dy];
  const degrees = Math.max(dx, dy) < FAR_APART && west >= -180 && east <= 180 && south >= -90 && north <= 90;
  return { ok: true, grid: { columns, rows, place: [dx, 0, west, 0, -dy, north], values, unit: degrees ? 'm' : null, system: null, degrees } }; // prettier-ignore
}
