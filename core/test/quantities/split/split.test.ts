import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  differenceToLevel,
  measured,
  paintedCause,
  splitVolumes,
  volumeToLevel,
  type SplitCause,
  type VolumeSplit,
} from '#core/quantities';
import { buildSurface, clipToRing, ofTriangles, type Surface } from '#core/terrain';

// A site that two parties measure: a grid of shots with a bank through it, whose edges are breaklines.

type Shot = [x: number, y: number, z: number];
const NEAR = 0.05;

/** Seeded; the same site for the same seed (a linear congruential generator, Park and Miller 1988). */
function random(seed: number): () => number {
  let state = (seed % 2147483646) + 1;
  return () => ((state = (state * 48271) % 2147483647) - 1) / 2147483646;
}

function site(seed: number): { shots: Shot[]; lines: number[] } {
  const next = random(seed);
  const shots: Shot[] = [];
  const [gx, gy, amp] = [next() / 20, next() / 20, 0.3 + next()];
  const ground = (x: number, y: number): number => 100 + gx * x + gy * y + amp * Math.sin(x / 17) * Math.cos(y / 13);
  for (let i = 0; i < 9; i++)
    for (let j = 0; j < 9; j++) {
      const [x, y] = [12 * i + 6 * next() - 3, 12 * j + 6 * next() - 3];
      if (Math.abs(x - 48) > 8) shots.push([x, y, ground(x, y) + 0.02 * (next() - 0.5)]);
    }
  // A bank 3 m high: two edges, shot every 16 m, 5 m apart. Without breaklines the triangles bridge it.
  const lines: number[] = [];
  for (const [x, up] of [
    [46, 0],
    [51, 3],
  ] as const)
    // prettier-ignore
    for (let y = 0; y <= 96; y += 16) {
      if (y > 0) lines.push(shots.length - 1, shots.length);
      shots.push([x, y, ground(x, y) + up]);
    }
  return { shots, lines };
}

const built = (shots: readonly Shot[], lines: readonly number[]): Surface =>
  buildSurface({
    x: Float64Array.from(shots, (s) => s[0]),
    y: Float64Array.from(shots, (s) => s[1]),
    z: Float64Array.from(shots, (s) => s[2]),
    segments: Uint32Array.from(lines),
    longestSide: null,
    coincidence: 0,
  }).surface;

const LEVEL = { level: 99 };
const side = (surface: Surface, part = surface, base: { level: number } | { surface: Surface } = LEVEL) => ({ surface, part, base }); // prettier-ignore
function split(...[ours, theirs]: [ReturnType<typeof side>, ReturnType<typeof side>]): VolumeSplit {
  const out = splitVolumes(ours, theirs, NEAR);
  if ('reason' in out) throw new Error(out.reason);
  return out;
}
const share = (of: VolumeSplit, cause: SplitCause): number => {
  const { cut, fill } = of.steps.find((s) => s.cause === cause)!;
  return cut - fill;
};
/** What pieces sum up to: what lies above 0 as fill, below as cut. */
function volumeOfPieces(pieces: Float64Array): { cut: number; fill: number } {
  const { cut, fill } = measured(differenceToLevel(ofTriangles(pieces), 0));
  return { cut: fill, fill: cut };
}
/** The cause that carries most. */
const heaviest = (of: VolumeSplit): SplitCause =>
  [...of.steps].sort((a, b) => Math.abs(b.cut - b.fill) - Math.abs(a.cut - a.fill))[0].cause;
const net = (v: { cut: number; fill: number }): number => v.cut - v.fill;

/** What one party does otherwise than the other; each is one cause. */
const SLIPS: Record<
  string,
  { cause: SplitCause; of: (s: ReturnType<typeof site>, next: () => number) => ReturnType<typeof side> }
> = {
  // prettier-ignore
  'all of it is higher': {
    cause: 'shift',
    of: ({ shots, lines }, next) => side(built(shots.map(([x, y, z]) => [x, y, z + 0.05 + 0.2 * next()]), lines)),
  },
  'one shot is wrong': {
    cause: 'elevations',
    of: ({ shots, lines }, next) => side(built(shots.map(([x, y, z], i) => [x, y, i === 20 ? z + 1 + next() : z]), lines)), // prettier-ignore
  },
  'a mound that nobody else shot': {
    cause: 'their-points',
    of: ({ shots, lines }, next) => side(built([...shots, [70 + 6 * next(), 40, 108], [76, 46 + 5 * next(), 108]], lines)), // prettier-ignore
  },
  'another level': {
    cause: 'base',
    of: ({ shots, lines }, next) => {
      const s = built(shots, lines);
      return side(s, s, { level: 99.05 + 0.2 * next() });
    },
  },
  'a smaller boundary': {
    cause: 'our-area',
    of: ({ shots, lines }, next) => {
      const s = built(shots, lines);
      const end = 60 + 20 * next();
      return side(s, clipToRing(s, Float64Array.of(10, 10, end, 10, end, 90, 10, 90)));
    },
  },
};

const SITES = Number(process.env.SPLITS ?? 12);

