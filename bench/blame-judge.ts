import { readBookText, writeBookText, type Book } from '#core/book';
import { runChain, type ChainResult } from '#core/chain';
import { applyChange, newDocument, plainIntake, type Change, type ProjectDocument } from '#core/project';
import type { Query } from '#core/queries';
import { failedRead, type ReadPoints } from '#core/exchange';
import type { InventedSurvey, Planted } from '#demo';

// How a survey with planted slips is asked about: what is named right, named among others, named wrong, or missed.

/** Kinds of queries that say who is to blame; others say that something does not fit, or ask for a decision. */
export const BLAMING = new Set<Query['kind']>([
  'instrument-height',
  'target-height',
  'backsight-wrong',
  'station-wrong',
  'station-twice',
  'typed-holds',
  'control-wrong',
  'circle-turned',
  'circle-wrong',
  'distance-wrong',
  'face-wrong',
  'sights-disagree',
  'number-twice',
  'unknown-code',
  'code-missing',
  'off-course',
  'spike',
  'place-twice',
  'far-outlier',
]);

export interface Judged {
  /** Of each planted slip. */
  slips: { kind: Planted['kind']; named: 'right' | 'among' | 'missed' }[];
  /** Queries that blame what is innocent. */
  wrong: Query[];
  queries: Query[];
  result: ChainResult;
}

export function surveyProject(s: InventedSurvey): {
  doc: ProjectDocument;
  book: Book;
  run: (d: ProjectDocument) => ChainResult;
} {
  // prettier-ignore
  // Through its text form, as a crew delivers it.
  const book = readBookText(writeBookText(s.book))!;
  const head = book.records.length - s.book.records.length;
  if (head !== 0 || book.problems.length > 0) throw new Error(`survey ${s.seed} does not come back from its text`);
  // Rows are those of the records as they were made.
  book.records.forEach((r, i) => (r.row = s.book.records[i].row));
  const read: ReadPoints = { ...failedRead(''), failure: undefined, rows: book.rows, book };
  const column = (of: (m: InventedSurvey['control'][number]) => number): Float64Array =>
    Float64Array.from(s.control, of);
  const control: ReadPoints = {
    ...failedRead(''),
    failure: undefined,
    rows: s.control.length,
    number: s.control.map((m) => m.number),
    x: column((m) => m.x),
    y: column((m) => m.y),
    z: column((m) => m.z),
    description: s.control.map(() => 'CP'),
    row: Uint32Array.from(s.control, (_, i) => i + 1),
  };
  const sheet = { by: 'office', date: '2026-07-01', source: 'sheet', standing: 'fixed' as const, plan: s.controlSd, height: s.controlSd }; // prettier-ignore
  const doc: ProjectDocument = {
    ...newDocument(),
    intakes: [
      plainIntake('c', { purpose: 'control', given: sheet }),
      plainIntake('b', { fileName: 'crew.book', form: 'book' }),
    ],
  };
  return { doc, book, run: (d) => runChain(d, (i) => (i.id === 'c' ? control : read)) };
}

/** So many times a user mends what is named right, and looks again. */
const ROUNDS = 3;

/** A survey as a user works through it: what is named right is mended, and what shows itself then is judged too. */
export function judge(s: InventedSurvey): Judged {
  const project = surveyProject(s);
  let { doc } = project;
  const guilty = new Set(s.planted.flatMap((p) => [...p.mend.map((m) => `b:${m.row}`), ...p.wrongRows.map((r) => `b:${r}`)])); // prettier-ignore
  for (const p of s.planted) if (p.control) guilty.add(`c:${s.control.findIndex((m) => m.number === p.control) + 1}`);
  const innocent = (q: Query): boolean =>
    BLAMING.has(q.kind) &&
    !s.planted.some((p) => p.kind === 'number-twice' && q.key === `number-twice:${p.number}`) &&
    !touches(q, guilty);
  const named = new Map<Planted, Judged['slips'][number]['named']>();
  const wrong: Query[] = [];
  let first: { queries: Query[]; result: ChainResult } | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const result = project.run(doc);
    const queries = result.queries.filter((q) => q.weight !== 'note' || q.kind === 'unknown-code');
    first ??= { queries, result };
    wrong.push(...queries.filter(innocent));
    let mended = false;
    for (const p of s.planted) {
      if (named.get(p) === 'right') continue;
      const { how, remedy } = namedBy(p, s, queries);
      if (how !== 'missed' || !named.has(p)) named.set(p, how);
      const applied = remedy && applyChange(doc, remedy);
      if (!applied?.ok) continue;
      doc = applied.document;
      mended = true;
    }
    if (!mended || s.planted.every((p) => named.get(p) === 'right')) break;
  }
  return { slips: s.planted.map((p) => ({ kind: p.kind, named: named.get(p)! })), wrong, ...first! };
}

