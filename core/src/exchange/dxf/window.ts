import type { DxfContent } from './content.ts';
import type { Box } from './tally.ts';

/** What of a drawing reaches into a window: things by their place, lines, faces and areas by the box around them. */
export function inWindow(content: DxfContent, [west, south, east, north]: Box): DxfContent {
  const isIn = ({ x, y }: { x: number; y: number }): boolean => x >= west && x <= east && y >= south && y <= north;
  const reaches = (x: readonly number[], y: readonly number[]): boolean => {
    const [w, e] = rangeOf(x);
    const [s, n] = rangeOf(y);
    return w <= east && e >= west && s <= north && n >= south;
  };
  const spatial = (v: readonly number[]): boolean => reaches(v.filter((_, i) => i % 3 === 0), v.filter((_, i) => i % 3 === 1)); // prettier-ignore
  return {
    ...content,
    points: content.points.filter(isIn),
    texts: content.texts.filter(isIn),
    inserts: content.inserts.filter(isIn),
    polylines: content.polylines.filter((l) => reaches(l.x, l.y)),
    curves: content.curves.filter((c) => spatial(c.curve.control)),
    faces: content.faces.filter((f) => spatial(f.corners)),
    hatches: content.hatches.filter((h) => h.rings.some((r) => reaches(r.x, r.y))),
  };
}

function rangeOf(v: readonly number[]): [low: number, high: number] {
  let [low, high] = [Infinity, -Infinity];
  for (const one of v) {
    if (one < low) low = one;
    if (one > high) high = one;
  }
  return [low, high];
}
