import { buildSurface, contours, delaunay, elevationsAt, leaveOneOut, liveSurface, measureSurface, overlay, planSurface, type Surface } from '#core/terrain'; // prettier-ignore
import { cloud } from './points.ts';

const timed = <T>(work: () => T): { ms: number; result: T } => {
  const start = performance.now();
  const result = work();
  return { ms: performance.now() - start, result };
};
const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** A surface of random points over rolling ground. */
function rolling(n: number): { x: Float64Array; y: Float64Array; z: Float64Array } {
  const { x, y } = cloud(n, 0);
  const wide = Math.max(...[x[0], x[1], x[2]].map(Math.abs)) || 1;
  const z = Float64Array.from(x, (v, i) => 100 + 20 * Math.sin((7 * v) / wide) + 15 * Math.cos((5 * y[i]) / wide));
  return { x, y, z };
}

/** Milliseconds for each kind of work on so many points. */
export interface Grown {
  points: number;
  work: Record<string, number>;
}

const areaOf = (s: Surface): number => measureSurface(s).planArea;

/** What is made of a triangulation, each beside the bare triangulation of the same points in the same run. */
export function surfaceFigure(sizes: readonly number[] = [1e4, 1e5, 1e6]): Grown[] {
  const grown: Grown[] = [];
  console.log('Surfaces of random points, each figure a share of the bare triangulation (wanted at 1e6: whole surface 1.5, a million elevations 0.3, 100 levels of contours 0.4, a vertex moved 0.002 and under 16 ms)'); // prettier-ignore
  for (const n of sizes) {
    const { x, y, z } = rolling(n);
    delaunay(x, y);
    const bare = median([0, 1, 2].map(() => timed(() => delaunay(x, y)).ms));
    const input = { x, y, z, segments: new Uint32Array(), coincidence: 0.001, longestSide: null, rounding: 0 };
    const whole = timed(() => buildSurface(input));
    const s: Surface = whole.result.surface;
    const asked = rolling(n);
    const beside = Float64Array.from(asked.x, (v) => v * 0.999 + 0.01);
    const heights = median([0, 1, 2].map(() => timed(() => elevationsAt(s, beside, asked.y)).ms));
    const [low, high] = [s.z.reduce((a, b) => Math.min(a, b)), s.z.reduce((a, b) => Math.max(a, b))];
    const drawn = timed(() => contours(s, { interval: (high - low) / 100, indexEvery: 5 }));
    const opened = timed(() => liveSurface(s));
    const moves: number[] = [];
    const step = 0.1 * Math.sqrt(areaOf(s) / n);
    for (let k = 0; k < 12; k++) {
      // One vertex dragged ten steps, on a surface taken for it.
      const live = liveSurface(s);
      const v = Math.floor(((k + 0.5) * n) / 12);
      for (let i = 1; i <= 10; i++) {
        const move = timed(() => live.move(v, s.x[v] + i * step, s.y[v] - i * step, s.z[v] + 1) && live.patch());
        if (move.result) moves.push(move.ms);
      }
    }
    const left = timed(() => leaveOneOut(s));
    // The same ground measured again: points of their own.
    const again = rolling(n);
    const turned = planSurface({ ...again, x: again.x.map((v) => v * 0.9 + 0.3), y: again.y.map((v) => v * 0.95 + 0.2), segments: new Uint32Array(), coincidence: 0.001, longestSide: null }); // prettier-ignore
    let pieces = 0;
    const laid = timed(() => overlay(s, { ...turned, z: new Float64Array(turned.x.length) }, () => pieces++));
    const rebuild = timed(() => planSurface(input)).ms;
    grown.push({ points: n, work: { triangulation: bare, 'whole surface': whole.ms, 'as many elevations': heights, '100 levels of contours': drawn.ms, 'overlay of two': laid.ms } }); // prettier-ignore
    const part = (ms: number): string => `${(ms / bare).toFixed(2)}`;
    console.log(
      `  ${n.toExponential(0)}: bare ${bare.toFixed(0)} ms; whole surface ${part(whole.ms)}; ${n.toExponential(0)} elevations ${part(heights)}; 100 levels ${part(drawn.ms)}; a vertex moved ${median(moves).toFixed(3)} ms, ${(median(moves) / rebuild).toExponential(1)} of rebuilding, ${Math.max(...moves).toFixed(2)} ms at most (taken under the hand once: ${part(opened.ms)}); ${Math.min(20_000, n)} points left out one by one ${part(left.ms)}; overlay of two ${part(laid.ms)}, ${pieces} pieces, ${((1000 * laid.ms) / pieces).toFixed(2)} µs each`, // prettier-ignore
    );
  }
  return grown;
}
