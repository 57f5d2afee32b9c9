import { NO_POINT, type Surface } from '#core/terrain';
import type { Influence } from './influence.ts';

/** A point of a surface, and what cut − fill changes by where it is a metre too high, m³. */
export interface WeightyPoint {
  /** Row of the point table; −1 of a vertex that is nobody's point. */
  row: number;
  x: number;
  y: number;
  z: number;
  byMetre: number;
}

/** The points that weigh most in a volume, the heaviest first. */
export function weightiest({ x, y, z, point }: Surface, { cutByZ, fillByZ }: Influence, most: number): WeightyPoint[] {
  const net = (v: number): number => cutByZ[v] - fillByZ[v];
  const order = Array.from(cutByZ.keys())
    .filter((v) => net(v) !== 0)
    .sort((a, b) => Math.abs(net(b)) - Math.abs(net(a)) || a - b);
  return order.slice(0, most).map((v) => ({ row: point[v] === NO_POINT ? -1 : point[v], x: x[v], y: y[v], z: z[v], byMetre: net(v) })); // prettier-ignore
}
