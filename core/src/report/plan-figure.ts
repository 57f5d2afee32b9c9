import { cellsOf, cornersAt, extentOfPieces, partWhere, zeroLines, type DifferencePieces } from '#core/quantities';
import { inkOf, type Ink } from './ink.ts';

/** What is drawn beside the figures of a comparison. */
export interface PlanFigure {
  pieces: DifferencePieces;
  /** Closed lines: the boundary, zones; x, y …, m. */
  rings: readonly (readonly number[])[];
  /** Lines: where sections stand across. */
  lines: readonly (readonly number[])[];
}

/** pt */
const WIDTH = 500;
const TALLEST = 330;
/** Pieces that are drawn as they are; more are drawn as cells. */
const MOST_PIECES = 4000;
const CELLS_ACROSS = 140;

/** Cut and fill in plan, north up, with boundary, zero line and a bar of scale: an SVG, its size in points. */
export function planFigure({ pieces, rings, lines }: PlanFigure): string {
  const [w, s, e, n] = extentOfPieces(pieces);
  const scale = Math.min(WIDTH / (e - w || 1), TALLEST / (n - s || 1));
  const height = (n - s) * scale;
  const at = (x: number, y: number): string => `${((x - w) * scale).toFixed(1)} ${((n - y) * scale).toFixed(1)}`;
  const course = (line: readonly number[], close: string): string => {
    const places = line.flatMap((x, i) => (i % 2 ? [] : [at(x, line[i + 1])]));
    return places.length > 1 ? `M${places.join('L')}${close}` : '';
  };
  const shown = pieces.length / 9 > MOST_PIECES ? cellsOf(pieces, (e - w) / CELLS_ACROSS) : pieces;
  const side = (sign: 1 | -1): string => {
    let d = '';
    for (let i = 0; i < shown.length; i += 9) {
      const area = partWhere(cornersAt(shown, i), (c) => sign * c[2]);
      if (area.some((c) => c[2] !== 0)) d += course(area.flatMap(([x, y]) => [x, y]), 'Z'); // prettier-ignore
    }
    return d;
  };
  const bar = roundLength((e - w) / 4);
  const foot = height + 22;
  const path = (d: string, more: string): string => (d ? `<path d="${d}" ${more}/>` : '');
  const stroke = (of: Ink, wide: number): string => `fill="none" stroke="${inkOf(of)}" stroke-width="${wide}"`;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${(foot + 14).toFixed(0)}" viewBox="0 0 ${WIDTH} ${(foot + 14).toFixed(0)}">`,
    `<defs>${hatch('cut', 'pole', 'M0 5L5 0')}${hatch('fill', 'lake', 'M0 0L5 5')}</defs>`,
    path(side(-1), 'fill="url(#cut)"'),
    path(side(1), 'fill="url(#fill)"'),
    path(
      zeroLines(pieces)
        .map((l) => course(l, ''))
        .join(''),
      stroke('ink', 0.8),
    ),
    path(rings.map((r) => course(r, 'Z')).join(''), `${stroke('slate', 0.8)} stroke-dasharray="4 2"`),
    path(lines.map((l) => course(l, '')).join(''), stroke('pole', 0.8)),
    `<path d="M0 ${foot - 3}v3h${(bar * scale).toFixed(1)}v-3" ${stroke('ink', 0.8)}/>`,
    `<path d="M${WIDTH - 10} ${foot}v-18l-3 7h6l-3 -7" ${stroke('ink', 0.8)}/>`,
    '</svg>',
  ].join('');
}

/** Metres of the bar under a plan. */
export const barOfPlan = (pieces: DifferencePieces): number => {
  const [w, , e] = extentOfPieces(pieces);
  return roundLength((e - w) / 4);
};

/** The next 1, 2 or 5 times a power of ten below. */
function roundLength(most: number): number {
  let power = 1;
  while (power * 10 <= most) power *= 10;
  while (power > most && power > 1e-3) power /= 10;
  return power * ([5, 2, 1].find((k) => k * power <= most) ?? 1);
}

/** Cut and fill are told apart by the way of their hatch as well as by its ink. */
const hatch = (id: string, ink: Ink, d: string): string =>
  `<pattern id="${id}" width="5" height="5" patternUnits="userSpaceOnUse"><path d="${d}" stroke="${inkOf(ink)}" stroke-width="0.7" fill="none"/></pattern>`;
