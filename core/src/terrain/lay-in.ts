import Flatbush from 'flatbush';
import { distance, ringArea } from '#core/kernel';
import { clipToRing, cutVoid, type Ring } from './boundary.ts';
import { nextEdge } from './delaunay.ts';
import { outlines } from './rim-loops.ts';
import { linkNeighbours, type Surface } from './surface.ts';

/** m; vertices that boundaries made are on them but for rounding. */
const ON_RING = 1e-6;

/**
 * One surface laid into another inside a boundary, or over all that it covers: inside it is the one, outside the other, each
 * as it was; along the boundary both have the same vertices, at the elevation of what is laid in, so that triangles of the
 * other that touch the boundary lean to it. Null where the two have nothing in common.
 */
export function layIn(base: Surface, laid: Surface, ring: Ring | null): { surface: Surface; count: number } | null {
  const rings = ring ? [ring] : outlines(laid);
  let [surface, count] = [base, 0];
  for (const one of rings) {
    const about = ringArea(one) < 0 ? reversed(one) : one;
    const inside = clipToRing(laid, about);
    if (inside.triangles.length === 0) continue;
    const joined = join(cutVoid(surface, about), inside, about);
    if (!joined) continue;
    surface = joined;
    count += inside.triangles.length / 3;
  }
  return count ? { surface, count } : null;
}

function reversed(ring: Ring): Ring {
  const out = new Float64Array(ring.length);
  for (let i = 0; i < ring.length; i += 2) out.set(ring.subarray(ring.length - 2 - i, ring.length - i), i);
  return out;
}

/** A vertex of one of the two surfaces on a side of the ring. */
interface Seam {
  /** Share of the way along the side. */
  t: number;
  inside: boolean;
  v: number;
}

/** A side of the rim that lies on side `on` of the ring, between two shares of it. */
interface RimSide {
  e: number;
  on: number;
  from: number;
  to: number;
}

/** The two with one set of vertices along the ring; null where they do not touch. */
function join(outside: Surface, inside: Surface, ring: Ring): Surface | null {
  const [rimIn, rimOut] = [rimOn(inside, ring), rimOn(outside, ring)];
  if (rimIn.length === 0) return null;
  const base = outside.x.length;
  const [x, y, z] = (['x', 'y', 'z'] as const).map((c) => [...outside[c], ...inside[c]]);
  const point = [...outside.point, ...inside.point];
  // Which vertex stands for a vertex of the outside (by itself) and of the inside (behind those).
  const as = Uint32Array.from({ length: x.length }, (_, i) => i);
  const nodesOn = new Map<number, { t: number; v: number }[]>();
  for (const [side, list] of seams(inside, rimIn, outside, rimOut)) {
    const nodes: { t: number; v: number }[] = [];
    const length = lengthOf(ring, side);
    for (let i = 0; i < list.length;) {
      const group = [list[i++]];
      while (i < list.length && (list[i].t - group[0].t) * length <= ON_RING) group.push(list[i++]);
      const ids = group.map((m) => (m.inside ? base + m.v : m.v));
      const v = as[Math.min(...ids)];
      for (const id of ids) as[id] = v;
      const own = group.find((m) => m.inside);
      if (own) [x[v], y[v], z[v]] = [inside.x[own.v], inside.y[own.v], inside.z[own.v]];
      else z[v] = elevationOn(inside, rimIn, side, group[0].t) ?? z[v];
      nodes.push({ t: group[0].t, v });
    }
    nodesOn.set(side, nodes);
  }
  const triangles: number[] = [];
  const breaks = new Set<string>();
  const add = (s: Surface, rim: readonly RimSide[], shift: number): void => {
    const onRing = new Map(rim.map((r) => [r.e, r]));
    for (let t = 0; t < s.triangles.length; t += 3) {
      const corners = [0, 1, 2].map((k) => as[shift + s.triangles[t + k]]);
      // Triangles that have come to nothing between vertices that are one.
      if (new Set(corners).size < 3) continue;
      const between = [0, 1, 2].map((k) => nodesBetween(nodesOn, onRing.get(t + k)));
      triangles.push(...split(corners, between));
      for (let k = 0; k < 3; k++) {
        const side = onRing.get(t + k);
        const course = [corners[k], ...between[k], corners[(k + 1) % 3]];
        if (side || s.breakSides[t + k]) for (let i = 1; i < course.length; i++) breaks.add(key(course[i - 1], course[i])); // prettier-ignore
      }
    }
  };
  add(outside, rimOut, 0);
  add(inside, rimIn, base);
  const list = Uint32Array.from(triangles);
  return {
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    z: Float64Array.from(z),
    triangles: list,
    neighbours: linkNeighbours(list),
    breakSides: Uint8Array.from(list, (v, e) => (breaks.has(key(v, list[nextEdge(e)])) ? 1 : 0)),
    point: Uint32Array.from(point),
  };
}

