import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orientation } from '#core/kernel';
import {
  arrange,
  buildSurface,
  claimOrder,
  measureSurface,
  NO_POINT,
  type MeetingChoice,
  type Surface,
} from '#core/terrain';
import { inOrderGiven } from './made.ts';

type Place = [x: number, y: number, z: number];

const column = (list: readonly Place[], k: 0 | 1 | 2): Float64Array => Float64Array.from(list, (p) => p[k]);
const built = (points: readonly Place[], segments: readonly number[], more: object = {}, choice?: MeetingChoice) =>
  inOrderGiven(
    buildSurface(
      {
        x: column(points, 0),
        y: column(points, 1),
        z: column(points, 2),
        segments: Uint32Array.from(segments),
        coincidence: 0,
        longestSide: null,
        ...more,
      },
      choice,
    ),
  );

/** Sides of a surface that are breaklines, by the coordinates of their ends. */
function breakSides(s: Surface): string[] {
  const out = new Set<string>();
  for (let e = 0; e < s.triangles.length; e++) {
    if (!s.breakSides[e]) continue;
    const [a, b] = [s.triangles[e], s.triangles[e % 3 === 2 ? e - 2 : e + 1]];
    out.add([a, b].map((v) => `${s.x[v]} ${s.y[v]}`).sort().join(' – ')); // prettier-ignore
  }
  return [...out].sort();
}

const square: Place[] = [
  [0, 0, 10],
  [10, 10, 20],
  [0, 10, 1],
  [10, 0, 3],
];

describe('breaklines that cross', () => {
  it('get a vertex at the crossing; elevations that disagree are named with the one that is kept', () => {
    const { surface, account } = built(square, [0, 1, 2, 3]);
    expect(surface.x.length).toBe(5);
    expect([surface.x[4], surface.y[4], surface.z[4], surface.point[4]]).toEqual([5, 5, 15, NO_POINT]);
    expect(account.meetings).toEqual([
      {
        x: 5,
        y: 5,
        kind: 'cross',
        elevations: [15, 2],
        points: [],
        segments: [0, 1],
        kept: 15,
        decided: false,
        vertex: 4,
      },
    ]);
    expect(breakSides(surface)).toHaveLength(4);
  });

  it.each([
    ['first', 15],
    ['mean', 8.5],
    ['highest', 15],
    ['lowest', 2],
  ] as const)('take the %s elevation where that is the rule', (rule, z) => {
    expect(built(square, [0, 1, 2, 3], {}, { rule, tolerance: 0.005 }).surface.z[4]).toBe(z);
  });

  it('are joined in silence where their elevations agree, at the mean', () => {
    const level: Place[] = [[0, 0, 1], [10, 10, 1.004], [0, 10, 1.001], [10, 0, 1.003]]; // prettier-ignore
    const { surface, account } = built(level, [0, 1, 2, 3]);
    expect(account).toMatchObject({ meetings: [], joined: 1 });
    expect(surface.z[4]).toBeCloseTo(1.002, 12);
  });

  it('are met at a shot that stands at the crossing, which keeps its own elevation', () => {
    const { surface, account } = built([...square, [5.0003, 5.0002, 7]], [0, 1, 2, 3], { rounding: 0.001 });
    expect(surface.x.length).toBe(5);
    expect(surface.z[4]).toBe(7);
    expect(account.meetings).toMatchObject([
      { kind: 'cross', elevations: [7, expect.closeTo(15, 3), expect.closeTo(2, 3)], points: [4], kept: 7 },
    ]);
  });
});

describe('a breakline that ends on the side of another', () => {
  const tee: Place[] = [[0, 0, 1], [10, 0, 3], [5, 0.0004, 2.6], [5, 10, 4], [0, 10, 0]]; // prettier-ignore

  it('meets it there though rounding keeps it off; its end keeps the elevation that was measured', () => {
    const { surface, account } = built(tee, [0, 1, 2, 3], { rounding: 0.001 });
    expect(account.meetings).toMatchObject([{ kind: 'end', elevations: [2.6, 2], points: [2], segments: [0], kept: 2.6, vertex: 2 }]); // prettier-ignore
    expect(breakSides(surface)).toEqual(['0 0 – 5 0.0004', '10 0 – 5 0.0004', '5 0.0004 – 5 10']);
  });

  it('does not, farther off than the last decimal', () => {
    const { surface } = built(tee.map(([x, y, z]) => [x, y === 0.0004 ? 0.002 : y, z]), [0, 1, 2, 3], { rounding: 0.001 }); // prettier-ignore
    expect(breakSides(surface)).toEqual(['0 0 – 10 0', '5 0.002 – 5 10']);
  });
});

