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
  /** `along`: from its start. */
  pose: (along: number) => Pose;
}
