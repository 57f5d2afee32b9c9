// Level differences, runs and loops, and what is found of them.

/** One set-up of the level: from the staff behind to the staff before. Metres. */
export interface LevelDifference {
  book: string;
  /** Rows of the reading behind and of the one before. */
  rows: [number, number];
  from: string;
  to: string;
  difference: number;
  /** Both sights together; NaN where distances were not read. */
  length: number;
  /** Sight behind less sight before: what a line of sight that is not level falls or rises over; NaN without. */
  imbalance: number;
  sd: number;
}

/** Set-ups that follow one another, from a height that is known to the next, or as far as they go. */
export interface LevelRun {
  from: string;
  to: string;
  differences: LevelDifference[];
  length: number;
  difference: number;
  /** Measured less known; NaN where an end is not known. */
  misclosure: number;
  /** By the project's rule, on this length; a set-up whose length was not read counts as 80 m. */
  allowed: number;
  within: boolean;
}

/** Set-ups that come back to where they began, over whatever runs. */
export interface LevelLoop {
  /** Points in the order gone through; the first is also the last. */
  points: string[];
  length: number;
  misclosure: number;
  allowed: number;
  within: boolean;
  rows: { book: string; row: number }[];
}

/** Two set-ups between the same two points, with sights of other lengths: the two-peg test. */
export interface TwoPegTest {
  book: string;
  from: string;
  to: string;
  rows: [number, number];
  /** By how much the line of sight rises above the level, radians. */
  collimation: number;
  sd: number;
}

export interface Levelled {
  number: string;
  z: number;
  sd: number;
  rows: number[];
}

export interface Levelling {
  runs: LevelRun[];
  /** Heights found, of change points and of what was read between them. */
  heights: Levelled[];
  /** Residuals of the differences, adjusted less measured, in their order over all runs. */
  residuals: number[];
  /** Differences beyond what the heights needed, and Σ (v/σ)² over them; NaN without. */
  freedom: number;
  varianceFactor: number;
  loops: LevelLoop[];
  tests: TwoPegTest[];
  problems: { book: string; row: number; text: string }[];
}

/** m; a set-up whose sights were not measured. */
export const PLAIN_SETUP = 80;
