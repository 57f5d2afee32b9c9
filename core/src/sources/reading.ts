import { isPublished } from '#core/basis';
import { readPoints, rowsOfFile, withLost, withoutUnderlay, type ReadOptions, type ReadPoints } from '#core/exchange';
import { carryOver } from './carry-over.ts';
import { readBook } from './reading-books.ts';
import type { GridBytes, Reading, ReadingPlan } from './reading-plan.ts';

// From received bytes to points in the project's system. Projections need trigonometry, which is not the same
// to the last bit in every engine: this runs once, on the server, and its result is stored
// (docs/decisions/005-where-projections-run.md).

/** How a refusal begins that exchanging two columns would settle. */
export const EXCHANGED_DEGREES = 'Latitude and longitude are swapped';

/** Whether degrees lie outside an area as they stand and inside it with their columns exchanged; x is longitude. */
export function degreesExchanged(
  area: { west: number; south: number; east: number; north: number },
  x: ArrayLike<number>,
  y: ArrayLike<number>,
): boolean {
  const inside = (lon: number, lat: number): boolean =>
    lat >= area.south &&
    lat <= area.north &&
    (area.east >= area.west ? lon >= area.west && lon <= area.east : lon >= area.west || lon <= area.east);
  let exchanged = 0;
  for (let i = 0; i < x.length; i++) if (!inside(x[i], y[i]) && inside(y[i], x[i])) exchanged++;
  return exchanged * 2 > x.length;
}

/** Reads an original by its plan. Rows that a grid does not reach are left out and listed; null when the caller stopped it. */
export async function readByPlan(
  bytes: Uint8Array,
  plan: ReadingPlan,
  grids: GridBytes,
  options: ReadOptions = {},
): Promise<Reading | null> {
  if (plan.book) return readBook(bytes, plan, grids, options);
  const rows = rowsOfFile(bytes, plan.layout);
  if (!rows.ok) return rows;
  const found = readPoints(rows.text, plan.layout, options);
  if (!found) return null;
  const read = withLost(found, rows.lost);
  if (plan.layout.degrees && !plan.from)
    return {
      ok: false,
      reason:
        'The file holds latitudes and longitudes, and the project has no published system to transform them to. Choose the project’s system under Basis first.',
    };
  const area = plan.to && isPublished(plan.to) ? plan.to.area : null;
  if (plan.layout.degrees && area && degreesExchanged(area, read.x, read.y))
    return {
      ok: false,
      reason: `${EXCHANGED_DEGREES}: the points lie in the area of the project’s system only with the two swapped. Swap the two columns.`,
    };
  const carried = await carryOver(read, plan, grids);
  if (!carried.ok) return carried;
  const { together } = rows;
  const there = withoutLost(together ? { ...read, lightFrom: together.lightFrom } : read, plan);
  const whole = together?.underlay ? withoutUnderlay(there, together.underlay.from) : there;
  return { ok: true, read: rows.surface ? { ...whole, triangles: trianglesOf(rows.surface.faces, whole.row) } : whole }; // prettier-ignore
}

/** Faces by the rows that were read; one with a vertex that was not goes. Vertices stand under one heading row. */
function trianglesOf(faces: Uint32Array, rows: Uint32Array): Uint32Array {
  const at = new Map<number, number>();
  rows.forEach((row, i) => at.set(row - 2, i));
  const out: number[] = [];
  for (let t = 0; t < faces.length; t += 3) {
    const corners = [at.get(faces[t]), at.get(faces[t + 1]), at.get(faces[t + 2])];
    if (corners.every((c) => c !== undefined)) out.push(...corners);
  }
  return Uint32Array.from(out);
}

/** Takes out rows that no grid reached, and says so in the account: nothing is extrapolated. */
function withoutLost(read: ReadPoints, plan: ReadingPlan): ReadPoints {
  const keep: number[] = [];
  const refused = [...read.refused];
  let lost = 0;
  for (let i = 0; i < read.x.length; i++) {
    if (Number.isFinite(read.x[i]) && Number.isFinite(read.y[i])) {
      keep.push(i);
      continue;
    }
    lost++;
    const why =
      read.x[i] === Infinity
        ? `the place lies outside the geoid ${plan.geoid?.name ?? ''}; nothing is extrapolated`
        : 'the place cannot be transformed to the project’s system: it lies outside the datum grid or the projection';
    if (refused.length < 1000) refused.push({ row: read.row[i], text: `point ${read.number[i]}`, reason: why });
  }
  if (lost === 0) return read;
  const kept = new Set(keep);
  return {
    ...read,
    number: keep.map((i) => read.number[i]),
    description: keep.map((i) => read.description[i]),
    x: Float64Array.from(keep, (i) => read.x[i]),
    y: Float64Array.from(keep, (i) => read.y[i]),
    z: Float64Array.from(keep, (i) => read.z[i]),
    row: Uint32Array.from(keep, (i) => read.row[i]),
    ...(read.sdPlan && read.sdHeight ? { sdPlan: read.sdPlan.filter((_, i) => kept.has(i)), sdHeight: read.sdHeight.filter((_, i) => kept.has(i)) } : {}), // prettier-ignore
    refused,
    refusedCount: read.refusedCount + lost,
  };
}
