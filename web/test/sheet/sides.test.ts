// @vitest-environment jsdom
import fc from 'fast-check';
import { Group, Object3D } from 'three';
import { describe, expect, it } from 'vitest';
import { besideOf } from '../../src/sheet/beside.tsx';
import { rangeOfTints } from '../../src/sheet/tint-legend.tsx';
import { BETWEEN, onFirst, showSurfaces, sidesOf } from '../../src/sheet/sides.ts';

describe('two sides of a drawing', () => {
  it('are as wide as each other, within the drawing, and the same place has the same pixel of both', () => {
    fc.assert(
      fc.property(fc.integer({ min: 40, max: 4000 }), fc.double({ min: 0, max: 1, noNaN: true }), (width, share) => {
        const sides = sidesOf(width, true);
        expect(sides[0].width).toBe(sides[1].width);
        expect(sides[1].left).toBe(sides[0].width + BETWEEN);
        expect(sides[1].left + sides[1].width).toBeLessThanOrEqual(width);
        const px = share * sides[0].width;
        for (const { left } of sides) expect(onFirst(sides, left + px)).toBeCloseTo(px, 9);
      }),
    );
  });

  it('are one where nothing is beside it', () => {
    expect(sidesOf(700, false)).toEqual([{ left: 0, width: 700 }]);
    expect(onFirst(sidesOf(700, false), 690)).toBe(690);
  });

  it('show of what is drawn together what is of their own surfaces, and what is of none', () => {
    const [a, b, plain] = ['ground', 'design', undefined].map((surface) => Object.assign(new Object3D(), { userData: { surface } })); // prettier-ignore
    const layer = new Group().add(a, b, plain);
    showSurfaces(layer, ['design']);
    expect([a.visible, b.visible, plain.visible, layer.visible]).toEqual([false, true, true, true]);
    showSurfaces(layer, null);
    expect([a.visible, b.visible]).toEqual([true, true]);
    const alone = Object.assign(new Object3D(), { userData: { surface: 'ground' }, visible: false });
    showSurfaces(alone, ['ground']);
    expect(alone.visible).toBe(false);
  });
});

it('beside what is shown stands the surface chosen, else the one shown, else the ground', () => {
  const doc = { surfaces: [{ id: 'design', role: 'design' }, { id: 'ground', role: 'ground' }] } as never; // prettier-ignore
  expect(besideOf(doc, 'ground', ['ground'])).toBe('ground');
  expect(besideOf(doc, undefined, ['design'])).toBe('design');
  expect(besideOf(doc, 'gone', [])).toBe('ground');
});

it('surfaces that are drawn together have one scale of tints', () => {
  const summary = { surfaces: [{ id: 'a', triangles: 4, lowest: 10, highest: 14 }, { id: 'b', triangles: 2, lowest: 12, highest: 20 }, { id: 'c', triangles: 0, lowest: NaN, highest: NaN }] } as never; // prettier-ignore
  expect(rangeOfTints(summary, ['a', 'b', 'c'])).toEqual({ lowest: 10, highest: 20 });
  expect(rangeOfTints(summary, ['b'])).toEqual({ lowest: 12, highest: 20 });
  expect(rangeOfTints(summary, ['c'])).toBeNull();
});
