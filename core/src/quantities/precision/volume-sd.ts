import type { Influence } from './influence.ts';

/** Standard deviations of a volume, m³. */
export interface VolumeSd {
  cut: number;
  fill: number;
  /** Of cut − fill. */
  net: number;
}

/** Standard deviations of a surface's vertices, m: of each coordinate in plan, and of elevation; one for all, or one a vertex. */
export interface VertexSd {
  plan: ArrayLike<number> | number;
  height: ArrayLike<number> | number;
}

/** By the law of propagation of variances, points taken as independent of each other; what all of them share is not in it. */
export function volumeSd(parts: readonly { influence: Influence; sd: VertexSd }[]): VolumeSd {
  const sum = { cut: 0, fill: 0, net: 0 };
  for (const { influence: f, sd } of parts) {
    for (let v = 0; v < f.cutByZ.length; v++) {
      const [plan, height] = [valueAt(sd.plan, v), valueAt(sd.height, v)];
      const add = (to: keyof VolumeSd, byX: number, byY: number, byZ: number): void => {
        sum[to] += plan * plan * (byX * byX + byY * byY) + height * height * byZ * byZ;
      };
      add('cut', f.cutByX[v], f.cutByY[v], f.cutByZ[v]);
      add('fill', f.fillByX[v], f.fillByY[v], f.fillByZ[v]);
      add('net', f.cutByX[v] - f.fillByX[v], f.cutByY[v] - f.fillByY[v], f.cutByZ[v] - f.fillByZ[v]);
    }
  }
  return { cut: Math.sqrt(sum.cut), fill: Math.sqrt(sum.fill), net: Math.sqrt(sum.net) };
}

/**
 * With what all points share: a scale whose standard deviation is so large a share of it turns volumes, heights being
 * typed, by twice that share.
 */
export const withScale = (sd: VolumeSd, { cut, fill }: { cut: number; fill: number }, scale: number): VolumeSd =>
  together(sd, { cut: 2 * scale * cut, fill: 2 * scale * fill, net: 2 * scale * Math.abs(cut - fill) });

/** Of parts that have nothing to do with each other: the root of the sum of their squares. */
export const together = (a: VolumeSd, b: VolumeSd | null): VolumeSd => {
  if (!b) return a;
  const of = (k: keyof VolumeSd): number => Math.sqrt(a[k] * a[k] + b[k] * b[k]);
  return { cut: of('cut'), fill: of('fill'), net: of('net') };
};

const valueAt = (of: ArrayLike<number> | number, v: number): number => (typeof of === 'number' ? of : of[v]);

/** Of a normal distribution, 95 % lie within so many standard deviations. */
export const WITHIN_95 = 1.96;
