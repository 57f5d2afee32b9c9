import type { ProjectDocument } from '#core/project';
import type { BuiltSurface } from '#core/stages';
import { MOST_OF_A_KIND, settleQuery, type Query } from '../query.ts';

/** Rows of recipes whose file is no longer in the project. */
export function queryRecipes(doc: ProjectDocument, surfaces: readonly BuiltSurface[]): Query[] {
  const out: Query[] = [];
  for (const recipe of doc.surfaces) {
    const effect = surfaces.find((s) => s.id === recipe.id)?.account.rows ?? {};
    for (const row of recipe.rows) {
      if ((row.kind !== 'file' && row.kind !== 'triangles') || effect[row.id] !== null) continue;
      if (out.length >= MOST_OF_A_KIND) return out;
      out.push(
        settleQuery(doc, {
          key: `recipe-source-gone:${recipe.id}:${row.id}`,
          kind: 'recipe-source-gone',
          stage: 'ground',
          weight: 'look',
          text: `The surface “${recipe.name}” is made from a file that is no longer in the project. Its points are missing from the surface; undo the removal of the file, or delete the row.`,
          evidence: [row.intake],
          place: null,
          rows: [],
          lines: [],
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
