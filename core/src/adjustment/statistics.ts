import { atan2 } from '#core/kernel';

/** A standard ellipse: semi-axes m, and the bearing of the long one, radians. */
export interface Ellipse {
  major: number;
  minor: number;
  bearing: number;
}

/** Standard ellipse of a place from its variances and covariance, m² (any textbook on adjustment). */
export function ellipseOf(xx: number, yy: number, xy: number): Ellipse {
  const mean = (xx + yy) / 2;
  const half = Math.sqrt(((xx - yy) / 2) * ((xx - yy) / 2) + xy * xy);
  const bearing = atan2(2 * xy, yy - xx) / 2;
  return {
    major: Math.sqrt(Math.max(0, mean + half)),
    minor: Math.sqrt(Math.max(0, mean - half)),
    bearing: bearing < 0 ? bearing + 3.141592653589793 : bearing,
  };
}

/** Chi-square's percentage points 2.5 and 97.5 for 1 … 10 degrees of freedom (any table; from memory). */
const LOW = [0.000982, 0.0506, 0.2158, 0.4844, 0.8312, 1.2373, 1.6899, 2.1797, 2.7004, 3.247];
const HIGH = [5.0239, 7.3778, 9.3484, 11.1433, 12.8325, 14.4494, 16.0128, 17.5345, 19.0228, 20.4832];

/** 95 % of a normal deviate lies within. */
const Z = 1.959963984540054;

/**
 * Bounds of the variance factor at 95 %: chi-square over its degrees of freedom, from a table up to ten, then by
 * Wilson and Hilferty's cube (1931), good to half a per cent. NaN without freedom.
 */
export function chiSquareBounds(freedom: number): [number, number] {
  if (freedom < 1) return [NaN, NaN];
  if (freedom <= LOW.length) return [LOW[freedom - 1] / freedom, HIGH[freedom - 1] / freedom];
  const part = 2 / (9 * freedom);
  const at = (z: number): number => {
    const root = 1 - part + z * Math.sqrt(part);
    return root > 0 ? root * root * root : 0;
  };
  return [at(-Z), at(Z)];
}
