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
  const { x, y, z, triangles } = s;
  const used = new Uint8Array(x.length);
  for (let t = 0; t < triangles.length; t += 3) {
    const a = triangles[t];
    const b = triangles[t + 1];
    const c = triangles[t + 2];
    const ux = x[b] - x[a];
    const uy = y[b] - y[a];
    const uz = z[b] - z[a];
    const vx = x[c] - x[a];
    const vy = y[c] - y[a];
    const vz = z[c] - z[a];
    const nz = ux * vy - uy * vx;
    plan += nz / 2;
    slope += distance(uy * vz - uz * vy, uz * vx - ux * vz, nz) / 2;
    used[a] = used[b] = used[c] = 1;
  }
  let points = 0;
  for (let i = 0; i < used.length; i++) {
    if (!used[i]) continue;
    points++;
    lowest = Math.min(lowest, z[i]);
    highest = Math.max(highest, z[i]);
    extent[0] = Math.min(extent[0], x[i]);
    extent[1] = Math.min(extent[1], y[i]);
    extent[2] = Math.max(extent[2], x[i]);
    extent[3] = Math.max(extent[3], y[i]);
  }
  return { points, triangles: triangles.length / 3, planArea: plan, slopeArea: slope, lowest, highest, extent };
}
