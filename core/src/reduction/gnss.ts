import { CRITICAL, distance as length } from '#core/kernel';
import type { BookRecord, GnssQuality } from '#core/book';
import { meanOf, pairsApart } from './gnss-mean.ts';
import type { ReductionNote } from './notes.ts';
import type { ReducedPoint } from './reduced-point.ts';
import type { BookInput, ReductionSettings } from './settings.ts';
import type { Known } from './known.ts';

/** One measurement of a point by satellite, beside the others of it. Metres; NaN without elevation. */
export interface GnssReading {
  row: number;
  /** Less the mean. */
  dx: number;
  dy: number;
  dz: number;
  /** Whether it is in the mean. */
  used: boolean;
  fix: string;
  satellites: number;
  /** Antenna height as written down, m. */
  antenna: number;
  /** Radians off the vertical. */
  tilt: number;
}

/** A point that was measured by satellite. */
export interface GnssMean extends Omit<Known, 'from' | 'levelled'> {
  book: string;
  readings: GnssReading[];
  /** Mean less control, where the number is control's. */
  control: { dx: number; dy: number; dz: number } | null;
}

/** A solution that says it is fixed, or says nothing: receivers of the trade note when it is not. */
export const isFixed = (r: Pick<BookRecord, 'gnss'>): boolean =>
  !r.gnss || r.gnss.fix === '' || /fix/i.test(r.gnss.fix);

/** Of more shots only those are kept reading by reading that were measured again, or go to control. */
const MOST_KEPT = 5000;
/** Tolerances that measurements of one number differ by, and may be two points: their mean waits. */
const TWO_POINTS = 3;

/**
 * GNSS shots of a book: those of one number are one point. Where one of them is fixed, only fixed ones are in the mean
 * (unless the project takes all); it is weighted by what they state, and what it promises is the worse of that and of
 * how far they agree. Pairs that differ by more than both state, every poor one, and control that is missed are asked
 * about.
 */
export function averageGnss(
  book: BookInput,
  records: readonly BookRecord[],
  settings: ReductionSettings,
  known: Map<string, Known>,
  controlled: ReadonlySet<string>,
  points: ReducedPoint[],
  notes: ReductionNote[],
  means: GnssMean[],
): void {
  const groups = new Map<string, BookRecord[]>();
  for (const r of records) {
    const key = r.number || `row ${r.row}`;
    const own = groups.get(key);
    if (own) own.push(r);
    else groups.set(key, [r]);
  }
  for (const list of groups.values()) {
    const fixed = settings.gnssMean === 'fixed' ? list.filter(isFixed) : list;
    const used = fixed.length > 0 ? fixed : list;
    const mean = meanOf(used);
    const [first] = used;
    const note = (kind: ReductionNote['kind'], rows: readonly BookRecord[], text: string, values: number[]): void =>
      void notes.push({ kind, book: book.id, row: rows[0].row, rows: rows.map((r) => r.row), number: first.number, text, values }); // prettier-ignore
    const name = first.number || 'a point without a number';
    for (const [a, b] of pairsApart(used, settings))
      note('gnss-spread', [b, a], `measurements of ${name} differ`, [
        length(a.x - b.x, a.y - b.y),
        Math.abs(a.z - b.z),
      ]);
    if (used.length < list.length)
      note('gnss-left', list.filter((r) => !used.includes(r)), `${list.length - used.length} of ${list.length} measurements of ${name} ${list.length - used.length === 1 ? 'is' : 'are'} not in the mean: not fixed, and ${used.length === 1 ? 'another is' : 'others are'}`, []); // prettier-ignore
    for (const r of list) if (r.gnss && isPoor(r.gnss, settings.gnss)) note('gnss-poor', [r], name, []);
    const given = controlled.has(first.number) ? known.get(first.number) : undefined;
    const control = given ? { dx: mean.x - given.x, dy: mean.y - given.y, dz: mean.z - given.z } : null;
    if (control && given) {
      const plan = length(control.dx, control.dy);
      const sd = CRITICAL * Math.sqrt(mean.sdPlan ** 2 + given.sdPlan ** 2);
      const sdHeight = CRITICAL * Math.sqrt(mean.sdHeight ** 2 + given.sdHeight ** 2);
      if (plan > Math.max(settings.checkPlan, sd) || Math.abs(control.dz) > Math.max(settings.checkHeight, sdHeight))
        note('gnss-check', [first], `${name}, measured by satellite, differs from control`, [plan, control.dz]);
    }
    if (records.length <= MOST_KEPT || list.length > 1 || control)
      means.push({
        book: book.id,
        number: first.number,
        ...mean,
        control,
        readings: list.map((r) => ({ row: r.row, dx: r.x - mean.x, dy: r.y - mean.y, dz: r.z - mean.z, used: used.includes(r), fix: r.gnss?.fix ?? '', satellites: r.gnss?.satellites ?? NaN, antenna: r.height, tilt: r.gnss?.tilt ?? NaN })), // prettier-ignore
      });
    points.push({
      book: book.id,
      row: first.row,
      number: first.number,
      code: list.find((r) => r.code)?.code ?? '',
      ...mean,
      setup: -1,
      waits: used.some((r) => length(r.x - first.x, r.y - first.y) > TWO_POINTS * settings.checkPlan || Math.abs(r.z - first.z) > TWO_POINTS * settings.checkHeight), // prettier-ignore
    });
    if (first.number !== '' && !controlled.has(first.number) && !known.has(first.number))
      known.set(first.number, { number: first.number, ...mean, from: 'gnss' });
  }
}

const isPoor = (q: GnssQuality, limits: ReductionSettings['gnss']): boolean =>
  shortcomings(q, limits, String).length > 0;

/** What a shot promises too little of, each value with its limit in the unit of `lengthText`; empty when it is good. */
export function shortcomings(
  q: GnssQuality,
  limits: ReductionSettings['gnss'],
  lengthText: (metres: number) => string,
): string[] {
  return [
    q.fix !== '' && !/fix/i.test(q.fix) ? `its solution is ${q.fix}` : '',
    q.plan > limits.plan ? `${lengthText(q.plan)} in plan, ${lengthText(limits.plan)} wanted` : '',
    q.height > limits.height ? `${lengthText(q.height)} in height, ${lengthText(limits.height)} wanted` : '',
    q.pdop > limits.pdop ? `PDOP ${q.pdop}, at most ${limits.pdop} wanted` : '',
    q.satellites < limits.satellites ? `${q.satellites} satellites, ${limits.satellites} wanted` : '',
    q.tilt > limits.tilt ? `the pole tilted by ${tiltText(q.tilt)}, at most ${tiltText(limits.tilt)} wanted` : '',
    q.warning,
  ].filter(Boolean);
}

/** A tilt is said in plain degrees, whatever the form of a book's angles. */
export const tiltText = (radians: number): string => `${((radians * 180) / 3.141592653589793).toFixed(1)}°`;
