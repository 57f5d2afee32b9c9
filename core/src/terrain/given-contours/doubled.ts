import type { ContourFault, Sides } from './contour.ts';

type Double = Extract<ContourFault, { kind: 'double' }>;

/** Contours that run over another all along; of two that are the same the later one. */
export function doubled(sides: Sides, tolerance: number): Double[] {
  const { contours } = sides;
  const out: Double[] = [];
  const gone = new Set<number>();
  /** Other contours that pass by a place. */
  const by = (x: number, y: number, k: number): Set<number> => {
    const near = sides.within(x - tolerance, y - tolerance, x + tolerance, y + tolerance);
    return new Set(near.filter((s) => sides.of[s] !== k && sides.off(s, x, y) <= tolerance).map((s) => sides.of[s]));
  };
  // A part of a longer one goes before the longer one.
  const order = contours.map((_, k) => k).sort((a, b) => contours[a].x.length - contours[b].x.length || b - a);
  for (const k of order) {
    const { x, y } = contours[k];
    if (x.length < 2) continue;
    let over = by(x[0], y[0], k);
    for (let i = 1; i < x.length && over.size; i++) {
      const here = by(x[i], y[i], k);
      over = new Set([...over].filter((c) => here.has(c)));
      // The middle of a side too: two lines may share their vertices alone.
      const there = by((x[i - 1] + x[i]) / 2, (y[i - 1] + y[i]) / 2, k);
      over = new Set([...over].filter((c) => there.has(c)));
    }
    const [other] = [...over].filter((c) => !gone.has(c)).sort((a, b) => a - b);
    if (other === undefined) continue;
    gone.add(k);
    out.push({ kind: 'double', contour: k, other, x: x[0], y: y[0] });
  }
  return out.sort((a, b) => a.contour - b.contour);
}
