import { describe, expect, it } from 'vitest';
import { influenceOf, spacingOfBoth, spacingPart, volumeBetween, volumeToLevel } from '#core/quantities';
import { buildSurface, clipToRing, type Surface } from '#core/terrain';

// Invented grounds that are known everywhere, shot here and there: how far the volume is off, against what is said of it.

type Ground = (x: number, y: number) => number;
/** Seeded (a linear congruential generator, Park and Miller 1988). */
function random(seed: number): () => number {
  let state = (seed % 2147483646) + 1;
  return () => ((state = (state * 48271) % 2147483647) - 1) / 2147483646;
}
const normal = (next: () => number): number =>
  Math.sqrt(-2 * Math.log(next() + 1e-12)) * Math.cos(2 * Math.PI * next());

/** Waves of many lengths in all directions: the more short ones, the rougher. */
function waves(next: () => number, count: number, longest: number, power: number): Ground {
  const all = Array.from({ length: count }, () => {
    const length = 2 * (longest / 2) ** next();
    const [k, way] = [(2 * Math.PI) / length, 2 * Math.PI * next()];
    return [k * Math.cos(way), k * Math.sin(way), 2 * Math.PI * next(), (0.06 * length ** power * normal(next)) / Math.sqrt(count)]; // prettier-ignore
  });
  return (x, y) => 20 + all.reduce((z, [kx, ky, at, high]) => z + high * Math.sin(kx * x + ky * y + at), 0);
}
const GROUNDS: Record<string, (next: () => number) => Ground> = {
  rough: (next) => waves(next, 80, 100, 0.7),
  rolling: (next) => waves(next, 60, 100, 1.2),
  smooth: (next) => waves(next, 20, 100, 1.8),
  dome: () => (x, y) => 28 - ((x - 50) ** 2 + (y - 50) ** 2) / 500,
};

function shot(ground: Ground, next: () => number): Surface {
  const step = 6 + 8 * next();
  const shots: number[][] = [];
  for (let u = 0; u <= 100; u += step)
    for (let v = 0; v <= 100; v += step) {
      const [x, y] = [u + 0.35 * step * (next() - 0.5), v + 0.35 * step * (next() - 0.5)];
      shots.push([x, y, ground(x, y)]);
    }
  const column = (k: number): Float64Array => Float64Array.from(shots, (s) => s[k]);
  return buildSurface({ x: column(0), y: column(1), z: column(2), segments: new Uint32Array(0), longestSide: null, coincidence: 0 }).surface; // prettier-ignore
}

/** What lies under the ground itself, over the triangles of a surface: 36 places in each. */
function truth({ x, y, triangles }: Surface, ground: Ground): number {
  const N = 6;
  let volume = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = triangles.subarray(t, t + 3);
    let sum = 0;
    for (let p = 0; p < N; p++)
      for (let q = 0; q < N - p; q++)
        for (const third of q < N - p - 1 ? [1 / 3, 2 / 3] : [1 / 3]) {
          const [l, m] = [(p + third) / N, (q + third) / N];
          sum += ground(x[a] + l * (x[b] - x[a]) + m * (x[c] - x[a]), y[a] + l * (y[b] - y[a]) + m * (y[c] - y[a]));
        }
    volume += (((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])) / 2) * (sum / (N * N));
  }
  return volume;
}

const SITES = Number(process.env.SPACINGS ?? 30);

