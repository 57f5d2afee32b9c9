import { distance } from '#core/kernel';
import { placeOf, type Projective } from './projective.ts';

/** What tells where a picture's place comes from, as far as its precision goes; pixels and metres. */
type PlacedFrom =
  | { by: 'view' }
  | { by: 'file' }
  | { by: 'length'; from: readonly [number, number]; to: readonly [number, number] }
  | { by: 'marks'; marks: readonly { x: number; y: number; on: boolean }[]; sigma: number | null };

interface TracingPrecision {
  /** Standard deviation of a traced coordinate, m: of the pixel that is pointed at, and of the fit. */
  plan: number;
  /** Of the picture's scale, as a share of it: all that is traced shares it. */
  scale: number;
}

/**
 * How well a place traced over a picture is known: a coordinate is read to one pixel; a known length has that at either
 * end, and marks hold the scale by their fit's standard deviation over their spread. Null where nothing says the scale.
 */
export function tracingPrecision(
  { matrix, width, height }: { matrix: Readonly<Projective>; width: number; height: number },
  placed: PlacedFrom,
): TracingPrecision | null {
  if (placed.by === 'view') return null;
  const pixel = pixelSize(matrix, width / 2, height / 2);
  if (placed.by === 'file') return { plan: pixel, scale: 0 };
  if (placed.by === 'length') {
    const pixels = distance(placed.to[0] - placed.from[0], placed.to[1] - placed.from[1]);
    return { plan: pixel, scale: Math.SQRT2 / pixels };
  }
  const marks = placed.marks.filter(({ on }) => on);
  const sigma = Math.max(placed.sigma ?? 0, pixel);
  return { plan: distance(sigma, pixel), scale: sigma / spread(marks) };
}

/** m in plan that a pixel is, as the side of a square of its area. */
export function pixelSize(m: Readonly<Projective>, column: number, row: number): number {
  const at = (dc: number, dr: number) => placeOf(m, column + dc, row + dr);
  const [o, c, r] = [at(0, 0), at(1, 0), at(0, 1)];
  return Math.sqrt(Math.abs((c.x - o.x) * (r.y - o.y) - (c.y - o.y) * (r.x - o.x)));
}

/** Root of the sum of squared distances of places from their middle, m. */
function spread(places: readonly { x: number; y: number }[]): number {
  const mean = (of: 'x' | 'y'): number => places.reduce((sum, p) => sum + p[of], 0) / places.length;
  const [x, y] = [mean('x'), mean('y')];
  return Math.sqrt(places.reduce((sum, p) => sum + (p.x - x) ** 2 + (p.y - y) ** 2, 0));
}
