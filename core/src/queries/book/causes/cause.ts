import type { Query, QueryKind, Remedy } from '../../query.ts';

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

/** What crews mistype: likelier than coordinates that somebody gave, where both explain alike. */
const USUAL = new Set<QueryKind>(['instrument-height', 'target-height']);

/** The kind that a finding is asked about as: its likeliest cause, or that several remain. */
export function findingKind({ causes }: Finding): QueryKind {
  const [first, ...others] = causes;
  const isUsual = USUAL.has(first.kind) && others.every((c) => c.kind === 'control-wrong');
  return others.length === 0 || isUsual ? first.kind : 'sights-disagree';
}

/** The sentence of a finding: its cause, or all that remain and what would decide between them. */
export function findingText(finding: Finding): string {
  const { causes, misfit, decide } = finding;
  const [first, ...others] = causes;
  if (others.length === 0) return first.text;
  const clauses = causes.map((c) => c.clause);
  if (findingKind(finding) === first.kind)
    return `${first.text} It would be explained as well if ${clauses.slice(1).join(', or if ')}. ${decide}`;
  const list = `${clauses.slice(0, -1).join('; or ')}; or ${clauses[clauses.length - 1]}`;
  return `${misfit} ${causes.length} causes explain it alike: ${list}. ${decide}`;
}
