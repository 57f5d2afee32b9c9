import { atan2, difference, distance as length, lowOrder, Skyline } from '#core/kernel';
import type { NetworkObservation, NetworkPoint } from './network-types.ts';

// Unknowns of a network in the order that keeps their equations' skyline low, and the equations themselves.

/** Deviation with which a network without any control is held near where it began, m: it does not bend it. */
export const LOOSE = 1;

export interface Layout {
  /** Unknown of x, y, z of each station; −1 where it is held. */
  x: Int32Array;
  y: Int32Array;
  z: Int32Array;
  set: Int32Array;
  count: number;
  first: Int32Array;
  /** What each unknown is, for messages. */
  names: { point: number; what: 'plan' | 'height' | 'orientation' }[];
  loose: boolean;
}

/** Stations and sets as nodes of a graph, ordered so that what shares an observation lies near. */
export function layoutOf(
  given: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  sets: number,
): Layout {
  const n = given.length;
  const neighbours: Set<number>[] = Array.from({ length: n + sets }, () => new Set<number>());
  const heights = given.map((p) => p.standing === 'weighted' && !Number.isNaN(p.z));
  const inPlan = given.map((p) => p.standing === 'weighted');
  const join = (a: number, b: number): void => {
    neighbours[a].add(b);
    neighbours[b].add(a);
  };
  for (const o of observations) {
    if (o.to >= 0) join(o.from, o.to);
    if (o.set >= 0) {
      join(o.from, n + o.set);
      join(o.to, n + o.set);
    }
    const isHeight = o.kind === 'rise' || o.kind === 'elevation';
    for (const p of o.to >= 0 ? [o.from, o.to] : [o.from]) (isHeight ? heights : inPlan)[p] = true;
    if (o.beside) inPlan[o.from] = true;
  }
  const order = lowOrder(neighbours.map((s) => [...s]));
  const layout: Layout = {
    x: new Int32Array(n).fill(-1),
    y: new Int32Array(n).fill(-1),
    z: new Int32Array(n).fill(-1),
    set: new Int32Array(sets).fill(-1),
    count: 0,
    first: new Int32Array(),
    names: [],
    loose: !given.some((p) => p.standing !== 'free') && !observations.some((o) => o.to < 0),
  };
  const isSet = new Uint8Array(sets);
  for (const o of observations) if (o.set >= 0) isSet[o.set] = 1;
  for (const node of order) {
    if (node >= n) {
      if (!isSet[node - n]) continue;
      layout.set[node - n] = layout.count++;
      layout.names.push({ point: -1, what: 'orientation' });
    } else if (given[node].standing !== 'fixed') {
      if (inPlan[node]) {
        layout.x[node] = layout.count++;
        layout.y[node] = layout.count++;
        layout.names.push({ point: node, what: 'plan' }, { point: node, what: 'plan' });
      }
      if (heights[node]) {
        layout.z[node] = layout.count++;
        layout.names.push({ point: node, what: 'height' });
      }
    }
  }
  layout.first = Int32Array.from({ length: layout.count }, (_, i) => i);
  const touch = (unknowns: number[]): void => {
    const used = unknowns.filter((u) => u >= 0);
    const lowest = Math.min(...used);
    for (const u of used) layout.first[u] = Math.min(layout.first[u], lowest);
  };
  for (const o of observations) touch(unknownsOf(layout, o));
  for (let i = 0; i < n; i++) touch([layout.x[i], layout.y[i]]);
  return layout;
}

export function unknownsOf(l: Layout, o: NetworkObservation): number[] {
  switch (o.kind) {
    case 'direction':
      return [l.x[o.from], l.y[o.from], l.x[o.to], l.y[o.to], l.set[o.set]];
    case 'distance':
      return [l.x[o.from], l.y[o.from], l.x[o.to], l.y[o.to]];
    case 'rise':
      return [l.z[o.from], l.z[o.to]];
    case 'east':
      return [l.x[o.from]];
    case 'north':
      return o.beside ? [l.y[o.from], l.x[o.from]] : [l.y[o.from]];
    case 'elevation':
      return o.beside ? [l.z[o.from], l.x[o.from], l.y[o.from]] : [l.z[o.from]];
  }
}

/** Coefficients of an observation for its unknowns, and observed − computed. */
export function equation(
  o: NetworkObservation,
  points: readonly NetworkPoint[],
  orientations: Float64Array,
): { a: number[]; off: number } {
  const p = points[o.from];
  if (o.kind === 'east') return { a: [1], off: o.value - p.x };
  if (o.kind === 'north') return besideOthers(o, p, o.value - p.y);
  if (o.kind === 'elevation') return besideOthers(o, p, o.value - p.z);
  const q = points[o.to];
  if (o.kind === 'rise') return { a: [-1, 1], off: o.value - (q.z - p.z) };
  const [dx, dy] = [q.x - p.x, q.y - p.y];
  const d = Math.max(length(dx, dy), 1e-6);
  if (o.kind === 'distance') return { a: [-dx / d, -dy / d, dx / d, dy / d], off: o.value - d };
  const [sx, sy] = [dy / (d * d), -dx / (d * d)];
  return { a: [-sx, -sy, sx, sy, -1], off: difference(o.value + orientations[o.set] - atan2(dx, dy)) };
}

/** A coordinate as what it leaves beside those that it is correlated with. */
function besideOthers(o: NetworkObservation, p: NetworkPoint, off: number): { a: number[]; off: number } {
  const others = o.beside ?? [];
  const places = [p.x, p.y];
  return {
    a: [1, ...others.map((b) => -b.a)],
    off: others.reduce((s, b, i) => s - b.a * (b.value - places[i]), off),
  };
}

export function assemble(
  l: Layout,
  points: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  orientations: Float64Array,
): { normal: Skyline; right: Float64Array } {
  const normal = new Skyline(l.first);
  const right = new Float64Array(l.count);
  const add = (unknowns: readonly number[], a: readonly number[], off: number, sd: number): void => {
    const w = 1 / (sd * sd);
    for (let i = 0; i < a.length; i++) {
      const u = unknowns[i];
      if (u < 0) continue;
      right[u] += w * a[i] * off;
      for (let j = 0; j <= i; j++) {
        const v = unknowns[j];
        if (v < 0) continue;
        if (u !== v || i === j) normal.add(u, v, w * a[i] * a[j]);
      }
    }
  };
  for (const o of observations) {
    const { a, off } = equation(o, points, orientations);
    add(unknownsOf(l, o), a, off, o.sd);
  }
  if (l.loose) for (const u of [...l.x, ...l.y, ...l.z]) add([u], [1], 0, LOOSE);
  return { normal, right };
}
