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

/**
 * Three valleys that meet at their mouths: strips of stations some five wide, chained end to end at one pass, control at
 * the far ends and at the mouths. Directions, distances and rises to four neighbours each.
 */
export function valleyNetwork(stations: number, seed: number) {
  const next = random(seed);
  const normal = (sd: number): number => sd * Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());
  const WIDE = 5;
  const long = Math.floor(stations / 3 / WIDE);
  const truth: { x: number; y: number; z: number }[] = [];
  const at = (valley: number, along: number, across: number): number => (valley * long + along) * WIDE + across;
  for (let v = 0; v < 3; v++) {
    const bearing = (v * 2 * Math.PI) / 3 + 0.4;
    for (let i = 0; i < long; i++)
      for (let j = 0; j < WIDE; j++) {
        const [along, across] = [120 + 110 * i + 30 * next(), 100 * (j - 2) + 30 * next()];
        truth.push({ x: 50_000 + along * Math.sin(bearing) + across * Math.cos(bearing), y: 80_000 + along * Math.cos(bearing) - across * Math.sin(bearing), z: 300 + 0.02 * along + 20 * next() }); // prettier-ignore
      }
  }
  const held = new Set([0, 1, 2].flatMap((v) => [at(v, 0, 0), at(v, 0, 4), at(v, long - 1, 0), at(v, long - 1, 4)]));
  const points = truth.map((t, i): NetworkPoint => ({ number: `V${i}`, x: t.x + (held.has(i) ? 0 : normal(0.03)), y: t.y + (held.has(i) ? 0 : normal(0.03)), z: t.z + (held.has(i) ? 0 : normal(0.03)), standing: held.has(i) ? 'fixed' : 'free', sdPlan: 0, sdHeight: 0 })); // prettier-ignore
  const observations: NetworkObservation[] = [];
  const see = (from: number, to: number, zero: number): void => {
    const [dx, dy] = [truth[to].x - truth[from].x, truth[to].y - truth[from].y];
    const turn = 2 * Math.PI;
    const base = { from, to, source: `${from}-${to}` };
    const sd = 3 * SECOND;
    observations.push({ ...base, kind: 'direction', set: from, value: (((Math.atan2(dx, dy) - zero + normal(sd)) % turn) + turn) % turn, sd }); // prettier-ignore
    observations.push({ ...base, kind: 'distance', set: -1, value: Math.hypot(dx, dy) + normal(0.002), sd: 0.002 });
    observations.push({
      ...base,
      kind: 'rise',
      set: -1,
      value: truth[to].z - truth[from].z + normal(0.003),
      sd: 0.003,
    });
  };
  for (let v = 0; v < 3; v++)
    for (let i = 0; i < long; i++)
      for (let j = 0; j < WIDE; j++) {
        const from = at(v, i, j);
        const zero = 6 * next();
        const near: number[] = [];
        if (j + 1 < WIDE) near.push(at(v, i, j + 1));
        if (j > 0) near.push(at(v, i, j - 1));
        if (i + 1 < long) near.push(at(v, i + 1, j));
        if (i > 0) near.push(at(v, i - 1, j));
        // At the pass each valley sees into the next.
        if (i === 0) near.push(at((v + 1) % 3, 0, WIDE - 1 - j));
        if (near.length < 4 && i + 1 < long) near.push(at(v, i + 1, (j + 1) % WIDE));
        for (const to of near) see(from, to, zero);
      }
  return { points, observations, sets: points.length, truth };
}