describe('how well points describe the ground', () => {
  it.each(Object.keys(GROUNDS))(
    'on %s ground the volume lies within what is said, 95 of 100 times, and it is not said idly',
    (kind) => {
      // prettier-ignore
      let [within, ratio] = [0, 0];
      for (let seed = 1; seed <= SITES; seed++) {
        const next = random(seed * 7919);
        const ground = GROUNDS[kind](next);
        const surface = shot(ground, next);
        const { pieces, cut, fill } = volumeToLevel(surface, 0);
        const { sd } = spacingPart(surface, influenceOf(pieces, surface, -1, null, false))!;
        const off = Math.abs(cut - fill - truth(surface, ground));
        if (off <= 1.96 * sd.net) within++;
        ratio += (off / sd.net) ** 2 / SITES;
      }
      if (process.env.SPACINGS) console.log(kind, within, 'of', SITES, Math.sqrt(ratio));
      expect(within / SITES).toBeGreaterThan(0.9);
      // Neither a tenth nor ten times what it is.
      expect(Math.sqrt(ratio)).toBeGreaterThan(0.4);
      expect(Math.sqrt(ratio)).toBeLessThan(1.5);
    },
  );

  it.each(['rough', 'rolling'])(
    'of two %s grounds, both shot, the volume between them lies within what is said',
    (kind) => {
      // prettier-ignore
      const [low, high, step] = [15, 85, 0.5];
      const ring = Float64Array.of(low, low, high, low, high, high, low, high);
      const sites = Math.ceil(SITES / 2);
      let [within, ratio] = [0, 0];
      for (let seed = 1; seed <= sites; seed++) {
        const next = random(seed * 15485863);
        const [earlier, later] = [GROUNDS[kind](next), GROUNDS[kind](next)];
        const [from, to] = [shot(earlier, next), shot(later, next)];
        const { pieces, cut, fill } = volumeBetween(clipToRing(from, ring), to);
        let true_ = 0;
        for (let x = low + step / 2; x < high; x += step) for (let y = low + step / 2; y < high; y += step) true_ += (later(x, y) - earlier(x, y)) * step * step; // prettier-ignore
        const { sd } = spacingOfBoth(spacingPart(from, influenceOf(pieces, from, -1, to, false)), spacingPart(to, influenceOf(pieces, to, 1, from, false)))!; // prettier-ignore
        const off = Math.abs(fill - cut - true_);
        if (off <= 1.96 * sd.net) within++;
        ratio += (off / sd.net) ** 2 / sites;
      }
      if (process.env.SPACINGS) console.log(kind, within, 'of', sites, Math.sqrt(ratio));
      expect(within / sites).toBeGreaterThan(0.85);
      expect(Math.sqrt(ratio)).toBeGreaterThan(0.4);
      expect(Math.sqrt(ratio)).toBeLessThan(1.5);
    },
  );

  it('more shots where they are wanted leave about what is said', () => {
    let [said, found] = [0, 0];
    for (let seed = 1; seed <= 10; seed++) {
      const next = random(seed * 104729);
      const ground = GROUNDS.rolling(next);
      const surface = shot(ground, next);
      const part = (s: Surface) => spacingPart(s, influenceOf(volumeToLevel(s, 0).pieces, s, -1, null, false))!;
      const before = part(surface);
      expect(before.wanted).toHaveLength(10);
      for (let i = 1; i < 10; i++) expect(before.wanted[i].by).toBeLessThanOrEqual(before.wanted[i - 1].by);
      const more = before.wanted.map(({ x, y }) => [x, y, ground(x, y)]);
      const both = (k: 0 | 1 | 2, of: Float64Array): Float64Array =>
        Float64Array.from([...of, ...more.map((p) => p[k])]);
      const after = buildSurface({ x: both(0, surface.x), y: both(1, surface.y), z: both(2, surface.z), segments: new Uint32Array(0), longestSide: null, coincidence: 0 }).surface; // prettier-ignore
      said += before.after / before.sd.net / 10;
      found += part(after).sd.net / before.sd.net / 10;
    }
    expect(found).toBeLessThan(1);
    expect(Math.abs(found - said)).toBeLessThan(0.25);
  });

  it('says nothing of a plane but that it is described, and nothing at all of too few points', () => {
    const next = random(5);
    const plane = shot((x, y) => 20 + x / 10 + y / 20, next);
    const { sd } = spacingPart(plane, influenceOf(volumeToLevel(plane, 0).pieces, plane, -1, null, false))!;
    expect(sd.net).toBeLessThan(1e-6);
    const [three] = [buildSurface({ x: Float64Array.of(0, 9, 0), y: Float64Array.of(0, 0, 9), z: Float64Array.of(1, 2, 3), segments: new Uint32Array(0), longestSide: null, coincidence: 0 }).surface]; // prettier-ignore
    expect(spacingPart(three, influenceOf(volumeToLevel(three, 0).pieces, three, -1, null, false))).toBeNull();
  });
});
