import type { BookRecord } from '#core/book';
import type { Air } from './corrections.ts';
import { airOf } from './measure.ts';
import { faceOf } from './pointings.ts';
import type { BookInput } from './types.ts';

// The records of books sorted into setups: what each sighted, and which of its shots are more than a new point.

export interface Occupation {
  book: BookInput;
  bookIndex: number;
  index: number;
  at: number;
  setup: BookRecord;
  azimuths: Map<string, number>;
  air: Air | null;
  /** Nothing in both faces and no rounds: every sighting stands for itself. */
  plain: boolean;
  sorted: boolean;
  /** Where its records end in the book: its shots of new points lie between, and are not listed apart. */
  end: number;
  /** How many sightings are shots. */
  shotCount: number;
  /** Sightings that are more than a shot of a new point. */
  others: BookRecord[];
  /** Shots that are among the others: they go to control. */
  checks: Set<BookRecord> | null;
  /** Shots of numbers that are stood on or oriented by somewhere; null where there are none. */
  carries: Set<BookRecord> | null;
}

/** Records of one book, by what becomes of them. */
export interface Gathered {
  occupations: Occupation[];
  typed: BookRecord[];
  gnss: BookRecord[];
  /** Numbers that are stood on or oriented by. */
  wanted: string[];
  hasLevels: boolean;
}

/** Setups of a book from its records; `first` is the index of its first setup among all books'. */
export function gather(book: BookInput, bookIndex: number, first: number): Gathered {
  const out: Gathered = { occupations: [], typed: [], gnss: [], wanted: [], hasLevels: false };
  let current: Occupation | null = null;
  let air: Air | null = null;
  const { records } = book;
  for (let at = 0; at < records.length; at++) {
    const r = records[at];
    if (current && r.kind === 'setup') current.end = at;
    if (r.deleted) {
      // A setup that is left out takes its sightings with it: they are not seen from the one before.
      if (r.kind === 'setup') current = null;
      continue;
    }
    if (r.kind === 'sighting') {
      if (!current) continue;
      if (r.role === 'shot') current.shotCount++;
      else current.others.push(r);
      if (r.role === 'back') out.wanted.push(r.number);
      if (r.round !== 0 || r.face === 2) current.plain = false;
    } else if (r.kind === 'setup') {
      const index = first + out.occupations.length;
      current = { book, bookIndex, index, at, setup: r, azimuths: new Map(), air, plain: true, sorted: false, end: records.length, shotCount: 0, others: [], checks: null, carries: null }; // prettier-ignore
      out.occupations.push(current);
      out.wanted.push(r.number);
    } else if (r.kind === 'azimuth' && current) current.azimuths.set(r.number, r.circle);
    else if (r.kind === 'point') out.typed.push(r);
    else if (r.kind === 'weather') air = airOf(r) ?? air;
    else if (r.kind === 'gnss') out.gnss.push(r);
    else if (r.kind === 'level') out.hasLevels = true;
  }
  return out;
}

/** Numbers that are more than a new point, so that a shot costs one look at most. */
export class SpecialNumbers {
  private readonly kinds = new Map<string, 'control' | 'wanted'>();
  /** 1 where one of them begins with the character, its code within a byte: most shots' numbers begin otherwise. */
  private readonly begins = new Uint8Array(256);

  add(numbers: Iterable<string>, kind: 'control' | 'wanted'): void {
    for (const number of numbers) {
      this.kinds.set(number, kind);
      this.begins[number.charCodeAt(0) & 255] = 1;
    }
  }

  kindOf(number: string): 'control' | 'wanted' | undefined {
    return this.begins[number.charCodeAt(0) & 255] === 0 ? undefined : this.kinds.get(number);
  }
}

/** Shots of control are checks; shots of what is stood on somewhere are carried forward. */
export function sortShots(o: Occupation, special: SpecialNumbers): void {
  if (o.sorted) return;
  o.sorted = true;
  const { records } = o.book;
  for (let i = o.at + 1; i < o.end; i++) {
    const r = records[i];
    if (!isSighting(r)) continue;
    if (faceOf(r) === 2) o.plain = false;
    if (r.role !== 'shot') continue;
    const what = special.kindOf(r.number);
    if (what === undefined) continue;
    if (what === 'control') (o.checks ??= new Set()).add(r);
    else (o.carries ??= new Set()).add(r);
  }
  const { checks } = o;
  if (checks) o.others = sightingsOf(o).filter((r) => r.role !== 'shot' || checks.has(r));
}

const isSighting = (r: BookRecord): boolean => r.kind === 'sighting' && !r.deleted;

/** Whether a record of a setup is a shot of a new point. */
export const isShot = (r: BookRecord, checks: ReadonlySet<BookRecord> | null): boolean =>
  r.role === 'shot' && isSighting(r) && !checks?.has(r);

/** Every sighting of a setup, in the order observed. */
export const sightingsOf = ({ book, at, end }: Occupation): BookRecord[] =>
  book.records.slice(at + 1, end).filter(isSighting);

/** Shots of new points from a setup, in the order observed. */
export const shotsOf = ({ book, at, end, checks }: Occupation): BookRecord[] =>
  book.records.slice(at + 1, end).filter((r) => isShot(r, checks));
