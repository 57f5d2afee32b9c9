import { isPublished } from '#core/basis';
import { distance } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import { STATE, type PointTable } from '../points.ts';
import { found, type Doubt } from './doubt.ts';

// Whole files whose points cannot be meant as they are.

export const middleOf = (values: readonly number[]): number => {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
};

/** A file in a published system in a project that is local. */
export function systemLacking(doc: ProjectDocument, index: number): Doubt | null {
  const { id, system } = doc.intakes[index];
  if (!system || !isPublished(system) || isPublished(doc.basis.system)) return null;
  return { ...found(doc, 'system-lacking', id, [system.definition]), kind: 'system-lacking', intake: index, system };
}

/** A file whose heights are of another kind than the project's, where no geoid leads from one to the other. */
export function heightsLacking(doc: ProjectDocument, index: number): Doubt | null {
  const { id, claims, heights = doc.basis.heights } = doc.intakes[index];
  const { geoid, system } = doc.basis;
  if (heights === doc.basis.heights || (geoid && isPublished(system))) return null;
  const restsOn = [claims?.geoid ?? '', heights, geoid?.sha256 ?? ''];
  return { ...found(doc, 'geoid-lacking', id, restsOn), kind: 'heights-lacking', intake: index };
}

/** A file that lies outside the area of the project's system. */
export function outsideArea(
  doc: ProjectDocument,
  index: number,
  { x, y }: Pick<PointTable, 'x' | 'y'>,
  rows: readonly number[],
): Doubt | null {
  const { system } = doc.basis;
  if (!isPublished(system) || !system.extent || rows.length === 0) return null;
  const [minX, minY, maxX, maxY] = system.extent;
  const margin = 0.05 * Math.max(maxX - minX, maxY - minY);
  const inside = (e: number, n: number): boolean =>
    e > minX - margin && e < maxX + margin && n > minY - margin && n < maxY + margin;
  let [out, swapped] = [0, 0];
  for (const row of rows) {
    if (inside(x[row], y[row])) continue;
    out++;
    if (inside(y[row], x[row])) swapped++;
  }
  if (out * 2 <= rows.length) return null;
  const { id, layout, placement } = doc.intakes[index];
  const restsOn = [system.definition, layout, placement?.matrix ?? null];
  return { ...found(doc, 'outside-area', id, restsOn), kind: 'outside-area', intake: index, system, out, swapped: swapped === out }; // prettier-ignore
}

/** Sites are smaller than this, m; and files of one site lie nearer than so many times their own size. */
const FARTHEST_APART = 20_000;
const TIMES_ITS_SIZE = 20;

/** A file that has nothing in common with control or the files before it, and lies nowhere near them. */
export function farFromOthers(
  doc: ProjectDocument,
  index: number,
  points: PointTable,
  rowsOf: readonly number[][],
): Doubt | null {
  const used = (rows: readonly number[]): number[] => rows.filter((row) => points.state[row] === STATE.used);
  const own = used(rowsOf[index]);
  const others = doc.intakes.flatMap(({ on, purpose }, k) =>
    on && (purpose === 'control' || k < index) ? used(rowsOf[k]) : [],
  );
  if (own.length === 0 || others.length === 0) return null;
  const [a, b] = [spreadOf(points, own), spreadOf(points, others)];
  const limit = Math.max(FARTHEST_APART, TIMES_ITS_SIZE * Math.max(a.size, b.size));
  const apart = distance(a.x - b.x, a.y - b.y);
  // Swapped columns are told apart elsewhere, with their own remedy.
  if (apart <= limit || distance(a.y - b.x, a.x - b.y) <= limit) return null;
  const { id, sha256, layout, placement } = doc.intakes[index];
  const restsOn = [sha256, layout, placement?.matrix ?? null, Math.round(b.x / 1000), Math.round(b.y / 1000)];
  return { ...found(doc, 'basis', id, restsOn), kind: 'far-file', intake: index, apart, at: { x: a.x, y: a.y } };
}

/** Middle of rows, and within which distance 90 % are of it. */
function spreadOf(points: PointTable, rows: readonly number[]): { x: number; y: number; size: number } {
  const [x, y] = [points.x, points.y].map((v) => middleOf(rows.map((r) => v[r])));
  const away = Float64Array.from(rows, (r) => distance(points.x[r] - x, points.y[r] - y)).sort();
  return { x, y, size: away[Math.floor(0.9 * (rows.length - 1))] };
}

/** Files that lie far from control, and among it once east and north are swapped. */
export function swappedColumns(doc: ProjectDocument, points: PointTable, rowsOf: readonly number[][]): Doubt[] {
  const groups = rowsOf.map((rows) => {
    const used = rows.filter((row) => points.state[row] === STATE.used);
    return { x: used.map((r) => points.x[r]), y: used.map((r) => points.y[r]) };
  });
  const control = groups.filter((_, i) => doc.intakes[i].purpose === 'control');
  const [cx, cy] = [middleOf(control.flatMap((g) => g.x)), middleOf(control.flatMap((g) => g.y))];
  if (!Number.isFinite(cx)) return [];
  const reach =
    control.reduce((far, g) => g.x.reduce((f, x, i) => Math.max(f, distance(x - cx, g.y[i] - cy)), far), 50) * 5;
  return doc.intakes.flatMap(({ id, on, purpose, sha256, layout }, index): Doubt[] => {
    const g = groups[index];
    if (!on || purpose === 'control' || g.x.length === 0) return [];
    const at = { x: middleOf(g.x), y: middleOf(g.y) };
    const straight = distance(at.x - cx, at.y - cy);
    const swapped = distance(at.y - cx, at.x - cy);
    if (straight <= reach || swapped > reach) return [];
    const restsOn = [sha256, layout, Math.round(cx), Math.round(cy)];
    return [{ ...found(doc, 'columns-exchanged', id, restsOn), kind: 'swapped-columns', intake: index, straight, swapped, at }]; // prettier-ignore
  });
}
