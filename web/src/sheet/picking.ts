import type { Line } from '#core/linework';
import type { Selection } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';
import type { SheetLook } from './look.ts';
import type { SheetScene } from './scene.ts';
import { lineNear } from '../project-state/snap.ts';

/** How near the hand must come, CSS pixels. */
const REACH = 9;

/** What lies under a pixel: a point before a line, the nearest of each. */
export function pickAt(
  scene: SheetScene,
  tables: Tables,
  look: SheetLook,
  px: number,
  py: number,
  /** Lines that the hand does not take: on layers that are locked or not shown. */
  untouched: (line: Line) => boolean = () => false,
): Selection {
  const { points } = tables;
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
  const line = lineNear(tables, x, y, reach, '', untouched);
  return line ? { kind: 'line', key: line.key } : null;
}
