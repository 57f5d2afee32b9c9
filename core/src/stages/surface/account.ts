import type { ContourFault, Meeting, VerticalAccuracy } from '#core/terrain';

/** Lines that meet at elevations that do not agree: the elevation of the point that stands there first, where one does. */
export interface LineMeeting extends Pick<Meeting, 'x' | 'y' | 'kind' | 'kept' | 'decided'> {
  /** Row of the point table that stands there; −1 for none. */
  row: number;
  /** Its elevation; NaN for none. */
  own: number;
  /** Lines through the place by their keys, each once, with the elevation each has there. */
  lines: { key: string; elevation: number }[];
}

export interface CheckShots {
  row: string;
  /** 95 % are wanted within this, m. */
  within: number | null;
  /** What all of them say; null where none is on the surface. */
  accuracy: VerticalAccuracy | null;
  /** The worst of them, the largest difference first: rows of the point table, and surface − shot, m. */
  rows: number[];
  off: number[];
  /** Off the surface. */
  outside: number;
}

/** The plane that a pad has by its points: level at its centre, rise over run, the bearing towards which it rises, and how far the worst point is off it, m. */
export interface FittedPad {
  level: number;
  gradient: number;
  direction: number;
  points: number;
  off: number;
}

/** What came into a surface and what was left out, and why. */
export interface SurfaceAccount {
  points: number;
  lines: number;
  /** Lines that were to be contours and are not level: the row that names their code, lowest and highest, and where they begin, m. */
  uneven: { row: string; key: string; low: number; high: number; x: number; y: number }[];
  /** Contours that do not go with the others, with those they are at odds with; `bridge`: x, y of both ends of a gap, m. */
  contourFaults: {
    kind: ContourFault['kind'];
    row: string;
    key: string;
    elevation: number;
    x: number;
    y: number;
    others: { key: string; elevation: number }[];
    /** The elevation that does fit, where there is one. */
    fits: number | null;
    bridge: number[];
  }[];
  chordPoints: number;
  /** Points put along the middle of level parts: x, y in turn, m, the first of them. */
  filled: number[];
  leftOut: { why: string; count: number; rows: number[] }[];
  coincident: [kept: number, leftOut: number][];
  tooLong: number;
  /** Triangles at the rim that only rounding made. */
  thin: number;
  /** Places where breaklines meet at elevations that do not agree. */
  meetings: LineMeeting[];
  /** Places where they meet and agree. */
  joined: number;
  /** Of proposed ground, each row of it: where its batters run off the survey, x y, and its area beyond the ground, m². */
  proposed?: ({ row: string } & (
    { ok: true; offSurvey: number[][]; beyond: number; through?: FittedPad } | { ok: false; reason: string }
  ))[];
  /** Check shots, by the row of the recipe that says which. */
  checks: CheckShots[];
  /** Points or lines that each row of the recipe brought in or kept out, m² that a boundary or void cut off, by the row; null where its source is gone. */
  rows: Record<string, number | null>;
}
