import type { GeographicArea } from './system.ts';
import { wrapped } from './system.ts';

/**
 * Heights of the geoid above the ellipsoid on a regular grid of latitude and longitude. Values run from the
 * south-west corner eastwards, row by row to the north; NaN where there is none. Degrees and metres.
 */
export interface GeoidGrid {
  south: number;
  west: number;
  latitudeStep: number;
  longitudeStep: number;
  rows: number;
  columns: number;
  values: Float32Array;
}

export type ReadGeoid = { ok: true; grid: GeoidGrid } | { ok: false; reason: string };

const GTX_HEAD = 40;
/** GTX marks missing nodes by this number. */
const GTX_NONE = -88.8888;
const MOST_NODES = 64_000_000;

/** Whether a file is as long as the head of a GTX grid would have it, which has no sign of its own. */
export function isGtx(bytes: Uint8Array): boolean {
  if (bytes.length <= GTX_HEAD) return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [rows, columns] = [view.getInt32(32), view.getInt32(36)];
  return rows > 1 && columns > 1 && bytes.length === GTX_HEAD + 4 * rows * columns;
}

/** Reads a GTX grid: big-endian, south, west, steps as doubles, rows and columns as integers, then floats from the south-west corner (as PROJ documents it). */
export function readGtx(bytes: Uint8Array): ReadGeoid {
  const no = (reason: string): ReadGeoid => ({ ok: false, reason });
  if (bytes.length < GTX_HEAD) return no('The file is too short for a GTX grid.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [south, west, latitudeStep, longitudeStep] = [0, 8, 16, 24].map((at) => view.getFloat64(at));
  const [rows, columns] = [view.getInt32(32), view.getInt32(36)];
  const problem = shapeProblem(south, west, latitudeStep, longitudeStep, rows, columns);
  if (problem) return no(problem);
  const needed = GTX_HEAD + 4 * rows * columns;
  if (bytes.length < needed)
    return no(
      `The grid file is cut short: it states ${rows} × ${columns} nodes, ${Math.floor((bytes.length - GTX_HEAD) / 4)} are there.`,
    );
  if (bytes.length > needed)
    return no(
      `The grid file states ${rows} × ${columns} nodes, but goes on for ${bytes.length - needed} bytes behind them: its counts are wrong.`,
    );
  const values = new Float32Array(rows * columns);
  for (let i = 0; i < values.length; i++) {
    const v = view.getFloat32(GTX_HEAD + 4 * i);
    values[i] = Math.abs(v - GTX_NONE) < 1e-4 || Math.abs(v) > 1000 ? NaN : v;
  }
  return { ok: true, grid: { south, west, latitudeStep, longitudeStep, rows, columns, values } };
}

export function shapeProblem(
  south: number,
  west: number,
  latitudeStep: number,
  longitudeStep: number,
  rows: number,
  columns: number,
): string | null {
  if (![south, west, latitudeStep, longitudeStep].every(Number.isFinite))
    return 'The corner or the step of the grid is not a number.';
  if (!(latitudeStep > 0 && longitudeStep > 0)) return 'The step between the grid’s nodes is not positive.';
  if (rows < 2 || columns < 2 || rows * columns > MOST_NODES)
    return `The grid states ${rows} × ${columns} nodes, which cannot be.`;
  if (south < -90.001 || south + (rows - 1) * latitudeStep > 90.001)
    return `The grid’s latitudes run from ${south}° to ${south + (rows - 1) * latitudeStep}°, beyond a pole. Are latitude and longitude swapped, or the counts wrong?`;
  if (Math.abs(west) > 360 || (columns - 1) * longitudeStep > 360.001)
    return 'The grid covers more than a full turn of longitude.';
  return null;
}

/** Writes GTX. */
export function writeGtx(grid: GeoidGrid): Uint8Array {
  const bytes = new Uint8Array(GTX_HEAD + 4 * grid.values.length);
  const view = new DataView(bytes.buffer);
  [grid.south, grid.west, grid.latitudeStep, grid.longitudeStep].forEach((v, i) => view.setFloat64(8 * i, v));
  view.setInt32(32, grid.rows);
  view.setInt32(36, grid.columns);
  grid.values.forEach((v, i) => view.setFloat32(GTX_HEAD + 4 * i, Number.isNaN(v) ? GTX_NONE : v));
  return bytes;
}

export type Interpolation = 'bilinear' | 'biquadratic';

const around = (grid: GeoidGrid): boolean => grid.columns * grid.longitudeStep >= 360 - 1e-6;

/** Column, as a real number from 0, of a longitude; NaN outside. */
function columnAt(grid: GeoidGrid, longitude: number): number {
  let turn = wrapped(longitude - grid.west);
  if (turn < -1e-9) turn += 360;
  const at = turn / grid.longitudeStep;
  if (around(grid)) return at;
  return at > grid.columns - 1 + 1e-9 ? NaN : Math.min(at, grid.columns - 1);
}

function rowAt(grid: GeoidGrid, latitude: number): number {
  const at = (latitude - grid.south) / grid.latitudeStep;
  return at < -1e-9 || at > grid.rows - 1 + 1e-9 ? NaN : Math.max(0, Math.min(at, grid.rows - 1));
}

/** Geoid height in metres; NaN outside the grid or beside a missing node: nothing is extrapolated. */
export function geoidHeight(
  grid: GeoidGrid,
  longitude: number,
  latitude: number,
  interpolation: Interpolation = 'bilinear',
): number {
  const [column, row] = [columnAt(grid, longitude), rowAt(grid, latitude)];
  if (Number.isNaN(column) || Number.isNaN(row)) return NaN;
  const value = (r: number, c: number): number =>
    grid.values[r * grid.columns + (around(grid) ? ((c % grid.columns) + grid.columns) % grid.columns : c)];
  if (interpolation === 'biquadratic' && grid.rows >= 3 && grid.columns >= 3) {
    // Three by three nodes about the nearest one, a parabola along each row, then one across.
    const c0 = around(grid) ? Math.round(column) - 1 : Math.max(0, Math.min(Math.round(column) - 1, grid.columns - 3));
    const r0 = Math.max(0, Math.min(Math.round(row) - 1, grid.rows - 3));
    const along = [0, 1, 2].map((r) =>
      parabola(value(r0 + r, c0), value(r0 + r, c0 + 1), value(r0 + r, c0 + 2), column - c0),
    );
    return parabola(along[0], along[1], along[2], row - r0);
  }
  const c0 = around(grid) ? Math.floor(column) : Math.min(Math.floor(column), grid.columns - 2);
  const r0 = Math.min(Math.floor(row), grid.rows - 2);
  const [u, v] = [column - c0, row - r0];
  return (
    (1 - v) * ((1 - u) * value(r0, c0) + u * value(r0, c0 + 1)) +
    v * ((1 - u) * value(r0 + 1, c0) + u * value(r0 + 1, c0 + 1))
  );
}

/** Through values at 0, 1 and 2 (Newton's divided differences). */
const parabola = (a: number, b: number, c: number, t: number): number =>
  a + t * (b - a) + (t * (t - 1) * (c - 2 * b + a)) / 2;

export function geoidArea(grid: GeoidGrid): GeographicArea {
  const east = grid.west + (grid.columns - 1) * grid.longitudeStep;
  return around(grid)
    ? { west: -180, east: 180, south: grid.south, north: grid.south + (grid.rows - 1) * grid.latitudeStep }
    : { west: grid.west, east, south: grid.south, north: grid.south + (grid.rows - 1) * grid.latitudeStep };
}

/** The piece of a grid that covers an area, with `margin` nodes around it; null when the grid does not cover it whole. */
export function cutGeoid(grid: GeoidGrid, area: GeographicArea, margin = 2): GeoidGrid | null {
  const [w, e] = [columnAt(grid, area.west), columnAt(grid, area.east)];
  const [s, n] = [rowAt(grid, area.south), rowAt(grid, area.north)];
  if ([w, e, s, n].some(Number.isNaN)) return null;
  const c0 = around(grid) ? Math.floor(w) - margin : Math.max(0, Math.floor(w) - margin);
  const wide = Math.ceil(e < w ? e + grid.columns : e) + margin;
  const c1 = around(grid) ? Math.min(wide, c0 + grid.columns - 1) : Math.min(grid.columns - 1, wide);
  const r0 = Math.max(0, Math.floor(s) - margin);
  const r1 = Math.min(grid.rows - 1, Math.ceil(n) + margin);
  const [rows, columns] = [r1 - r0 + 1, c1 - c0 + 1];
  const values = new Float32Array(rows * columns);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      values[r * columns + c] =
        grid.values[(r0 + r) * grid.columns + ((((c0 + c) % grid.columns) + grid.columns) % grid.columns)];
  return {
    south: grid.south + r0 * grid.latitudeStep,
    west: wrapped(grid.west + c0 * grid.longitudeStep),
    latitudeStep: grid.latitudeStep,
    longitudeStep: grid.longitudeStep,
    rows,
    columns,
    values,
  };
}
