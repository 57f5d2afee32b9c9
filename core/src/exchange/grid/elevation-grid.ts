import { distance, sinCos } from '#core/kernel';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';

/** Elevations at nodes in rows and columns, as a file has them. */
export interface ElevationGrid {
  columns: number;
  rows: number;
  /** East and north of the node in a column and a row: a c + b r + x, d c + e r + y. */
  place: readonly [a: number, b: number, x: number, d: number, e: number, y: number];
  /** Row by row; NaN where none is said. */
  values: Float32Array | Float64Array;
  /** Of its elevations, and of its places unless those are in degrees; null where it does not say which. */
  unit: FileUnit | null;
  system: string | null;
  /** Its places are longitude and latitude. */
  degrees: boolean;
}

export type ReadGrid = { ok: true; grid: ElevationGrid } | { ok: false; reason: string };

/** Degrees; ground is measured closer than this, a geoid is given by nodes farther apart. */
export const FAR_APART = 0.005;

/** Nodes of a grid at the most. */
export const MOST_NODES = 64_000_000;
/** So many are taken where nobody says how close they are wanted. */
const USUAL_NODES = 250_000;
/** Points of one file at the most. */
const MOST_TAKEN = 4_000_000;

/** What is taken of a grid, in words and figures. */
export interface GridFacts {
  columns: number;
  rows: number;
  /** Between two nodes of a row and of a column, in the grid's unit; about so many metres where that is degrees. */
  spacing: [number, number];
  /** Its places are in degrees. */
  degrees?: boolean;
  /** Every how many-th node of every how many-th row is taken. */
  step: number;
  /** Steps that can be chosen. */
  steps: number[];
  taken: number;
  /** Nodes that say no elevation, of those looked at. */
  empty: number;
}

const STEPS = [1, 2, 3, 4, 5, 10, 20, 50, 100];

/** Nodes as rows of text under a heading, as of points; at most as many as a file may have. */
export function rowsOfGrid(grid: ElevationGrid, asked?: number): { text: string; facts: GridFacts } {
  const { columns, rows, values, place, unit, degrees } = grid;
  const [a, b, x, d, e, y] = place;
  const least = Math.max(1, Math.ceil(Math.sqrt((columns * rows) / MOST_TAKEN)));
  const usual = Math.max(1, Math.ceil(Math.sqrt((columns * rows) / USUAL_NODES)));
  const step = Math.max(least, Math.floor(asked ?? usual));
  const steps = [...new Set([...STEPS.filter((s) => s >= least && s < Math.min(columns, rows)), least, step])].sort((p, q) => p - q); // prettier-ignore
  const sign = unit ? ` [${unit === 'usft' ? 'us ft' : unit}]` : '';
  const out = [
    degrees ? 'number\tlongitude\tlatitude\televation [m]\tcode' : `number\teast${sign}\tnorth\televation\tcode`,
  ];
  const at = degrees ? plainDegrees : plain;
  let empty = 0;
  for (let r = 0; r < rows; r += step)
    for (let c = 0; c < columns; c += step) {
      const z = values[r * columns + c];
      if (Number.isNaN(z)) empty++;
      else out.push(`\t${at(a * c + b * r + x)}\t${at(d * c + e * r + y)}\t${plain(z)}\t`);
    }
  return {
    text: out.join('\n'),
    facts: { columns, rows, spacing: spacingOf(grid), step, steps, taken: out.length - 1, empty, ...(degrees ? { degrees } : {}) }, // prettier-ignore
  };
}

/** A node's place is a product: what its last digits say beyond a hundredth of a millimetre is rounding. */
const plain = (value: number): number => Math.round(value * 1e5) / 1e5;

/** The same in degrees: a hundredth of a millimetre is some 1e-10 of one. */
const plainDegrees = (value: number): number => Math.round(value * 1e10) / 1e10;

/** m; of a sphere that is about the earth. */
const EARTH = 6_371_000;

/** How far two nodes of a row and of a column are apart, in the grid's unit; of one in degrees about so many metres, in its middle. */
export function spacingOf({ place: [a, b, , d, e, y], rows, degrees }: ElevationGrid): [number, number] {
  const north = degrees ? (EARTH * Math.PI) / 180 : 1;
  const east = degrees ? north * sinCos(((y + (e * rows) / 2) * Math.PI) / 180)[1] : 1;
  return [distance(a * east, d * north), distance(b * east, e * north)];
}

/** West, south, east, north of its nodes, m; degrees of one in degrees. */
export function extentOfGrid({ columns, rows, place, unit, degrees }: ElevationGrid): [number, number, number, number] {
  const [a, b, x, d, e, y] = place;
  const factor = degrees ? 1 : METRES_IN_FILE[unit ?? 'm'];
  const corners = [0, columns - 1].flatMap((c) => [0, rows - 1].map((r) => [a * c + b * r + x, d * c + e * r + y]));
  const [xs, ys] = [0, 1].map((k) => corners.map((p) => p[k] * factor));
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}
