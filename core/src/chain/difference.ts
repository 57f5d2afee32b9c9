import { distance, sameColumn } from '#core/kernel';
import { elevationsAlong, type Line } from '#core/linework';
import type { ProjectDocument } from '#core/project';
import { pointKey, sameSurface } from '#core/stages';
import { groundFinder, movedVertices, trianglesAt, type Surface } from '#core/terrain';
import type { Query } from '#core/queries';
import type { ChainResult } from './chain-run.ts';

/** What a change would do, in figures; lengths in metres. */
export interface ChangePreview {
  pointsChanged: number;
  pointsMoved: number;
  /** Largest move in space, m. */
  largestMove: number;
  linesChanged: number;
  /** The first of them as they would run; those that would go are only counted. */
  lines: Line[];
  /** Surfaces that would be another, would come or would go. */
  surfaces: {
    id: string;
    name: string;
    triangles: [before: number, after: number];
    /** m². */
    planArea: [before: number, after: number];
    /** Largest difference of elevation at the vertices of one against the other, m. */
    largestHeight: number;
  }[];
  comparisons: {
    id: string;
    before: { cut: number; fill: number } | null;
    after: { cut: number; fill: number } | null;
  }[];
  /** Queries that would go, and that would come. */
  queriesGone: Pick<Query, 'key' | 'text' | 'weight'>[];
  queriesNew: Pick<Query, 'key' | 'text' | 'weight'>[];
  /** Rows, in the table after, of points that change. */
  rows: number[];
}

/** Most rows of a preview that are drawn. */
const SHOWN_ROWS = 5000;
/** Most vertices of lines of a preview that are drawn. */
const SHOWN_VERTICES = 50_000;

/** A document with everything that was computed of it. */
export interface Computed {
  doc: ProjectDocument;
  result: ChainResult;
}

/** Records of one file that stand in other rows after a change: by their rows after it, those before. */
export interface MovedRows {
  intake: string;
  before: ReadonlyMap<number, number>;
}

/** Compares a chain before and after a change that keeps or alters points, matched by intake and file row. */
export function previewChange(was: Computed, is: Computed, moved: MovedRows | null = null): ChangePreview {
  const { result: before } = was;
  const { result: after } = is;
  const preview: ChangePreview = {
    pointsChanged: 0,
    pointsMoved: 0,
    largestMove: 0,
    ...linesBetween(before, after),
    surfaces: [],
    comparisons: after.summary.comparisons.map((c) => {
      const old = before.summary.comparisons.find((o) => o.id === c.id);
      return {
        id: c.id,
        before: old?.ok ? { cut: old.cut, fill: old.fill } : null,
        after: c.ok ? { cut: c.cut, fill: c.fill } : null,
      };
    }),
    ...queriesBetween(before, after, moved),
    rows: [],
  };
  if (before.points !== after.points) comparePoints(preview, was, is, moved);
  compareSurfaces(preview, before, after);
  return preview;
}

/** Open queries of one summary that are not open in the other; those of a moved record are known by its row before. */
function queriesBetween(
  before: ChainResult,
  after: ChainResult,
  moved: MovedRows | null,
): Pick<ChangePreview, 'queriesGone' | 'queriesNew'> {
  const rowBefore = (row: string): string => String(moved?.before.get(Number(row)) ?? 'new');
  const keyBefore = (key: string): string => {
    if (!moved) return key;
    const [head, ...pieces] = key.split(`${moved.intake}:`);
    return [head, ...pieces.map((p) => p.replace(/^\d+/, rowBefore))].join(`${moved.intake}:`);
  };
  const open = ({ queries }: ChainResult): Query[] => queries.filter((q) => !q.accepted);
  const told = ({ key, text, weight }: Query): ChangePreview['queriesGone'][number] => ({ key, text, weight });
  const was = new Set(open(before).map((q) => q.key));
  const is = new Set(open(after).map((q) => keyBefore(q.key)));
  return {
    queriesGone: open(before).filter((q) => !is.has(q.key)).map(told), // prettier-ignore
    queriesNew: open(after).filter((q) => !was.has(keyBefore(q.key))).map(told), // prettier-ignore
  };
}

const SAME_ROW = (row: number): number => row;
const PLAN = ['x', 'y', 'number', 'description', 'state'] as const;

/** The row in the table before of each in the table after; −1 of a point that is new. */
function rowsBefore(
  { doc: was, result: { points: b } }: Computed,
  { doc: is, result: { points: a } }: Computed,
  moved: MovedRows | null,
): (row: number) => number {
  const alike = was.intakes.length === is.intakes.length && was.intakes.every((i, at) => i.id === is.intakes[at].id);
  if (!moved && alike && sameColumn(a.intake, b.intake) && sameColumn(a.fileRow, b.fileRow)) return SAME_ROW;
  const rowOf = new Map<string, number>();
  for (let row = 0; row < b.x.length; row++) rowOf.set(pointKey(was, b, row), row);
  return (row) => {
    const { id } = is.intakes[a.intake[row]];
    const stood = id === moved?.intake ? moved.before.get(a.fileRow[row]) : a.fileRow[row];
    return stood === undefined ? -1 : (rowOf.get(`${id}:${stood}`) ?? -1);
  };
}

