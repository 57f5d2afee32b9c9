import type { CrossSection, NearSection } from '#core/quantities';
import { escaped } from '#core/exchange';
import { inkOf, type Ink } from './ink.ts';

/** How sections are laid out on paper. */
export interface SheetScale {
  /** One to so many, across and, divided by `times`, up. */
  scale: number;
  /** Elevations are drawn so many times as large. */
  times: number;
}

export const POINTS_IN_METRE = 72 / 0.0254;
const DASHES = ['', '5 3', '1 2', '7 2 1 2'];
/** The compared surface, what it is compared with, and more that are looked at beside them. */
const LINE_INK: Ink[] = ['ink', 'pole', 'pine', 'brass'];

/** m of elevation from rule to rule, at true scale. */
export const RULE = 1;
/** Share of the way from rule to rule that rounding may leave. */
const ROUNDING = 1e-9;
/** pt above and below what is drawn. */
const AIR = 8;

/** A section at true scale as an SVG in points, and the elevation of its lowest rule; no picture where nothing is cut. */
export function sectionFigure(
  section: Pick<CrossSection, 'surfaces' | 'near'>,
  { scale, times }: SheetScale,
): { svg: string | null; datum: number } {
  const runs = section.surfaces.flatMap((s) => s.runs);
  if (runs.length === 0) return { svg: null, datum: 0 };
  const [left, right] = [Math.min(...runs.map((r) => r.offset[0])), Math.max(...runs.map((r) => r.offset.at(-1)!))];
  const [low, high] = [Math.min(...runs.flatMap((r) => r.z)), Math.max(...runs.flatMap((r) => r.z))];
  const rule = RULE / times;
  const datum = Math.floor(low / rule + ROUNDING) * rule;
  const top = Math.max(Math.ceil(high / rule - ROUNDING) * rule, datum + rule);
  const [across, up] = [POINTS_IN_METRE / scale, (POINTS_IN_METRE / scale) * times];
  const [width, height] = [(right - left) * across, (top - datum) * up + 2 * AIR];
  const at = (o: number, z: number): string => `${((o - left) * across).toFixed(2)} ${(height - AIR - (z - datum) * up).toFixed(2)}`; // prettier-ignore
  const stroke = (of: Ink, wide: number, dash = ''): string => `fill="none" stroke="${inkOf(of)}" stroke-width="${wide}"${dash ? ` stroke-dasharray="${dash}"` : ''}`; // prettier-ignore
  const rules: string[] = [];
  const count = Math.round((top - datum) / rule);
  // No more rules than can be told apart.
  const every = Math.ceil(count / 60);
  for (let k = 0; k <= count; k += every) rules.push(`M${at(left, datum + k * rule)}L${at(right, datum + k * rule)}`);
  const lines = section.surfaces.map((s, i) => {
    const d = s.runs.map((r) => `M${r.offset.map((o, k) => at(o, r.z[k])).join('L')}`).join('');
    return `<path d="${d}" ${stroke(LINE_INK[i % LINE_INK.length], 0.9, DASHES[i % DASHES.length])}/>`;
  });
  const middle = left < 0 && right > 0 ? `<path d="M${at(0, datum)}L${at(0, top)}" ${stroke('slate', 0.4, '6 2 1 2')}/>` : ''; // prettier-ignore
  return {
    datum,
    svg: [
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width.toFixed(2)}" height="${height.toFixed(2)}" viewBox="0 0 ${width.toFixed(2)} ${height.toFixed(2)}">`,
      `<path d="${rules.join('')}" ${stroke('slate', 0.2)}/>`,
      middle,
      ...lines,
      ...nearMarks(section.near ?? [], left, right, datum, top, at),
      '</svg>',
    ].join(''),
  };
}

/** pt; labels nearer to each other than this would lie over each other. */
const LABEL_APART = 8;
const LABEL = 5;

/** Points as crosses, lines as rings, each with its name turned up where there is room for it. */
function nearMarks(
  near: readonly NearSection[],
  left: number,
  right: number,
  datum: number,
  top: number,
  at: (o: number, z: number) => string,
): string[] {
  let last = -Infinity;
  return near
    .filter((o) => o.offset >= left && o.offset <= right)
    .map(({ kind, name, offset, z }) => {
      const [x, y] = at(offset, Math.min(Math.max(z ?? datum, datum), top))
        .split(' ')
        .map(Number);
      const mark = kind === 'point' ? `<path d="M${x - 2} ${y}H${x + 2}M${x} ${y - 2}V${y + 2}" fill="none" stroke="${inkOf('ink')}" stroke-width="0.5"/>` : `<circle cx="${x}" cy="${y}" r="1.8" fill="none" stroke="${inkOf('pine')}" stroke-width="0.6"/>`; // prettier-ignore
      if (x - last < LABEL_APART) return mark;
      last = x;
      return `${mark}<text transform="translate(${x + 1.7} ${y - 4}) rotate(-90)" font-size="${LABEL}" fill="${inkOf('ink')}">${escaped(name.slice(0, 24))}</text>`; // prettier-ignore
    });
}
