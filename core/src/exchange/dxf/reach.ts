import { orientation, pointInRing } from '#core/kernel';
import type { DxfContent } from './content.ts';
import type { Box } from './tally.ts';

/** A part of the plane. */
interface Area {
  holds: (x: number, y: number) => boolean;
  /** Whether a course reaches into it; of an area (closed, filled) also where it covers it. */
  reachedBy: (x: readonly number[], y: readonly number[], filled: boolean) => boolean;
}

/** What of a drawing reaches into a window: things by their place, lines, faces and areas by the box around them. */
export const inWindow = (content: DxfContent, window: Box): DxfContent => within(content, windowArea(window));

/**
 * What of a drawing reaches into a fence x, y, x, y …: things by their place, lines and areas by their vertices and sides, arcs
 * as their chords, splines by the box around them.
 */
export const inFence = (content: DxfContent, fence: readonly number[]): DxfContent =>
  within(content, fenceArea(Float64Array.from(fence)));

function within(content: DxfContent, area: Area): DxfContent {
  const isIn = ({ x, y }: { x: number; y: number }): boolean => area.holds(x, y);
  const spatial = (v: readonly number[], filled: boolean): boolean => area.reachedBy(v.filter((_, i) => i % 3 === 0), v.filter((_, i) => i % 3 === 1), filled); // prettier-ignore
  const boxOf = (v: readonly number[]): number[] => {
    const [w, e] = rangeOf(v.filter((_, i) => i % 3 === 0));
    const [s, n] = rangeOf(v.filter((_, i) => i % 3 === 1));
    return [w, s, 0, e, s, 0, e, n, 0, w, n, 0];
  };
  return {
    ...content,
    points: content.points.filter(isIn),
    texts: content.texts.filter(isIn),
    inserts: content.inserts.filter(isIn),
    polylines: content.polylines.filter((l) => area.reachedBy(closing(l.x, l.closed), closing(l.y, l.closed), false)),
    curves: content.curves.filter((c) => spatial(boxOf(c.curve.control), true)),
    faces: content.faces.filter((f) => spatial(f.corners, true)),
    hatches: content.hatches.filter((h) => h.rings.some((r) => area.reachedBy(closing(r.x, true), closing(r.y, true), true))), // prettier-ignore
  };
}

const closing = (v: readonly number[], closed: boolean): readonly number[] => (closed && v.length ? [...v, v[0]] : v);

function windowArea([west, south, east, north]: Box): Area {
  return {
    holds: (x, y) => x >= west && x <= east && y >= south && y <= north,
    reachedBy(x, y) {
      const [w, e] = rangeOf(x);
      const [s, n] = rangeOf(y);
      return w <= east && e >= west && s <= north && n >= south;
    },
  };
}

function fenceArea(fence: Float64Array): Area {
  const n = fence.length;
  const crosses = (ax: number, ay: number, bx: number, by: number): boolean => {
    for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
      const [cx, cy, dx, dy] = [fence[j], fence[j + 1], fence[i], fence[i + 1]];
      const apart = orientation(ax, ay, bx, by, cx, cy) * orientation(ax, ay, bx, by, dx, dy) > 0 || orientation(cx, cy, dx, dy, ax, ay) * orientation(cx, cy, dx, dy, bx, by) > 0; // prettier-ignore
      // Sides on one straight meet where their boxes do.
      const beside = Math.max(ax, bx) < Math.min(cx, dx) || Math.max(cx, dx) < Math.min(ax, bx) || Math.max(ay, by) < Math.min(cy, dy) || Math.max(cy, dy) < Math.min(ay, by); // prettier-ignore
      if (!apart && !beside) return true;
    }
    return false;
  };
  const [box, holds] = [windowArea(boxOfRing(fence)), (x: number, y: number) => pointInRing(fence, x, y)];
  return {
    holds,
    reachedBy(x, y, filled) {
      if (!box.reachedBy(x, y, filled)) return false;
      for (let i = 0; i < x.length; i++) {
        if (holds(x[i], y[i])) return true;
        if (i > 0 && crosses(x[i - 1], y[i - 1], x[i], y[i])) return true;
      }
      const ring = Float64Array.from(x.flatMap((v, i) => [v, y[i]]));
      return filled && x.length > 2 && pointInRing(ring, fence[0], fence[1]);
    },
  };
}

function boxOfRing(ring: Float64Array): Box {
  const [w, e] = rangeOf(ring.filter((_, i) => i % 2 === 0));
  const [s, n] = rangeOf(ring.filter((_, i) => i % 2 === 1));
  return [w, s, e, n];
}

function rangeOf(v: ArrayLike<number>): [low: number, high: number] {
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < v.length; i++) {
    if (v[i] < low) low = v[i];
    if (v[i] > high) high = v[i];
  }
  return [low, high];
}
