import { type ChainSummary } from '#core/chain';

/** Content hashes of a settled revision's results. */
export interface SettledStages {
  reads: Record<string, string>;
  points: string;
  /** How books became points. */
  reduction: string;
  lines: string;
  /** By the surface's id. */
  surfaces: Record<string, string>;
  contours: Record<string, string>;
  pieces: Record<string, string>;
  summary: string;
  /** Intakes in the order that the points speak of them. */
  intakes?: string[];
  /** Of the computation that gave them: results of an older one are computed anew by themselves. */
  version?: number;
  figures?: { points: number; lines: number; openQueries: number };
}

export interface Settled {
  revision: number;
  stages: SettledStages;
}

/** What is being computed of a revision. */
export interface Settling {
  revision: number;
  /** In words: “triangulating Existing ground”. */
  doing: string;
  /** 0 to 1. */
  share: number;
}

export type Summary = ChainSummary;
