import Flatbush from 'flatbush';

/** Where a section crosses the line that sections stand across, m, and its own unit direction, to the right. */
export interface SectionPlace {
  x: number;
  y: number;
  ex: number;
  ey: number;
}

/** What lies near a section: a point within a distance of it, or a line that goes through it. */
export interface NearSection {
  kind: 'point' | 'line';
  /** Number and code. */
  name: string;
  /** To the right of the line that sections stand across, m. */
  offset: number;
  /** m; null of a line without elevations. */
  z: number | null;
  /** By how much it is ahead of the section, m; 0 of a line. */
  ahead: number;
  x: number;
  y: number;
}

export interface NamedPoint {
  name: string;
  x: number;
  y: number;
  z: number;
}

/** A line's piece in space as it is drawn, arcs as chords: x, y, z, x, y, z …, m; z is NaN where there is none. */
export interface NamedCourse {
  name: string;
  places: readonly number[];
}

/** Things near one section at the most. */
const MOST = 500;

/** Finds what lies near sections, from left to right. Points without an elevation have no place on one. */
export function nearFinder(
  points: readonly NamedPoint[],
  courses: readonly NamedCourse[],
): (section: SectionPlace, reach: { left: number; right: number }, within: number) => NearSection[] {
  const sides = courses.flatMap(({ name, places }) =>
    Array.from({ length: Math.max(0, places.length / 3 - 1) }, (_, i) => ({ name, places, at: 3 * i })),
  );
  const pointIndex = indexOf(points.length, (i) => [points[i].x, points[i].y, points[i].x, points[i].y]);
  const sideIndex = indexOf(sides.length, (i) => {
    const [ax, ay, , bx, by] = sides[i].places.slice(sides[i].at, sides[i].at + 5);
    return [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)];
  });
  return (section, { left, right }, within) => {
    const { x, y, ex, ey } = section;
    const offsetOf = (px: number, py: number): number => (px - x) * ex + (py - y) * ey;
    // The way of the line lies to the left of the section's own.
    const aheadOf = (px: number, py: number): number => (py - y) * ex - (px - x) * ey;
    const isIn = (offset: number): boolean => -left <= offset && offset <= right;
    const box = (by: number): [number, number, number, number] => {
      const [ax, bx, ay, b] = [x - left * ex, x + right * ex, y - left * ey, y + right * ey];
      return [Math.min(ax, bx) - by, Math.min(ay, b) - by, Math.max(ax, bx) + by, Math.max(ay, b) + by];
    };
    const out: NearSection[] = [];
    for (const i of pointIndex?.search(...box(within)) ?? []) {
      const { name, x: px, y: py, z } = points[i];
      const [offset, ahead] = [offsetOf(px, py), aheadOf(px, py)];
      if (isIn(offset) && Math.abs(ahead) <= within && !Number.isNaN(z)) out.push({ kind: 'point', name, offset, z, ahead, x: px, y: py }); // prettier-ignore
    }
    for (const i of sideIndex?.search(...box(0)) ?? []) {
      const { name, places, at } = sides[i];
      const [ax, ay, az, bx, by, bz] = places.slice(at, at + 6);
      const [da, db] = [aheadOf(ax, ay), aheadOf(bx, by)];
      // A vertex on the section belongs to the side that goes on from it.
      if (da >= 0 === db >= 0) continue;
      const share = da / (da - db);
      const [px, py, pz] = [ax + share * (bx - ax), ay + share * (by - ay), az + share * (bz - az)];
      const offset = offsetOf(px, py);
      if (isIn(offset)) out.push({ kind: 'line', name, offset, z: Number.isNaN(pz) ? null : pz, ahead: 0, x: px, y: py }); // prettier-ignore
    }
    return out.sort((a, b) => a.offset - b.offset || (a.name < b.name ? -1 : 1)).slice(0, MOST);
  };
}

function indexOf(count: number, box: (i: number) => readonly number[]): Flatbush | null {
  if (count === 0) return null;
  const index = new Flatbush(count);
  for (let i = 0; i < count; i++) {
    const [w, s, e, n] = box(i);
    index.add(w, s, e, n);
  }
  index.finish();
  return index;
}
