import type { BreaklineCrossing } from '#core/terrain';

/** What came into a surface and what was left out, and why. */
export interface SurfaceAccount {
  points: number;
  lines: number;
  chordPoints: number;
  leftOut: { why: string; count: number; rows: number[] }[];
  coincident: [kept: number, leftOut: number][];
  tooLong: number;
  crossings: (BreaklineCrossing & { keptLine: string; leftOutLine: string })[];
  /** Points or lines that each row of the recipe brought in or kept out, by the row; null where its source is gone. */
  rows: Record<string, number | null>;
}
