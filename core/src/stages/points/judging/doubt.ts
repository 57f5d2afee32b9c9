import type { PublishedSystem } from '#core/basis';
import { hashOnce } from '#core/kernel';
import { standing, type Acceptance, type ProjectDocument } from '#core/project';
import type { Match, NamedPair } from './match-control.ts';

interface Found {
  /** Kind and subject: the same from one revision to the next. */
  key: string;
  /** Hash of what it rests on. */
  evidence: string;
  /** Accepted as it is: nothing waits for it. */
  accepted: Acceptance | null;
}

interface OfFile extends Found {
  /** Index into the document's intakes: all its points wait. */
  intake: number;
}

interface OfPoint extends Found {
  /** Row of the point table: it waits. */
  row: number;
}

interface Place {
  x: number;
  y: number;
}

/** Why points wait until somebody decides; lengths in metres. */
export type Doubt =
  /** The file is in a published system, the project is local. */
  | (OfFile & { kind: 'system-lacking'; system: PublishedSystem })
  /** The file's heights are of another kind than the project's, and no geoid leads from one to the other. */
  | (OfFile & { kind: 'heights-lacking' })
  /** Most points in common with control differ from it. */
  | (OfFile & { kind: 'other-basis'; pairs: NamedPair[]; match: Exclude<Match, { kind: 'same' }> })
  /** `out` of the file's points are outside the area of the project's system; all of them inside with east and north swapped. */
  | (OfFile & { kind: 'outside-area'; system: PublishedSystem; out: number; swapped: boolean })
  /** Nothing in common with what is there, and nowhere near it. */
  | (OfFile & { kind: 'far-file'; apart: number; at: Place })
  /** Far from control, and among it with east and north swapped. */
  | (OfFile & { kind: 'swapped-columns'; straight: number; swapped: number; at: Place })
  /** One point far from the middle of the survey; 90 % are within `reach`. */
  | (OfPoint & { kind: 'far-point'; distance: number; reach: number; reference: boolean })
  /** Elevation 0 where 96 % of the others are between `low` and `high`. */
  | (OfPoint & { kind: 'zero-elevation'; low: number; high: number });

/** What doubts are known by in acceptances, each with its subject behind a colon. */
const NAMES = [
  'system-lacking',
  'geoid-lacking',
  'basis',
  'outside-area',
  'columns-exchanged',
  'reference-row',
  'far-outlier',
  'zero-elevation',
] as const;

/** A doubt's key and evidence, and whether it stands accepted. */
export const found = (
  doc: Pick<ProjectDocument, 'accepted'>,
  name: (typeof NAMES)[number],
  subject: string,
  restsOn: unknown,
): Found => standing(doc, `${name}:${subject}`, restsOn);

/** Acceptances that let points in: no others have a part in which points are used. */
export const acceptedDoubts = ({ accepted }: Pick<ProjectDocument, 'accepted'>): [string, string][] =>
  Object.keys(accepted)
    .filter((key) => NAMES.some((name) => key.startsWith(`${name}:`)))
    .sort()
    .map((key) => [key, hashOnce(accepted[key])]);
