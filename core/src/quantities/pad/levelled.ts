import { measureSurface, type Surface } from '#core/terrain';
import { NearGround } from './near-ground.ts';
import { layPad, layStrip, type PadMade } from './pad.ts';
import type { PadShape } from './pad-shape.ts';
import type { StripShape } from './strip.ts';

/** Something proposed that can be laid at any level, m, all of it higher or lower. */
export interface Levelled {
  at: (level: number) => PadMade;
  /** Levels at which all of it lies below the ground, and above it. */
  below: number;
  above: number;
}

/** A pad, told by its level. */
export function levelledPad(ground: Surface, shape: PadShape): Levelled {
  const site = new NearGround(ground);
  const { lowest, highest } = measureSurface(ground);
  // A sloping pad has parts above and below the level that it is told by.
  const tilt = shape.gradient * spreadOf(shape.ring);
  return { at: (level) => layPad(site, { ...shape, level }), below: lowest - tilt, above: highest + tilt };
}

/** A bank or ditch, told by the elevation at which its line begins. */
export function levelledStrip(ground: Surface, shape: StripShape): Levelled {
  const site = new NearGround(ground);
  const { lowest, highest } = measureSurface(ground);
  const { course, template } = shape;
  const first = course[0][2];
  const heights = template.map((p) => p.height);
  const along = course.map(([, , z]) => z - first);
  const at = (level: number): PadMade => layStrip(site, { ...shape, course: course.map(([x, y, z]) => [x, y, z + level - first]) }); // prettier-ignore
  return { at, below: lowest - Math.max(...along) - Math.max(...heights), above: highest - Math.min(...along) - Math.min(...heights) }; // prettier-ignore
}

function spreadOf(ring: Float64Array): number {
  const xs = ring.filter((_, i) => i % 2 === 0);
  const ys = ring.filter((_, i) => i % 2 === 1);
  return Math.max(...xs) - Math.min(...xs) + Math.max(...ys) - Math.min(...ys);
}
