import type { BookRecord } from '#core/book';
import { hasResidual, NO_POINT, planeResiduals, ShiftedRuns } from '#core/terrain';
import type { Linework } from '#core/linework';
import { lengthText } from './blunders.ts';
import { targetHeightsOf } from './book-index.ts';
import type { BookAt } from './books.ts';
import type { ProjectDocument } from './document.ts';
import type { Ground } from './ground.ts';
import { settleQuery } from './point-queries.ts';
import type { PointTable } from './points.ts';
import { MOST_OF_A_KIND, type Query } from './query.ts';
import { rowsByRecord } from './record-rows.ts';

// A pole that was made longer or shorter on the way, and nobody noted it: shots that follow each other stand too high
// or too low by the difference between two heights that the crew used.

/** Shots of one setup that follow each other with one target height, and their vertices in the ground. */
interface Stretch {
  book: BookAt;
  height: number;
  /** Of each shot that is in the ground: place among the records, row of the point, vertex. */
  shots: { at: number; row: number; vertex: number }[];
}

const LONGEST = 60;

export interface HeightRuns {
  queries: Query[];
  /** Rows of points that are in one of them. */
  rows: ReadonlySet<number>;
}

export function queryHeightRuns(
  doc: ProjectDocument,
  points: PointTable,
  work: Linework,
  ground: Ground,
  books: ReadonlyMap<string, BookAt>,
): HeightRuns {
  const rows = new Set<number>();
  const queries: Query[] = [];
  const stretches = stretchesOf(doc, points, ground, books).flatMap((s) => {
    const heights = targetHeightsOf(s.book.records).map((h) => h - s.height);
    const shifts = heights.filter((d) => Math.abs(d) >= 3 * doc.settings.checkHeight);
    return shifts.length ? [{ ...s, shifts }] : [];
  });
  if (stretches.length === 0) return { queries, rows };
  const asked = stretches.flatMap((s) => s.shots.map((v) => v.vertex));
  const residuals = planeResiduals(ground.surface, asked);
  const runs = new ShiftedRuns(residuals);
  const most = Math.min(LONGEST, ground.surface.x.length >> 1);
  for (const { shifts, ...s } of stretches) {
    if (queries.length >= MOST_OF_A_KIND) break;
    const vertices = s.shots.map((v) => v.vertex);
    const found = runs.find(vertices, shifts, most);
    if (!found) continue;
    const run = s.shots.slice(found.from, found.to + 1);
    // One shot alone is a spike, which is said in the ground, unless it stands on the rim.
    if (run.length === 1 && hasResidual(residuals, run[0].vertex)) continue;
    if (isOneLine(work, new Set(run.map((v) => v.row)))) continue;
    queries.push(queryOf(doc, points, s, run, found.shift));
    for (const { row } of run) rows.add(row);
  }
  return { queries, rows };
}

function stretchesOf(
  doc: ProjectDocument,
  points: PointTable,
  { surface }: Ground,
  books: ReadonlyMap<string, BookAt>,
): Stretch[] {
  const out: Stretch[] = [];
  if (books.size === 0) return out;
  const vertexOf = new Int32Array(points.x.length).fill(-1);
  surface.point.forEach((row, v) => {
    if (row !== NO_POINT) vertexOf[row] = v;
  });
  const rowAt = rowsByRecord(doc, points);
  for (const book of books.values()) {
    if (targetHeightsOf(book.records).length < 2) continue;
    let open: Stretch | null = null;
    book.records.forEach((r, at) => {
      if (r.kind === 'setup') open = null;
      if (r.kind !== 'sighting' || r.deleted || r.role !== 'shot' || Number.isNaN(r.height)) return;
      if (open?.height !== r.height) out.push((open = { book, height: r.height, shots: [] }));
      const row = rowAt.get(book.id, r.row);
      if (row !== undefined && vertexOf[row] >= 0) open.shots.push({ at, row, vertex: vertexOf[row] });
    });
  }
  return out.filter((s) => s.shots.length > 0);
}

/** A wall or the top of a bank is a run too: points that are one whole line and nothing else are taken for that. */
function isOneLine(work: Linework, run: ReadonlySet<number>): boolean {
  return work.lines.some((l) => {
    const own = new Set(l.rows.filter((r) => r >= 0));
    return own.size === run.size && [...own].every((r) => run.has(r));
  });
}

function queryOf(doc: ProjectDocument, points: PointTable, s: Stretch, run: Stretch['shots'], shift: number): Query {
  const { id, records, name } = s.book;
  const [first, last] = [run[0], run[run.length - 1]];
  const between = (r: BookRecord): boolean => r.kind === 'sighting' && !r.deleted && r.height === s.height;
  const meant = s.height + shift;
  const edits = Object.fromEntries(
    records.slice(first.at, last.at + 1).filter(between).map((r) => [`${id}:${r.row}`, { set: { height: meant }, undo: [] }]), // prettier-ignore
  );
  const many = run.length > 1;
  const called = many ? `${run.length} shots one after the other, ${points.number[first.row]} to ${points.number[last.row]} of ${name}, stand` : `Shot ${points.number[first.row]} of ${name} stands`; // prettier-ignore
  return settleQuery(doc, {
    key: `target-height-run:${id}:${records[first.at].row}:${records[last.at].row}`,
    kind: 'target-height',
    stage: 'book',
    weight: 'stop',
    text: `${called} ${lengthText(doc, Math.abs(shift))} too ${shift > 0 ? 'high' : 'low'} for what lies around. ${many ? 'Their' : 'Its'} target height is ${lengthText(doc, s.height)}; ${lengthText(doc, meant)}, which the crew used too, would explain it.`,
    evidence: [run.map((v) => records[v.at].row), s.height, Math.round(shift * 1000)],
    place: { x: points.x[first.row], y: points.y[first.row] },
    rows: run.map((v) => v.row),
    lines: [],
    remedies: [
      {
        label: `Target height ${lengthText(doc, meant)}${many ? ` for these ${Object.keys(edits).length}` : ''}`,
        change: { op: 'points.edit', edits },
      },
    ],
  });
}
