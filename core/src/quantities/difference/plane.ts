import type { Surface } from '#core/terrain';

/** The plane of one triangle after the other: elevation at an origin, and gradient east and north. */
export class Plane {
  z = 0;
  gx = 0;
  gy = 0;

  constructor(private readonly s: Surface) {}

  /** Whether triangle t has a plane: a sliver left by a boundary may have no area that 64 bits can hold, and carries no volume. */
  lay(t: number, ox: number, oy: number): boolean {
    const { x, y, z, triangles } = this.s;
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    const ux = x[b] - x[a];
    const uy = y[b] - y[a];
    const vx = x[c] - x[a];
    const vy = y[c] - y[a];
    const det = ux * vy - uy * vx;
    if (!(det > 0)) return false;
    this.gx = ((z[b] - z[a]) * vy - uy * (z[c] - z[a])) / det;
    this.gy = (ux * (z[c] - z[a]) - (z[b] - z[a]) * vx) / det;
    this.z = z[a] + this.gx * (ox - x[a]) + this.gy * (oy - y[a]);
    return true;
  }

  steepness(): number {
    return Math.sqrt(1 + this.gx * this.gx + this.gy * this.gy);
  }
}
