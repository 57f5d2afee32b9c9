import { hashValue } from '#core/kernel';
import { gridsNamed, isPublished, WGS84, type CoordinateSystem } from '#core/basis';
import { readPoints, rowsOfFile, withLost, type ReadOptions, type ReadPoints } from '#core/exchange';
import { carryOver } from './carry-over.ts';
import { readBook } from './reading-books.ts';
import type { Basis, GridRef, Intake } from './document.ts';

// From received bytes to points in the project's system. Projections need trigonometry, which is not the same
// to the last bit in every engine: this runs once, on the server, and its result is stored
// (docs/decisions/005-where-projections-run.md).

/** A grid file's bytes, by the hash that the basis names. */
export type GridBytes = Record<string, Uint8Array>;

/** How an intake's file is read and carried over: everything that its read depends on. */
export interface ReadingPlan {
  layout: Intake['layout'];
  /** Whether the file is a field book: then the layout of points does not matter. */
  book: boolean;
  bookLayout: NonNullable<Intake['bookLayout']> | null;
  /** Null when the numbers are taken as they stand. */
  from: CoordinateSystem | null;
  to: CoordinateSystem | null;
  /** What the file's heights are: those over an ellipsoid change with the datum. */
  heights: 'orthometric' | 'ellipsoidal';
  /** Ellipsoidal heights become orthometric (−1), the other way round (+1), or stay. */
  lift: -1 | 0 | 1;
  /** Heights ought to be lifted, and there is no geoid to do it by. */
  unlifted: boolean;
  geoid: GridRef | null;
  interpolation: Basis['interpolation'];
  datumGrids: GridRef[];
}

export function readingPlan(basis: Basis, intake: Intake): ReadingPlan {
  const to = isPublished(basis.system) ? basis.system : null;
  const book = intake.form === 'book';
  // Positions by satellite in a book that are not on the project's grid are WGS 84, heights over the ellipsoid.
  const said = intake.system ?? (book && to ? WGS84 : null);
  const from = said && isPublished(said) ? said : null;
  const carried = from !== null && to !== null && !sameSystem(from, to);
  const heights = intake.heights ?? (book ? 'ellipsoidal' : basis.heights);
  const lift = heights === basis.heights ? 0 : heights === 'ellipsoidal' ? -1 : 1;
  const lifted = lift !== 0 && basis.geoid !== null && to !== null;
  const grids = carried ? new Set([...gridsNamed(from.definition), ...gridsNamed(to.definition)]) : new Set<string>();
  return {
    layout: intake.layout,
    book,
    bookLayout: intake.bookLayout ?? null,
    from: carried ? from : null,
    to: carried || lifted ? to : null,
    heights,
    lift: lifted ? lift : 0,
    unlifted: lift !== 0 && !lifted,
    geoid: lifted ? basis.geoid : null,
    interpolation: basis.interpolation,
    datumGrids: basis.datumGrids.filter((g) => grids.has(g.name)),
  };
}

const sameSystem = (a: CoordinateSystem, b: CoordinateSystem): boolean =>
  a.kind === b.kind && (!isPublished(a) || !isPublished(b) || a.definition === b.definition);

/** The plan as it stands in a read's key: names of files and systems do not matter, their contents do. */
export const planKey = (plan: ReadingPlan): string =>
  hashValue([
    plan.book ? ['book 2', plan.bookLayout] : plan.layout,
    plan.from && isPublished(plan.from) ? plan.from.definition : null,
    plan.to && isPublished(plan.to) ? plan.to.definition : null,
    plan.from && isPublished(plan.from) ? ['heights 2', plan.heights] : null,
    plan.lift,
    plan.book && plan.unlifted,
    plan.geoid?.sha256 ?? null,
    plan.geoid ? plan.interpolation : null,
    plan.datumGrids.map((g) => [g.name, g.sha256]),
  ]);

/** Grid files that a plan needs the bytes of. */
export const gridsOfPlan = (plan: ReadingPlan): GridRef[] => [...(plan.geoid ? [plan.geoid] : []), ...plan.datumGrids];

export type Reading = { ok: true; read: ReadPoints } | { ok: false; reason: string };

/** How a refusal begins that exchanging two columns would settle. */
export const EXCHANGED_DEGREES = 'Latitude and longitude stand the wrong way round';

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
  const rows = rowsOfFile(bytes, plan.layout.sheet);
  if (!rows.ok) return rows;
  const found = readPoints(rows.text, plan.layout, options);
  if (!found) return null;
  const read = withLost(found, rows.lost);
  if (plan.layout.degrees && !plan.from)
    return {
      ok: false,
      reason:
        'The file holds latitudes and longitudes, and the project has no published system to bring them to. Choose the project’s system under Basis first.',
    };
  const area = plan.to && isPublished(plan.to) ? plan.to.area : null;
  if (plan.layout.degrees && area && degreesExchanged(area, read.x, read.y))
    return {
      ok: false,
      reason: `${EXCHANGED_DEGREES}: only exchanged do the points lie where the project’s system is meant for. Exchange the two columns.`,
    };
  const carried = await carryOver(read, plan, grids);
  if (!carried.ok) return carried;
  return { ok: true, read: withoutLost(read, plan) };
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
        : 'the place cannot be carried over to the project’s system: it lies outside the datum grid or the projection';
    if (refused.length < 1000) refused.push({ row: read.row[i], text: `point ${read.number[i]}`, reason: why });
  }
  if (lost === 0) return read;
  return {
    ...read,
    number: keep.map((i) => read.number[i]),
    description: keep.map((i) => read.description[i]),
    x: Float64Array.from(keep, (i) => read.x[i]),
    y: Float64Array.from(keep, (i) => read.y[i]),
    z: Float64Array.from(keep, (i) => read.z[i]),
    row: Uint32Array.from(keep, (i) => read.row[i]),
    refused,
    refusedCount: read.refusedCount + lost,
  };
}
