import { groundFinder, NO_POINT, type Surface } from '#core/terrain';
import type { DifferencePieces } from './volume.ts';

/** What of a surface a volume is made from. */
export interface VolumeSources {
  /** Triangles that a piece of it lies on. */
  triangles: number;
  /** Rows of the points at their corners, each once, in order. */
  rows: Uint32Array;
  /** Corners that are nobody's points: of arcs, boundaries, a proposed surface. */
  without: number;
}

/** The triangles of a surface that a volume goes over, and the points at their corners. */
export function madeFrom(pieces: DifferencePieces, surface: Surface): VolumeSources {
  const finder = groundFinder(surface);
  const met = new Uint8Array(surface.triangles.length / 3);
  for (let i = 0; i < pieces.length; i += 9) {
    // A piece lies in one triangle, so that its middle tells which.
    const at = finder.at((pieces[i] + pieces[i + 3] + pieces[i + 6]) / 3, (pieces[i + 1] + pieces[i + 4] + pieces[i + 7]) / 3); // prettier-ignore
    if (at) met[at.triangle] = 1;
  }
  const corner = new Uint8Array(surface.x.length);
  let triangles = 0;
  met.forEach((is, t) => {
    if (!is) return;
    triangles++;
    for (let e = 3 * t; e < 3 * t + 3; e++) corner[surface.triangles[e]] = 1;
  });
  const rows = new Set<number>();
  let without = 0;
  corner.forEach((is, v) => {
    if (!is) return;
    if (surface.point[v] === NO_POINT) without++;
    else rows.add(surface.point[v]);
  });
  return { triangles, rows: Uint32Array.from(rows).sort(), without };
}
