import { create } from 'zustand';

interface SectionStore {
  /** The line that is cut along, x, y, x, y …, by project; nothing where there is none. */
  courses: Record<string, readonly number[]>;
  /** Chainage under the cursor, m; null elsewhere. */
  at: number | null;
  put: (project: string, course: readonly number[] | null) => void;
  point: (at: number | null) => void;
}

/** The section that is looked at: it is of who looks, and belongs to no revision. */
export const useSection = create<SectionStore>((set, get) => ({
  courses: {},
  at: null,
  put(project, course) {
    const { [project]: _, ...rest } = get().courses;
    set({ courses: course ? { ...rest, [project]: course } : rest, ...(course ? {} : { at: null }) });
  },
  point: (at) => set({ at }),
}));

/** The place at a chainage along a course; its end beyond it. */
export function placeAlong(course: ArrayLike<number>, chainage: number): { x: number; y: number } {
  let left = chainage;
  for (let i = 0; i + 3 < course.length; i += 2) {
    const [dx, dy] = [course[i + 2] - course[i], course[i + 3] - course[i + 1]];
    const length = Math.hypot(dx, dy);
    if (left <= length && length > 0) return { x: course[i] + (left / length) * dx, y: course[i + 1] + (left / length) * dy }; // prettier-ignore
    left -= length;
  }
  return { x: course[course.length - 2], y: course[course.length - 1] };
}

export const lengthOf = (course: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i + 3 < course.length; i += 2) sum += Math.hypot(course[i + 2] - course[i], course[i + 3] - course[i + 1]); // prettier-ignore
  return sum;
};

/** A course moved as a whole, or one of its corners alone. */
export const movedCourse = (course: readonly number[], corner: number | null, dx: number, dy: number): number[] =>
  course.map((v, i) => (corner === null || i >> 1 === corner ? v + (i % 2 ? dy : dx) : v));

/** A course to the right of itself, seen from its first corner to its last; to the left where `by` is less than zero. */
export function besideCourse(course: readonly number[], by: number): number[] {
  const [dx, dy] = [course[course.length - 2] - course[0], course[course.length - 1] - course[1]];
  const length = Math.hypot(dx, dy);
  return length === 0 ? [...course] : movedCourse(course, null, (by * dy) / length, (-by * dx) / length);
}

/** What of a course is under the hand: a corner, all of it (null), or nothing (undefined); pixels. */
export function underHand(
  corners: readonly { x: number; y: number }[],
  px: number,
  py: number,
  reach: number,
): number | null | undefined {
  let nearest: { corner: number; off: number } | null = null;
  corners.forEach(({ x, y }, corner) => {
    const off = Math.hypot(x - px, y - py);
    if (off <= reach && (!nearest || off < nearest.off)) nearest = { corner, off };
  });
  if (nearest) return (nearest as { corner: number }).corner;
  for (let i = 0; i + 1 < corners.length; i++) {
    const [a, b] = [corners[i], corners[i + 1]];
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const share = ((px - a.x) * dx + (py - a.y) * dy) / (dx * dx + dy * dy || 1);
    if (share >= 0 && share <= 1 && Math.hypot(a.x + share * dx - px, a.y + share * dy - py) <= reach) return null;
  }
  return undefined;
}
