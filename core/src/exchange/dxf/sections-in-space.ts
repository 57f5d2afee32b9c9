import { distance } from '#core/kernel';
import type { DxfContent, DxfPolyline } from './content.ts';

/** A section that is drawn: offsets to the right of its line and elevations in turn, in the unit of the file. */
export interface DrawnSection {
  alignment: string;
  chainage: number;
  surface: string;
  list: readonly number[];
}

/** In the unit of the file: lines are straight to this, and chainages nearer than this are one. */
const STRAIGHT = 0.01;
/** Chainages are told to this, and a vertex nearer to a section lies on it. */
const CHAINAGE = 1e-3;

/**
 * Sections that are drawn in space where they were cut: lines that are straight in plan, each layer a surface, across one line:
 * of all lines the one that most of them go across. Lines that do not go across it are none of them.
 */
export function sectionsInSpace({ polylines }: Pick<DxfContent, 'polylines'>): DrawnSection[] {
  const lines = polylines.filter((l) => l.x.length > 1);
  const cuts = lines.filter((l) => l.spatial && !l.closed && isStraight(l));
  let axis: { line: DxfPolyline; across: Map<DxfPolyline, number> } | null = null;
  for (const line of lines) {
    const across = new Map<DxfPolyline, number>();
    for (const cut of cuts) {
      const chainage = cut === line ? null : crossing(line, cut);
      if (chainage !== null) across.set(cut, chainage);
    }
    if (across.size > (axis?.across.size ?? 0)) axis = { line, across };
  }
  if (!axis) return [];
  const { line, across } = axis;
  return [...across].map(([cut, chainage]) => ({ alignment: line.layer, chainage: Math.round(chainage / CHAINAGE) * CHAINAGE, surface: cut.layer, list: offsets(line, cut, chainage) })); // prettier-ignore
}

const end = (l: DxfPolyline): number => l.x.length - 1;

function isStraight(l: DxfPolyline): boolean {
  const n = end(l);
  const [dx, dy] = [l.x[n] - l.x[0], l.y[n] - l.y[0]];
  const long = distance(dx, dy);
  return long > STRAIGHT && l.x.every((x, i) => Math.abs(dx * (l.y[i] - l.y[0]) - dy * (x - l.x[0])) <= STRAIGHT * long); // prettier-ignore
}

/** Chainage at which a straight cut goes across a line; null where it does not, or does so twice. */
function crossing(line: DxfPolyline, cut: DxfPolyline): number | null {
  const n = end(cut);
  const [ax, ay, bx, by] = [cut.x[0], cut.y[0], cut.x[n], cut.y[n]];
  const width = distance(bx - ax, by - ay);
  const side = (x: number, y: number): number => {
    const off = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / width;
    return Math.abs(off) < CHAINAGE ? 0 : off;
  };
  let along = 0;
  let found: number | null = null;
  for (let i = 0; i < end(line); i++) {
    const [px, py, qx, qy] = [line.x[i], line.y[i], line.x[i + 1], line.y[i + 1]];
    const long = distance(qx - px, qy - py);
    const beyond = (x: number, y: number): number => (qx - px) * (y - py) - (qy - py) * (x - px);
    const [s, t] = [side(px, py), side(qx, qy)];
    // A vertex on the cut belongs to the side that comes to it, the line's beginning to its first.
    const meets = (s < 0 && t >= 0) || (s > 0 && t <= 0) || (i === 0 && s === 0 && t !== 0);
    if (meets && beyond(ax, ay) * beyond(bx, by) <= 0) {
      if (found !== null) return null;
      found = along + (long * s) / (s - t);
    }
    along += long;
  }
  return found;
}

function offsets(line: DxfPolyline, cut: DxfPolyline, chainage: number): number[] {
  let along = 0;
  let i = 0;
  const longOf = (k: number): number => distance(line.x[k + 1] - line.x[k], line.y[k + 1] - line.y[k]);
  while (i < end(line) - 1 && along + longOf(i) < chainage) along += longOf(i++);
  const long = longOf(i);
  const [dx, dy] = [(line.x[i + 1] - line.x[i]) / long, (line.y[i + 1] - line.y[i]) / long];
  const [x, y] = [line.x[i] + (chainage - along) * dx, line.y[i] + (chainage - along) * dy];
  const n = end(cut);
  const width = distance(cut.x[n] - cut.x[0], cut.y[n] - cut.y[0]);
  const [ex, ey] = [(cut.x[n] - cut.x[0]) / width, (cut.y[n] - cut.y[0]) / width];
  // Drawn from right to left, its right is the other way.
  const way = ex * dy - ey * dx > 0 ? 1 : -1;
  return cut.x.flatMap((cx, k) => [way * ((cx - x) * ex + (cut.y[k] - y) * ey), cut.z[k]]);
}
