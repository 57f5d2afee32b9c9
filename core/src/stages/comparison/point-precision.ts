import type { VertexSd } from '#core/quantities';
import { NO_POINT, type Surface } from '#core/terrain';
import type { PointTable } from '../points/points.ts';

export type PointPrecision = Pick<PointTable, 'sdPlan' | 'sdHeight'>;

/**
 * Standard deviations of a surface's vertices, m: their points' own where they have them, else those that somebody typed.
 * @param others of vertices that are nobody's point; those typed unless said
 */
export function precisionOf(
  { point }: Surface,
  typed: { plan: number; height: number },
  own: PointPrecision | null,
  others?: number,
): VertexSd {
  if (!own) return typed;
  const column = (of: Float32Array, else_: number): Float64Array =>
    Float64Array.from(point, (row) => {
      if (row === NO_POINT) return others ?? else_;
      return Number.isNaN(of[row]) ? else_ : of[row];
    });
  return { plan: column(own.sdPlan, typed.plan), height: column(own.sdHeight, typed.height) };
}
