import type { ContourFault } from './contour.ts';
import type { Nearest } from './nearest.ts';

type WrongElevation = Extract<ContourFault, { kind: 'elevation' }>;

/** Of the places that a neighbour is seen from, on that side, at least. */
const SHARE = 0.3;
/** Neighbours differ by no more than this many times what the others around them do. */
const MOST_STEP = 1.5;
/** m; elevations nearer than this are one. */
const LEVEL = 1e-6;

/** Contours beside each, to the left and to the right of it. */
function neighboursOf(nearest: Nearest): Map<number, { left: number[]; right: number[] }> {
  const out = new Map<number, { left: number[]; right: number[] }>();
  nearest.sides.contours.forEach(({ x }, k) => {
    if (x.length < 2 || nearest.without.has(k)) return;
    const beside = nearest.along(k);
    const often = (side: 'left' | 'right'): number[] => {
      const seen = new Map<number, number>();
      let total = 0;
      for (const b of beside) {
        const hit = b[side];
        if (!hit) continue;
        total++;
        seen.set(hit.contour, (seen.get(hit.contour) ?? 0) + 1);
      }
      return [...seen].filter(([, n]) => n >= SHARE * total).map(([c]) => c).sort((a, b) => a - b); // prettier-ignore
    };
    out.set(k, { left: often('left'), right: often('right') });
  });
  return out;
}

/** The difference between neighbours that comes most often, m; of several the smallest; null where none differ. */
export function usualInterval(nearest: Nearest): number | null {
  const { contours } = nearest.sides;
  const counts = new Map<number, number>();
  for (const [k, { left, right }] of neighboursOf(nearest))
    for (const n of [...left, ...right]) {
      const step = Math.round(Math.abs(contours[n].elevation - contours[k].elevation) * 1000) / 1000;
      if (step > 0) counts.set(step, (counts.get(step) ?? 0) + 1);
    }
  const [best] = [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  return best ? best[0] : null;
}

/**
 * Contours whose elevation does not fit: every neighbour differs from it by more than that neighbour's other neighbours do
 * from the neighbour itself, which shows that the neighbours are right among themselves.
 */
export function wrongElevations(nearest: Nearest, interval: number): WrongElevation[] {
  const { contours } = nearest.sides;
  const neighbours = neighboursOf(nearest);
  const z = (k: number): number => contours[k].elevation;
  const allOf = (k: number): number[] => {
    const { left, right } = neighbours.get(k)!;
    return [...new Set([...left, ...right])];
  };
  /** What a neighbour differs by from those around it but one. */
  const stepBut = (n: number, k: number): number | null => {
    const steps = allOf(n).filter((o) => o !== k).map((o) => Math.abs(z(o) - z(n))).filter((s) => s > LEVEL); // prettier-ignore
    return steps.length ? Math.min(...steps) : null;
  };
  const out: WrongElevation[] = [];
  for (const [k, { left, right }] of neighbours) {
    const beside = allOf(k);
    if (beside.length === 0) continue;
    const steps = beside.map((n) => ({ n, by: Math.abs(z(n) - z(k)), usual: stepBut(n, k) }));
    // One that has no other neighbours says nothing by itself; it goes by the usual interval beside one that does.
    const tooFar = steps.filter(({ by, usual }) => by > MOST_STEP * (usual ?? interval));
    if (!tooFar.some(({ usual }) => usual !== null)) continue;
    const level = steps.filter(({ by }) => by <= LEVEL);
    // One that was given its neighbour's elevation is level with that and two steps from the other.
    const isCopy = level.length > 0 && tooFar.length + level.length === steps.length && left.length > 0 && right.length > 0; // prettier-ignore
    if (tooFar.length !== steps.length && !isCopy) continue;
    const fits = fitting(left.map(z), right.map(z), interval);
    if (isCopy && fits === null) continue;
    const [at] = nearest.along(k);
    out.push({ kind: 'elevation', contour: k, fits, neighbours: beside.sort((a, b) => a - b), x: at.x, y: at.y });
  }
  return withoutBlamedNeighbours(out, z, interval);
}

/** The one elevation half way between what is left and what is right, one step from both; null where there is none. */
function fitting(left: readonly number[], right: readonly number[], interval: number): number | null {
  if (left.length !== 1 || right.length !== 1) return null;
  const [low, high] = left[0] < right[0] ? [left[0], right[0]] : [right[0], left[0]];
  const step = high - low;
  return step > LEVEL && step < 2 * MOST_STEP * interval ? (low + high) / 2 : null;
}

/** Of two neighbours that are both named, the one that another elevation makes right is; the other one is right as it is. */
function withoutBlamedNeighbours(list: WrongElevation[], z: (k: number) => number, interval: number): WrongElevation[] {
  const named = new Map(list.map((f) => [f.contour, f]));
  const off = (f: WrongElevation): number => (f.fits === null ? -1 : Math.abs(f.fits - z(f.contour)));
  return list.filter((f) => {
    const others = f.neighbours.map((n) => named.get(n)).filter((o): o is WrongElevation => o !== undefined);
    return others.every((o) => off(f) > off(o) - interval * 1e-9 || off(o) < 0);
  });
}
