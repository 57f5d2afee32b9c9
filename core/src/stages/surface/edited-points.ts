import type { Line } from '#core/linework';
import { recordOfKey, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import type { PointTable } from '../points/points.ts';
import type { SurfaceAccount } from './account.ts';

interface Shift {
  dx: number;
  dy: number;
  dz: number;
}

/** Rows that a recipe takes out by hand, with the row of it that does, and those that it puts elsewhere. */
export function editedPoints(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  points: PointTable,
  lines: readonly Line[],
  effect: SurfaceAccount['rows'],
): { omitted: Map<number, string>; shifts: Map<number, Shift> } {
  const [omitted, shifts] = [new Map<number, string>(), new Map<number, Shift>()];
  const add = (row: number, x: number, y: number, z: number): void => {
    const before = shifts.get(row) ?? { dx: 0, dy: 0, dz: 0 };
    shifts.set(row, { dx: before.dx + x, dy: before.dy + y, dz: before.dz + z });
  };
  for (const row of recipe.rows) {
    if (!row.on) continue;
    if (row.kind === 'move' || row.kind === 'omit') {
      const found = rowsOfKeys(doc, points, row.points);
      // What is deleted is counted where it is left out.
      effect[row.id] = found.length === 0 ? null : row.kind === 'move' ? found.length : 0;
      for (const r of found)
        if (row.kind === 'omit') omitted.set(r, row.id);
        else add(r, row.by.x, row.by.y, row.by.z);
    } else if (row.kind === 'raise-lines') {
      const raised = lines.filter((l) => row.lines.includes(l.key));
      effect[row.id] = raised.length || null;
      for (const r of new Set(raised.flatMap((l) => l.rows.filter((one) => one >= 0)))) add(r, 0, 0, row.by);
    }
  }
  return { omitted, shifts };
}

/** Rows of the point table by their keys; those that are gone are left out. */
export function rowsOfKeys(doc: ProjectDocument, points: PointTable, keys: readonly string[]): number[] {
  const at = new Map(doc.intakes.map((i, index) => [i.id, index]));
  const wanted = new Map<number, Set<number>>();
  for (const key of keys) {
    const record = recordOfKey(key);
    const file = record ? at.get(record.intake) : undefined;
    if (!record || file === undefined) continue;
    if (!wanted.has(file)) wanted.set(file, new Set());
    wanted.get(file)!.add(record.row);
  }
  const rows: number[] = [];
  if (wanted.size === 0) return rows;
  for (let row = 0; row < points.intake.length; row++)
    if (wanted.get(points.intake[row])?.has(points.fileRow[row])) rows.push(row);
  return rows;
}
