import { distance as length } from '#core/kernel';
import type { BookRecord, GnssQuality } from '#core/book';
import type { BookInput, Known, ReducedPoint, ReductionNote, ReductionSettings } from './types.ts';

/** What a receiver that states nothing is taken to promise, m (common practice for fixed solutions). */
const PLAN = 0.015;
const HEIGHT = 0.025;

/**
 * GNSS shots of a book: those of one number are one point, their mean weighted by stated precision, asked about
 * when they differ by more than tolerance; those that are not fixed or promise too little are asked about.
 */
export function averageGnss(
  book: BookInput,
  records: readonly BookRecord[],
  settings: ReductionSettings,
  known: Map<string, Known>,
  controlled: ReadonlySet<string>,
  points: ReducedPoint[],
  notes: ReductionNote[],
): void {
  const groups = new Map<string, BookRecord[]>();
  for (const r of records) {
    const key = r.number || `row ${r.row}`;
    groups.set(key, [...(groups.get(key) ?? []), r]);
  }
  for (const list of groups.values()) {
    const mean = weighted(list);
    const [first] = list;
    const note = (kind: ReductionNote['kind'], text: string, values: number[]): void =>
      void notes.push({
        kind,
        book: book.id,
        row: first.row,
        rows: list.map((r) => r.row),
        number: first.number,
        text,
        values,
      });
    const spread = Math.max(...list.map((r) => length(r.x - mean.x, r.y - mean.y)));
    const rise = Math.max(...list.map((r) => Math.abs(r.z - mean.z)));
    if (list.length > 1 && (spread > settings.checkPlan || rise > settings.checkHeight))
      note('gnss-spread', `${list.length} measurements of ${first.number} differ`, [spread, rise]);
    const poor = list.map((r) => (r.gnss ? shortcomings(r.gnss, settings.gnss) : [])).find((said) => said.length);
    if (poor) note('gnss-poor', `${first.number} promises little: ${poor.join('; ')}`, []);
    points.push({
      book: book.id,
      row: first.row,
      number: first.number,
      code: list.find((r) => r.code)?.code ?? '',
      ...mean,
      setup: -1,
      waits: false,
    });
    if (first.number !== '' && !controlled.has(first.number) && !known.has(first.number))
      known.set(first.number, { number: first.number, ...mean, from: 'gnss' });
  }
}

function weighted(list: readonly BookRecord[]): Pick<Known, 'x' | 'y' | 'z' | 'sdPlan' | 'sdHeight'> {
  const plan = (r: BookRecord): number => (r.gnss && r.gnss.plan > 0 ? r.gnss.plan : PLAN);
  const height = (r: BookRecord): number => (r.gnss && r.gnss.height > 0 ? r.gnss.height : HEIGHT);
  let [wp, wh, x, y, z] = [0, 0, 0, 0, 0];
  const { x: x0, y: y0, z: z0 } = list[0];
  for (const r of list) {
    const [p, h] = [1 / (plan(r) * plan(r)), 1 / (height(r) * height(r))];
    wp += p;
    wh += h;
    x += p * (r.x - x0);
    y += p * (r.y - y0);
    z += h * (r.z - z0);
  }
  return { x: x0 + x / wp, y: y0 + y / wp, z: z0 + z / wh, sdPlan: 1 / Math.sqrt(wp), sdHeight: 1 / Math.sqrt(wh) };
}

/** What a shot promises too little of, each value with its limit; empty when it is good. */
export function shortcomings(q: GnssQuality, limits: ReductionSettings['gnss']): string[] {
  const mm = (m: number): string => `${Math.round(m * 1000)} mm`;
  const degrees = (a: number): string => `${((a * 180) / 3.141592653589793).toFixed(0)}°`;
  return [
    q.fix !== '' && !/fix/i.test(q.fix) ? `its solution is ${q.fix}` : '',
    q.plan > limits.plan ? `${mm(q.plan)} in plan, ${mm(limits.plan)} wanted` : '',
    q.height > limits.height ? `${mm(q.height)} in height, ${mm(limits.height)} wanted` : '',
    q.pdop > limits.pdop ? `PDOP ${q.pdop}, at most ${limits.pdop} wanted` : '',
    q.satellites < limits.satellites ? `${q.satellites} satellites, ${limits.satellites} wanted` : '',
    q.tilt > limits.tilt ? `the pole tilted by ${degrees(q.tilt)}, at most ${degrees(limits.tilt)} wanted` : '',
    q.warning,
  ].filter(Boolean);
}
