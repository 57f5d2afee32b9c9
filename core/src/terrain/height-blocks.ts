import { distance } from '#core/kernel';
import { movedVertices, trianglesBeside } from './moved.ts';
import type { Surface } from './surface.ts';

/** So many triangles are taken together. */
export const BLOCK = 128;

/** What heights say of a surface, by blocks of triangles that follow each other. */
export interface HeightBlocks {
  /** Elevations between which all corners of a block are, m. */
  low: Float64Array;
  high: Float64Array;
  /** Area along the slope, m². */
  slope: Float64Array;
}

/** Blocks of a surface's triangles, and the heights that they were made with. */
const kept = new WeakMap<Uint32Array, { z: Float64Array; blocks: HeightBlocks }>();

/** Of triangles that stand as before, only blocks are looked at again that have a corner with another elevation. */
export function heightBlocks(s: Surface): HeightBlocks {
  const before = kept.get(s.triangles);
  const moved = before ? movedVertices(before.z, s.z) : [];
  if (before && moved.length === 0) return before.blocks;
  const count = Math.ceil(s.triangles.length / 3 / BLOCK);
  const blocks: HeightBlocks = before
    ? { low: before.blocks.low.slice(), high: before.blocks.high.slice(), slope: before.blocks.slope.slice() }
    : { low: new Float64Array(count), high: new Float64Array(count), slope: new Float64Array(count) };
  if (before) for (const b of touched(s, moved)) measure(s, blocks, b);
  else for (let b = 0; b < count; b++) measure(s, blocks, b);
  kept.set(s.triangles, { z: s.z.slice(), blocks });
  return blocks;
}

const touched = (s: Surface, moved: readonly number[]): Set<number> =>
  new Set([...trianglesBeside(s, moved)].map((t) => Math.floor(t / BLOCK)));

function measure({ x, y, z, triangles }: Surface, blocks: HeightBlocks, block: number): void {
  let [low, high, slope] = [Infinity, -Infinity, 0];
  const end = Math.min(triangles.length, 3 * BLOCK * (block + 1));
  for (let t = 3 * BLOCK * block; t < end; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const [ux, uy, uz] = [x[b] - x[a], y[b] - y[a], z[b] - z[a]];
    const [vx, vy, vz] = [x[c] - x[a], y[c] - y[a], z[c] - z[a]];
    slope += distance(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    low = Math.min(low, z[a], z[b], z[c]);
    high = Math.max(high, z[a], z[b], z[c]);
  }
  blocks.low[block] = low;
  blocks.high[block] = high;
  blocks.slope[block] = slope;
}