describe('breaklines that run over each other', () => {
  it('are one side for the stretch, with a vertex where each begins and ends', () => {
    const points: Place[] = [[0, 0, 0], [10, 0, 10], [4, 0, 5], [16, 0, 17], [5, 9, 0], [5, -9, 0]]; // prettier-ignore
    const { surface, account } = built(points, [0, 1, 2, 3]);
    expect(breakSides(surface)).toEqual(['0 0 – 4 0', '10 0 – 16 0', '10 0 – 4 0']);
    expect(account.meetings.map((m) => [m.kind, m.x, m.elevations])).toEqual([
      ['overlap', 4, [5, 4]],
      ['overlap', 10, [10, 11]],
    ]);
  });
});

describe('two points in one place', () => {
  const wall: Place[] = [[0, 0, 1], [10, 0, 1], [0, 10, 1], [5, 5, 4], [5, 5, 1.2]]; // prettier-ignore

  it('with different elevations are named, the first kept', () => {
    const { surface, account } = built(wall, []);
    expect(account.meetings).toMatchObject([{ kind: 'place', elevations: [4, 1.2], points: [3, 4], kept: 4, x: 5, y: 5 }]); // prettier-ignore
    expect(surface.z[3]).toBe(4);
  });

  it('a millimetre apart stand as they are: a wall comes out with its face', () => {
    const top: Place[] = [[0, 0, 3], [5, 0, 3], [10, 0, 3], [0, 5, 3], [10, 5, 3]]; // prettier-ignore
    const foot: Place[] = [[0, -0.001, 1], [5, -0.001, 1], [10, -0.001, 1], [0, -5, 1], [10, -5, 1]]; // prettier-ignore
    const { surface, account } = built([...top, ...foot], [0, 1, 1, 2, 5, 6, 6, 7], { rounding: 0.001 });
    expect(account.meetings).toEqual([]);
    const m = measureSurface(surface);
    expect(m.planArea).toBeCloseTo(100, 9);
    // Two level yards, one a millimetre short of 50 m², and a face 10 m long and 2 m high.
    expect(m.slopeArea).toBeCloseTo(50 + 49.99 + 20, 4);
  });
});

describe('points at the rim', () => {
  it('that only rounding keeps from lying in line make no slivers', () => {
    // A wall beside a straight fence, shot to the centimetre: 0.333… does not end.
    const points: Place[] = [[0, 0, 0], [1, 0.33, 5], [2, 0.67, 0], [3, 1, 0], [0, 5, 0], [3, 6, 0]]; // prettier-ignore
    const plain = built(points, []);
    const rounded = built(points, [], { rounding: 0.01 });
    expect(rounded.account.thin).toBeGreaterThan(0);
    expect(plain.surface.triangles.length - rounded.surface.triangles.length).toBe(3 * rounded.account.thin);
    expect(measureSurface(plain.surface).planArea - measureSurface(rounded.surface).planArea).toBeLessThan(0.02);
  });

  it('stay where a breakline runs along the rim, and where they stand outside of it', () => {
    const dent: Place[] = [[0, 0, 0], [5, 0.005, 2], [10, 0, 0], [5, 9, 0]]; // prettier-ignore
    expect(built(dent, [], { rounding: 0.01 }).account.thin).toBe(1);
    expect(built(dent, [0, 2], { rounding: 0.001 }).account.thin).toBe(0);
    expect(built(dent, [], { rounding: 0.004 }).account.thin).toBe(0);
    const bulge = dent.map(([x, y, z]): Place => [x, y > 1 ? -y : y, z]);
    expect(built(bulge, [], { rounding: 0.01 }).account.thin).toBe(0);
  });
});

it('breaklines whose vertices are nearer than rounding become a sound surface', () => {
  const points: Place[] = [[0, 0, 1], [0.0006, 0, 2], [0.001, 0, 3], [5, 0, 1], [5, 0.0004, 1], [2, 5, 0], [3, -5, 0]]; // prettier-ignore
  const { surface } = built(points, [0, 3, 1, 4, 2, 3, 5, 6], { rounding: 0.001 });
  surface.neighbours.forEach((f, e) => f >= 0 && expect(surface.neighbours[f]).toBe(e));
  expect(measureSurface(surface).planArea).toBeCloseTo(25, 2);
});

const coordinate = fc.oneof(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 0, max: 12_000 }).map((v) => v / 1000)); // prettier-ignore
const places = fc.uniqueArray(fc.tuple(coordinate, coordinate), {
  minLength: 4,
  maxLength: 30,
  selector: ([x, y]) => `${x} ${y}`,
});
const sides = fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 1, maxLength: 14 });

