import { elevationsAt } from './locate.ts';
import { planSurface } from './plan.ts';
import { raiseSurface } from './raise.ts';
import type { SurfaceInput } from './surface.ts';

export interface Thinned {
  /** 1 for points that stay. */
  kept: Uint8Array;
  /** Largest difference between a point that went and the surface of those that stayed, m: the proof. */
  largestError: number;
}

/** Rounds in which points come back; the last brings back all that are still off. */
const MOST_ROUNDS = 60;

/**
 * Chooses the fewest points it can whose surface is nowhere farther than `error` (m, in height) from any point that goes:
 * it begins with the rim and the breaklines, and where a triangle has points farther off than that, the farthest of them
 * comes in, until none is (greedy insertion, Garland and Heckbert, "Fast polygonal approximation of terrains and height
 * fields", 1995). Points of breaklines all stay. Without a triangle, all stay.
 */
export function thinPoints(input: Omit<SurfaceInput, 'longestSide'>, error: number): Thinned {
  const { x, y, z, segments } = input;
  const n = x.length;
  const whole = { ...input, longestSide: null, rounding: 0 };
  const all: Thinned = { kept: new Uint8Array(n).fill(1), largestError: 0 };
  const full = planSurface(whole);
  if (full.triangles.length === 0) return all;
  const kept = new Uint8Array(n);
  for (let e = 0; e < full.triangles.length; e++) if (full.neighbours[e] < 0) kept[full.point[full.triangles[e]]] = 1;
  for (const i of segments) kept[i] = 1;
  // Of points in one place only the one that stands for them is asked about.
  const gone = new Uint8Array(n);
  for (let i = 0; i < full.coincident.length; i += 2) {
    gone[full.coincident[i + 1]] = 1;
    if (kept[full.coincident[i + 1]]) kept[full.coincident[i]] = 1;
  }

  for (let round = 0; ; round++) {
    const surface = surfaceOf(whole, kept);
    const asked: number[] = [];
    for (let i = 0; i < n; i++) if (!kept[i] && !gone[i]) asked.push(i);
    const at = elevationsAt(surface, Float64Array.from(asked, (i) => x[i]), Float64Array.from(asked, (i) => y[i])); // prettier-ignore
    const worst = new Map<number, { i: number; off: number }>();
    let largestError = 0;
    let changed = false;
    asked.forEach((i, k) => {
      // What no triangle has stands at the rim: it stays.
      const off = Number.isNaN(at.z[k]) ? Infinity : Math.abs(at.z[k] - z[i]);
      if (off <= error) {
        if (off > largestError) largestError = off;
        return;
      }
      if (round >= MOST_ROUNDS || off === Infinity) {
        kept[i] = 1;
        changed = true;
        return;
      }
      const before = worst.get(at.triangle[k]);
      if (!before || off > before.off || (off === before.off && comesFirst(x, y, i, before.i)))
        worst.set(at.triangle[k], { i, off });
    });
    for (const { i } of worst.values()) kept[i] = 1;
    if (changed || worst.size > 0) continue;
    // What is one place with a point that stays stays with it: which of them counts is for the surface to say.
    for (let i = 0; i < full.coincident.length; i += 2) if (kept[full.coincident[i]]) kept[full.coincident[i + 1]] = 1;
    return { kept, largestError };
  }
}

const comesFirst = (x: Float64Array, y: Float64Array, i: number, k: number): boolean =>
  x[i] < x[k] || (x[i] === x[k] && y[i] < y[k]);

/** The points that stay, in their order, with the segments between them; a segment's ends are among them. */
export function onlyKept<T extends Pick<SurfaceInput, 'x' | 'y' | 'z' | 'segments'>>(input: T, kept: Uint8Array): T {
  const slot = new Uint32Array(kept.length);
  const stay: number[] = [];
  for (let i = 0; i < kept.length; i++) if (kept[i]) slot[i] = stay.push(i) - 1;
  const [x, y, z] = [input.x, input.y, input.z].map((values) => Float64Array.from(stay, (i) => values[i]));
  return { ...input, x, y, z, segments: input.segments.map((i) => slot[i]) };
}

function surfaceOf(input: SurfaceInput, kept: Uint8Array) {
  const left = { ...onlyKept(input, kept), claim: null };
  return raiseSurface(planSurface(left), left.z).surface;
}
