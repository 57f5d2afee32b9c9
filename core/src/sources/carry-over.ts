import {
  geographicAt,
  geoidHeight,
  holdNtv2,
  holdTiff,
  isPublished,
  isTiff,
  readGtx,
  readTiffGeoid,
  sameDatum,
  transformBetween,
  type GeoidGrid,
} from '#core/basis';
import type { ReadPoints } from '#core/exchange';
import type { GridRef } from '#core/project';
import type { GridBytes, ReadingPlan } from './reading-plan.ts';

export type Places = Pick<ReadPoints, 'x' | 'y' | 'z'>;

/** Places carried from the file's system to the project's, and their heights with them, in place. */
export async function carryOver(
  read: Places,
  plan: ReadingPlan,
  grids: GridBytes,
): Promise<{ ok: true } | { ok: false; reason: string }> {
  for (const ref of plan.datumGrids) {
    const held = grids[ref.sha256];
    if (!held) return { ok: false, reason: `The datum grid ${ref.name} is missing among the originals.` };
    const taken =
      ref.format === 'ntv2' ? holdNtv2(ref.name, ref.sha256, held) : await holdTiff(ref.name, ref.sha256, held);
    if (!taken.ok) return { ok: false, reason: `${ref.name}: ${taken.reason}` };
  }
  if (plan.from && plan.to && isPublished(plan.from) && isPublished(plan.to)) {
    const made = transformBetween(plan.from, plan.to);
    if (!made.ok) return made;
    const heights = sameDatum(plan.from, plan.to) ? undefined : read.z;
    made.transformation.apply(read.x, read.y, heights, plan.heights);
  }
  if (plan.lift !== 0) {
    const geoid = await geoidOf(plan.geoid!, grids);
    if (!geoid.ok) return geoid;
    lift(read, plan, geoid.grid);
  }
  return { ok: true };
}

/** A geoid's grid from its bytes, whichever of the two formats it is in. */
export async function geoidOf(
  ref: GridRef,
  grids: GridBytes,
): Promise<{ ok: true; grid: GeoidGrid } | { ok: false; reason: string }> {
  const bytes = grids[ref.sha256];
  if (!bytes) return { ok: false, reason: `The geoid ${ref.name} is missing among the originals.` };
  const read = isTiff(bytes) ? await readTiffGeoid(bytes) : readGtx(bytes);
  return read.ok ? read : { ok: false, reason: `${ref.name}: ${read.reason}` };
}

function lift(read: Places, plan: ReadingPlan, geoid: GeoidGrid): void {
  const to = plan.to!;
  if (!isPublished(to)) return;
  for (let i = 0; i < read.x.length; i++) {
    if (Number.isNaN(read.z[i]) || Number.isNaN(read.x[i])) continue;
    const at = geographicAt(to, read.x[i], read.y[i]);
    const height = at ? geoidHeight(geoid, at.longitude, at.latitude, plan.interpolation) : NaN;
    if (Number.isNaN(height)) read.x[i] = Infinity;
    else read.z[i] += plan.lift * height;
  }
}
