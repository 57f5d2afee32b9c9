import { contourSettings } from '#core/stages';
import type { ProjectDocument, SurfaceRow } from '#core/project';
import { lastDecimalOf, NO_POINT, ofTriangles, type Surface } from '#core/terrain';
import type { Tables } from '../../project-state/tables.ts';
import type { Compared, LiveChange, MadeFrom } from '../../work/live-edit.ts';
import { contourLayer, courseLayer, markLayer, tintLayer } from '../layers.ts';
import type { Place } from '../place.ts';
import { ORDER, type SheetScene } from '../scene.ts';
import { surfaceLook } from '../surfaces-shown.tsx';

/** How contours of a surface are drawn. */
export const settingsOf = (doc: ProjectDocument, surface: string) => contourSettings(doc, doc.surfaces.find((r) => r.id === surface)!); // prettier-ignore

/** Rows that cut or edit triangles once they are made, or choose points by them. */
const AFTER_TRIANGLES: ReadonlySet<SurfaceRow['kind']> = new Set<SurfaceRow['kind']>(['triangles', 'boundary', 'line-boundary', 'void', 'island', 'found-boundary', 'thin', 'fill-level', 'swap', 'delete-triangles', 'lay-in', 'pad', 'strip', 'offset', 'raise', 'tilt', 'even-out']); // prettier-ignore

/** How a surface is made from its vertices alone; null where its recipe does more than that. */
export function madeFrom(doc: ProjectDocument, surface: string, { x, y, point }: Surface): MadeFrom | null {
  const recipe = doc.surfaces.find((r) => r.id === surface);
  if (!recipe || recipe.rows.some((r) => r.on && AFTER_TRIANGLES.has(r.kind))) return null;
  const longest = recipe.longestSide ?? doc.settings.longestSide;
  const placed = (column: Float64Array): Float64Array => column.filter((_, v) => point[v] !== NO_POINT);
  return {
    longestSide: longest === 'none' ? null : longest,
    coincidence: recipe.coincidence ?? doc.settings.coincidence,
    rounding: lastDecimalOf(placed(x), placed(y)),
  };
}

/** Comparisons that a surface has part in, with what it is compared with. */
export function comparedWith(doc: ProjectDocument, tables: Tables, surface: string): Compared[] {
  return doc.comparisons.flatMap((c): Compared[] => {
    const { name, within } = c;
    const other = 'surface' in c.against ? c.against.surface : null;
    if (c.surface === surface && !other) return 'level' in c.against ? [{ name, ground: true, against: { level: c.against.level }, within }] : []; // prettier-ignore
    const of = c.surface === surface ? other : other === surface ? c.surface : null;
    const against = of ? tables.surfaces.get(of) : undefined;
    return against ? [{ name, ground: c.surface === surface, against: { surface: against }, within }] : [];
  });
}

/** What an edit under the hand changes so far, and the point that the hand has. */
export interface Edited {
  surface: string;
  change: LiveChange | null;
  at: Place | null;
}

/** Puts what changed over the drawing; null takes it away. */
export function paintEdited(s: SheetScene, doc: ProjectDocument, edited: Edited | null): void {
  const made = edited?.change?.made;
  const n = made ? made.length / 3 : 0;
  const part = made && n ? ofTriangles(made) : null;
  s.setLayer('live-tints', part && s.tintRange ? tintLayer(part, s.tintRange.lowest, s.tintRange.highest, s.origin) : null, ORDER.contours + 0.1); // prettier-ignore
  const sides = made ? Array.from({ length: n / 3 }, (_, t) => [...made.subarray(9 * t, 9 * t + 9), ...made.subarray(9 * t, 9 * t + 3)]) : []; // prettier-ignore
  s.setLayer('live-triangles', courseLayer(sides, s.origin, 'slate', 1), ORDER.contours + 0.2);
  const look = edited ? surfaceLook(doc, edited.surface) : null;
  s.setLayer('live-contours', look && edited?.change ? contourLayer(edited.change.contours, s.origin, look.ink, look.style) : null, ORDER.contours + 0.3); // prettier-ignore
  const at = edited?.at;
  s.setLayer('live-point', at ? markLayer([at.x, at.y], s.origin, 'pine', 'square', at.z - s.origin.z) : null, ORDER.marks); // prettier-ignore
}
