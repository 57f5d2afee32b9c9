import Flatbush from 'flatbush';
import { orientation, distance } from '#core/kernel';
import { sectionAlong, type SectionRun } from './section.ts';
import type { Surface } from './surface.ts';

export interface GroundAt {
  elevation: number;
  /** Steepest rise over run, dimensionless. */
  slope: number;
  /** Bearing in which the ground falls, radians clockwise from north. */
  fallsTo: number;
  triangle: number;
}

/** Answers elevation and slope anywhere on a surface; null off it. */
export interface GroundFinder {
  at(x: number, y: number): GroundAt | null;
  /** Where a course x, y, x, y … runs over it. */
  along(course: ArrayLike<number>): SectionRun[];
}

/** A spatial index of a surface's triangles by their boxes; null when it has none. Its `data` can go to another thread. */
export function triangleIndex(s: Surface): Flatbush | null {
  const count = s.triangles.length / 3;
  if (count === 0) return null;
  const index = new Flatbush(count);
  for (let t = 0; t < count; t++) addBox(index, s, t);
  index.finish();
  return index;
}

/** The same of some triangles alone: the index tells them by their place in the list. */
export function indexOfTriangles(s: Surface, list: readonly number[]): Flatbush | null {
  if (list.length === 0) return null;
  const index = new Flatbush(list.length);
  for (const t of list) addBox(index, s, t);
  index.finish();
  return index;
}

function addBox(index: Flatbush, { x, y, triangles }: Surface, t: number): void {
  const a = triangles[3 * t];
  const b = triangles[3 * t + 1];
  const c = triangles[3 * t + 2];
  index.add(Math.min(x[a], x[b], x[c]), Math.min(y[a], y[b], y[c]), Math.max(x[a], x[b], x[c]), Math.max(y[a], y[b], y[c])); // prettier-ignore
}

/** Whether a place lies in triangle t, its sides included. */
export function containsPlace(s: Surface, t: number, x: number, y: number): boolean {
  for (let k = 0; k < 3; k++) {
    const a = s.triangles[t * 3 + k];
    const b = s.triangles[t * 3 + ((k + 1) % 3)];
    if (orientation(s.x[a], s.y[a], s.x[b], s.y[b], x, y) < 0) return false;
  }
  return true;
}

/** Point location on a surface, by an index made for it here or elsewhere. */
export function groundFinder(s: Surface, index: Flatbush | null = triangleIndex(s)): GroundFinder {
  if (!index) return { at: () => null, along: () => [] };
  return {
    at(x, y) {
      const [t] = index.search(x, y, x, y, (i) => containsPlace(s, i, x, y)).sort((p, q) => p - q);
      return t === undefined ? null : groundIn(s, t, x, y);
    },
    along: (course) => sectionAlong(s, course, index),
  };
}

function groundIn(s: Surface, t: number, x: number, y: number): GroundAt {
  const { dx, dy, at } = planeOf(s, t);
  return {
    elevation: at(x, y),
    slope: distance(dx, dy),
    fallsTo: (Math.atan2(-dx, -dy) + 2 * Math.PI) % (2 * Math.PI),
    triangle: t,
  };
}

/** The plane of a triangle: its gradient east and north, and its elevation at a place. */
export function planeOf(s: Surface, t: number) {
  const [a, b, c] = [s.triangles[t * 3], s.triangles[t * 3 + 1], s.triangles[t * 3 + 2]];
  const ux = s.x[b] - s.x[a];
  const uy = s.y[b] - s.y[a];
  const uz = s.z[b] - s.z[a];
  const vx = s.x[c] - s.x[a];
  const vy = s.y[c] - s.y[a];
  const vz = s.z[c] - s.z[a];
  const det = ux * vy - uy * vx;
  const dx = (uz * vy - uy * vz) / det;
  const dy = (ux * vz - uz * vx) / det;
  return { dx, dy, at: (x: number, y: number): number => s.z[a] + dx * (x - s.x[a]) + dy * (y - s.y[a]) };
}
