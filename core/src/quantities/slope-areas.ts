import { CompensatedSum } from '#core/kernel';
import { planeOf, triangleWalk, type Surface } from '#core/terrain';
import { cornersAt, eachTriangle, partWhere } from './piece-parts.ts';
import type { DifferencePieces } from './volume.ts';

/** Areas along a surface where it is cut and where it is filled, m². */
export interface SlopeAreas {
  cut: number;
  fill: number;
}

/** The areas of cut and of fill as they lie on a surface that is compared: in plan × √(1 + the square of its gradient). */
export function slopeAreas(pieces: DifferencePieces, surface: Surface): SlopeAreas {
  const sums = { cut: new CompensatedSum(), fill: new CompensatedSum() };
  const find = triangleWalk(surface);
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = cornersAt(pieces, i);
    const [mx, my] = [0, 1].map((k) => (corners[0][k] + corners[1][k] + corners[2][k]) / 3);
    const t = find(mx, my);
    if (t < 0) continue;
    const steep = steepnessOf(surface, t);
    const add = (to: CompensatedSum, sign: number): void =>
      eachTriangle(
        partWhere(corners, (c) => sign * c[2]),
        (plan) => to.add(plan * steep),
      );
    add(sums.fill, 1);
    // What is zero all over counts as fill alone, as in plan.
    if (corners.some((c) => c[2] < 0)) add(sums.cut, -1);
  }
  return { cut: sums.cut.value(), fill: sums.fill.value() };
}

/** m² along a triangle to one in plan. */
function steepnessOf(s: Surface, t: number): number {
  const { dx, dy } = planeOf(s, t);
  return Math.sqrt(1 + dx * dx + dy * dy);
}
