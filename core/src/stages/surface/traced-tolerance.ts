import { pixelSize } from '#core/pictures';
import type { ProjectDocument, SurfaceRecipe } from '#core/project';

/** Pixels by which a hand that traces a line twice differs at the most. */
const PIXELS = 3;

/** m; a contour that is traced again lies within this of itself. 0 where nothing is traced over a picture that is there. */
export function tracedTolerance(doc: ProjectDocument, { rows }: SurfaceRecipe): number {
  const over = new Set(rows.flatMap((r) => (r.kind === 'traced' && r.on && r.picture ? [r.picture] : [])));
  const pixels = doc.pictures.filter((p) => over.has(p.id)).map((p) => pixelSize(p.matrix, p.width / 2, p.height / 2));
  return PIXELS * Math.max(0, ...pixels);
}
