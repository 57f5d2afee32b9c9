import { type BookRecord, columnsOf, RECORD, sightingsOfHeight, targetHeightsOf } from '#core/book';
import { ShiftedRuns } from '#core/terrain';
import type { Linework } from '#core/linework';
import type { Reduction } from '#core/reduction';
import { makeAnew, type Keep } from '#core/kernel';
import { projectLength } from '../book/blunders.ts';
import { type BookAt, type BuiltSurface, type PointTable, rowsByRecord } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { settleQuery, MOST_OF_A_KIND, type Query } from '../query.ts';
import { isInGround } from './in-ground.ts';
import { shotResiduals, twiceInTable } from './shot-residuals.ts';
import { measuredTwice } from '../book/twice-measured.ts';

// A pole that was made longer or shorter on the way, and nobody noted it, or a height that was typed wrong: shots that
// follow each other stand too high or too low by one shift for everything that speaks about their elevations.

/** Shots of one setup that follow each other with one target height. */
interface Stretch {
  book: BookAt;
  height: number;
  /** Of each shot whose elevation counts: place among the records, row of the point. */
  shots: { at: number; row: number }[];
  /** Heights of the stretches before and behind it in its setup. */
  beside: number[];
}

const LONGEST = 60;
/** Tolerances of height that a shift has to be, where another height of the crew explains it, and where none does. */
const SHIFT_USED = 3;
const SHIFT_ANY = 6;
/** A height that one sighting alone carries is no height that the crew used. */
const USED_BY = 2;

export interface HeightRuns {
  queries: Query[];
  /** Rows of points that are in one of them. */
  rows: ReadonlySet<number>;
}

export function queryHeightRuns(
  doc: ProjectDocument,
  points: PointTable,
  work: Linework,
  ground: BuiltSurface,
  books: ReadonlyMap<string, BookAt>,
  reduction: Reduction | null,
  /** Setups whose own heights are asked about: what they measured twice says nothing of their shots. */
  doubted: ReadonlySet<number> = new Set(),
  keep: Keep = makeAnew,
): HeightRuns {
  const rows = new Set<number>();
  const queries: Query[] = [];
  const stretches = stretchesOf(doc, points, ground, books);
  if (stretches.length === 0) return { queries, rows };
  const rowAt = rowsByRecord(doc, points);
  const pairs = reduction ? twiceInTable(reduction.points, measuredTwice(doc, reduction.points, keep).filter(({ a, b }) => ![a, b].some((i) => doubted.has(reduction.points.setup[i]))), (b, r) => rowAt.get(b, r)) : []; // prettier-ignore
  const asked: number[] = [];
  for (const s of stretches) for (const { row } of s.shots) asked.push(row);
  const runs = new ShiftedRuns(shotResiduals(points, work, ground, pairs, asked, keep));
  const most = Math.min(LONGEST, Math.max(1, ground.surface.x.length >> 1));
  const { checkHeight } = doc.settings;
  // Where two heights differ, the one that fewer sightings carry is likelier to be wrong: it is looked at first.
  const carriedBy = stretches.map((s) => sightingsOfHeight(s.book.records, s.height));
  const rarest = stretches.map((_, i) => i).sort((a, b) => carriedBy[a] - carriedBy[b] || a - b);
  const usedIn = new Map([...books.values()].map(({ id, records }) => [id, targetHeightsOf(records).filter((h) => sightingsOfHeight(records, h) >= USED_BY)])); // prettier-ignore
  for (const i of rarest) {
    const s = stretches[i];
    const used = usedIn.get(s.book.id)!;
    const shifts = used.map((h) => h - s.height).filter((d) => Math.abs(d) >= SHIFT_USED * checkHeight);
    // A height that is written for these alone, between others: they are held against the heights before and behind.
    if (s.shots.length === carriedBy[i]) {
      const whole = s.shots.map((v) => v.row);
      const shift = s.beside.map((h) => h - s.height).find((d) => Math.abs(d) >= SHIFT_USED * checkHeight && runs.standOff(whole, d)); // prettier-ignore
      if (shift !== undefined && !isOneLine(work, new Set(whole))) {
        runs.mend(whole, shift);
        queries.push(queryOf(doc, points, s, s.shots, shift, true));
        for (const row of whole) rows.add(row);
        continue;
      }
    }
    // Several runs may hide in one stretch: what is found is taken out, and the rest is looked through again.
    let open = [s.shots];
    while (open.length && queries.length < MOST_OF_A_KIND) {
      const shots = open.shift()!;
      const found = runs.find(shots.map((v) => v.row), shifts, most, SHIFT_ANY * checkHeight); // prettier-ignore
      if (!found) continue;
      const run = shots.slice(found.from, found.to + 1);
      open = [...open, shots.slice(0, found.from), shots.slice(found.to + 1)].filter((list) => list.length > 0);
      if (isOneLine(work, new Set(run.map((v) => v.row)))) continue;
      if (!isPole(s.height + found.shift)) continue;
      // The height before or behind, where it is as near as an eighth: poles have few lengths.
      const beside = s.beside.map((h) => h - s.height).find((d) => Math.abs(d - found.shift) <= Math.abs(d) / 8);
      const shift = shifts.includes(found.shift) ? found.shift : (beside ?? found.shift);
      runs.mend(run.map((v) => v.row), shift); // prettier-ignore
      queries.push(queryOf(doc, points, s, run, shift, shift === beside || shifts.includes(shift)));
      for (const { row } of run) rows.add(row);
    }
  }
  return { queries, rows };
}

