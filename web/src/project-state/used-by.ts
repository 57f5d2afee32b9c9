import type { Comparison } from '#core/project';
import { netByRaising } from '#core/quantities';
import type { LineColumns } from '#core/stages';
import type { Line } from '#core/linework';
import { NO_POINT, type Surface } from '#core/terrain';
import type { Tables } from './tables.ts';

// What depends on a point is asked at every step through a table: gone through once for a whole result, then looked up.

const lines = new WeakMap<LineColumns, Map<number, Line[]>>();

/** Lines that go through a point, by its row. */
export function linesThrough(linework: LineColumns, row: number): readonly Line[] {
  let found = lines.get(linework);
  if (!found) {
    found = new Map();
    for (const line of linework.lines)
      for (const r of new Set(line.rows)) {
        const there = found.get(r);
        if (there) there.push(line);
        else found.set(r, [line]);
      }
    lines.set(linework, found);
  }
  return found.get(row) ?? [];
}

const corners = new WeakMap<Surface, Uint32Array>();

/** How many triangles of a surface have a point as a corner, by its row. */
export function trianglesAt(surface: Surface, row: number): number {
  let found = corners.get(surface);
  if (!found) {
    const { point, triangles } = surface;
    found = new Uint32Array(point.reduce((most, r) => (r !== NO_POINT && r > most ? r : most), 0) + 1);
    for (const v of triangles) if (point[v] < found.length) found[point[v]]++;
    corners.set(surface, found);
  }
  return found[row] ?? 0;
}

/** Comparisons that a point has a part in, with what cut − fill changes by where it is a metre higher, m³; the most first. */
export function volumesThrough(
  { surfaces, pieces }: Pick<Tables, 'surfaces' | 'pieces'>,
  comparisons: readonly Comparison[],
  row: number,
): { comparison: Comparison; byMetre: number }[] {
  const found = comparisons.flatMap((comparison) => {
    const there = pieces.get(comparison.id);
    if (!there?.length) return [];
    const by = (id: string, sign: 1 | -1): number => {
      const surface = surfaces.get(id);
      const vertex = surface ? surface.point.indexOf(row) : -1;
      return vertex < 0 ? 0 : netByRaising(there, surface!, vertex, sign);
    };
    const { surface, against } = comparison;
    const byMetre = by(surface, -1) + ('surface' in against ? by(against.surface, 1) : 0);
    return byMetre === 0 ? [] : [{ comparison, byMetre }];
  });
  return found.sort((a, b) => Math.abs(b.byMetre) - Math.abs(a.byMetre));
}
