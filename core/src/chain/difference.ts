import { distance } from '#core/kernel';
import { elevationsAlong } from '#core/linework';
import { groundFinder, type Surface } from '#core/terrain';
import type { Query } from '#core/queries';
import { sameSurface } from './memory.ts';
import type { ChainResult } from './chain-run.ts';
import type { ChainSummary } from './summary.ts';

/** What a change would do, in figures; lengths in metres. */
export interface ChangePreview {
  pointsChanged: number;
  pointsMoved: number;
  /** Largest move in space, m. */
  largestMove: number;
  linesChanged: number;
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

/** Compares a chain before and after a change that keeps or alters points, matched by intake and file row. */
export function previewChange(
  before: ChainResult,
  beforeSummary: ChainSummary,
  after: ChainResult,
  afterSummary: ChainSummary,
  beforeIds: string[],
  afterIds: string[],
): ChangePreview {
  const preview: ChangePreview = {
    pointsChanged: 0,
    pointsMoved: 0,
    largestMove: 0,
    linesChanged: linesChanged(before, after),
    surfaces: [],
    comparisons: afterSummary.comparisons.map((c) => {
      const old = beforeSummary.comparisons.find((o) => o.id === c.id);
      return {
        id: c.id,
        before: old?.ok ? { cut: old.cut, fill: old.fill } : null,
        after: c.ok ? { cut: c.cut, fill: c.fill } : null,
      };
    }),
    queriesGone: without(beforeSummary, afterSummary),
    queriesNew: without(afterSummary, beforeSummary),
    rows: [],
  };
  if (before.points !== after.points) comparePoints(preview, before, after, beforeIds, afterIds);
  compareSurfaces(preview, before, beforeSummary, after, afterSummary);
  return preview;
}

/** Open queries of one summary that are not open in the other. */
function without(one: ChainSummary, other: ChainSummary): ChangePreview['queriesGone'] {
  const open = new Set(other.queries.filter((q) => !q.accepted).map((q) => q.key));
  return one.queries
    .filter((q) => !q.accepted && !open.has(q.key))
    .map(({ key, text, weight }) => ({ key, text, weight }));
}

function comparePoints(
  preview: ChangePreview,
  before: ChainResult,
  after: ChainResult,
  beforeIds: string[],
  afterIds: string[],
): void {
  const b = before.points;
  const a = after.points;
  const rowOf = new Map<string, number>();
  for (let row = 0; row < b.x.length; row++) rowOf.set(`${beforeIds[b.intake[row]]}:${b.fileRow[row]}`, row);
  let met = 0;
  for (let row = 0; row < a.x.length; row++) {
    const old = rowOf.get(`${afterIds[a.intake[row]]}:${a.fileRow[row]}`);
    if (old === undefined) {
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

function linesChanged(before: ChainResult, after: ChainResult): number {
  // Lines hold places in plan; their elevations are the points'.
  if (before.linework === after.linework && before.points === after.points) return 0;
  const signature = (r: ChainResult): Map<string, string> =>
    new Map(
      r.linework.lines.map((l) => [
        l.key,
        JSON.stringify([l.code, l.closed, l.bulges, l.sides, l.x, l.y, elevationsAlong(l, r.points.z)]),
      ]),
    );
  const [b, a] = [signature(before), signature(after)];
  let changed = 0;
  for (const [key, value] of a) if (b.get(key) !== value) changed++;
  for (const key of b.keys()) if (!a.has(key)) changed++;
  return changed;
}

function compareSurfaces(
  preview: ChangePreview,
  before: ChainResult,
  beforeSummary: ChainSummary,
  after: ChainResult,
  afterSummary: ChainSummary,
): void {
  const ids = new Set([...before.surfaces, ...after.surfaces].map((s) => s.id));
  for (const id of ids) {
    const [b, a] = [before, after].map((r) => r.surfaces.find((s) => s.id === id)?.surface);
    if (b === a || (b && a && sameSurface(b, a))) continue;
    const [was, is] = [beforeSummary, afterSummary].map((s) => s.surfaces.find((one) => one.id === id));
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
