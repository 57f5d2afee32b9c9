import { nextEdge, previousEdge } from './delaunay.ts';
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
  const start = new Int32Array(s.x.length).fill(-1);
  const skip = new Uint8Array(s.x.length);
  for (let e = 0; e < s.triangles.length; e++) {
    const v = s.triangles[e];
    start[v] = e;
    if (s.neighbours[e] < 0 || s.breakSides[e]) skip[v] = skip[s.triangles[nextEdge(e)]] = 1;
  }
  const spikes: Spike[] = [];
  for (let v = 0; v < s.x.length; v++) {
    if (start[v] < 0 || skip[v]) continue;
    const ring = ringOf(s, start[v]);
    const fit = planeThrough(s, ring, v);
    if (!fit) continue;
    const off = s.z[v] - fit.expected;
    if (Math.abs(off) > tolerance && Math.abs(off) > 3 * fit.scatter)
      spikes.push({ vertex: v, off, expected: fit.expected, neighbours: ring });
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

function ringOf(s: Surface, start: number): number[] {
  const ring: number[] = [];
  let e = start;
  do {
    ring.push(s.triangles[nextEdge(e)]);
    e = s.neighbours[previousEdge(e)];
  } while (e >= 0 && e !== start);
  return ring;
}

/** Least-squares plane through the ring, taken at v; null when the ring is too thin to carry one. */
function planeThrough(s: Surface, ring: number[], v: number): { expected: number; scatter: number } | null {
  if (ring.length < 4) return null;
  let sx = 0;
  let sy = 0;
  let sz = 0;
  for (const r of ring) {
    sx += s.x[r] - s.x[v];
    sy += s.y[r] - s.y[v];
    sz += s.z[r];
  }
  const n = ring.length;
  const mx = sx / n;
  const my = sy / n;
  const mz = sz / n;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  let xz = 0;
  let yz = 0;
  for (const r of ring) {
    const dx = s.x[r] - s.x[v] - mx;
    const dy = s.y[r] - s.y[v] - my;
    const dz = s.z[r] - mz;
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
    xz += dx * dz;
    yz += dy * dz;
  }
  const det = xx * yy - xy * xy;
  if (det < 1e-6 * (xx + yy) * (xx + yy)) return null;
  const gx = (xz * yy - yz * xy) / det;
  const gy = (yz * xx - xz * xy) / det;
  let sum = 0;
  for (const r of ring) {
    const residual = s.z[r] - mz - gx * (s.x[r] - s.x[v] - mx) - gy * (s.y[r] - s.y[v] - my);
    sum += residual * residual;
  }
  return { expected: mz - gx * mx - gy * my, scatter: Math.sqrt(sum / Math.max(1, n - 3)) };
}
