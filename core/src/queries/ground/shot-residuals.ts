import { distance, isThere, nthSmallest, makeAnew, type Keep } from '#core/kernel';
import type { Linework } from '#core/linework';
import type { ReducedPoints } from '#core/reduction';
import {
  AGAINST,
  besideVertices,
  NO_POINT,
  planeFits,
  ResidualBuilder,
  SMALLEST_QUARTER,
  usualPlane,
  type HeightResiduals,
} from '#core/terrain';
import type { BuiltSurface, PointTable } from '#core/stages';

// How far each shot stands off what speaks about its elevation: the plane of what lies around it, the course of its
// line before and after, the same place from another setup. All of it linear in elevations, by rows of the point table.

/** m; what is usual along a line or at a place measured twice is never taken for less. */
const LEAST = 0.01;
const LONG_LINE = 12;

export function shotResiduals(
  points: PointTable,
  work: Linework,
  ground: BuiltSurface,
  twice: readonly { a: number; b: number; sd: number }[],
  asked: Uint32Array,
  keep: Keep = makeAnew,
): HeightResiduals {
  const { surface } = ground;
  const pairs = twice.flatMap(({ a, b }) => [a, b]);
  const pattern = keep('pattern of residuals', [surface.triangles, surface.point, surface.x, surface.y, points.x, points.y, isThere(points.z), rowsOfLines(work), pairs, asked], () => patternOf(points, work, ground, pairs, asked)); // prettier-ignore
  return { ...sizesOf(pattern, points, ground, twice), against: pattern.against, start: pattern.start, row: pattern.row, part: pattern.part }; // prettier-ignore
}

/** Rows of all lines one behind the other, −2 behind each; the same linework is walked once. */
function rowsOfLines(work: Linework): Int32Array {
  let rows = walked.get(work);
  if (!rows) walked.set(work, (rows = Int32Array.from(work.lines.flatMap((l) => [...l.rows, -2]))));
  return rows;
}
const walked = new WeakMap<Linework, Int32Array>();

/** What residuals there are, and in which of them each point has a part: it depends on places in plan. */
interface Pattern extends Pick<HeightResiduals, 'against' | 'start' | 'row' | 'part'> {
  /** Vertices beside their planes; first of the residuals. */
  planes: Uint32Array;
  /** Behind them inner points of lines between their neighbours: point, before, behind, of each three. */
  rows: Int32Array;
  /** Its share of the way from the one before to the one behind. */
  along: Float64Array;
  /** Where each line ends among them. */
  ends: Uint32Array;
}

function patternOf(
  points: PointTable,
  work: Linework,
  { surface }: BuiltSurface,
  pairs: readonly number[],
  asked: Uint32Array,
): Pattern {
  const builder = new ResidualBuilder(points.x.length);
  const vertexOf = new Int32Array(points.x.length).fill(-1);
  surface.point.forEach((row, v) => {
    if (row !== NO_POINT) vertexOf[row] = v;
  });
  const planes = fromPlanes(
    builder,
    surface,
    Array.from(asked, (row) => vertexOf[row]).filter((v) => v >= 0),
  );
  const lines = coursesOf(points, work, (row) => vertexOf[row] >= 0);
  const { rows, along, ends } = lines;
  for (let i = 0; i < along.length; i++)
    builder.add(AGAINST.line, rows.subarray(3 * i, 3 * i + 3), [1, along[i] - 1, -along[i]]);
  for (let i = 0; i < pairs.length; i += 2) builder.add(AGAINST.twice, [pairs[i], pairs[i + 1]], [1, -1]);
  return { ...builder.build(), planes, rows, along, ends };
}

/** How large each residual is now, and what is usual for it. */
function sizesOf(
  { planes, rows, along, ends, against }: Pattern,
  points: PointTable,
  { surface }: BuiltSurface,
  twice: readonly { a: number; b: number; sd: number }[],
): Pick<HeightResiduals, 'residual' | 'scatter'> {
  const { z } = points;
  const residual = new Float64Array(against.length);
  const scatter = new Float64Array(against.length);
  const { expected } = planeFits(surface);
  planes.forEach((v, i) => (residual[i] = surface.z[v] - expected[v]));
  scatter.fill(usualPlane(residual.subarray(0, planes.length)), 0, planes.length);
  let at = planes.length;
  const offs = new Float64Array(along.length);
  for (let i = 0; i < offs.length; i++) offs[i] = z[rows[3 * i]] - (1 - along[i]) * z[rows[3 * i + 1]] - along[i] * z[rows[3 * i + 2]]; // prettier-ignore
  residual.set(offs, at);
  const usual = usualOf(offs);
  let from = 0;
  for (const end of ends) {
    // The quarter of a few says little: short lines are taken for no smoother than lines are here.
    const size = Math.max(LEAST, usualOf(offs.subarray(from, end)), end - from >= LONG_LINE ? usual / 3 : usual);
    scatter.fill(size, at + from, at + end);
    from = end;
  }
  at += offs.length;
  for (const { a, b, sd } of twice) {
    residual[at] = z[a] - z[b];
    scatter[at++] = Math.max(LEAST, sd);
  }
  return { residual, scatter };
}

/** Residuals against planes; gives their vertices. */
function fromPlanes(builder: ResidualBuilder, surface: BuiltSurface['surface'], about: readonly number[]): Uint32Array {
  const { start, ring, weight } = planeFits(surface);
  const wanted = besideVertices(surface, about);
  const vertices: number[] = [];
  for (let v = 0; v < surface.x.length; v++) {
    if (start[v] === start[v + 1] || !wanted[v]) continue;
    const columns = [surface.point[v]];
    const parts = [1];
    for (let k = start[v]; k < start[v + 1]; k++) {
      columns.push(surface.point[ring[k]]);
      parts.push(-weight[k]);
    }
    // A vertex that a boundary or an arc made moves with nobody's target height.
    builder.add(AGAINST.plane, columns, parts);
    vertices.push(v);
  }
  return Uint32Array.from(vertices);
}

/** Each inner point of a line beside the straight between its neighbours, line by line. */
function coursesOf(
  p: PointTable,
  work: Linework,
  counts: (row: number) => boolean,
): Pick<Pattern, 'rows' | 'along' | 'ends'> {
  const [places, shares, ends]: number[][] = [[], [], []];
  for (const line of work.lines) {
    const rows = line.rows.filter((r) => r >= 0 && counts(r));
    const from = shares.length;
    for (let i = 1; i + 1 < rows.length; i++) {
      const [a, v, c] = [rows[i - 1], rows[i], rows[i + 1]];
      const before = distance(p.x[v] - p.x[a], p.y[v] - p.y[a]);
      const after = distance(p.x[c] - p.x[v], p.y[c] - p.y[v]);
      if (!(before + after > 0) || Number.isNaN(p.z[v] + p.z[a] + p.z[c])) continue;
      places.push(v, a, c);
      shares.push(before / (before + after));
    }
    if (shares.length > from) ends.push(shares.length);
  }
  return { rows: Int32Array.from(places), along: Float64Array.from(shares), ends: Uint32Array.from(ends) };
}

/** From the quarter of sizes that is smallest (0.3186 σ of a normal deviate), since a long run spoils many of them. */
function usualOf(offs: Float64Array): number {
  const sizes = new Float64Array(offs.length);
  for (let i = 0; i < sizes.length; i++) sizes[i] = Math.abs(offs[i]);
  return (nthSmallest(sizes, sizes.length >> 2) || 0) / SMALLEST_QUARTER;
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
