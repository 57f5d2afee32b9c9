import { buildSurface, type Surface } from '#core/terrain';

// Bodies of the textbook.

export const surfaceOf = (points: number[][], segments: number[] = []): Surface =>
  buildSurface({
    x: Float64Array.from(points, (p) => p[0]),
    y: Float64Array.from(points, (p) => p[1]),
    z: Float64Array.from(points, (p) => p[2]),
    segments: Uint32Array.from(segments),
    longestSide: null,
    coincidence: 0,
  }).surface;

/** Corners of a square about the origin, counter-clockwise. */
export const square = (half: number, z: number): number[][] => [
  [-half, -half, z],
  [half, -half, z],
  [half, half, z],
  [-half, half, z],
];

/** Its sides as segments, its first corner being this one. */
export const edges = (from: number): number[] => [0, 1, 1, 2, 2, 3, 3, 0].map((k) => from + k);
