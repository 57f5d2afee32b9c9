import { ringArea, ringCrossesItself } from './rings.ts';
import { atan2 } from './trigonometry.ts';

/** Places in their order round a ring, by their index. */
export interface RingThrough {
  order: number[];
  /** Joined by direction from their middle, since they cross in the order in which they came. */
  byDirection: boolean;
}

/** A ring through all of some places, m: as they came, or by direction from their middle; null where neither makes a ring. */
export function ringThrough(x: ArrayLike<number>, y: ArrayLike<number>): RingThrough | null {
  const all = Array.from({ length: x.length }, (_, i) => i);
  const usable = (order: readonly number[]): boolean => {
    const ring = Float64Array.from(order.flatMap((i) => [x[i], y[i]]));
    return order.length > 2 && !ringCrossesItself(ring) && ringArea(ring) !== 0;
  };
  if (usable(all)) return { order: all, byDirection: false };
  const mean = (of: ArrayLike<number>): number => all.reduce((sum, i) => sum + of[i], 0) / all.length;
  const [mx, my] = [mean(x), mean(y)];
  const order = all.toSorted((a, b) => atan2(y[a] - my, x[a] - mx) - atan2(y[b] - my, x[b] - mx) || a - b);
  return usable(order) ? { order, byDirection: true } : null;
}