/** Whether a query points at what is guilty: by what one of its remedies changes. */
function touches(q: Query, guilty: ReadonlySet<string>): boolean {
  if (q.kind === 'circle-turned' && q.text.includes('may be read')) return true;
  return q.remedies.some((r) => changed(r.change).some((key) => guilty.has(key)));
}

function changed(change: Change): string[] {
  if (change.op === 'points.edit') return Object.keys(change.edits);
  return change.op === 'record.decide' ? [change.key] : [];
}

function namedBy(
  p: Planted,
  s: InventedSurvey,
  queries: readonly Query[],
): { how: Judged['slips'][number]['named']; remedy?: Change } {
  // prettier-ignore
  const list = queries.filter((q) => q.remedies.length);
  const first = list.find((q) => q.kind !== 'sights-disagree' && mends(q.remedies[0].change, p, s));
  if (first) return { how: 'right', remedy: first.remedies[0].change };
  const found = (from: readonly Query[]): Change | undefined =>
    from.flatMap((q) => q.remedies).find((r) => mends(r.change, p, s))?.change;
  // The right cause alone, and the remedy that mends all of it among its remedies: one shot, or its whole run.
  const alone = found(list.filter((q) => q.kind !== 'sights-disagree'));
  if (alone) return { how: 'right', remedy: alone };
  const among = found(list);
  if (among) return { how: 'among', remedy: among };
  // A turn that may have been anywhere between two rows is said to be that.
  return { how: list.some((q) => q.kind === 'circle-turned' && isBetween(q, p, s)) ? 'among' : 'missed' };
}

function isBetween(q: Query, p: Planted, s: InventedSurvey): boolean {
  const rows = q.rows.length;
  const [first] = s.book.records.filter((r) => q.text.includes(`from row ${r.row})`));
  return p.kind === 'circle-turned' && first !== undefined && p.wrongRows.every((r) => r >= first.row && r <= first.row + rows); // prettier-ignore
}

/** m; a height that was estimated is as good as what it was estimated from. */
const closeEnough = (s: InventedSurvey): number => Math.max(0.011, 3 * s.controlSd);

function mends(change: Change, p: Planted, s: InventedSurvey): boolean {
  if (p.control) {
    const key = `c:${s.control.findIndex((m) => m.number === p.control) + 1}`;
    return change.op === 'points.edit' && Object.keys(change.edits).join() === key;
  }
  if (change.op === 'record.decide') {
    const row = Number(change.key.slice(2));
    return p.wrongRows.includes(row) && ['aside', 'direction', 'distance', 'turned'].includes(String(change.decision));
  }
  if (change.op !== 'points.edit') return false;
  const keys = Object.keys(change.edits);
  const all = (rows: number[]): boolean => rows.length === keys.length && rows.every((r) => keys.includes(`b:${r}`));
  if (p.wrongRows.length && p.mend.length === 0) {
    const first = p.wrongRows.length > 1 && keys.length === 1 && keys[0] === `b:${p.wrongRows[0]}`;
    return (
      (all(p.wrongRows) || first) &&
      keys.every((k) => {
        const { set } = change.edits[k];
        return set.off === true || (set.number !== undefined && set.number !== p.number);
      })
    );
  }
  // Two slips of one setup may be mended by one change, which mends both.
  const both = new Set(s.planted.flatMap((o) => o.mend.map((m) => `b:${m.row}`)));
  if (!all(p.mend.map((m) => m.row)) && !(keys.every((k) => both.has(k)) && p.mend.every((m) => keys.includes(`b:${m.row}`)))) return false; // prettier-ignore
  return p.mend.every(({ row, set }) => {
    const said = change.edits[`b:${row}`].set;
    if (set.height !== undefined)
      return said.height !== undefined && Math.abs(said.height - Number(set.height)) <= closeEnough(s);
    if (set.number !== undefined) return said.number === set.number;
    if (set.face !== undefined) return said.face === set.face;
    // A shot whose code is another’s is mended by its own code, or by leaving it out of that line.
    if (p.kind === 'code-of-another' && said.off === true) return true;
    return said.description !== undefined && said.description.split(' ')[0] === String(set.code).split(' ')[0];
  });
}
