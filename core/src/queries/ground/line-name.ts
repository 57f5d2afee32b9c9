import type { ProjectDocument, SurfaceRow } from '#core/project';
import { drawnKey, otherKey } from '#core/stages';

/** A breakline as it is spoken of: those that are no lines of the survey have keys that nobody reads. */
export function lineName(doc: ProjectDocument, key: string): string {
  const other = doc.surfaces.find((s) => otherKey(s.id) === key);
  if (other) return `a breakline of “${other.name}”`;
  const drawn = doc.surfaces.flatMap((s) => s.rows).find((r) => drawnKey(r.id) === key);
  return drawn ? `a ${drawnName(drawn)}` : key;
}

export const drawnName = (row: SurfaceRow): string => (row.kind === 'traced' ? `traced ${row.as}` : 'drawn breakline');
