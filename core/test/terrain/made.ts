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
) => {
  return inOrderGiven(
    buildSurface({
      x: Float64Array.from(points, (p) => p[0]),
      y: Float64Array.from(points, (p) => p[1]),
      z: Float64Array.from(points, (p) => p[2]),
      segments: Uint32Array.from(segments),
      longestSide,
      coincidence,
    }),
  );
};

/** What was built, its vertices in the order of the points given, then those that meetings made: tests speak of them so. */
export function inOrderGiven({
  surface: s,
  account,
}: ReturnType<typeof buildSurface>): ReturnType<typeof buildSurface> {
  // Vertices that meetings made follow each other as their meetings do.
  const met = new Map(account.meetings.map((m, i) => [m.vertex, i]));
  const order = Array.from(s.point, (_, v) => v).sort((a, b) => s.point[a] - s.point[b] || (met.get(a) ?? 0) - (met.get(b) ?? 0)); // prettier-ignore
  const at = new Uint32Array(order.length);
  order.forEach((v, i) => (at[v] = i));
  const [x, y, z] = [s.x, s.y, s.z].map((column) => Float64Array.from(order, (v) => column[v]));
  const point = Uint32Array.from(order, (v) => s.point[v]);
  return {
    surface: { ...s, x, y, z, point, triangles: s.triangles.map((v) => at[v]) },
    account: { ...account, meetings: account.meetings.map((m) => ({ ...m, vertex: at[m.vertex] })) },
  };
}
