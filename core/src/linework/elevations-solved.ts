import { distance } from '#core/kernel';

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
  const n = course.length;
  const out = course.map(({ z }) => z ?? NaN);
  const known = course.flatMap(({ z }, i) => (z === null ? [] : [i]));
  if (known.length === 0) return out;
  for (const [k, from] of known.entries()) {
    const to = known[k + 1] ?? (closed ? known[0] + n : null);
    if (to !== null) between(course, out, from, to);
  }
  if (!closed) {
    out.fill(out[known[0]], 0, known[0]);
    out.fill(out[known.at(-1)!], known.at(-1));
  }
  return out;
}

/** Fills in what lies between two known places; counted on past the last place of a closed course. */
function between(course: readonly CoursePlace[], out: number[], from: number, to: number): void {
  const n = course.length;
  const lengths = [0];
  for (let i = from; i < to; i++) {
    const [a, b] = [course[i % n], course[(i + 1) % n]];
    lengths.push(lengths.at(-1)! + distance(b.x - a.x, b.y - a.y));
  }
  const whole = lengths.at(-1)! || 1;
  const [low, high] = [out[from], out[to % n]];
  for (let i = from + 1; i < to; i++) out[i % n] = low + (lengths[i - from] / whole) * (high - low);
}
