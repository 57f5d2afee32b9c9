import { standing, type Acceptance, type Change, type ProjectDocument, type Stage } from '#core/project';

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
  | 'line-step'
  | 'meeting-breaklines'
  | 'level-triangles'
  | 'slivers'
  | 'lone-peak'
  | 'check-shots'
  | 'contour-uneven'
  | 'contour-fault'
  | 'recipe-source-gone'
  | 'pad-off-survey';

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
  accepted: Acceptance | null;
}

/** A query before its evidence is hashed; `book` names the intake whose records its rows are, until they are points. */
export type Draft = Omit<Query, 'accepted' | 'evidence'> & { evidence: unknown; book?: string };

/** Fills in evidence and a standing acceptance. */
export function settleQuery(doc: ProjectDocument, draft: Draft): Query {
  const { book: _, ...query } = draft;
  return { ...query, ...standing(doc, draft.key, draft.evidence) };
}

/** What is asked about a doubt: it stands accepted where the doubt does. */
export const askAbout = (
  { key, evidence, accepted }: Pick<Query, 'key' | 'evidence' | 'accepted'>,
  asked: Omit<Query, 'key' | 'evidence' | 'accepted' | 'lines'>,
): Query => ({ ...asked, key, evidence, accepted, lines: [] });