function comparePoints(preview: ChangePreview, was: Computed, is: Computed, moved: MovedRows | null): void {
  const b = was.result.points;
  const a = is.result.points;
  const before = rowsBefore(was, is, moved);
  let met = 0;
  // Of tables that differ in elevations alone, most points need no other look.
  const alone = before === SAME_ROW && PLAN.every((column) => sameColumn(a[column], b[column]));
  for (let row = 0; row < a.x.length; row++) {
    if (alone && (a.z[row] === b.z[row] || (Number.isNaN(a.z[row]) && Number.isNaN(b.z[row])))) {
      met++;
      continue;
    }
    const old = before(row);
    if (old < 0) {
      preview.pointsChanged++;
      continue;
    }
    met++;
    const dz = Number.isNaN(a.z[row]) || Number.isNaN(b.z[old]) ? 0 : a.z[row] - b.z[old];
    const move = distance(a.x[row] - b.x[old], a.y[row] - b.y[old], dz);
    const same =
      move === 0 &&
      Number.isNaN(a.z[row]) === Number.isNaN(b.z[old]) &&
      a.number[row] === b.number[old] &&
      a.description[row] === b.description[old] &&
      a.state[row] === b.state[old];
    if (same) continue;
    preview.pointsChanged++;
    if (preview.rows.length < SHOWN_ROWS) preview.rows.push(row);
    if (move > 0) preview.pointsMoved++;
    preview.largestMove = Math.max(preview.largestMove, move);
  }
  preview.pointsChanged += b.x.length - met;
}

function linesBetween(before: ChainResult, after: ChainResult): Pick<ChangePreview, 'linesChanged' | 'lines'> {
  // Lines hold places in plan; their elevations are the points'.
  if (before.linework === after.linework && before.points === after.points) return { linesChanged: 0, lines: [] };
  const old = new Map(before.linework.lines.map((l) => [l.key, l]));
  const lines: Line[] = [];
  let [changed, vertices] = [0, 0];
  for (const line of after.linework.lines) {
    const was = old.get(line.key);
    old.delete(line.key);
    if (was && sameLine(was, before.points.z, line, after.points.z)) continue;
    changed++;
    vertices += line.x.length;
    if (vertices <= SHOWN_VERTICES) lines.push(line);
  }
  return { linesChanged: changed + old.size, lines };
}

/** A line that has none stands in plan alone. */
const sameElevations = (a: readonly number[] | null, b: readonly number[] | null): boolean =>
  a === null || b === null ? a === b : sameColumn(a, b);

const sameLine = (a: Line, az: Float64Array, b: Line, bz: Float64Array): boolean =>
  (a === b ||
    (a.code === b.code &&
      a.closed === b.closed &&
      sameColumn(a.bulges, b.bulges) &&
      sameColumn(a.sides, b.sides) &&
      sameColumn(a.x, b.x) &&
      sameColumn(a.y, b.y))) &&
  sameElevations(elevationsAlong(a, az), elevationsAlong(b, bz));

function compareSurfaces(preview: ChangePreview, before: ChainResult, after: ChainResult): void {
  const ids = new Set([...before.surfaces, ...after.surfaces].map((s) => s.id));
  for (const id of ids) {
    const [b, a] = [before, after].map((r) => r.surfaces.find((s) => s.id === id)?.surface);
    if (b === a || (b && a && sameSurface(b, a))) continue;
    const [was, is] = [before, after].map((r) => r.summary.surfaces.find((one) => one.id === id));
    preview.surfaces.push({
      id,
      name: (is ?? was)!.name,
      triangles: [was?.triangles ?? 0, is?.triangles ?? 0],
      planArea: [was?.planArea ?? 0, is?.planArea ?? 0],
      largestHeight: b && a ? largestHeight(b, a) : 0,
    });
  }
}

function largestHeight(before: Surface, after: Surface): number {
  let largest = 0;
  if (sameColumn(before.triangles, after.triangles) && sameColumn(before.x, after.x) && sameColumn(before.y, after.y)) {
    // The difference of two surfaces over the same triangles is greatest at a corner.
    const { start } = trianglesAt(after);
    for (const v of movedVertices(before.z, after.z))
      if (start[v] < start[v + 1]) largest = Math.max(largest, Math.abs(after.z[v] - before.z[v]));
    return largest;
  }
  const pairs = [
    [before, after],
    [after, before],
  ] as const;
  for (const [ground, other] of pairs) {
    const finder = groundFinder(ground);
    const used = new Set(other.triangles);
    for (const v of used) {
      const at = finder.at(other.x[v], other.y[v]);
      if (at) largest = Math.max(largest, Math.abs(other.z[v] - at.elevation));
    }
  }
  return largest;
}
