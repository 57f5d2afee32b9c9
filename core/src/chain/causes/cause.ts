import type { Query, QueryKind, Remedy } from '../query.ts';

/** One thing that may be wrong, and what would mend it. */
export interface Cause {
  kind: QueryKind;
  /** A clause that can stand in a list: “the target height of C2 is 1.900 m in place of 1.500 m”. */
  clause: string;
  /** The same as a sentence or two with its evidence, where it alone remains. */
  text: string;
  remedies: Remedy[];
  /** The book itself speaks for it: a height used elsewhere, a known point where the reading says. */
  backed: boolean;
}

/** What one misfit comes down to. */
export interface Finding {
  /** Index of the setup that it is asked at; −1 of a known point seen from several. */
  setup: number;
  /** Indices of all setups that it is about as a whole. */
  setups: number[];
  book: string;
  /** Row or number that makes its key. */
  subject: string;
  /** Causes that remain, the likeliest first. */
  causes: Cause[];
  /** What does not fit, as a sentence, for where several causes remain. */
  misfit: string;
  /** What observation would tell the causes apart. */
  decide: string;
  evidence: unknown;
  /** Sightings that it explains, by book and row. */
  explains: Set<string>;
  /** Rows of records to show. */
  rows: number[];
  place: Query['place'];
}

/** The sentence of a finding: its cause, or all that remain and what would decide between them. */
export function findingText({ causes, misfit, decide }: Finding): string {
  if (causes.length === 1) return causes[0].text;
  const clauses = causes.map((c) => c.clause);
  const list = `${clauses.slice(0, -1).join('; or ')}; or ${clauses[clauses.length - 1]}`;
  return `${misfit} ${causes.length} causes explain it alike: ${list}. ${decide}`;
}
