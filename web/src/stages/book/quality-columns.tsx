import type { Settings } from '#core/project';
import { tiltText } from '#core/reduction';
import { readQuality } from '#core/sources';
import { gnssLimits } from '#core/stages';
import { formatLength, fromMetres, UNIT_SIGN } from '#core/measure';
import type { Column } from '../../frame/grid/index.ts';
import type { Item } from './record-items.ts';

type Quality = ReturnType<typeof readQuality>;

/** What a receiver says of each of its shots, a column a figure, beside what the project asks for; sorted and filtered by. */
export function qualityColumns(items: readonly Item[], s: Settings): Column[] {
  const put = new Map<number, Quality | null>();
  const of = (i: number): Quality | null => {
    let q = put.get(i);
    if (q === undefined) {
      const { head, book, at } = items[i];
      const text = head ? '' : book.gnss.get(at);
      put.set(i, (q = text ? readQuality(text) : null));
    }
    return q;
  };
  const sign = UNIT_SIGN[s.unit];
  const limits = gnssLimits(s);
  const length = (m: number): string => (Number.isNaN(m) ? '' : formatLength(m, s.unit, 3));
  const limit = (m: number): string => formatLength(m, s.unit, 3);
  const figure = (
    id: keyof Quality & ('plan' | 'height' | 'satellites' | 'pdop' | 'tilt'),
    head: string,
    text: (q: Quality) => string,
    value: (q: Quality) => number,
    beyond: (q: Quality, limits: ReturnType<typeof gnssLimits>) => boolean,
  ): Column => {
    const shown = (i: number): string => {
      const q = of(i);
      return q ? text(q) : '';
    };
    return {
      id: `gnss-${id}`,
      head,
      numeric: true,
      sortable: true,
      text: shown,
      value: (i) => {
        const q = of(i);
        return q ? value(q) : NaN;
      },
      cell: (i) => {
        const q = of(i);
        return q && beyond(q, limits) ? <span className="beyond">▲ {shown(i)}</span> : shown(i);
      },
    };
  };
  return [
    {
      id: 'gnss-fix',
      head: 'Fix',
      words: true,
      sortable: true,
      max: 110,
      text: (i) => of(i)?.fix ?? '',
    },
    figure('plan', `± plan ${sign} (${limit(limits.plan)})`, (q) => length(q.plan), (q) => fromMetres(q.plan, s.unit), (q, l) => q.plan > l.plan), // prettier-ignore
    figure('height', `± h ${sign} (${limit(limits.height)})`, (q) => length(q.height), (q) => fromMetres(q.height, s.unit), (q, l) => q.height > l.height), // prettier-ignore
    figure('satellites', `Sat. (${limits.satellites})`, (q) => (Number.isNaN(q.satellites) ? '' : String(q.satellites)), (q) => q.satellites, (q, l) => q.satellites < l.satellites), // prettier-ignore
    figure('pdop', `PDOP (${limits.pdop})`, (q) => (Number.isNaN(q.pdop) ? '' : String(q.pdop)), (q) => q.pdop, (q, l) => q.pdop > l.pdop), // prettier-ignore
    figure('tilt', `Tilt (${tiltText(limits.tilt)})`, (q) => (Number.isNaN(q.tilt) ? '' : tiltText(q.tilt)), (q) => q.tilt, (q, l) => q.tilt > l.tilt), // prettier-ignore
  ];
}

/** Whether any record of the books is a shot by satellite. */
export const haveQuality = (items: readonly Item[]): boolean =>
  items.some((it) => !it.head && it.book.kind(it.at) === 'gnss');