describe('any breaklines', () => {
  it('meet at vertices alone, and each runs through all of its places within the snap', () => {
    fc.assert(
      fc.property(places, sides, fc.constantFrom(0, 1e7), fc.constantFrom(0, 0.0007), (all, pairs, far, snap) => {
        const apart = Math.max(snap, 6e-8);
        const list = all
          .filter((p, i) => all.slice(0, i).every((q) => Math.hypot(p[0] - q[0], p[1] - q[1]) > apart))
          .map(([px, py]) => [far + px, far + py]);
        const x = Float64Array.from(list, (p) => p[0]);
        const y = Float64Array.from(list, (p) => p[1]);
        const segments = Uint32Array.from(pairs.flatMap(([a, b]) => [a % list.length, b % list.length]));
        const met = arrange(x, y, segments, snap);
        for (let i = 0; i < met.pieces.length; i += 2)
          for (let j = i + 2; j < met.pieces.length; j += 2) expect(crossAway(met, i, j)).toBe(false);
      }),
      { numRuns: 600 },
    );
  });

  it('give the same surface in whatever order they and the points come', () => {
    fc.assert(
      fc.property(places, sides, fc.nat(), (list, pairs, seed) => {
        const points = list.map(([x, y], i): Place => [x, y, i % 7]);
        const segments = pairs.map(([a, b]) => [a % list.length, b % list.length]);
        const order = points.map((_, i) => i).sort((a, b) => ((a * 7919 + seed) % 101) - ((b * 7919 + seed) % 101));
        const at = new Map(order.map((from, to) => [from, to]));
        const mixed = [...segments].reverse().flatMap(([a, b]) => [at.get(b)!, at.get(a)!]);
        const choice = { rule: 'mean', tolerance: 0.005 } as const;
        const one = built(points, segments.flat(), { rounding: 0.001 }, choice).surface;
        const two = built(order.map((i) => points[i]), mixed, { rounding: 0.001 }, choice).surface; // prettier-ignore
        expect(facesOf(two)).toEqual(facesOf(one));
        expect(breakSides(two)).toEqual(breakSides(one));
      }),
      { numRuns: 400 },
    );
  });
});

it('points in one place stand at the mean of all of them, to the last bit in whatever order they come', () => {
  const rim: Place[] = [[0, 0, 1], [9, 0, 2], [9, 8, 3], [0, 8, 4]]; // prettier-ignore
  const shots = fc.array(fc.integer({ min: -3000, max: 3000 }), { minLength: 2, maxLength: 6 });
  fc.assert(
    fc.property(shots, (heights) => {
      const here = heights.map((h, i): Place => [4 + i / 7000, 5 - i / 9000, 10 + h / 1000]);
      const [one, two] = [here, [...here].reverse()].map((list) => {
        const points = [...rim, ...list];
        const claim = claimOrder('mean', column(points, 0), column(points, 1), column(points, 2));
        return built(points, [], { coincidence: 0.05, mean: true, claim }, { rule: 'first', tolerance: 100 }).surface;
      });
      expect(facesOf(two)).toEqual(facesOf(one));
      const middle = one.x.findIndex((x) => x > 3 && x < 5);
      expect(one.z[middle]).toBeCloseTo(here.reduce((sum, p) => sum + p[2], 0) / here.length, 9);
    }),
    { numRuns: 100 },
  );
});

it('says where three shots of one place disagree, with the elevation that stays', () => {
  const points: Place[] = [[0, 0, 1], [9, 0, 2], [5, 8, 3], [4, 3, 10], [4, 3, 11], [4, 3, 15]]; // prettier-ignore
  const { account } = buildSurface({
    x: column(points, 0),
    y: column(points, 1),
    z: column(points, 2),
    segments: new Uint32Array(),
    coincidence: 0.01,
    longestSide: null,
    mean: true,
  });
  expect(account.meetings.map((m) => [m.elevations, m.kept])).toEqual([
    [[10, 11], 12],
    [[10, 15], 12],
  ]);
});

/** Faces by the coordinates of their corners, to the last bit. */
function facesOf(s: Surface): string[] {
  const out: string[] = [];
  for (let e = 0; e < s.triangles.length; e += 3) {
    const named = [0, 1, 2].map((k) => s.triangles[e + k]).map((v) => `${s.x[v]} ${s.y[v]} ${s.z[v]}`);
    const first = named.indexOf([...named].sort()[0]);
    out.push([0, 1, 2].map((k) => named[(first + k) % 3]).join(' | '));
  }
  return out.sort();
}

/** Whether two pieces have a place in common that is no end of both. */
function crossAway(met: ReturnType<typeof arrange>, i: number, j: number): boolean {
  const { x, y, pieces } = met;
  const [a, b, c, d] = [pieces[i], pieces[i + 1], pieces[j], pieces[j + 1]];
  const turn = (u: number, v: number, w: number): number => Math.sign(orientation(x[u], y[u], x[v], y[v], x[w], y[w]));
  if (a === c || a === d || b === c || b === d) return false;
  return turn(a, b, c) * turn(a, b, d) < 0 && turn(c, d, a) * turn(c, d, b) < 0;
}
