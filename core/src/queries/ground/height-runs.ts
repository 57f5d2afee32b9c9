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

/** Shots whose elevation counts, one behind the other: places among the records, rows of their points. */
interface Shots {
  at: Uint32Array;
  rows: Uint32Array;
}

/** Shots of one setup that follow each other with one target height. */
interface Stretch {
  book: BookAt;
  height: number;
  shots: Shots;
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
  if (books.size === 0) return { queries, rows };
  const { stretches, asked } = stretchesOf(doc, points, ground, books);
  if (stretches.length === 0) return { queries, rows };
  const rowAt = rowsByRecord(doc, points);
  const pairs = reduction ? twiceInTable(reduction.points, measuredTwice(doc, reduction.points, keep).filter(({ a, b }) => ![a, b].some((i) => doubted.has(reduction.points.setup[i]))), (b, r) => rowAt.get(b, r)) : []; // prettier-ignore
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
    if (s.shots.rows.length === carriedBy[i]) {
      const whole = s.shots.rows;
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
      const found = runs.find(shots.rows, shifts, most, SHIFT_ANY * checkHeight);
      if (!found) continue;
      const run = partOf(shots, found.from, found.to + 1);
      open = [...open, partOf(shots, 0, found.from), partOf(shots, found.to + 1)].filter((o) => o.rows.length > 0);
      if (isOneLine(work, new Set(run.rows))) continue;
      if (!isPole(s.height + found.shift)) continue;
      // The height before or behind, where it is as near as an eighth: poles have few lengths.
      const beside = s.beside.map((h) => h - s.height).find((d) => Math.abs(d - found.shift) <= Math.abs(d) / 8);
      const shift = shifts.includes(found.shift) ? found.shift : (beside ?? found.shift);
      runs.mend(run.rows, shift);
      queries.push(queryOf(doc, points, s, run, shift, shift === beside || shifts.includes(shift)));
      for (const row of run.rows) rows.add(row);
    }
  }
  return { queries, rows };
}

const SHOT = RECORD.sighting | RECORD.shot | RECORD.deleted;

const partOf = ({ at, rows }: Shots, from: number, to?: number): Shots => ({
  at: at.subarray(from, to),
  rows: rows.subarray(from, to),
});

const isPole = (height: number): boolean => height >= 0 && height <= 6;

/** The stretches of all books, and the rows of all their shots. */
function stretchesOf(
  doc: ProjectDocument,
  points: PointTable,
  { surface }: BuiltSurface,
  books: ReadonlyMap<string, BookAt>,
): { stretches: Stretch[]; asked: Uint32Array } {
  const counts = isInGround(surface.point);
  const rowAt = rowsByRecord(doc, points);
  const found: (Omit<Stretch, 'shots'> & { from: number })[] = [];
  const all: Shots = { at: new Uint32Array(points.x.length), rows: new Uint32Array(points.x.length) };
  let shots = 0;
  for (const book of books.values()) {
    let open: Omit<Stretch, 'shots'> | null = null;
    const { row: rows, height, is } = columnsOf(book.records);
    for (let at = 0; at < rows.length; at++) {
      if (is[at] & RECORD.setup) open = null;
      // A shot with a target height, not deleted.
      if ((is[at] & SHOT) !== (RECORD.sighting | RECORD.shot) || Number.isNaN(height[at])) continue;
      if (open?.height !== height[at]) {
        const next: Omit<Stretch, 'shots'> & { from: number } = {
          book,
          height: height[at],
          beside: open ? [open.height] : [],
          from: shots,
        };
        open?.beside.push(height[at]);
        found.push((open = next));
      }
      const row = rowAt.get(book.id, rows[at]);
      if (row === undefined || !counts[row]) continue;
      all.at[shots] = at;
      all.rows[shots++] = row;
    }
  }
  const stretches = found.map(({ from, ...s }, i) => ({ ...s, shots: partOf(all, from, found[i + 1]?.from ?? shots) }));
  return { stretches: stretches.filter((s) => s.shots.rows.length > 0), asked: all.rows.subarray(0, shots) };
}

/** A wall or the top of a bank is a run too: points that are one whole line and nothing else are taken for that. */
function isOneLine(work: Linework, run: ReadonlySet<number>): boolean {
  const isIn = (row: number): boolean => row < 0 || run.has(row);
  return work.lines.some((l) => l.rows.every(isIn) && new Set(l.rows.filter((r) => r >= 0)).size === run.size);
}

function queryOf(
  doc: ProjectDocument,
  points: PointTable,
  s: Stretch,
  run: Shots,
  shift: number,
  used: boolean,
): Query {
  const { id, records, name } = s.book;
  const [first, last] = [run.at[0], run.at[run.at.length - 1]];
  const numbers = [run.rows[0], run.rows[run.rows.length - 1]].map((row) => points.number[row]);
  const between = (r: BookRecord): boolean => r.kind === 'sighting' && !r.deleted && r.height === s.height;
  // A height that nobody used is no better than what it is estimated from: a whole centimetre.
  const meant = used ? Number((s.height + shift).toFixed(4)) : Math.round((s.height + shift) * 100) / 100;
  const edits = Object.fromEntries(
    records.slice(first, last + 1).filter(between).map((r) => [`${id}:${r.row}`, { set: { height: meant }, undo: [] }]), // prettier-ignore
  );
  const many = run.rows.length > 1;
  const called = many ? `${run.rows.length} shots one after the other, ${numbers[0]} to ${numbers[1]} of ${name}, are` : `Shot ${numbers[0]} of ${name} is`; // prettier-ignore
  const why = used
    ? `${projectLength(doc, meant)}, which the crew used too, would explain it.`
    : `about ${projectLength(doc, meant)} would explain it, which occurs nowhere else: was it typed wrong?`;
  const off = { off: true };
  return settleQuery(doc, {
    key: `target-height-run:${id}:${records[first].row}:${records[last].row}`,
    kind: 'target-height',
    stage: 'book',
    weight: 'stop',
    text: `${called} ${projectLength(doc, Math.abs(shift))} too ${shift > 0 ? 'high' : 'low'} against ${many ? 'their' : 'its'} surroundings. ${many ? 'Their' : 'Its'} target height is ${projectLength(doc, s.height)}; ${why}`,
    evidence: [Array.from(run.at, (at) => records[at].row), s.height, Math.round(shift * 1000)],
    place: { x: points.x[run.rows[0]], y: points.y[run.rows[0]] },
    rows: [...run.rows],
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
