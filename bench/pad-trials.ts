import { layPad, NearGround, type PadShape } from '#core/quantities';
import { buildSurface } from '#core/terrain';
import { cloud } from './points.ts';

/** A pad tried at levels one after the other, as a hand drags it, in ground of so many points: ms a step and of triangulating the ground, medians. */
export function padTrials(n: number): { step: number; ground: number; triangles: number } {
  const { x, y } = cloud(n, 0);
  const z = Float64Array.from(x, (v, i) => 50 + 3 * Math.sin(v / 120) + 2 * Math.cos(y[i] / 90));
  const build = () => buildSurface({ x, y, z, segments: new Uint32Array(), coincidence: 0, longestSide: null }).surface;
  const timed = <T>(work: () => T): { ms: number; made: T } => {
    const start = performance.now();
    const made = work();
    return { ms: performance.now() - start, made };
  };
  const built = [0, 1, 2].map(() => timed(build));
  const surface = built[0].made;
  const site = new NearGround(surface);
  // 160 m by 120 m in the middle of a square kilometre: some thousand triangles under pad and batters.
  const shape: PadShape = { ring: Float64Array.of(420, 440, 580, 440, 580, 560, 420, 560), level: 50, gradient: 0, direction: 0, cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.05, batter: 'square', levelAt: 'centre' }; // prettier-ignore
  const steps = Array.from({ length: 41 }, (_, k) =>
    timed(() => {
      const made = layPad(site, { ...shape, level: 49 + k / 20 });
      if (!made.ok) throw new Error(made.reason);
      return made.pad.pieces();
    }),
  );
  const median = (of: readonly { ms: number }[]): number => of.map((t) => t.ms).sort((a, b) => a - b)[of.length >> 1];
  return { step: median(steps), ground: median(built), triangles: surface.triangles.length / 3 };
}
