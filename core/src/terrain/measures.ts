import { heightBlocks } from './height-blocks.ts';
import type { Surface } from './surface.ts';

interface PlanMeasures {
  points: number;
  triangles: number;
  /** m² */
  planArea: number;
  extent: [minX: number, minY: number, maxX: number, maxY: number];
}

export interface SurfaceMeasures extends PlanMeasures {
  /** m² */
  slopeArea: number;
  lowest: number;
  highest: number;
}

/** Counts, areas in plan and along the slope (m²), elevations and extent (m) of what the triangles cover. */
export function measureSurface(s: Surface): SurfaceMeasures {
  const { low, high, slope } = heightBlocks(s);
  let [lowest, highest, slopeArea] = [Infinity, -Infinity, 0];
  for (let b = 0; b < low.length; b++) {
    lowest = Math.min(lowest, low[b]);
    highest = Math.max(highest, high[b]);
    slopeArea += slope[b];
  }
  return { ...inPlan(s), slopeArea, lowest, highest };
}

/** What heights have no part in: found once for as long as the triangles stand. */
function inPlan(s: Surface): PlanMeasures {
  let known = measured.get(s.triangles);
  if (!known) measured.set(s.triangles, (known = measurePlan(s)));
  return known;
}
const measured = new WeakMap<Uint32Array, PlanMeasures>();

function measurePlan({ x, y, triangles }: Surface): PlanMeasures {
  let planArea = 0;
  const extent: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  const used = new Uint8Array(x.length);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    planArea += ((x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])) / 2;
    used[a] = used[b] = used[c] = 1;
  }
  let points = 0;
  for (let i = 0; i < used.length; i++) {
    if (!used[i]) continue;
    points++;
    extent[0] = Math.min(extent[0], x[i]);
    extent[1] = Math.min(extent[1], y[i]);
    extent[2] = Math.max(extent[2], x[i]);
    extent[3] = Math.max(extent[3], y[i]);
  }
  return { points, triangles: triangles.length / 3, planArea, extent };
}
