import { formatLength, UNIT_SIGN } from '#core/measure';
import { type BookRecord, recordIn, runOfHeight, targetHeightsOf } from '#core/book';
import type { Compared, SetupResult } from '#core/reduction';
import type { BookAt, PointTable } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { editOne } from '../remedies.ts';
import type { Remedy } from '../query.ts';

export const projectLength = (doc: ProjectDocument, m: number): string =>
  `${formatLength(m, doc.settings.unit, 3)} ${UNIT_SIGN[doc.settings.unit]}`;

/** A target height that the book uses elsewhere and that lies where it would have to; null when there is none. */
export function otherHeight(
  records: readonly BookRecord[],
  record: BookRecord,
  wanted: number,
  within: number,
): number | null {
  let best: number | null = null;
  for (const height of targetHeightsOf(records)) {
    if (height === record.height) continue;
    const off = Math.abs(height - wanted);
    if (off <= within && off < Math.abs((best ?? Infinity) - wanted)) best = height;
  }
  return best;
}

/**
 * Another target height of the book for a shot whose point stands `off` m above (below) what lies around it: offered
 * where one that the crew used explains at least three quarters of it.
 */
export function shotHeightRemedies(
  doc: ProjectDocument,
  points: PointTable,
  row: number,
  off: number,
  books: ReadonlyMap<string, BookAt>,
): Remedy[] {
  const b = books.get(doc.intakes[points.intake[row]].id);
  const record = b && recordIn(b.records, points.fileRow[row]);
  if (!b || !record || record.kind !== 'sighting' || Number.isNaN(record.height)) return [];
  const meant = otherHeight(b.records, record, record.height + off, Math.abs(off) / 4);
  return meant === null ? [] : heightRemedies(doc, b, record, meant);
}

/** A height that holds for more is no slip of one run. */
const LONGEST_RUN = 200;

/** The one record, or the run of records around it that carry the same height. */
export function heightRemedies(doc: ProjectDocument, b: BookAt, record: BookRecord, meant: number): Remedy[] {
  const run = runOfHeight(b.records, record, LONGEST_RUN + 1);
  const text = projectLength(doc, meant);
  const out: Remedy[] = [
    { label: `Target height ${text}`, change: editOne(`${b.id}:${record.row}`, { height: meant }) },
  ];
  if (run.length > 1 && run.length <= LONGEST_RUN)
    out.push({
      label: `${text} for its run of ${run.length}`,
      change: {
        op: 'points.edit',
        edits: Object.fromEntries(run.map((r) => [`${b.id}:${r.row}`, { set: { height: meant }, undo: [] }])),
      },
    });
  return out;
}

/** What is off by more than this, m, is another point or another reading: it is not offered to be used all the same. */
const NEVER_USED = 1;

/** Deciding where the evidence is: use each backsight, or set it aside, or let the setup through as it is. */
export function decideRemedies(book: string, setup: SetupResult): Remedy[] {
  const open = setup.backsights.filter((c) => c.state === 'undecided');
  const usable = (c: Compared): boolean => c.slip !== 'face' && c.off <= NEVER_USED;
  return [
    ...open.filter(usable).map((c): Remedy => ({
      label: `Use ${c.number} all the same`,
      change: { op: 'record.decide', key: `${book}:${c.row}`, decision: 'used' },
    })),
    ...(setup.backsights.length > 1
      ? open.map((c): Remedy => ({
          label: `Set ${c.number} aside`,
          change: { op: 'record.decide', key: `${book}:${c.row}`, decision: 'aside' },
        }))
      : []),
  ];
}
