import { planeFits } from './plane-fits.ts';
import type { Surface } from './surface.ts';

export interface Spike {
  vertex: number;
  /** How far the vertex stands above (+) or below (−) its neighbours' plane, m. */
  off: number;
  /** Elevation of that plane at the vertex, m. */
  expected: number;
  neighbours: number[];
}

/**
 * Vertices that stand off the plane of their neighbours by more than `tolerance` metres and by more
 * than three times the neighbours' own scatter about that plane. Vertices on a breakline or on the
 * rim are judged elsewhere: along their line, or not at all.
 */
export function findSpikes(s: Surface, tolerance: number): Spike[] {
  const { start, ring, expected, scatter } = planeFits(s);
  const spikes: Spike[] = [];
  const { z } = s;
  for (let v = 0; v < z.length; v++) {
    const off = z[v] - expected[v];
    if (Math.abs(off) > tolerance && Math.abs(off) > 3 * scatter[v])
      spikes.push({ vertex: v, off, expected: expected[v], neighbours: [...ring.subarray(start[v], start[v + 1])] });
  }
  // The wrong one of two neighbours drags the other's plane along: only the worst of a ring is named.
  spikes.sort((a, b) => Math.abs(b.off) - Math.abs(a.off));
  const shadowed = new Set<number>();
  return spikes.filter((spike) => {
    if (shadowed.has(spike.vertex)) return false;
    for (const v of spike.neighbours) shadowed.add(v);
    return true;
  });
}
