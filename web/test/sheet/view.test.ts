import { describe, expect, it } from 'vitest';
import { viewFromText, viewToText, type SheetViewed } from '../../src/sheet/view.ts';

describe('what the drawing shows, in the address', () => {
  it('comes back as it was, plan and 3D', () => {
    const plan: SheetViewed = { kind: 'plan', x: 500123.25, y: 5_400_987.5, scale: 0.1234 };
    expect(viewFromText(viewToText(plan))).toEqual(plan);
    const space: SheetViewed = { kind: '3d', from: [1, -20.5, 300], at: [0, 0, 47.5] };
    expect(viewFromText(viewToText(space))).toEqual(space);
    expect(viewToText(plan)).toBe('plan,500123.25,5400987.5,0.1234');
  });

  it('is nothing where the address was typed wrong', () => {
    for (const text of [
      null,
      '',
      'plan',
      'plan,1,2',
      'plan,1,2,0',
      'plan,1,2,NaN',
      'plan,1e12,2,1',
      'plan,1,,1',
      'map,1,2,1',
      '3d,1,2,3,4,5',
      `plan,${'1,'.repeat(5000)}1`,
    ])
      // prettier-ignore
      expect(viewFromText(text)).toBeNull();
  });
});
