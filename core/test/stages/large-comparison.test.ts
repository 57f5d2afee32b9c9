import { describe, expect, it } from 'vitest';
import type { Comparison } from '#core/project';
import { compare, type BuiltSurface } from '#core/stages';
import { planSurface } from '#core/terrain';

// More pieces than are kept: what is told must not change, nor may memory grow with them.

const SIDE = 420;
/** A plane over a grid of so many points a side, 400 m square; its points stand elsewhere than those of another seed. */
function plane(id: string, turn: number, elevation: (x: number, y: number) => number): BuiltSurface {
  const n = SIDE * SIDE;
  const at = (i: number, rim: boolean): number => (rim ? 0 : 0.3 * Math.sin(i * turn));
  const [x, y] = [new Float64Array(n), new Float64Array(n)];
  const step = 400 / (SIDE - 1);
  for (let i = 0; i < n; i++) {
    const [c, r] = [i % SIDE, Math.floor(i / SIDE)];
    const rim = c === 0 || r === 0 || c === SIDE - 1 || r === SIDE - 1;
    x[i] = step * c + at(i, rim);
    y[i] = step * r + at(2 * i, rim);
  }
  const plan = planSurface({ x, y, segments: new Uint32Array(), coincidence: 0, longestSide: null });
  const z = Float64Array.from(plan.x, (v, i) => elevation(v, plan.y[i]));
  return {
    id,
    name: id,
    role: id === 'design' ? 'design' : 'ground',
    surface: { ...plan, z },
  } as unknown as BuiltSurface;
}
// Level ground, and a plane that passes through it along the middle: 4 m of fill in the east, 4 m of cut in the west.
const SURFACES = [plane('ground', 1.7, () => 50), plane('design', 2.9, (x) => 50 + (x - 200) / 50)];
const COMPARED: Comparison = { id: 'c', name: 'c', surface: 'ground', against: { surface: 'design' }, within: null };
const HALF = (200 * 400 * 4) / 2;

describe('a comparison with more pieces than are kept', () => {
  it('is exact, by zones and depth too, and is drawn in cells', () => {
    const zones = [{ name: 'north', ring: [-1, 200, 401, 200, 401, 401, -1, 401] }];
    const c = compare({ ...COMPARED, zones, slice: 1 }, SURFACES, 'm');
    if (!c.ok) throw new Error(c.reason);
    expect([c.volume.cut, c.volume.fill].map((v) => v / HALF)).toEqual([expect.closeTo(1, 9), expect.closeTo(1, 9)]);
    expect(c.slope.cut / (200 * 400)).toBeCloseTo(1, 9);
    expect(c.zones!.zones[0].fill / HALF).toBeCloseTo(0.5, 9);
    if (!c.slices || 'reason' in c.slices) throw new Error('no slices');
    expect(c.slices.map((s) => s.cut / HALF)).toEqual([7, 5, 3, 1].map((k) => expect.closeTo(k / 16, 8) as number));
    expect(c.cells).toBe(2);
    expect(c.volume.pieces.length / 9).toBe(2 * 200 * 200);
    expect(c.byHand).toMatchObject({ ok: false });
  });

  it('is as unsure as its points, whether its pieces are kept or not', () => {
    const sd = { plan: 0, height: 0.05 };
    const c = compare({ ...COMPARED, sd }, SURFACES, 'm');
    // Independent points of even weight: σ · area / √n, but for the rim, where they weigh less.
    expect(c.ok && c.sd!.net / ((0.05 * 160_000) / SIDE)).toBeGreaterThan(0.98);
    expect(c.ok && c.sd!.net / ((0.05 * 160_000) / SIDE)).toBeLessThan(1.1);
  });
});
