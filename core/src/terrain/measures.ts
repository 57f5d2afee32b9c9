import { distance } from '#core/kernel';
import type { Surface } from './surface.ts';

export interface SurfaceMeasures {
  points: number;
  triangles: number;
  /** m² */
  planArea: number;
  /** m² */
  slopeArea: number;
  lowest: number;
  highest: number;
  extent: [minX: number, minY: number, maxX: number, maxY: number];
}

/** Counts, areas in plan and along the slope (m²), elevations and extent (m) of what the triangles cover. */
export function measureSurface(s: Surface): SurfaceMeasures {
  let plan = 0;
  let slope = 0;
  let lowest = Infinity;
  let highest = -Infinity;
  const extent: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  const used = new Uint8Array(s.x.length);
  for (let t = 0; t < s.triangles.length; t += 3) {
    const [a, b, c] = [s.triangles[t], s.triangles[t + 1], s.triangles[t + 2]];
    const ux = s.x[b] - s.x[a];
    const uy = s.y[b] - s.y[a];
    const uz = s.z[b] - s.z[a];
    const vx = s.x[c] - s.x[a];
    const vy = s.y[c] - s.y[a];
    const vz = s.z[c] - s.z[a];
    const nz = ux * vy - uy * vx;
    plan += nz / 2;
    slope += distance(uy * vz - uz * vy, uz * vx - ux * vz, nz) / 2;
    used[a] = used[b] = used[c] = 1;
  }
  let points = 0;
  for (let i = 0; i < used.length; i++) {
    if (!used[i]) continue;
    points++;
    lowest = Math.min(lowest, s.z[i]);
    highest = Math.max(highest, s.z[i]);
    extent[0] = Math.min(extent[0], s.x[i]);
    extent[1] = Math.min(extent[1], s.y[i]);
    extent[2] = Math.max(extent[2], s.x[i]);
    extent[3] = Math.max(extent[3], s.y[i]);
  }
  return { points, triangles: s.triangles.length / 3, planArea: plan, slopeArea: slope, lowest, highest, extent };
}
