import { ringArea } from '#core/kernel';
import type { Boundary } from './load.ts';

/** How much of a boundary's area there is ground for, m². */
export interface Reach {
  area: number;
  covered: number;
}

export function reachOf({ ring, holes }: Boundary, covered: number): Reach {
  const area = Math.abs(ringArea(ring)) - holes.reduce((sum, h) => sum + Math.abs(ringArea(h)), 0);
  return { area, covered };
}

/** Said where a boundary reaches off the ground; what rounding leaves is none. */
export const reachText = ({ area, covered }: Reach): string[] =>
  area - covered > Math.max(1e-6 * area, 1e-3)
    ? [`  the boundary extends beyond the ground: ${covered.toFixed(3)} m² of its ${area.toFixed(3)} m² are covered`]
    : [];
