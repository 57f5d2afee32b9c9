import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import {
  geographicAt,
  geoidHeight,
  holdNtv2,
  holdTiff,
  isTiff,
  readGtx,
  readTiffGeoid,
  sameDatum,
  transformBetween,
  type GeoidGrid,
  type PublishedSystem,
} from '#core/basis';
import { degreesExchanged, EXCHANGED_DEGREES } from '#core/sources';
import { hashBytes } from '#core/kernel';
import { cannotOpen, CannotDo, WrongUsage } from './problems.ts';
import type { TransformOptions } from './options.ts';

/** Places that go over together: points, then vertices of lines and surfaces. */
export interface Places {
  what: string;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
}

export interface Carried {
  from: string;
  to: string;
  heights: TransformOptions['heights'] | null;
  geoid: string | null;
}

export const readBytes = (file: string): Uint8Array => {
  try {
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    throw cannotOpen(file, error);
  }
};

/** A geoid grid from its file, GTX or GeoTIFF. */
export async function geoidFrom(file: string): Promise<GeoidGrid> {
  const bytes = readBytes(file);
  const read = isTiff(bytes) ? await readTiffGeoid(bytes) : readGtx(bytes);
  if (!read.ok) throw new CannotDo(`${basename(file)}: ${read.reason}`);
  return read.grid;
}

/** Takes datum grids in under their file names, as `+nadgrids` of a definition names them. */
async function holdGrids(files: readonly string[]): Promise<void> {
  for (const file of files) {
    const bytes = readBytes(file);
    const name = basename(file);
    const held = isTiff(bytes)
      ? await holdTiff(name, hashBytes(bytes), bytes)
      : holdNtv2(name, hashBytes(bytes), bytes);
    if (!held.ok) throw new CannotDo(`${name}: ${held.reason}`);
  }
}

/**
 * Brings columns from one system to another in place, and their elevations through a geoid. All or nothing:
 * a place that cannot be carried over, or a result outside the area that the system is meant for, is refused.
 */
export async function carry(
  columns: Places[],
  from: PublishedSystem,
  to: PublishedSystem,
  options: TransformOptions,
): Promise<Carried> {
  if (options.heights && options.heights !== 'ellipsoidal' && !options.geoid)
    throw new WrongUsage('--heights needs the geoid that lies between both: --geoid FILE.gtx.');
  if (options.geoid && (!options.heights || options.heights === 'ellipsoidal'))
    throw new WrongUsage('--geoid needs to know which way: --heights to-orthometric or to-ellipsoidal.');
  await holdGrids(options.grids);
  const made = transformBetween(from, to);
  if (!made.ok)
    throw new CannotDo(
      made.reason.replace('which this project lacks. Import the grid first.', 'which is not given. Add --grids FILE.'),
    );
  const changesDatum = !sameDatum(from, to);
  // Over the ellipsoid they belong to a datum; above the sea they count in plan alone.
  const heights = options.heights === 'to-orthometric' || options.heights === 'ellipsoidal' ? 'ellipsoidal' : 'orthometric'; // prettier-ignore
  const { area } = to;
  if (from.kind === 'geographic' && area && columns.some((c) => degreesExchanged(area, c.x, c.y)))
    throw new CannotDo(`${EXCHANGED_DEGREES}: the places lie in the area of ${to.name} only with the two swapped.`);
  for (const c of columns) {
    const before = c.x.slice();
    const lost = made.transformation.apply(c.x, c.y, changesDatum ? c.z : undefined, heights);
    if (lost) {
      const first = c.x.findIndex(Number.isNaN);
      throw new CannotDo(
        `${lost} of ${c.x.length} ${c.what} cannot be transformed to ${to.name}: they lie outside the projection or the datum grid (the first at ${before[first].toFixed(3)}).`,
      );
    }
  }
  needInArea(columns, to, options);
  if (options.geoid) await lift(columns, to, options);
  return {
    from: from.name,
    to: to.name,
    heights: options.heights ?? null,
    geoid: options.geoid ? basename(options.geoid) : null,
  };
}

function needInArea(columns: Places[], to: PublishedSystem, options: TransformOptions): void {
  if (options.outsideArea) return;
  const box = to.extent ?? (to.area ? [to.area.west, to.area.south, to.area.east, to.area.north] : null);
  if (!box) return;
  const margin = 0.05 * Math.max(box[2] - box[0], box[3] - box[1]);
  const inside = (x: number, y: number): boolean =>
    x > box[0] - margin && x < box[2] + margin && y > box[1] - margin && y < box[3] + margin;
  let [out, swapped, count] = [0, 0, 0];
  for (const { x, y } of columns)
    for (let i = 0; i < x.length; i++) {
      count++;
      if (inside(x[i], y[i])) continue;
      out++;
      if (inside(y[i], x[i])) swapped++;
    }
  if (out * 2 <= count) return;
  throw new CannotDo(
    `${out} of ${count} places lie outside the area of ${to.name}${swapped === out ? '; with east and north swapped they are inside' : ''}. Add --outside-area to do it all the same.`,
  );
}

async function lift(columns: Places[], to: PublishedSystem, options: TransformOptions): Promise<void> {
  const geoid = await geoidFrom(options.geoid!);
  const sign = options.heights === 'to-orthometric' ? -1 : 1;
  for (const c of columns)
    for (let i = 0; i < c.x.length; i++) {
      if (Number.isNaN(c.z[i])) continue;
      const at = geographicAt(to, c.x[i], c.y[i]);
      const height = at ? geoidHeight(geoid, at.longitude, at.latitude, options.interpolation) : NaN;
      if (Number.isNaN(height))
        throw new CannotDo(
          `A place of the ${c.what} lies outside the geoid ${basename(options.geoid!)}; nothing is extrapolated.`,
        );
      c.z[i] += sign * height;
    }
}
