import Flatbush from 'flatbush';
import { orientation, pointInRing } from '#core/kernel';
import { constrain } from './constraints.ts';
import { GHOST, delaunay } from './delaunay.ts';
import { planeOf } from './heights.ts';
import { NO_POINT, linkNeighbours, type Surface } from './surface.ts';

/** A closed boundary in plan, x, y, x, y …, without repeating the first place. */
export type Ring = Float64Array;

/**
 * The part of a surface inside a boundary. Triangles that the boundary cuts are cut exactly along it,
 * so that elevations stay what they were; where the ring runs off the surface, the surface's own rim
 * stays. Inside a hole of the boundary nothing is kept. New vertices have `point` NO_POINT.
 */
export const clipToRing = (s: Surface, ring: Ring, holes: readonly Ring[] = []): Surface =>
  cutAlong(s, [ring, ...holes], (x, y) => pointInRing(ring, x, y) && !holes.some((hole) => pointInRing(hole, x, y)));

/** A surface without what lies inside a ring, but for islands in it; cut exactly along all of them. */
export const cutVoid = (s: Surface, ring: Ring, islands: readonly Ring[] = []): Surface =>
  cutAlong(s, [ring, ...islands], (x, y) => !pointInRing(ring, x, y) || islands.some((one) => pointInRing(one, x, y)));

