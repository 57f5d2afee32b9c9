import { hashValue } from '#core/kernel';
import { gridsNamed, isPublished, WGS84, type CoordinateSystem } from '#core/basis';
import type { ReadPoints } from '#core/exchange';
import type { Basis, GridRef, Intake } from '#core/project';

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
