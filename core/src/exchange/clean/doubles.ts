import { distance } from '#core/kernel';
import type { DxfPolyline } from '../dxf/content.ts';

/** Lines of which no two of one layer lie in one place all along, in either direction; of doubles the first stays. */
export function withoutDoubles(lines: readonly DxfPolyline[], within: number): DxfPolyline[] {
  const reach = Math.max(within, EXACT);
  const cells = new Map<string, DxfPolyline[]>();
  const out: DxfPolyline[] = [];
  for (const line of lines) {
    const { kind, cx, cy } = placeOf(line, reach);
    let double = false;
    for (let dx = -1; dx <= 1 && !double; dx++)
      for (let dy = -1; dy <= 1 && !double; dy++)
        double = (cells.get(`${kind} ${cx + dx} ${cy + dy}`) ?? []).some((other) => isDouble(line, other, reach));
    if (double) continue;
    out.push(line);
    const key = `${kind} ${cx} ${cy}`;
    const cell = cells.get(key);
    if (cell) cell.push(line);
    else cells.set(key, [line]);
  }
  return out;
}

/** Where nothing else is said: in the unit of the lines. */
const EXACT = 1e-9;
/** Bulges that differ less are one arc. */
const SAME_ARC = 1e-6;

/** What can be a double: of one layer, as many vertices, the mean of which lies in one cell or the next. */
function placeOf({ layer, closed, x, y }: DxfPolyline, size: number): { kind: string; cx: number; cy: number } {
  const mean = (v: readonly number[]): number => v.reduce((sum, one) => sum + one, 0) / v.length;
  const [cx, cy] = [x, y].map((v) => Math.floor(mean(v) / (2 * size)));
  return { kind: JSON.stringify([layer, closed, x.length]), cx, cy };
}

function isDouble(a: DxfPolyline, b: DxfPolyline, within: number): boolean {
  const n = a.x.length;
  const same = (i: number, k: number): boolean => distance(a.x[i] - b.x[k], a.y[i] - b.y[k], a.z[i] - b.z[k]) <= within; // prettier-ignore
  const arc = (i: number, v: number): boolean => Math.abs(a.bulge[i] - v) <= SAME_ARC;
  const sides = a.closed ? n : n - 1;
  // A closed one may begin anywhere; either may go the other way, its arcs bent the other way round.
  for (let from = 0; from < (a.closed ? n : 1); from++) {
    const forth = (i: number): number => (i + from) % n;
    const back = (i: number): number => (n - 1 - i + from) % n;
    const all = (of: (i: number) => number): boolean => a.x.every((_, i) => same(i, of(i)));
    const side = Array.from({ length: sides }, (_, i) => i);
    if (all(forth) && side.every((i) => arc(i, b.bulge[forth(i)]))) return true;
    if (all(back) && side.every((i) => arc(i, -b.bulge[back((i + 1) % n)]))) return true;
  }
  return false;
}
