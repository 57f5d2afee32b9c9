import { atan2, distance, sinCos } from '#core/kernel';
import type { Piece, Place, Pose } from './piece.ts';

/** A transition whose stated ends are farther apart or nearer than its radii and length make them, by more than this share of its length, is none. */
const MISFIT = 1e-3;
const MOST_STEPS = 20_000;

/** Offsets and weights of Gauss's rule for three places on −1 … 1. */
const GAUSS: readonly (readonly [at: number, weight: number])[] = [[-Math.sqrt(0.6), 5 / 18], [0, 8 / 18], [Math.sqrt(0.6), 5 / 18]]; // prettier-ignore

/**
 * A clothoid: its curvature grows evenly with the way along it, k(s) = k₀ + (k₁ − k₀) s / L, so that its bearing is the
 * integral of that, and its place the integral of the bearing's sine and cosine (any textbook of route surveying). It is
 * turned so that it ends where it is said to; null where it cannot.
 * @param k0 curvature at its start, 1 / radius, > 0 to the left
 */
export function clothoid(
  start: Place,
  end: Place,
  length: number,
  k0: number,
  k1: number,
  sagitta: number,
): Piece | null {
  const chord = distance(end[0] - start[0], end[1] - start[1]);
  if (!(length > 0) || !(chord > 0)) return null;
  const most = Math.max(Math.abs(k0), Math.abs(k1));
  // Half a step between two places keeps chords within the sagitta: c² k / 8.
  const steps = Math.ceil(length / Math.sqrt((8 * sagitta) / Math.max(most, 1e-12))) || 1;
  if (!(steps <= MOST_STEPS)) return null;
  const bearing = (s: number): number => k0 * s + ((k1 - k0) * s * s) / (2 * length);
  const between = (from: number, to: number): [number, number] => {
    let [x, y] = [0, 0];
    for (const [at, weight] of GAUSS) {
      const [sin, cos] = sinCos(bearing((from + to) / 2 + (at * (to - from)) / 2));
      x += weight * (to - from) * cos;
      y += weight * (to - from) * sin;
    }
    return [x, y];
  };
  const [xs, ys] = [[0], [0]];
  for (let i = 0; i < steps; i++) {
    const [dx, dy] = between((i * length) / steps, ((i + 1) * length) / steps);
    xs.push(xs[i] + dx);
    ys.push(ys[i] + dy);
  }
  const reach = distance(xs[steps], ys[steps]);
  if (Math.abs(reach - chord) > MISFIT * length) return null;
  const turn = atan2(end[1] - start[1], end[0] - start[0]) - atan2(ys[steps], xs[steps]);
  const [sinTurn, cosTurn] = sinCos(turn);
  const scale = chord / reach;
  const placed = (x: number, y: number): [number, number] => [start[0] + scale * (x * cosTurn - y * sinTurn), start[1] + scale * (x * sinTurn + y * cosTurn)]; // prettier-ignore
  return {
    start,
    end,
    length,
    inner: Array.from({ length: steps - 1 }, (_, i) => ({ at: placed(xs[i + 1], ys[i + 1]), share: (i + 1) / steps })),
    pose: (s): Pose => {
      const i = Math.min(steps - 1, Math.max(0, Math.floor((s * steps) / length)));
      const [dx, dy] = between((i * length) / steps, s);
      const [sin, cos] = sinCos(turn + bearing(s));
      return { at: placed(xs[i] + dx, ys[i] + dy), ahead: [cos, sin] };
    },
  };
}