const SHOT = RECORD.sighting | RECORD.shot | RECORD.deleted;

const isPole = (height: number): boolean => height >= 0 && height <= 6;

function stretchesOf(
  doc: ProjectDocument,
  points: PointTable,
  { surface }: BuiltSurface,
  books: ReadonlyMap<string, BookAt>,
): Stretch[] {
  const out: Stretch[] = [];
  if (books.size === 0) return out;
  const counts = isInGround(surface.point);
  const rowAt = rowsByRecord(doc, points);
  for (const book of books.values()) {
    let open: Stretch | null = null;
    const { row: rows, height, is } = columnsOf(book.records);
    for (let at = 0; at < rows.length; at++) {
      if (is[at] & RECORD.setup) open = null;
      // A shot with a target height, not deleted.
      if ((is[at] & SHOT) !== (RECORD.sighting | RECORD.shot) || Number.isNaN(height[at])) continue;
      if (open?.height !== height[at]) {
        const next: Stretch = { book, height: height[at], shots: [], beside: open ? [open.height] : [] };
        open?.beside.push(height[at]);
        out.push((open = next));
      }
      const row = rowAt.get(book.id, rows[at]);
      if (row !== undefined && counts[row]) open.shots.push({ at, row });
    }
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

function queryOf(
  doc: ProjectDocument,
  points: PointTable,
  s: Stretch,
  run: Stretch['shots'],
  shift: number,
  used: boolean,
): Query {
  const { id, records, name } = s.book;
  const [first, last] = [run[0], run[run.length - 1]];
  const between = (r: BookRecord): boolean => r.kind === 'sighting' && !r.deleted && r.height === s.height;
  // A height that nobody used is no better than what it is estimated from: a whole centimetre.
  const meant = used ? Number((s.height + shift).toFixed(4)) : Math.round((s.height + shift) * 100) / 100;
  const edits = Object.fromEntries(
    records.slice(first.at, last.at + 1).filter(between).map((r) => [`${id}:${r.row}`, { set: { height: meant }, undo: [] }]), // prettier-ignore
  );
  const many = run.length > 1;
  const called = many ? `${run.length} shots one after the other, ${points.number[first.row]} to ${points.number[last.row]} of ${name}, are` : `Shot ${points.number[first.row]} of ${name} is`; // prettier-ignore
  const why = used
    ? `${projectLength(doc, meant)}, which the crew used too, would explain it.`
    : `about ${projectLength(doc, meant)} would explain it, which occurs nowhere else: was it typed wrong?`;
  const off = { off: true };
  return settleQuery(doc, {
    key: `target-height-run:${id}:${records[first.at].row}:${records[last.at].row}`,
    kind: 'target-height',
    stage: 'book',
    weight: 'stop',
    text: `${called} ${projectLength(doc, Math.abs(shift))} too ${shift > 0 ? 'high' : 'low'} against ${many ? 'their' : 'its'} surroundings. ${many ? 'Their' : 'Its'} target height is ${projectLength(doc, s.height)}; ${why}`,
    evidence: [run.map((v) => records[v.at].row), s.height, Math.round(shift * 1000)],
    place: { x: points.x[first.row], y: points.y[first.row] },
    rows: run.map((v) => v.row),
    lines: [],
    remedies: [
      {
        label: `Target height ${projectLength(doc, meant)}${many ? ` for these ${Object.keys(edits).length}` : ''}`,
        change: { op: 'points.edit', edits },
      },
      ...(used ? [] : [{ label: many ? `Exclude these ${Object.keys(edits).length}` : 'Exclude the shot', change: { op: 'points.edit' as const, edits: Object.fromEntries(Object.keys(edits).map((k) => [k, { set: off, undo: [] }])) } }]), // prettier-ignore
    ],
  });
}
