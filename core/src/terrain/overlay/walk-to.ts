import type { Surface } from '../surface.ts';

/** Steps after which a place is too far to walk to. */
const MOST_STEPS = 200;

/** The triangle about a place, from one near it; −1 where the way leads over the rim, or is long. */
export function walkTo({ x, y, triangles, neighbours }: Surface, from: number, px: number, py: number): number {
  let e = 3 * from;
  let entered = -1;
  for (let step = 0; step < MOST_STEPS; step++) {
    let out = -1;
    for (let k = 0; k < 3; k++) {
      if (e + k === entered) continue;
      const [v, w] = [triangles[e + k], triangles[e + ((k + 1) % 3)]];
      if ((x[w] - x[v]) * (py - y[v]) - (y[w] - y[v]) * (px - x[v]) < 0) {
        out = e + k;
        break;
      }
    }
    if (out < 0) return e / 3;
    entered = neighbours[out];
    if (entered < 0) return -1;
    e = entered - (entered % 3);
  }
  return -1;
}