describe('why another party has another number', () => {
  it('names the planted cause first, on every site, and the shares add up', () => {
    const named = { right: 0, wrong: [] as string[] };
    for (let seed = 1; seed <= SITES; seed++)
      for (const [what, { cause, of }] of Object.entries(SLIPS)) {
        const ground = site(seed);
        const out = split(side(built(ground.shots, ground.lines)), of(ground, random(1000 + seed)));
        expect(out.steps.reduce((sum, s) => sum + net(s), 0)).toBeCloseTo(net(out.theirs) - net(out.ours), 6);
        if (heaviest(out) === cause) named.right++;
        else named.wrong.push(`${seed} ${what}: ${heaviest(out)}`);
      }
    expect(named).toEqual({ right: SITES * Object.keys(SLIPS).length, wrong: [] });
  });

  it('is painted cause by cause, each adding up to its share', () => {
    for (let seed = 1; seed <= Math.ceil(SITES / 2); seed++)
      for (const { of } of Object.values(SLIPS)) {
        const ground = site(seed);
        const [ours, theirs] = [side(built(ground.shots, ground.lines)), of(ground, random(1000 + seed))];
        const out = split(ours, theirs);
        for (const step of out.steps) {
          const painted = paintedCause(ours, theirs, NEAR, step.cause);
          if ('reason' in painted) throw new Error(painted.reason);
          const { cut, fill } = volumeOfPieces(painted);
          const way = step.cause === 'base' || step.cause === 'their-area' ? -1 : 1;
          const isArea = step.cause.endsWith('area');
          // Areas are drawn to a sixteenth of a triangle's side, 12 m as a rule.
          const within = (isArea ? 0.05 * Math.abs(net(step)) : 0) + 1e-6 * Math.max(1, Math.abs(net(out.ours)));
          expect(Math.abs(way * (fill - cut) - net(step)), `${seed} ${step.cause}`).toBeLessThanOrEqual(within);
        }
      }
  });

  it('says nothing of two parties that measured one thing alike', () => {
    for (let seed = 1; seed <= SITES; seed++) {
      const { shots, lines } = site(seed);
      const out = split(side(built(shots, lines)), side(built([...shots].reverse(), lines.map((i) => shots.length - 1 - i)))); // prettier-ignore
      for (const step of out.steps)
        if (!step.cause.endsWith('breaklines')) expect(Math.abs(net(step)), `${seed} ${step.cause}`).toBeLessThan(1e-6);
      // What our breaklines take away theirs bring again.
      expect(share(out, 'our-breaklines') + share(out, 'their-breaklines')).toBeCloseTo(0, 6);
      expect(out.common).toBe(shots.length);
    }
  });

  it('breaklines that one drew and the other did not are what the two triangulations differ by', () => {
    for (let seed = 1; seed <= SITES; seed++) {
      const { shots, lines } = site(seed);
      const [ours, theirs] = [built(shots, lines), built(shots, [])];
      const out = split(side(ours), side(theirs));
      const expected = net(volumeToLevel(theirs, 99)) - net(volumeToLevel(ours, 99));
      expect(share(out, 'our-breaklines')).toBeCloseTo(expected, 6);
      for (const cause of [
        'shift',
        'elevations',
        'their-points',
        'our-points',
        'their-breaklines',
        'base',
        'our-area',
      ] as const)
        // prettier-ignore
        expect(share(out, cause)).toBeCloseTo(0, 6);
    }
  });

  it('a shift is its height times the area, and a level the other way', () => {
    const { shots, lines } = site(3);
    const ours = built(shots, lines);
    const { area } = volumeToLevel(ours, 0);
    const higher = split(side(ours, ours, { level: 0 }), side(built(shots.map(([x, y, z]) => [x, y, z + 0.1]), lines), undefined, { level: 0 })); // prettier-ignore
    expect(higher.shift).toBeCloseTo(0.1, 9);
    expect(share(higher, 'shift')).toBeCloseTo(0.1 * area, 6);
    const lower = split(side(ours, ours, { level: 0 }), side(ours, ours, { level: 1 }));
    expect(share(lower, 'base')).toBeCloseTo(-area, 6);
  });

  it('adds up in cut and in fill whatever the two are, against a surface that covers a part', () => {
    const level = fc.integer({ min: 9900, max: 10400 }).map((v) => v / 100);
    const shot = fc.tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 100 }), level);
    const ground = fc.uniqueArray(shot, { minLength: 6, maxLength: 30, selector: ([x, y]) => `${x} ${y}` });
    fc.assert(
      fc.property(ground, ground, level, (a, b, z) => {
        const [ours, theirs] = [built(a as Shot[], []), built(b as Shot[], [])];
        const half = built([[20, -10, z], [110, -10, z + 1], [110, 110, z], [20, 110, z - 1]], []); // prettier-ignore
        const out = splitVolumes(side(ours, ours, { surface: half }), side(theirs, theirs, { level: z }), NEAR);
        if ('reason' in out) return;
        for (const of of ['cut', 'fill'] as const)
          expect(out.steps.reduce((sum, s) => sum + s[of], 0)).toBeCloseTo(out.theirs[of] - out.ours[of], 5);
      }),
      { numRuns: 60 },
    );
  });

  it('where they have no area in common says so', () => {
    const { shots, lines } = site(1);
    const far = built(shots.map(([x, y, z]) => [x + 1000, y, z]), lines); // prettier-ignore
    expect(splitVolumes(side(built(shots, lines)), side(far), NEAR)).toEqual({ reason: 'The two surfaces have no area in common.' }); // prettier-ignore
  });
});
