import { distance } from '#core/kernel';
import { halfOf } from './dxf/arcs.ts';

/** m; an arc is nowhere farther from its chords. */
export const SAGITTA = 0.005;
const MOST_HALVINGS = 8;

/** Places between the ends of an arc, halved until no chord is farther from it than the sagitta, each with its share of the way. */
export function chords(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  bulge: number,
  sagitta: number,
  halvings = MOST_HALVINGS,
): { at: [number, number]; share: number }[] {
  const rise = (Math.abs(bulge) * distance(bx - ax, by - ay)) / 2;
  if (!(rise > sagitta) || halvings === 0) return [];
  const { mx, my, half } = halfOf(ax, ay, bx, by, bulge);
  const before = chords(ax, ay, mx, my, half, sagitta, halvings - 1);
  const behind = chords(mx, my, bx, by, half, sagitta, halvings - 1);
  return [
    ...before.map(({ at, share }) => ({ at, share: share / 2 })),
    { at: [mx, my], share: 0.5 },
    ...behind.map(({ at, share }) => ({ at, share: 0.5 + share / 2 })),
  ];
}
