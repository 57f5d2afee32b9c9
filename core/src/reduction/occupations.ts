import type { BookRecord } from '#core/book';
import type { Air } from './corrections.ts';
import { airOf } from './measure.ts';
import { faceOf } from './pointings.ts';
import type { BookInput } from './settings.ts';

// The records of books sorted into setups, and the numbers whose shots are more than a new point.

export interface Occupation {
  book: BookInput;
  bookIndex: number;
  index: number;
  at: number;
  setup: BookRecord;
  azimuths: Map<string, number>;
  /** Rows before which somebody says that the circle was turned. */
  turned: Set<number>;
  air: Air | null;
  /** Typed in the place of the air, parts per million; NaN without. */
  ppm: number;
  /**
   * Nothing in both faces and no rounds: every sighting stands for itself. A shot that does not say its face may
   * still show otherwise by its zenith (`settleFaces`).
   */
  plain: boolean;
  /** Where its records end in the book: its shots of new points lie between, and are not listed apart. */
  end: number;
  /** How many sightings are shots. */
  shotCount: number;
  /** Sightings that are no shots. */
  others: BookRecord[];
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
  let ppm = NaN;
  const { records, turned } = book;
  for (let at = 0; at < records.length; at++) {
    const r = records[at];
    // Most are shots: what is special about one of them is seen where they are reduced (shots.ts).
    if (r.role === 'shot' && r.kind === 'sighting') {
      if (!current) continue;
      current.shotCount++;
      if (turned?.has(r.row)) current.turned.add(r.row);
      continue;
    }
    if (current && r.kind === 'setup') current.end = at;
    if (r.deleted) {
      // A setup that is left out takes its sightings with it: they are not seen from the one before.
      if (r.kind === 'setup') current = null;
      continue;
    }
    if (r.kind === 'sighting') {
      if (!current) continue;
      if (turned?.has(r.row)) current.turned.add(r.row);
      current.others.push(r);
      if (r.role === 'back') out.wanted.push(r.number);
      if (!isPlain(r) || faceOf(r) === 2) current.plain = false;
    } else if (r.kind === 'setup') {
      const index = first + out.occupations.length;
      current = { book, bookIndex, index, at, setup: r, azimuths: new Map(), turned: new Set(), air, ppm, plain: true, end: records.length, shotCount: 0, others: [] }; // prettier-ignore
      out.occupations.push(current);
      out.wanted.push(r.number);
    } else if (r.kind === 'azimuth' && current) current.azimuths.set(r.number, r.circle);
    else if (r.kind === 'point') out.typed.push(r);
    else if (r.kind === 'weather') {
      air = airOf(r) ?? air;
      // What was typed last holds: an air takes the place of parts per million, and the other way round.
      ppm = Number.isNaN(r.ppm) && airOf(r) === null ? ppm : r.ppm;
    } else if (r.kind === 'gnss') out.gnss.push(r);
    else if (r.kind === 'level') out.hasLevels = true;
  }
  return out;
}

/** Control, and numbers that are stood on or oriented by somewhere: a shot of one is more than a new point. */
export class SpecialNumbers {
  private readonly kinds = new Map<string, 'control' | 'wanted'>();
  /** 1 where one of them looks alike: most shots need no other look. */
  private readonly looks = new Uint8Array(1024);
  private text: string | null = null;

  add(numbers: Iterable<string>, kind: 'control' | 'wanted'): void {
    this.text = null;
    for (const number of numbers) {
      this.kinds.set(number, kind);
      this.looks[lookOf(number)] = 1;
    }
  }

  /** Which numbers they are, as text. */
  get numbers(): string {
    return (this.text ??= JSON.stringify([...this.kinds]));
  }

  kindOf(number: string): 'control' | 'wanted' | undefined {
    return this.looks[lookOf(number)] === 0 ? undefined : this.kinds.get(number);
  }
}

/** First and last character and length in one number below 1,024. */
const lookOf = (s: string): number => (s.charCodeAt(0) * 37 + s.charCodeAt(s.length - 1) * 7 + s.length) & 1023;

export const isSighting = (r: BookRecord): boolean => r.kind === 'sighting' && !r.deleted;

/** Nothing about a sighting but what most have: no round, no second face, no level distance, no precision of its own. */
export const isPlain = (r: BookRecord): boolean => r.round === 0 && r.face !== 2 && r.flat === '' && r.sd === null;

/** Looks at every sighting for what asks for more, and at every zenith for a face that was not said. */
export function settleFaces(o: Occupation): void {
  o.plain &&= sightingsOf(o).every((r) => isPlain(r) && faceOf(r) === 1);
}

/** Every sighting of a setup, in the order observed. */
export const sightingsOf = ({ book, at, end }: Occupation): BookRecord[] =>
  book.records.slice(at + 1, end).filter(isSighting);
