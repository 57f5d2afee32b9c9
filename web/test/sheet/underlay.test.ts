// @vitest-environment jsdom
import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { UNDER, type Underlay } from '#core/exchange';
import { plainIntake, type Intake } from '#core/project';
import { extentOfUnderlays, textsIn, underlayKey, underlayLayer, underlaysShown } from '../../src/sheet/underlay.ts';

// Colours depend on the system’s, which jsdom does not tell.
globalThis.matchMedia ??= (() => ({ matches: false })) as never;

/** A closed line of three vertices at no elevation, a mark and a text. */
const UNDERLAY: Underlay = {
  x: Float64Array.of(100, 110, 110, 105, 106),
  y: Float64Array.of(200, 200, 208, 203, 204),
  z: Float64Array.of(NaN, NaN, NaN, 7, NaN),
  starts: Uint32Array.of(0, 3, 4, 5),
  kinds: Uint8Array.of(UNDER.closed, UNDER.point, UNDER.text),
  names: ['PLOT', 'TREE', 'Lot 7'],
};
const origin = { x: 100, y: 200, z: 0 };
const shift = (dx: number, dy: number): Intake['placement'] => ({ kind: 'shift', scale: 'fixed', height: 'none', matrix: [1, 0, 0, dx, 0, 1, 0, dy, 0, 0, 1, 0], pairs: [], sigmaPlan: null, sigmaHeight: null }); // prettier-ignore
const tables = (reads: Record<string, string> = { d: 'r1' }) => ({ underlays: new Map([['d', UNDERLAY]]), stages: { reads } }) as never; // prettier-ignore
const doc = (said: Partial<Intake> = {}) => ({ intakes: [plainIntake('other'), plainIntake('d', said)] });

describe('what lies under the drawing', () => {
  it('is where its file is transformed to, and gone where its file is off', () => {
    const [plain] = underlaysShown(tables(), doc());
    expect(plain).toBe(UNDERLAY);
    const there = doc({ placement: shift(1000, -50) });
    const [moved] = underlaysShown(tables(), there);
    expect([...moved.x]).toEqual([1100, 1110, 1110, 1105, 1106]);
    expect([...moved.y]).toEqual([150, 150, 158, 153, 154]);
    expect(Number.isNaN(moved.z[0])).toBe(true);
    expect(moved.z[3]).toBe(7);
    // Nothing is worked out again while nothing changes.
    expect(underlaysShown(tables(), there)[0]).toBe(moved);
    expect(underlaysShown(tables(), doc({ on: false }))).toEqual([]);
    expect(extentOfUnderlays([UNDERLAY, moved])).toEqual([100, 150, 1110, 208]);
    expect(extentOfUnderlays([])).toBeNull();
  });

  it('is drawn anew when it is read, moved or switched otherwise, and at nothing else', () => {
    const key = (d: ReturnType<typeof doc>, t = tables()): string => underlayKey(t, d, (id) => id === 'd');
    const before = key(doc());
    expect(key(doc({ purpose: 'control', fileName: 'another name' }))).toBe(before);
    for (const other of [
      key(doc({ on: false })),
      key(doc({ placement: shift(1, 0) })),
      key(doc(), tables({ d: 'r2' })),
    ])
      expect(other).not.toBe(before);
  });

  it('has its lines closed, at the mean elevation where they have none, and its marks', () => {
    const layer = underlayLayer([UNDERLAY], origin, 12.5)!;
    const [lines, marks] = layer.children as [THREE.LineSegments, THREE.Points];
    const { array } = lines.geometry.getAttribute('position');
    expect([...array]).toEqual([0, 0, 12.5, 10, 0, 12.5, 10, 0, 12.5, 10, 8, 12.5, 10, 8, 12.5, 0, 0, 12.5]);
    expect(marks.geometry.getAttribute('position').count).toBe(1);
    expect(underlayLayer([], origin, 0)).toBeNull();
  });

  it('has its texts read where they are in view, and none where they are too many', () => {
    expect(textsIn([UNDERLAY], [100, 200, 110, 210], 10)).toEqual([{ x: 106, y: 204, z: NaN, text: 'Lot 7' }]);
    expect(textsIn([UNDERLAY], [0, 0, 10, 10], 10)).toEqual([]);
    expect(textsIn([UNDERLAY, UNDERLAY], [100, 200, 110, 210], 1)).toEqual([]);
  });
});
