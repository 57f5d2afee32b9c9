import type { ProjectDocument } from '#core/project';
import type { BuiltSurface } from '#core/stages';
import { MOST_OF_A_KIND, settleQuery, type Query } from '../query.ts';

/** Rows of recipes that have lost what they speak of: a file, or a place where lines met. */
export function queryRecipes(doc: ProjectDocument, surfaces: readonly BuiltSurface[]): Query[] {
  const out: Query[] = [];
  for (const recipe of doc.surfaces) {
    const effect = surfaces.find((s) => s.id === recipe.id)?.account.rows ?? {};
    for (const row of recipe.rows) {
      if (effect[row.id] !== null || !(row.kind === 'file' || row.kind === 'triangles' || row.kind === 'meeting'))
        continue;
      if (out.length >= MOST_OF_A_KIND) return out;
      out.push(
        settleQuery(doc, {
          key: `recipe-source-gone:${recipe.id}:${row.id}`,
          kind: 'recipe-source-gone',
          stage: 'ground',
          weight: 'look',
          text:
            row.kind === 'meeting'
              ? `An elevation was chosen for “${recipe.name}” where ${row.lines.join(' and ')} meet. They no longer meet there at different elevations, so it has no effect.`
              : `The surface “${recipe.name}” is made from a file that is no longer in the project. Its points are missing from the surface; undo the removal of the file, or delete the row.`,
          evidence: row.kind === 'meeting' ? [row.lines, row.x, row.y] : [row.intake],
          place: row.kind === 'meeting' ? { x: row.x, y: row.y } : null,
          rows: [],
          lines: row.kind === 'meeting' ? row.lines : [],
          remedies: [
            {
              label: 'Delete the row',
              change: { op: 'surface.rowRemove', surface: recipe.id, id: row.id },
            },
          ],
        }),
      );
    }
  }
  return out;
}
