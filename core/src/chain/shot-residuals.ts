import { distance } from '#core/kernel';
import type { Linework } from '#core/linework';
import type { ReducedPoints } from '#core/reduction';
import { AGAINST, NO_POINT, planeResiduals, ResidualBuilder, type HeightResiduals } from '#core/terrain';
import type { Ground } from './ground.ts';
import type { PointTable } from './points.ts';

// How far each shot stands off what speaks about its elevation: the plane of what lies around it, the course of its
// line before and after, the same place from another setup. All of it linear in elevations, by rows of the point table.

/** m; what is usual along a line or at a place measured twice is never taken for less. */
const LEAST = 0.01;
const QUARTER = 0.3186;
const LONG_LINE = 12;

export function shotResiduals(
  points: PointTable,
  work: Linework,
  ground: Ground,
  twice: readonly { a: number; b: number; sd: number }[],
  asked: Iterable<number>,
): HeightResiduals {
  const builder = new ResidualBuilder(points.x.length);
  const vertexOf = new Int32Array(points.x.length).fill(-1);
  ground.surface.point.forEach((row, v) => {
    if (row !== NO_POINT) vertexOf[row] = v;
  });
  fromPlanes(builder, ground, [...asked].flatMap((row) => (vertexOf[row] >= 0 ? [vertexOf[row]] : []))); // prettier-ignore
  fromLines(builder, points, work, (row) => vertexOf[row] >= 0);
  for (const { a, b, sd } of twice)
    builder.add(points.z[a] - points.z[b], Math.max(LEAST, sd), AGAINST.twice, [a, b], [1, -1]);
  return builder.build();
}

function fromPlanes(builder: ResidualBuilder, { surface }: Ground, vertices: readonly number[]): void {
  const planes = planeResiduals(surface, vertices);
  const rows = new Map<number, { columns: number[]; parts: number[] }>();
  for (let v = 0; v < surface.x.length; v++)
    for (let k = planes.start[v]; k < planes.start[v + 1]; k++) {
      const row = rows.get(planes.row[k]) ?? { columns: [], parts: [] };
      rows.set(planes.row[k], row);
      // A vertex that a boundary or an arc made moves with nobody's target height.
      if (surface.point[v] === NO_POINT) continue;
      row.columns.push(surface.point[v]);
      row.parts.push(planes.part[k]);
    }
  for (const [v, { columns, parts }] of rows)
    builder.add(planes.residual[v], planes.scatter, AGAINST.plane, columns, parts);
}

/** Each inner vertex of a line against the straight between its neighbours; what is usual is the line's own, where it is long enough. */
function fromLines(builder: ResidualBuilder, p: PointTable, work: Linework, counts: (row: number) => boolean): void {
  interface Off {
    off: number;
    columns: [number, number, number];
    parts: [number, number, number];
  }
  const all: Off[][] = [];
  for (const line of work.lines) {
    const rows = line.rows.filter((r) => r >= 0 && counts(r));
    if (rows.length < 3) continue;
    const own: Off[] = [];
    for (let i = 1; i + 1 < rows.length; i++) {
      const [a, v, c] = [rows[i - 1], rows[i], rows[i + 1]];
      const before = distance(p.x[v] - p.x[a], p.y[v] - p.y[a]);
      const after = distance(p.x[c] - p.x[v], p.y[c] - p.y[v]);
      if (!(before + after > 0)) continue;
      const t = before / (before + after);
      const off = p.z[v] - (1 - t) * p.z[a] - t * p.z[c];
      if (!Number.isNaN(off)) own.push({ off, columns: [v, a, c], parts: [1, t - 1, -t] });
    }
    if (own.length) all.push(own);
  }
  const usual = usualOf(all.flat().map((o) => o.off));
  for (const own of all) {
    // The quarter of a few says little: short lines are taken for no smoother than lines are here.
    const scatter = Math.max(LEAST, usualOf(own.map((o) => o.off)), own.length >= LONG_LINE ? usual / 3 : usual);
    for (const { off, columns, parts } of own) builder.add(off, scatter, AGAINST.line, columns, parts);
  }
}

/** From the quarter of sizes that is smallest (0.3186 σ of a normal deviate), since a long run spoils many of them. */
function usualOf(offs: readonly number[]): number {
  const sorted = Float64Array.from(offs, Math.abs).sort();
  return (sorted[sorted.length >> 2] ?? 0) / QUARTER;
}

/** Places that two setups measured, as rows of the point table. */
export function twiceInTable(
  points: ReducedPoints,
  pairs: readonly { a: number; b: number }[],
  rowAt: (book: string, row: number) => number | undefined,
): { a: number; b: number; sd: number }[] {
  return pairs.flatMap(({ a, b }) => {
    const [ra, rb] = [a, b].map((i) => rowAt(points.books[points.book[i]], points.name[i].row));
    if (ra === undefined || rb === undefined || points.setup[a] === points.setup[b]) return [];
    return [{ a: ra, b: rb, sd: Math.sqrt(points.sdHeight[a] ** 2 + points.sdHeight[b] ** 2) }];
  });
}
