import { describe, expect, it } from 'vitest';
import { depthLabels } from '../../src/sheet/depth-labels.ts';

// A square of 100 m, from 2 m of cut in the west to 2 m of fill in the east.
const PIECES = Float64Array.of(0, 0, -2, 100, 0, 2, 100, 100, 2, 0, 0, -2, 100, 100, 2, 0, 100, -2);
const seen = (scale: number, view: [number, number, number, number] = [-50, -50, 150, 150]) => ({ scale, view: () => view }); // prettier-ignore

describe('depths on the drawing', () => {
  it('stand at round coordinates, with their sign, and not where there is no depth', () => {
    const labels = depthLabels(seen(0.25), PIECES, 'm');
    expect(new Set(labels.map((l) => l.x % 20))).toEqual(new Set([0]));
    expect(labels.find((l) => l.x === 0 && l.y === 20)?.text).toBe('−2.00');
    expect(labels.find((l) => l.x === 80 && l.y === 40)?.text).toBe('+1.20');
    expect(depthLabels(seen(0.5), PIECES, 'm').some((l) => l.x === 50)).toBe(false);
  });

  it('are feet at round feet in a project of feet', () => {
    const [label] = depthLabels(seen(0.25), PIECES, 'ft').filter((l) => l.x > 80 && l.y > 1);
    expect(Math.round(label.x / 0.3048) % 50).toBe(0);
    expect(label.text).toBe(`+${(label.d / 0.3048).toFixed(2)}`);
  });

  it('come closer together as the drawing is nearer, never more than can be written', () => {
    expect(depthLabels(seen(0.1), PIECES, 'm').length).toBeGreaterThan(depthLabels(seen(0.5), PIECES, 'm').length);
    expect(depthLabels(seen(0.001, [0, 0, 100, 100]), PIECES, 'm').length).toBeLessThanOrEqual(600);
    expect(depthLabels(seen(1), new Float64Array(0), 'm')).toEqual([]);
  });
});
