import { atan2, difference, distance as length } from '#core/kernel';
import type { Known } from './known.ts';

// One reading of a free station: what it is, what it is off by, how much it counts.

/** A known point as a free station sees it; metres and radians. */
export interface ResectionSight {
  target: Known;
  circle: number;
  /** On the grid; NaN when only a direction was read. */
  horizontal: number;
  rise: number;
  sdDirection: number;
  sdDistance: number;
  sdRise: number;
  /** Centring, m; a millimetre where nobody says. */
  centring?: number;
  /** Which of its readings count, where a person said so; both otherwise. */
  only?: 'direction' | 'distance';
  /** A person said that it is to be used: it is not doubted. */
  held?: boolean;
}

/** One reading that a station is found from. */
export interface ResectionReading {
  /** Index of its sight. */
  sight: number;
  what: 'direction' | 'distance' | 'height';
}

/** A reading that the others contradict. */
export interface ReadingDoubt extends ResectionReading {
  /** By how much it must be wrong: observed less what the others say, radians or metres. */
  off: number;
  standardised: number;
  /** Whether the others tell that it is this one; otherwise it is one of several. */
  sure: boolean;
}

export interface Solved {
  x: number;
  y: number;
  orientation: number;
  scale: number;
  inverse: number[][];
}

/** Observed less computed: radians or metres. */
export function residualOf(s: ResectionSight, what: ResectionReading['what'], at: Solved): number {
  const [dx, dy] = [s.target.x - at.x, s.target.y - at.y];
  return what === 'direction'
    ? difference(s.circle + at.orientation - atan2(dx, dy))
    : s.horizontal * at.scale - length(dx, dy);
}

/** Of a reading, with what centring and the given coordinates leave: radians or metres. */
export function deviationOf(s: ResectionSight, what: ResectionReading['what'], at: Solved): number {
  const d = Math.max(length(s.target.x - at.x, s.target.y - at.y), 1e-6);
  return what === 'direction'
    ? s.sdDirection + ((s.centring ?? 0.001) + s.target.sdPlan) / d
    : Math.sqrt(s.sdDistance * s.sdDistance + s.target.sdPlan * s.target.sdPlan);
}

/** Coefficients of x, y, orientation and scale: computed bearing turns with the station by (−dy, dx)/d². */
export function rowOf(s: ResectionSight, what: ResectionReading['what'], at: Solved): number[] {
  const [dx, dy] = [s.target.x - at.x, s.target.y - at.y];
  const d = Math.max(length(dx, dy), 1e-6);
  return what === 'direction' ? [-dy / (d * d), dx / (d * d), -1, 0] : [-dx / d, -dy / d, 0, -s.horizontal];
}
