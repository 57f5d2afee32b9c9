import { distance } from '#core/kernel';
import { filledBetween } from './line.ts';

/** A place of a course whose elevation is known, m, or null where it is solved along the course. */
export interface CoursePlace {
  x: number;
  y: number;
  z: number | null;
}

/**
 * Elevations of a course, m: one that is not known lies on the even gradient between the known ones before and behind it,
 * by the length in plan; past the ends it is level with the nearest known one. NaN throughout where none is known.
 */
export function elevationsSolved(course: readonly CoursePlace[], closed: boolean): number[] {
  const first = course.findIndex(({ z }) => z !== null);
  if (first < 0) return course.map(() => NaN);
  // A closed course is filled once round, from a place that is known to the same place again.
  const round = closed ? [...course.slice(first), ...course.slice(0, first + 1)] : course;
  const z = filledBetween(
    round.map((p) => p.z ?? NaN),
    chainageOf(round),
  );
  if (closed) return course.map((_, i) => z[(i - first + course.length) % course.length]);
  const last = course.findLastIndex((p) => p.z !== null);
  return z.fill(z[first], 0, first).fill(z[last], last);
}

function chainageOf(course: readonly CoursePlace[]): number[] {
  let along = 0;
  return course.map(({ x, y }, i) => (along += i ? distance(x - course[i - 1].x, y - course[i - 1].y) : 0));
}
