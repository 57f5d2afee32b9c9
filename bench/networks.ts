import type { NetworkObservation, NetworkPoint } from '#core/adjustment';
import { random } from './points.ts';

const SECOND = Math.PI / 648_000;

/** A square net of stations 90 m apart, each with directions, distances and rises to its neighbours, with noise. */
export function gridNetwork(size: number, seed: number) {
  const next = random(seed);
  const normal = (sd: number): number => sd * Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());
  const n = size * size;
  const truth = Array.from({ length: n }, (_, i) => ({
    x: 1000 + 90 * (i % size) + 20 * next(),
    y: 2000 + 90 * Math.floor(i / size) + 20 * next(),
    z: 50 + 8 * next(),
  }));
  const corners = new Set([0, size - 1, n - size, n - 1]);
  const points = truth.map((t, i): NetworkPoint => ({
    number: `P${i}`,
    x: corners.has(i) ? t.x : t.x + normal(0.05),
    y: corners.has(i) ? t.y : t.y + normal(0.05),
    z: corners.has(i) ? t.z : t.z + normal(0.05),
    standing: corners.has(i) ? 'fixed' : 'free',
    sdPlan: 0,
    sdHeight: 0,
  }));
  const observations: NetworkObservation[] = [];
  for (let i = 0; i < n; i++) {
    const zero = 6 * next();
    for (const [du, dv] of [
      [1, 0],
      [0, 1],
      [-1, 0],
      [0, -1],
      [1, 1],
    ] as const) {
      // prettier-ignore
      const [u, v] = [(i % size) + du, Math.floor(i / size) + dv];
      if (u < 0 || v < 0 || u >= size || v >= size) continue;
      const to = v * size + u;
      const [dx, dy] = [truth[to].x - truth[i].x, truth[to].y - truth[i].y];
      const turn = 2 * Math.PI;
      const base = { from: i, to, source: `${i}-${to}` };
      const sdDirection = 3 * SECOND;
      const value = (((Math.atan2(dx, dy) - zero + normal(sdDirection)) % turn) + turn) % turn;
      observations.push({ ...base, kind: 'direction', set: i, value, sd: sdDirection });
      observations.push({ ...base, kind: 'distance', set: -1, value: Math.hypot(dx, dy) + normal(0.002), sd: 0.002 });
      observations.push({ ...base, kind: 'rise', set: -1, value: truth[to].z - truth[i].z + normal(0.003), sd: 0.003 });
    }
  }
  return { points, observations, sets: n, truth };
}
