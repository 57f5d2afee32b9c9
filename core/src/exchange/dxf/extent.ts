import type { Drawing } from './drawing.ts';

/** Smallest and largest place of a drawing, x, y, z, m; a square metre at the origin where it holds nothing. */
export function extentOf(d: Drawing): { least: [number, number, number]; most: [number, number, number] } {
  const least: [number, number, number] = [Infinity, Infinity, Infinity];
  const most: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  const add = (...place: number[]): void => {
    for (let k = 0; k < 3; k++) {
      const v = place[k];
      if (!Number.isFinite(v)) continue;
      least[k] = Math.min(least[k], v);
      most[k] = Math.max(most[k], v);
    }
  };
  for (const p of [...d.points, ...(d.inserts ?? [])]) add(p.x, p.y, Number.isNaN(p.z) ? 0 : p.z);
  for (const t of d.texts ?? []) add(t.x, t.y, 0);
  for (const l of d.lines) {
    for (let i = 0; i + 2 < l.spatial.length; i += 3) add(l.spatial[i], l.spatial[i + 1], l.spatial[i + 2]);
    for (let i = 0; i + 2 < l.plan.length; i += 3) add(l.plan[i], l.plan[i + 1], 0);
  }
  for (const c of d.contours) for (let i = 0; i + 1 < c.line.length; i += 2) add(c.line[i], c.line[i + 1], c.elevation);
  if (d.surface) for (const v of d.surface.triangles) add(d.surface.x[v], d.surface.y[v], d.surface.z[v]);
  return least.every(Number.isFinite) ? { least, most } : { least: [0, 0, 0], most: [1, 1, 0] };
}