const key = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`);

function lengthOf(ring: Ring, side: number): number {
  const j = (2 * side + 2) % ring.length;
  return distance(ring[j] - ring[2 * side], ring[j + 1] - ring[2 * side + 1]);
}

/** Sides of a rim that lie on a ring. */
function rimOn(s: Surface, ring: Ring): RimSide[] {
  const n = ring.length / 2;
  const index = new Flatbush(n);
  for (let i = 0; i < n; i++) {
    const [ax, ay, bx, by] = [ring[2 * i], ring[2 * i + 1], ring[(2 * i + 2) % ring.length], ring[(2 * i + 3) % ring.length]]; // prettier-ignore
    index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
  }
  index.finish();
  /** Share along side i, NaN off it. */
  const shareOn = (i: number, px: number, py: number): number => {
    const [ax, ay] = [ring[2 * i], ring[2 * i + 1]];
    const length = lengthOf(ring, i);
    const [ux, uy] = [(ring[(2 * i + 2) % ring.length] - ax) / length, (ring[(2 * i + 3) % ring.length] - ay) / length];
    const [dx, dy] = [px - ax, py - ay];
    const along = dx * ux + dy * uy;
    if (Math.abs(dx * uy - dy * ux) > ON_RING || along < -ON_RING || along > length + ON_RING) return NaN;
    return Math.min(1, Math.max(0, along / length));
  };
  const out: RimSide[] = [];
  for (let e = 0; e < s.neighbours.length; e++) {
    if (s.neighbours[e] >= 0) continue;
    const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
    for (const on of index.search(s.x[a] - ON_RING, s.y[a] - ON_RING, s.x[a] + ON_RING, s.y[a] + ON_RING)) {
      const [from, to] = [shareOn(on, s.x[a], s.y[a]), shareOn(on, s.x[b], s.y[b])];
      if (Number.isNaN(from) || Number.isNaN(to) || from === to) continue;
      out.push({ e, on, from, to });
      break;
    }
  }
  return out;
}

/** Vertices of both along each side of the ring, in the order of the ring. */
function seams(inside: Surface, rimIn: readonly RimSide[], outside: Surface, rimOut: readonly RimSide[]) {
  const by = new Map<number, Seam[]>();
  for (const [s, rim, within] of [
    [inside, rimIn, true],
    [outside, rimOut, false],
  ] as const)
    for (const { e, on, from, to } of rim) {
      const list = by.get(on) ?? [];
      by.set(on, list);
      list.push({ t: from, inside: within, v: s.triangles[e] }, { t: to, inside: within, v: s.triangles[nextEdge(e)] });
    }
  for (const list of by.values()) list.sort((a, b) => a.t - b.t || Number(b.inside) - Number(a.inside) || a.v - b.v);
  return [...by].sort((a, b) => a[0] - b[0]);
}

/** Elevation of what is laid in where its rim passes a share of a side; null where it does not. */
function elevationOn(inside: Surface, rim: readonly RimSide[], side: number, t: number): number | null {
  for (const { e, on, from, to } of rim) {
    if (on !== side || t < Math.min(from, to) || t > Math.max(from, to)) continue;
    const [a, b] = [inside.triangles[e], inside.triangles[nextEdge(e)]];
    return inside.z[a] + ((t - from) / (to - from)) * (inside.z[b] - inside.z[a]);
  }
  return null;
}

/** Vertices of the seam strictly between the ends of a side of the rim, from its first end to its second. */
function nodesBetween(nodesOn: ReadonlyMap<number, { t: number; v: number }[]>, side: RimSide | undefined): number[] {
  if (!side) return [];
  const nodes = nodesOn.get(side.on) ?? [];
  const [low, high] = [Math.min(side.from, side.to), Math.max(side.from, side.to)];
  const firstAt = nodes.findLastIndex((n) => n.t <= low);
  const lastAt = nodes.findLastIndex((n) => n.t <= high);
  const between = nodes.slice(firstAt + 1, lastAt).map((n) => n.v);
  return side.from < side.to ? between : between.reverse();
}

/** A triangle with further vertices on its sides, in triangles. */
function split([a, b, c]: readonly number[], [ab, bc, ca]: readonly (readonly number[])[]): number[] {
  if (ab.length) {
    const out: number[] = [];
    const course = [a, ...ab, b];
    // From the far corner; the outermost two keep what stands on the other two sides.
    for (let i = 1; i < course.length; i++)
      out.push(...split([course[i - 1], course[i], c], [[], i === course.length - 1 ? bc : [], i === 1 ? ca : []]));
    return out;
  }
  if (bc.length) return split([b, c, a], [bc, ca, ab]);
  if (ca.length) return split([c, a, b], [ca, ab, bc]);
  return [a, b, c];
}
