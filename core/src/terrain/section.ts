import type Flatbush from 'flatbush';
import { distance } from '#core/kernel';
import { elevationIn } from './elevation-in.ts';
import type { Surface } from './surface.ts';

/** A stretch of a section that is on the surface: chainages and the elevations there, m, where the ground bends between them. */
export interface SectionRun {
  at: number[];
  z: number[];
}

/** Parts of a leg whose triangles are looked up together: the boxes of long slanting legs would hold most of a surface. */
const PARTS = 24;
/** Share of a leg that rounding may leave between two triangles. */
const TOGETHER = 1e-9;

/**
 * Where a course in plan runs over a surface: exact, with a corner at every side that it crosses; a run ends where the
 * surface does. On a side that two triangles share either gives the same.
 * @param course x, y, x, y …, m
 * @param index of the triangles by their boxes
 */
export function sectionAlong(s: Surface, course: ArrayLike<number>, index: Flatbush): SectionRun[] {
  const runs: SectionRun[] = [];
  let chainage = 0;
  for (let i = 0; i + 3 < course.length; i += 2) {
    const leg: Leg = [course[i], course[i + 1], course[i + 2], course[i + 3]];
    const length = distance(leg[2] - leg[0], leg[3] - leg[1]);
    if (length === 0) continue;
    for (const { from, to, t } of crossed(s, leg, index)) {
      const run = runs.at(-1);
      const [start, end] = [chainage + from * length, chainage + to * length];
      const z = (share: number): number => elevationIn(s, t, leg[0] + share * (leg[2] - leg[0]), leg[1] + share * (leg[3] - leg[1])); // prettier-ignore
      const open =
        run && start - run.at.at(-1)! <= TOGETHER * Math.max(length, 1) ? run : { at: [start], z: [z(from)] };
      if (open !== run) runs.push(open);
      open.at.push(end);
      open.z.push(z(to));
    }
    chainage += length;
  }
  return runs;
}

type Leg = [ax: number, ay: number, bx: number, by: number];
interface Crossed {
  from: number;
  to: number;
  t: number;
}

/** Triangles that a leg runs through, in its order, each with the shares of the leg from which to which it does. */
function crossed(s: Surface, leg: Leg, index: Flatbush): Crossed[] {
  const [ax, ay, bx, by] = leg;
  const all = new Set<number>();
  for (let k = 0; k < PARTS; k++) {
    const [px, py] = [ax + ((bx - ax) * k) / PARTS, ay + ((by - ay) * k) / PARTS];
    const [qx, qy] = [ax + ((bx - ax) * (k + 1)) / PARTS, ay + ((by - ay) * (k + 1)) / PARTS];
    for (const t of index.search(Math.min(px, qx), Math.min(py, qy), Math.max(px, qx), Math.max(py, qy))) all.add(t);
  }
  const found: Crossed[] = [];
  for (const t of all) {
    const shares = within(s, t, leg);
    if (shares) found.push({ from: shares[0], to: shares[1], t });
  }
  found.sort((a, b) => a.from - b.from || b.to - a.to || a.t - b.t);
  // What lies along a side belongs to one of its triangles alone.
  let reached = -Infinity;
  return found.flatMap((c) => {
    if (c.to <= reached + TOGETHER) return [];
    const from = Math.max(c.from, reached);
    reached = c.to;
    return [{ ...c, from }];
  });
}

/** From which to which share of a leg it is within a triangle; null where it is not, or only touches it. */
function within(s: Surface, t: number, [ax, ay, bx, by]: Leg): [number, number] | null {
  let [from, to] = [0, 1];
  // One that rounding left without an area, or turned over, has no plane: what lies beside it is there.
  const [a, b, c] = [s.triangles[3 * t], s.triangles[3 * t + 1], s.triangles[3 * t + 2]];
  if (!((s.x[b] - s.x[a]) * (s.y[c] - s.y[a]) - (s.x[c] - s.x[a]) * (s.y[b] - s.y[a]) > 0)) return null;
  for (let k = 0; k < 3; k++) {
    const u = s.triangles[3 * t + k];
    const v = s.triangles[3 * t + ((k + 1) % 3)];
    const [dx, dy] = [s.x[v] - s.x[u], s.y[v] - s.y[u]];
    const start = dx * (ay - s.y[u]) - dy * (ax - s.x[u]);
    const end = dx * (by - s.y[u]) - dy * (bx - s.x[u]);
    if (start < 0 && end < 0) return null;
    if (start < 0) from = Math.max(from, start / (start - end));
    else if (end < 0) to = Math.min(to, start / (start - end));
    if (from >= to) return null;
  }
  return [from, to];
}
