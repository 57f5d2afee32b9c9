import type { ProjectDocument } from '#core/project';
import { rowsByRecord } from '#core/stages';
import type { Selection } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';

/** Rays of the setup that a selected point or record belongs to, and the standard ellipses at their ends. */
export interface Sightings {
  /** x, y, z, x, y, z from the instrument to what it sighted. */
  rays: number[][];
  /** x, y, z …, once round each. */
  ellipses: number[][];
  /** How many times as large the ellipses are drawn; 0 without. */
  times: number;
}

const MOST = 5000;
const STEPS = 36;

export function sightingsOf(
  selection: Selection,
  tables: Tables,
  doc: Pick<ProjectDocument, 'intakes'>,
  level: number,
): Sightings {
  const { points, reduction } = tables;
  const seen = shotsSeen(selection, tables, doc);
  const z = (v: number): number => (Number.isNaN(v) ? level : v);
  const rays = seen.map(({ setup, row }) => {
    const station = reduction.setups[setup].station!;
    return [station.x, station.y, z(station.z), points.x[row], points.y[row], z(points.z[row])];
  });
  const axes = seen.map(({ at, row }) => axesOf(points.sdPlan[row], reduction.sdAcross[at]));
  const largest = Math.max(0, ...axes.map((a) => Math.max(a.along, a.across)));
  if (!(largest > 0)) return { rays, ellipses: [], times: 0 };
  // Some metres at most, so that they can be told apart from each other and from their points.
  const times = 10 ** Math.floor(Math.log10(4 / largest));
  const ellipses = seen.map(({ row, setup }, i) => {
    const station = reduction.setups[setup].station!;
    const [dx, dy] = [points.x[row] - station.x, points.y[row] - station.y];
    const d = Math.max(Math.sqrt(dx * dx + dy * dy), 1e-9);
    const [s, c] = [dx / d, dy / d];
    const [along, across] = [axes[i].along * times, axes[i].across * times];
    const course: number[] = [];
    for (let k = 0; k <= STEPS; k++) {
      const t = (k / STEPS) * 2 * Math.PI;
      const [a, b] = [along * Math.cos(t), across * Math.sin(t)];
      course.push(points.x[row] + a * s + b * c, points.y[row] + a * c - b * s, z(points.z[row]));
    }
    return course;
  });
  return { rays, ellipses, times };
}

/** Along the ray and across it: the plan's standard deviation is the root of the mean of both squares. */
function axesOf(plan: number, across: number): { along: number; across: number } {
  const along = Math.sqrt(Math.max(0, 2 * plan * plan - across * across));
  return Number.isNaN(along) ? { along: 0, across: 0 } : { along, across };
}

function shotsSeen(
  selection: Selection,
  { points, reduction }: Tables,
  doc: Pick<ProjectDocument, 'intakes'>,
): { at: number; setup: number; row: number }[] {
  if (selection?.kind === 'point' && selection.row < points.x.length) {
    const at = reduction.pointAt.get(doc.intakes[points.intake[selection.row]].id, points.fileRow[selection.row]);
    const setup = at === undefined ? -1 : reduction.setup[at];
    return setup >= 0 && reduction.setups[setup].station ? [{ at: at!, setup, row: selection.row }] : [];
  }
  if (selection?.kind !== 'record') return [];
  const setup = reduction.setups.findIndex((r) => r.book === selection.intake && r.row === selection.row);
  if (setup < 0 || !reduction.setups[setup].station) return [];
  const rows = rowsByRecord(doc, points);
  const out: { at: number; setup: number; row: number }[] = [];
  for (let at = 0; at < reduction.row.length && out.length < MOST; at++) {
    if (reduction.setup[at] !== setup) continue;
    const row = rows.get(selection.intake, reduction.row[at]);
    if (row !== undefined) out.push({ at, setup, row });
  }
  return out;
}
