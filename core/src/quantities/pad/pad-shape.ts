import { ringArea, ringCrossesItself, sinCos } from '#core/kernel';

/** A level or evenly sloping area and its batters. */
export interface PadShape {
  /** x, y … of its corners, either way round, m. */
  ring: Float64Array;
  /** Elevation at its centre, or at the first corner as given, m. */
  level: number;
  levelAt: 'centre' | 'first';
  /** Rise over run, and the bearing towards which the pad rises, radians clockwise from north. */
  gradient: number;
  direction: number;
  /** Horizontal to 1 vertical. */
  cutSlope: number;
  fillSlope: number;
  /** Batters beside a corner that points outwards: their planes meet in an arris, or a cone lies between them. */
  corners: 'mitred' | 'rounded';
  /** Chords of the cone are off it by at most this where it ends, m. */
  sagitta: number;
  /** The slope is that square to the side in plan, or that of the batter where it is steepest. */
  batter: 'square' | 'steepest';
  /** Level steps in the batters; none where it is missing. */
  benches?: Benches | null;
}

/** A level step of a batter, so wide, every so many metres below or above the rim, m. */
export interface Benches {
  every: number;
  width: number;
}

/** A pad ready to be computed with: its corners counter-clockwise about an origin, and their elevations. */
export interface PadCorners {
  x: number[];
  y: number[];
  z: number[];
  ox: number;
  oy: number;
}

export type CheckedPad = { ok: true; corners: PadCorners } | { ok: false; reason: string };

/** Corners nearer to each other than this are one, m. */
const TOGETHER = 1e-6;
/** Slopes beyond these are walls, or no batters at all. */
export const LEAST_SLOPE = 0.01;
export const MOST_SLOPE = 1000;
/** m from bench to bench. */
export const LEAST_STEP = 0.1;

/** A pad's corners with their elevations, or why it is none. */
export function padCorners(shape: PadShape): CheckedPad {
  const no = (reason: string): CheckedPad => ({ ok: false, reason });
  const { ring, level, levelAt, gradient, direction } = shape;
  if (ring.length < 6 || ringCrossesItself(ring))
    return no('The boundary of the pad crosses itself, or has no three corners.');
  const missing = slopesMissing(shape);
  if (missing) return no(missing);
  const [ox, oy] = [ring[0], ring[1]];
  const given = Array.from({ length: ring.length / 2 }, (_, i) => [ring[2 * i] - ox, ring[2 * i + 1] - oy]);
  const apart = given.filter(([x, y], i) => {
    const [px, py] = given[(i + given.length - 1) % given.length];
    return Math.abs(x - px) > TOGETHER || Math.abs(y - py) > TOGETHER;
  });
  const area = apart.length < 3 ? 0 : ringArea(apart.flat());
  if (Math.abs(area) < TOGETHER) return no('The boundary of the pad has no area.');
  const places = area > 0 ? apart : [apart[0], ...apart.slice(1).reverse()];
  const [cx, cy] = levelAt === 'first' ? [0, 0] : middleOfArea(places);
  const [east, north] = sinCos(direction);
  const z = places.map(([x, y]) => level + gradient * ((x - cx) * east + (y - cy) * north));
  return { ok: true, corners: { x: places.map((p) => p[0]), y: places.map((p) => p[1]), z, ox, oy } };
}

/** Why batters cannot be made, if they cannot. */
export function slopesMissing({
  cutSlope,
  fillSlope,
  sagitta,
  benches,
}: Pick<PadShape, 'cutSlope' | 'fillSlope' | 'sagitta' | 'benches'>): string | null {
  // prettier-ignore
  for (const [name, slope] of [['cut', cutSlope], ['fill', fillSlope]] as const) // prettier-ignore
    if (!(slope >= LEAST_SLOPE && slope <= MOST_SLOPE)) return `A ${name} slope is between ${LEAST_SLOPE} and ${MOST_SLOPE} horizontal to 1 vertical, not ${slope}.`; // prettier-ignore
  if (benches && !(benches.every >= LEAST_STEP && benches.width >= 0)) return `Benches are at least ${LEAST_STEP} m above each other, and have a width.`; // prettier-ignore
  return sagitta > 0 ? null : 'The chords of rounded corners need a sagitta greater than 0.';
}

/** The middle of an area, not of its corners: x, y. */
export function middleOfArea(places: readonly number[][]): [number, number] {
  let [twice, sx, sy] = [0, 0, 0];
  places.forEach(([ax, ay], i) => {
    const [bx, by] = places[(i + 1) % places.length];
    const part = ax * by - bx * ay;
    twice += part;
    sx += (ax + bx) * part;
    sy += (ay + by) * part;
  });
  return [sx / (3 * twice), sy / (3 * twice)];
}
