import { sideCount } from '#core/linework';
import type { Selection } from '../project/store.ts';
import type { Tables } from '../project/tables.ts';
import type { SheetLook } from './look.ts';
import type { SheetScene } from './scene.ts';

/** How near the hand must come, CSS pixels. */
const REACH = 9;

/** What lies under a pixel: a point before a line, the nearest of each. */
export function pickAt(scene: SheetScene, tables: Tables, look: SheetLook, px: number, py: number): Selection {
  const { points, linework } = tables;
  if (scene.isSpatial) {
    let best = REACH * REACH;
    let row = -1;
    for (let i = 0; i < points.x.length; i++) {
      if (Number.isNaN(points.z[i])) continue;
      const at = scene.toScreen({ x: points.x[i], y: points.y[i], z: points.z[i] });
      const d = (at.x - px) ** 2 + (at.y - py) ** 2;
      if (!at.behind && d < best) [best, row] = [d, i];
    }
    return row >= 0 ? { kind: 'point', row } : null;
  }
  const { x, y } = scene.toPlan(px, py);
  const reach = REACH * scene.scale;
  const near = tables.pointIndex?.neighbors(x, y, 1, reach)[0];
  if (near !== undefined) return { kind: 'point', row: near };
  if (!look.lines) return null;
  let best = reach;
  let key: string | null = null;
  for (const line of linework.lines) {
    const n = line.x.length;
    for (let i = 0; i < sideCount(line); i++) {
      const j = (i + 1) % n;
      const d = distanceToSide(x, y, line.x[i], line.y[i], line.x[j], line.y[j]);
      if (d < best) [best, key] = [d, line.key];
    }
  }
  return key ? { kind: 'line', key } : null;
}

function distanceToSide(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}
