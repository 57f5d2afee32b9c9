import proj4 from 'proj4';
import { geographicOf, type PublishedSystem } from './system.ts';
import { geographicAt, projectedAt } from './transform.ts';

/** What the grid does to lengths and directions at a place. */
export interface GridFactors {
  /** Degrees on the system's own datum. */
  longitude: number;
  latitude: number;
  /** Radians, grid north east of true north when positive: true azimuth = grid bearing + convergence. */
  convergence: number;
  /** Length on the grid over length on the ellipsoid. */
  pointScale: number;
  /** Length on the ellipsoid over length on the ground. */
  elevationFactor: number;
  /** Length on the grid over length on the ground. */
  combined: number;
  /** Gaussian mean radius of the ellipsoid, √(M N), m. */
  radius: number;
}

/**
 * Convergence and scale by central differences of the projection itself, so that every conformal projection
 * is served alike; the step keeps truncation and rounding both below 1e-10. Elevation factor R / (R + h)
 * with R = √(M N) (a textbook's mean radius). `height` is above the ellipsoid, m. Null outside what the
 * projection can compute.
 */
export function factorsAt(system: PublishedSystem, x: number, y: number, height: number): GridFactors | null {
  if (system.kind !== 'projected') return null;
  const at = geographicAt(system, x, y);
  if (!at || Math.abs(at.latitude) > 89.99) return null;
  const { longitude, latitude } = at;
  const step = 2e-3;
  const [east, west] = [
    projectedAt(system, longitude + step, latitude),
    projectedAt(system, longitude - step, latitude),
  ];
  const [far, wide] = [
    projectedAt(system, longitude + 2 * step, latitude),
    projectedAt(system, longitude - 2 * step, latitude),
  ];
  if (!east || !west || !far || !wide) return null;
  const { a, es } = ellipsoidOf(system.definition);
  const phi = (latitude * Math.PI) / 180;
  const sine = Math.sin(phi);
  const w = 1 - es * sine * sine;
  const n = a / Math.sqrt(w);
  const m = (a * (1 - es)) / (w * Math.sqrt(w));
  const radius = Math.sqrt(m * n);
  // Fourth-order central differences along the parallel.
  const along = 12 * ((step * Math.PI) / 180);
  const dx = (8 * (east.x - west.x) - (far.x - wide.x)) / along;
  const dy = (8 * (east.y - west.y) - (far.y - wide.y)) / along;
  const pointScale = Math.sqrt(dx * dx + dy * dy) / (n * Math.cos(phi));
  const elevationFactor = radius / (radius + height);
  return {
    longitude,
    latitude,
    convergence: Math.atan2(dy, dx),
    pointScale,
    elevationFactor,
    combined: pointScale * elevationFactor,
    radius,
  };
}

/** Semi-major axis, m, and squared eccentricity of a definition's ellipsoid. */
export function ellipsoidOf(definition: string): { a: number; es: number } {
  const { Proj } = proj4 as unknown as { Proj: new (definition: string) => { a: number; es: number } };
  const { a, es } = new Proj(geographicOf(definition));
  return { a, es };
}

/**
 * From the grid to the ground about a base point, and back: coordinates differ from the base by ground
 * lengths instead of grid lengths. `factor` is length on the grid over length on the ground.
 */
export function gridToGround(
  base: { x: number; y: number },
  factor: number,
  at: { x: number; y: number },
): { x: number; y: number } {
  return { x: base.x + (at.x - base.x) / factor, y: base.y + (at.y - base.y) / factor };
}

export function groundToGrid(
  base: { x: number; y: number },
  factor: number,
  at: { x: number; y: number },
): { x: number; y: number } {
  return { x: base.x + (at.x - base.x) * factor, y: base.y + (at.y - base.y) * factor };
}
