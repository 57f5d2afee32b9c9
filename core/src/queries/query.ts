import { hashValue } from '#core/kernel';
import type { Change, ProjectDocument, Stage } from '#core/project';

export type Weight = 'stop' | 'look' | 'note';

/** So many queries of one kind are made at most: beyond it the file, not the shot, is what needs a look. */
export const MOST_OF_A_KIND = 200;

export type QueryKind =
  | 'not-read'
  | 'other-unit'
  | 'unit-differs'
  | 'foot-differs'
  | 'mirrored'
  | 'shifted'
  | 'other-basis'
  | 'held-back'
  | 'system-lacking'
  | 'system-differs'
  | 'geoid-lacking'
  | 'outside-area'
  | 'control-name-twice'
  | 'control-differs'
  | 'control-known'
  | 'book-cut-off'
  | 'setup-fails'
  | 'backsight-off'
  | 'backsight-wrong'
  | 'instrument-height'
  | 'target-height'
  | 'check-off'
  | 'station-wrong'
  | 'control-wrong'
  | 'circle-turned'
  | 'circle-wrong'
  | 'distance-wrong'
  | 'sights-disagree'
  | 'place-twice'
  | 'network-outlier'
  | 'level-collimation'
  | 'code-missing'
  | 'reading-missing'
  | 'readings-spread'
  | 'typed-differs'
  | 'gnss-poor'
  | 'gnss-spread'
  | 'angles-packed'
  | 'angles-gon'
  | 'flat-unsaid'
  | 'flat-plan'
  | 'uncontrolled'
  | 'level-misclosure'
  | 'traverse-misclosure'
  | 'face-wrong'
  | 'typed-holds'
  | 'station-twice'
  | 'unknown-code'
  | 'number-twice'
  | 'zero-elevation'
  | 'reference-row'
  | 'far-outlier'
  | 'columns-exchanged'
  | 'curve-not-ended'
  | 'single-point-line'
  | 'end-without-begin'
  | 'nothing-to-continue'
  | 'join-unknown'
  | 'words-at-odds'
  | 'word-on-point'
  | 'line-twice'
  | 'description'
  | 'no-such-shape'
  | 'line-comes-back'
  | 'long-jump'
  | 'doubles-back'
  | 'crosses-itself'
  | 'attribute-wrong'
  | 'hand-line-stale'
  | 'pair-wrong'
  | 'off-course'
  | 'spike'
  | 'crossing-breaklines'
  | 'recipe-source-gone';

export interface Remedy {
  label: string;
  change: Change;
}

/** Something a person should look at. */
export interface Query {
  /** Kind and subject: the same from one revision to the next. */
  key: string;
  kind: QueryKind;
  stage: Stage;
  weight: Weight;
  /** A sentence with the evidence in it; lengths in the project's unit. */
  text: string;
  /** Hash of what the query rests on: an acceptance holds only while this stays. */
  evidence: string;
  /** Where to look, metres. */
  place: { x: number; y: number } | null;
  /** Rows of the point table it speaks of. */
  rows: number[];
  lines: string[];
  remedies: Remedy[];
  accepted: { reason: string; by: string; at: string } | null;
}

/** A query before its evidence is hashed; `book` names the intake whose records its rows are, until they are points. */
export type Draft = Omit<Query, 'accepted' | 'evidence'> & { evidence: unknown; book?: string };

/** As long as the key of an accepted query may be. */
const LONGEST_KEY = 300;

/** A key that names a great many points is told from its like by a hash. */
const keyOf = (key: string): string =>
  key.length <= LONGEST_KEY ? key : `${key.slice(0, LONGEST_KEY - 40)}:${hashValue(key).slice(0, 16)}`;

/** In an order of its own, whatever order a store gives it back in. */
const toldOf = ({ reason, by, at }: ProjectDocument['accepted'][string]): Query['accepted'] => ({ reason, by, at });

/** Fills in evidence and a standing acceptance. */
export function settleQuery(doc: ProjectDocument, draft: Draft): Query {
  const evidence = hashValue(draft.evidence).slice(0, 16);
  const key = keyOf(draft.key);
  const accepted = doc.accepted[key];
  const { book: _, ...query } = draft;
  return { ...query, key, evidence, accepted: accepted?.evidence === evidence ? toldOf(accepted) : null };
}
