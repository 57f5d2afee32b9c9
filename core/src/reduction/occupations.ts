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
  /** Of the sightings, shots of new points, and all others. */
  shots: BookRecord[];
  others: BookRecord[];
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
    if (r.deleted) {
      // A setup that is left out takes its sightings with it: they are not seen from the one before.
      if (r.kind === 'setup') current = null;
      continue;
    }
    if (r.kind === 'sighting') {
      if (!current) continue;
      if (r.role === 'shot') current.shots.push(r);
      else current.others.push(r);
      if (r.role === 'back') out.wanted.push(r.number);
      if (r.round !== 0 || r.face === 2 || faceOf(r) === 2) current.plain = false;
    } else if (r.kind === 'setup') {
      const index = first + out.occupations.length;
      current = { book, bookIndex, index, at, setup: r, azimuths: new Map(), air, plain: true, shots: [], others: [], carries: null }; // prettier-ignore
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
  let checks: Set<BookRecord> | null = null;
  for (const r of o.shots) {
    const what = special.kindOf(r.number);
    if (what === undefined) continue;
    if (what === 'control') (checks ??= new Set()).add(r);
    else (o.carries ??= new Set()).add(r);
  }
  if (!checks) return;
  const known = checks;
  o.shots = o.shots.filter((r) => !known.has(r));
  o.others = sightingsOf(o).filter((r) => r.role !== 'shot' || known.has(r));
}

/** Every sighting of a setup, in the order observed. */
export function sightingsOf({ book, at }: Occupation): BookRecord[] {
  const out: BookRecord[] = [];
  for (let i = at + 1; i < book.records.length; i++) {
    const r = book.records[i];
    if (r.kind === 'setup') break;
    if (r.deleted) continue;
    if (r.kind === 'sighting') out.push(r);
  }
  return out;
}
