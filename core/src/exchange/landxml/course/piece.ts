/** A place, east, north, elevation; the last is NaN where none is said. */
export type Place = readonly [east: number, north: number, elevation: number];

/** Where one is on a course, and the way ahead as a vector of length 1. */
export interface Pose {
  at: readonly [east: number, north: number];
  ahead: readonly [east: number, north: number];
}

/** A straight, an arc, a transition. */
export interface Piece {
  start: Place;
  end: Place;
  /** Along it. */
  length: number;
  /** Places between its ends, near enough to draw it, each with its share of the way. */
  inner: readonly { at: readonly [number, number]; share: number }[];
  /** Of an arc: the tangent of a quarter of its angle, > 0 to the left. */
  bulge?: number;
  /** `along`: from its start. */
  pose: (along: number) => Pose;
}

/** Vertices of a line that stand for one arc, from the one where it starts to the one where it ends. */
export interface ArcInLine {
  from: number;
  to: number;
  bulge: number;
}