/** The part of a surface of which `within` is true; it changes nowhere but on the rings. */
function cutAlong(s: Surface, rings: readonly Ring[], within: (px: number, py: number) => boolean): Surface {
  const sides = rings.flatMap(sidesOf);
  const index = new Flatbush(sides.length);
  for (const { ax, ay, bx, by } of sides) {
    index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
  }
  index.finish();

  const x = Array.from(s.x);
  const y = Array.from(s.y);
  const z = Array.from(s.z);
  const triangles: number[] = [];
  const breaks = new Set<string>();
  const made = new Map<string, number>();
  const vertex = (key: string, px: number, py: number, pz: number): number => {
    const known = made.get(key);
    if (known !== undefined) return known;
    x.push(px);
    y.push(py);
    z.push(pz);
    made.set(key, x.length - 1);
    return x.length - 1;
  };

  for (let t = 0; t < s.triangles.length; t += 3) {
    const corners = [s.triangles[t], s.triangles[t + 1], s.triangles[t + 2]];
    const near = index.search(
      Math.min(...corners.map((v) => s.x[v])),
      Math.min(...corners.map((v) => s.y[v])),
      Math.max(...corners.map((v) => s.x[v])),
      Math.max(...corners.map((v) => s.y[v])),
    );
    if (near.length === 0) {
      const cx = (s.x[corners[0]] + s.x[corners[1]] + s.x[corners[2]]) / 3;
      const cy = (s.y[corners[0]] + s.y[corners[1]] + s.y[corners[2]]) / 3;
      if (within(cx, cy)) triangles.push(...corners);
    } else cutTriangle(t / 3, corners, near);
    for (let k = 0; k < 3; k++) if (s.breakSides[t + k]) breaks.add(sideKey(corners[k], corners[(k + 1) % 3]));
  }

  const list = Uint32Array.from(triangles);
  const breakSides = new Uint8Array(list.length);
  for (let e = 0; e < list.length; e++)
    if (breaks.has(sideKey(list[e], list[e % 3 === 2 ? e - 2 : e + 1]))) breakSides[e] = 1;
  const point = new Uint32Array(x.length).fill(NO_POINT);
  point.set(s.point);
  return {
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    z: Float64Array.from(z),
    triangles: list,
    neighbours: linkNeighbours(list),
    breakSides,
    point,
  };

  function cutTriangle(t: number, corners: number[], near: number[]): void {
    const plane = planeOf(s, t);
    const local = [...corners];
    // On which sides of the triangle a vertex lies, as bits.
    const sidesOfVertex = new Map(corners.map((v, k) => [v, (1 << k) | (1 << ((k + 2) % 3))]));
    const segments: number[] = [];
    // What each near side of the ring leaves on this triangle, in order along it.
    for (const i of near) {
      const { ax, ay, bx, by, from, to } = sides[i];
      const on: { at: number; v: number }[] = [];
      const add = (v: number): void => {
        const length = (bx - ax) ** 2 + (by - ay) ** 2 || 1;
        on.push({ at: ((x[v] - ax) * (bx - ax) + (y[v] - ay) * (by - ay)) / length, v });
      };
      for (const [end, px, py] of [
        [from, ax, ay],
        [to, bx, by],
      ] as const) {
        const within = inside(corners, px, py);
        if (within === null) continue;
        const corner = corners.find((c) => s.x[c] === px && s.y[c] === py);
        const v = corner ?? vertex(`r${end}`, px, py, plane.at(px, py));
        if (corner === undefined) sidesOfVertex.set(v, within);
        add(v);
      }
      for (let k = 0; k < 3; k++) {
        const v = crossing(corners[k], corners[(k + 1) % 3], i, ax, ay, bx, by);
        if (v === null) continue;
        if (!corners.includes(v)) sidesOfVertex.set(v, 1 << k);
        add(v);
      }
      on.sort((p, q) => p.at - q.at);
      for (const { v } of on) if (!local.includes(v)) local.push(v);
      for (let k = 1; k < on.length; k++) if (on[k].v !== on[k - 1].v) segments.push(on[k - 1].v, on[k].v);
    }
    const lx = Float64Array.from(local, (v) => x[v]);
    const ly = Float64Array.from(local, (v) => y[v]);
    const mesh = delaunay(lx, ly);
    constrain(
      mesh,
      Int32Array.from(segments, (v) => local.indexOf(v)),
    );
    for (let p = 0; p < mesh.count * 3; p += 3) {
      const piece = [mesh.corner[p], mesh.corner[p + 1], mesh.corner[p + 2]];
      if (piece.includes(GHOST)) continue;
      const [a, b, c] = piece.map((v) => local[mesh.source[v]]);
      // Rounding may put a vertex of a side inside the triangle; what that leaves beyond it is none of the surface.
      if ([a, b, c].reduce((bits, v) => bits & sidesOfVertex.get(v)!, 7)) continue;
      if (within((x[a] + x[b] + x[c]) / 3, (y[a] + y[b] + y[c]) / 3)) triangles.push(a, b, c);
    }
  }

  /** The sides that a place in a triangle lies on, as bits; null outside. */
  function inside(corners: number[], px: number, py: number): number | null {
    let on = 0;
    for (let k = 0; k < 3; k++) {
      const a = corners[k];
      const b = corners[(k + 1) % 3];
      const turn = orientation(s.x[a], s.y[a], s.x[b], s.y[b], px, py);
      if (turn < 0) return null;
      if (turn === 0) on |= 1 << k;
    }
    return on;
  }

  /** Where ring side i crosses the triangle side u–v: computed from the lower index, so both neighbours get the same place. */
  function crossing(u: number, v: number, i: number, ax: number, ay: number, bx: number, by: number): number | null {
    const [lo, hi] = u < v ? [u, v] : [v, u];
    const s1 = orientation(ax, ay, bx, by, s.x[lo], s.y[lo]);
    const s2 = orientation(ax, ay, bx, by, s.x[hi], s.y[hi]);
    const s3 = orientation(s.x[lo], s.y[lo], s.x[hi], s.y[hi], ax, ay);
    const s4 = orientation(s.x[lo], s.y[lo], s.x[hi], s.y[hi], bx, by);
    // A ring side that starts or ends exactly on this side is handled as a ring vertex.
    if (s3 === 0 || s4 === 0 || s3 > 0 === s4 > 0) return null;
    if (s1 === 0 && s2 === 0) return null;
    if (s1 === 0) return lo;
    if (s2 === 0) return hi;
    if (s1 > 0 === s2 > 0) return null;
    const f = s1 / (s1 - s2);
    return vertex(
      `${lo} ${hi} ${i}`,
      s.x[lo] + f * (s.x[hi] - s.x[lo]),
      s.y[lo] + f * (s.y[hi] - s.y[lo]),
      s.z[lo] + f * (s.z[hi] - s.z[lo]),
    );
  }
}

/** A ring's sides, each with names for its two ends. */
function sidesOf(ring: Ring, which: number) {
  const n = ring.length / 2;
  return Array.from({ length: n }, (_, i) => {
    const j = (i + 1) % n;
    return { ax: ring[2 * i], ay: ring[2 * i + 1], bx: ring[2 * j], by: ring[2 * j + 1], from: `${which}:${i}`, to: `${which}:${j}` }; // prettier-ignore
  });
}

const sideKey = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`);
