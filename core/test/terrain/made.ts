import { buildSurface, type Surface } from '#core/terrain';

/** A surface of points x, y, z, m, with breakline segments by their indices. */
export const surfaceOf = (
  points: [number, number, number][],
  segments: number[] = [],
  longestSide: number | null = null,
  coincidence = 0,
): Surface => build(points, segments, longestSide, coincidence).surface;

export const build = (
  points: [number, number, number][],
  segments: number[] = [],
  longestSide: number | null = null,
  coincidence = 0,
) =>
  buildSurface({
    x: Float64Array.from(points, (p) => p[0]),
    y: Float64Array.from(points, (p) => p[1]),
    z: Float64Array.from(points, (p) => p[2]),
    segments: Uint32Array.from(segments),
    longestSide,
    coincidence,
  });
