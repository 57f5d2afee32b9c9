import proj4 from 'proj4';
import {
  geographicOf,
  gridsNamed,
  plainDatum,
  wrapped,
  type CoordinateSystem,
  type PublishedSystem,
} from './system.ts';
import { gridBoxes, gridKey } from './datum-grids.ts';

/** Carries columns of coordinates from one system to another. */
export interface Transformation {
  /**
   * Changes the columns in place. Projected coordinates are metres, geographic ones degrees (x longitude,
   * y latitude). `z`, heights in metres, counts in plan, since a change of datum moves a high place by more; it
   * changes itself only where it is `ellipsoidal` (elevations above the sea do not belong to a datum). What cannot be
   * carried over becomes NaN; gives how many did not.
   */
  apply: (x: Float64Array, y: Float64Array, z?: Float64Array, heights?: 'ellipsoidal' | 'orthometric') => number;
}

export type MadeTransformation = { ok: true; transformation: Transformation } | { ok: false; reason: string };

/** From one published system to another. Refused in a sentence when a datum grid is lacking. */
export function transformBetween(from: PublishedSystem, to: PublishedSystem): MadeTransformation {
  for (const system of [from, to])
    for (const grid of gridsNamed(system.definition))
      if (!sameDatum(from, to) && !gridBoxes(grid))
        return {
          ok: false,
          reason: `${system.name} needs the datum grid ${grid}, which this project lacks. Import the grid first.`,
        };
  try {
    if (sameDatum(from, to))
      return { ok: true, transformation: plainTransformation(plainDatum(from.definition), plainDatum(to.definition)) };
    const boxed = [from, to].some((s) => gridsNamed(s.definition).length > 0);
    return {
      ok: true,
      transformation: boxed ? throughGrids(from, to) : plainTransformation(from.definition, to.definition),
    };
  } catch (error) {
    return { ok: false, reason: `These systems cannot be computed: ${(error as Error).message}.` };
  }
}

/** Whether two systems stand on the same datum, so that nothing but the projection changes. */
export function sameDatum(a: PublishedSystem, b: PublishedSystem): boolean {
  const datum = (s: PublishedSystem): string =>
    s.definition
      .split(/\s+/)
      .filter((w) => /^\+(ellps|datum|a|b|rf|towgs84|nadgrids|pm)=/.test(w))
      .sort()
      .join(' ');
  return datum(a) === datum(b);
}

function plainTransformation(from: string, to: string): Transformation {
  const { forward } = proj4(from, to);
  // Through the centre of the earth: the package gives heights back unchanged in any other way.
  const up = proj4(from, GEOCENTRIC).forward;
  const down = proj4(GEOCENTRIC, to).forward;
  const inSpace: Forward = (at) => (at.z === undefined ? forward(at) : down(up(at)));
  return { apply: (x, y, z, heights) => run(z ? inSpace : forward, x, y, z, heights) };
}
const GEOCENTRIC = '+proj=geocent +datum=WGS84 +units=m +no_defs';

type Forward = (at: { x: number; y: number; z?: number }) => { x: number; y: number; z?: number };

function run(
  forward: Forward,
  x: Float64Array,
  y: Float64Array,
  z?: Float64Array,
  heights: 'ellipsoidal' | 'orthometric' = 'ellipsoidal',
): number {
  let lost = 0;
  for (let i = 0; i < x.length; i++) {
    try {
      const at = forward(z && !Number.isNaN(z[i]) ? { x: x[i], y: y[i], z: z[i] } : { x: x[i], y: y[i] });
      x[i] = at.x;
      y[i] = at.y;
      if (z && heights === 'ellipsoidal' && at.z !== undefined && !Number.isNaN(z[i])) z[i] = at.z;
    } catch {
      x[i] = y[i] = NaN;
    }
    if (!(Number.isFinite(x[i]) && Number.isFinite(y[i]))) {
      x[i] = y[i] = NaN;
      lost++;
    }
  }
  return lost;
}

/** In two steps, so that a place outside a grid is said and not shifted by something else. */
function throughGrids(from: PublishedSystem, to: PublishedSystem): Transformation {
  const keyed = (definition: string): string =>
    definition.replace(
      /\+nadgrids=(\S+)/,
      (_, names: string) => `+nadgrids=${names.split(',').map(gridKey).join(',')}`,
    );
  const datumOf = (definition: string): string =>
    `+proj=longlat ${definition
      .split(/\s+/)
      .filter((w) => /^\+(ellps|datum|a|b|rf|towgs84|nadgrids|pm)=/.test(w))
      .join(' ')} +no_defs`;
  const boxesOf = (s: PublishedSystem) => gridsNamed(s.definition).flatMap((g) => gridBoxes(g) ?? []);
  const [fromBoxes, toBoxes] = [boxesOf(from), boxesOf(to)];
  const steps: { forward: Forward; boxes: ReturnType<typeof boxesOf> }[] = [
    { forward: proj4(plainDatum(from.definition), geographicOf(from.definition)).forward as Forward, boxes: [] },
    { forward: proj4(keyed(datumOf(from.definition)), WGS84_DEGREES).forward as Forward, boxes: fromBoxes },
    { forward: proj4(WGS84_DEGREES, keyed(datumOf(to.definition))).forward as Forward, boxes: toBoxes },
    { forward: proj4(geographicOf(to.definition), plainDatum(to.definition)).forward as Forward, boxes: [] },
  ];
  return {
    // A grid shifts in plan alone: heights stay as they are.
    apply(x, y) {
      for (const { forward, boxes } of steps) {
        if (boxes.length)
          for (let i = 0; i < x.length; i++)
            if (!boxes.some((b) => y[i] >= b.south && y[i] <= b.north && x[i] >= b.west && x[i] <= b.east)) x[i] = NaN;
        run(forward, x, y);
      }
      return x.reduce((lost, v) => lost + (Number.isNaN(v) ? 1 : 0), 0);
    },
  };
}

const WGS84_DEGREES = '+proj=longlat +datum=WGS84 +no_defs';

/** Longitude and latitude, degrees on the system's own datum, of one place; null where it cannot be computed. */
export function geographicAt(
  system: PublishedSystem,
  x: number,
  y: number,
): { longitude: number; latitude: number } | null {
  if (system.kind === 'geographic') return { longitude: x, latitude: y };
  try {
    const at = proj4(plainDatum(system.definition), geographicOf(system.definition)).forward({ x, y });
    return Number.isFinite(at.x) && Number.isFinite(at.y) ? { longitude: wrapped(at.x), latitude: at.y } : null;
  } catch {
    return null;
  }
}

/** Degrees to the system's own coordinates, on the same datum; null where it cannot be computed. */
export function projectedAt(
  system: PublishedSystem,
  longitude: number,
  latitude: number,
): { x: number; y: number } | null {
  if (system.kind === 'geographic') return { x: longitude, y: latitude };
  try {
    const at = proj4(geographicOf(system.definition), plainDatum(system.definition)).forward({
      x: longitude,
      y: latitude,
    });
    return Number.isFinite(at.x) && Number.isFinite(at.y) ? { x: at.x, y: at.y } : null;
  } catch {
    return null;
  }
}

export const isPublished = (system: CoordinateSystem): system is PublishedSystem => system.kind !== 'local';
