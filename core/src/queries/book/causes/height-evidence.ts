import type { HeightObservation } from '#core/adjustment';
import type { Known, Reduction } from '#core/reduction';
import type { Keep } from '#core/kernel';
import { recordIn } from '#core/book';
import type { BookAt } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { measuredTwice } from '../twice-measured.ts';

// Everything that the books say of elevations that are seen more than once: given elevations, rises to known points and
// to what others stand on, differences by level, and places that two setups measured.

/** One observation, with what it came from. */
export interface HeightSight extends HeightObservation {
  what: 'given' | 'rise' | 'level';
  /** The point whose elevation it gives. */
  number: string;
  /** Index of the setup that sighted it, −1 of others. */
  setup: number;
  book: string;
  row: number;
  /** Written target height, m; NaN of others. */
  target: number;
}

export interface HeightEvidence {
  sights: HeightSight[];
  unknowns: number;
}

const GIVEN = new Set<Known['from']>(['control', 'gnss', 'typed']);

export function heightEvidence(
  doc: ProjectDocument,
  reduction: Reduction,
  books: ReadonlyMap<string, BookAt>,
  keep: Keep,
): HeightEvidence {
  const { known, setups } = reduction;
  const sights: HeightSight[] = [];
  const index = new Map<string, { unknown: number; z: number }>();
  const pointOf = (number: string, z: number): { unknown: number; z: number } => {
    let found = index.get(number);
    if (!found) index.set(number, (found = { unknown: index.size, z }));
    return found;
  };
  const aside = asideRows(reduction);
  const used = new Set<string>();
  const rise = (
    setup: number,
    to: { number: string; z: number },
    value: number,
    sd: number,
    book: string,
    row: number,
  ): void => {
    const station = setups[setup].station!;
    const [from, target] = [pointOf(station.number, station.z), pointOf(to.number, to.z)];
    used.add(station.number).add(to.number);
    sights.push({
      what: 'rise',
      terms: [{ unknown: target.unknown, a: 1 }, { unknown: from.unknown, a: -1 }],
      off: value - (target.z - from.z),
      sd,
      number: to.number,
      setup,
      book,
      row,
      target: recordIn(books.get(book)!.records, row)?.height ?? NaN,
    }); // prettier-ignore
  };
  for (const s of reduction.sights) {
    const target = known.get(s.number);
    const station = setups[s.setup].station;
    if (!target || !station || aside.has(`${s.book}:${s.row}`)) continue;
    if (Number.isNaN(s.rise + target.z + station.z) || station.number === target.number) continue;
    rise(s.setup, target, s.rise, s.sdRise, s.book, s.row);
  }
  const { points } = reduction;
  for (const { a, b } of measuredTwice(doc, points, keep)) {
    const [sa, sb] = [points.setup[a], points.setup[b]];
    if (sa === sb || sa < 0 || sb < 0) continue;
    const place = `place ${points.book[a]}:${points.name[a].row}`;
    for (const i of [a, b]) {
      const key = `${place} ${points.book[i]}:${points.name[i].row}`;
      const station = setups[points.setup[i]].station!;
      if (used.has(key) || Number.isNaN(station.z)) continue;
      used.add(key);
      const sd = Math.sqrt(Math.max(points.sdHeight[i] ** 2 - station.sdHeight ** 2, 1e-6));
      rise(points.setup[i], { number: place, z: points.z[a] }, points.z[i] - station.z, sd, points.books[points.book[i]], points.name[i].row); // prettier-ignore
    }
  }
  // What levels gave is no second evidence beside the levels.
  const levelled = new Set<string>();
  for (const run of reduction.levelling?.runs ?? [])
    for (const d of run.differences) {
      const [a, b] = [known.get(d.from), known.get(d.to)];
      if (!a || !b || Number.isNaN(a.z + b.z)) continue;
      const [from, to] = [pointOf(a.number, a.z), pointOf(b.number, b.z)];
      used.add(a.number).add(b.number);
      for (const k of [a, b]) if (k.levelled) levelled.add(k.number);
      sights.push({ what: 'level', terms: [{ unknown: to.unknown, a: 1 }, { unknown: from.unknown, a: -1 }], off: d.difference - (to.z - from.z), sd: d.sd, number: b.number, setup: -1, book: d.book, row: d.rows[1], target: NaN }); // prettier-ignore
    }
  for (const [number, { unknown }] of index) {
    const k = known.get(number);
    if (!k || !GIVEN.has(k.from) || levelled.has(number)) continue;
    sights.push({ what: 'given', terms: [{ unknown, a: 1 }], off: 0, sd: Math.max(k.sdHeight, 0.001), number, setup: -1, book: '', row: 0, target: NaN }); // prettier-ignore
  }
  return { sights, unknowns: index.size };
}

/** Sightings that a person has set aside, or of which only the direction counts. */
function asideRows({ setups }: Reduction): Set<string> {
  const out = new Set<string>();
  for (const s of setups)
    for (const c of s.backsights) if (c.state === 'aside' || c.state === 'direction') out.add(`${s.book}:${c.row}`);
  return out;
}
