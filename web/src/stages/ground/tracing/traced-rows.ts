import { pointInRing, ringArea } from '#core/kernel';
import { elevationsSolved } from '#core/linework';
import type { SurfaceRecipe, TracedRow } from '#core/project';

export interface TracedPlace {
  x: number;
  y: number;
  z: number | null;
}

const isTraced = (r: SurfaceRecipe['rows'][number]): r is TracedRow => r.kind === 'traced';

/** Every place that was traced, with its elevation, m: what a hand that comes near is held by. */
export const tracedPlaces = ({ rows }: Pick<SurfaceRecipe, 'rows'>): { x: number; y: number; z: number }[] =>
  rows.flatMap((r) => {
    if (!r.on) return [];
    if (r.kind === 'spot') return [{ x: r.x, y: r.y, z: r.z }];
    if (!isTraced(r)) return [];
    const z = elevationsSolved(r.course, r.closed);
    return r.course.map(({ x, y }, i) => ({ x, y, z: z[i] }));
  });

/** The courses that were traced, x, y …, m; closed ones end where they begin. */
export const tracedCourses = ({ rows }: Pick<SurfaceRecipe, 'rows'>): number[][] =>
  rows.flatMap((r) => {
    return isTraced(r) && r.on ? [tracedCourse(r)] : [];
  });

export function tracedCourse({ course: places, closed }: TracedRow): number[] {
  const course = places.flatMap(({ x, y }) => [x, y]);
  return closed ? [...course, course[0], course[1]] : course;
}

/** Whether the course of a hand came back to its first place; it is then without it. */
export function closedCourse<P extends { x: number; y: number }>(
  places: readonly P[],
): { places: P[]; closed: boolean } {
  const [first, last] = [places[0], places.at(-1)!];
  const closed = places.length > 3 && first.x === last.x && first.y === last.y;
  return { places: closed ? places.slice(0, -1) : [...places], closed };
}

/** The closed course that holds all else that was traced: the toe of what was traced; null where there is none. */
export function outerRing({ rows }: Pick<SurfaceRecipe, 'rows'>): number[] | null {
  const closed = rows.filter((r): r is TracedRow => isTraced(r) && r.on && r.closed);
  const rings = closed.map((r) => Float64Array.from(r.course.flatMap(({ x, y }) => [x, y])));
  const [outer] = rings.sort((a, b) => Math.abs(ringArea(b)) - Math.abs(ringArea(a)));
  if (!outer) return null;
  const isVertex = (x: number, y: number): boolean =>
    outer.some((v, i) => i % 2 === 0 && v === x && outer[i + 1] === y);
  const holds = tracedPlaces({ rows }).every(({ x, y }) => pointInRing(outer, x, y) || isVertex(x, y));
  return holds ? [...outer] : null;
}

/** Elevation of the highest closed contour, m, where nothing that was traced is higher: then its top is missing. */
export function flatTop({ rows }: Pick<SurfaceRecipe, 'rows'>): number | null {
  const contours = rows.filter((r): r is TracedRow => isTraced(r) && r.on && r.as === 'contour' && r.closed);
  if (contours.length === 0) return null;
  const top = Math.max(...contours.map((r) => r.course[0].z!));
  return tracedPlaces({ rows }).some(({ z }) => z > top) ? null : top;
}
