import { surfacesCompared } from './document/comparison-schema.ts';
import { surfacesIn, type SurfaceRecipe, type SurfaceRow } from './document/surface-schema.ts';
import type { ProjectDocument } from './document.ts';
import { editsOf } from './edits.ts';
import { recordOfKey } from './record-key.ts';

/** What uses a file, by name and number. */
export interface UsesOfFile {
  /** Surfaces that are made from it, or from one that is. */
  surfaces: SurfaceRecipe[];
  /** Names of comparisons of those. */
  comparisons: string[];
  /** Records of it that somebody edited. */
  edits: number;
  /** Lines by hand that go through its points, or stand in the place of its lines. */
  lines: number;
}

/** What uses a file, before another takes its place. */
export function usesOfFile(doc: ProjectDocument, id: string): UsesOfFile {
  const file = doc.intakes.find((i) => i.id === id);
  const ids = new Set(doc.surfaces.filter((s) => s.rows.some((r) => r.on && brings(r, id, file?.purpose === 'survey'))).map((s) => s.id)); // prettier-ignore
  // What one of those is laid into, or brought into, uses it too.
  for (let grew = true; grew;) {
    const more = doc.surfaces.filter((s) => !ids.has(s.id) && surfacesIn(s).some((of) => ids.has(of)));
    grew = more.length > 0;
    for (const s of more) ids.add(s.id);
  }
  const isOf = (point: string | null): boolean => point !== null && recordOfKey(point)?.intake === id;
  return {
    surfaces: doc.surfaces.filter((s) => ids.has(s.id)),
    comparisons: doc.comparisons.filter((c) => surfacesCompared(c).some((s) => ids.has(s))).map((c) => c.name),
    edits: Object.keys(editsOf(doc, id)).length,
    lines: Object.values(doc.handLines).filter((l) => l.file === id || l.vertices.some((v) => isOf(v.point))).length,
  };
}

/** Whether a row of a recipe brings a file in. */
function brings(row: SurfaceRow, file: string, isSurvey: boolean): boolean {
  switch (row.kind) {
    case 'file':
    case 'triangles':
      return row.intake === file;
    case 'survey':
      return isSurvey;
    case 'points':
      return row.rule.files?.includes(file) ?? true;
    case 'line-boundary':
      return row.files?.includes(file) ?? true;
    default:
      return false;
  }
}
