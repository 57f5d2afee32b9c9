import { distance, distanceToSide } from '#core/kernel';
import type { DxfPolyline } from '../dxf/content.ts';

/**
 * A line without vertices that lie within a length, in space, of the straight between those that stay (Ramer 1972, Douglas and
 * Peucker 1973). Ends, ends of arcs, and of a closed line the first vertex and the one farthest from it stay.
 */
export function straightened(line: DxfPolyline, within: number): DxfPolyline {
  const { x, y, z, bulge, closed } = line;
  const n = x.length;
  const keep = new Uint8Array(n);
  keep[0] = 1;
  if (!closed) keep[n - 1] = 1;
  for (let i = 0; i < n; i++) if (bulge[i] !== 0) keep[i] = keep[(i + 1) % n] = 1;
  if (closed) keep[farthest()] = 1;
  const stays = Array.from(keep.keys()).filter((i) => keep[i]);
  for (let k = 0; k < stays.length; k++) {
    const next = stays[k + 1] ?? (closed ? stays[0] + n : -1);
    if (next >= 0) between(stays[k], next);
  }
  const left = Array.from(keep.keys()).filter((i) => keep[i]);
  if (left.length === n || left.length < (closed ? 3 : 2)) return line;
  const at = (v: readonly number[]): number[] => left.map((i) => v[i]);
  return { ...line, x: at(x), y: at(y), z: at(z), bulge: at(bulge) };

  function farthest(): number {
    let best = 0;
    for (let i = 1; i < n; i++) if (apart(i, 0) > apart(best, 0)) best = i;
    return best;
  }

  function apart(i: number, k: number): number {
    return distance(x[i] - x[k], y[i] - y[k], z[i] - z[k]);
  }

  /** Keeps of the vertices between two, counted on beyond the end of a closed line, those that say something. */
  function between(from: number, to: number): void {
    const open: [number, number][] = [[from, to]];
    for (let part = open.pop(); part; part = open.pop()) {
      const [a, b] = part;
      let worst = -1;
      let most = within;
      for (let i = a + 1; i < b; i++) {
        const off = distanceToSide(place(i % n), place(a % n), place(b % n));
        if (off > most) [worst, most] = [i, off];
      }
      if (worst < 0) continue;
      keep[worst % n] = 1;
      open.push([a, worst], [worst, b]);
    }
  }

  function place(i: number): number[] {
    return [x[i], y[i], z[i]];
  }
}
