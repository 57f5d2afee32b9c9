import { beforeAll, describe, expect, it } from 'vitest';
import type { ChainResult } from '#core/chain';
import { GROUND_KINDS, selmarFiles, selmarProject } from '#demo';
import { computed } from './demo-results.ts';

let result: ChainResult;
beforeAll(async () => {
  ({ result } = await computed(selmarProject()));
});

describe('Selmar Yard', () => {
  it('has a fault of every kind that a surface is asked about, each where it was planted', () => {
    const { slips } = selmarFiles();
    expect(slips.map((s) => s.kind).sort()).toEqual([...GROUND_KINDS].sort());
    const asked = result.queries.filter((q) => q.stage === 'ground');
    for (const { kind, where } of slips) {
      const own = asked.filter((q) => q.kind === kind);
      expect(own.length, kind).toBeGreaterThan(0);
      const { number } = result.points;
      const named = own.some((q) => q.text.includes(where) || q.lines.includes(where) || q.key.includes(where) || q.rows.some((r) => number[r] === where || kind === 'check-shots') || ['level-triangles', 'slivers'].includes(kind)); // prettier-ignore
      expect(named, `${kind} at ${where}: ${own.map((q) => q.text).join(' ')}`).toBe(true);
    }
  });

  it('is asked about little else', () => {
    const planted = new Set(selmarFiles().slips.map((s) => s.kind));
    const others = result.queries.filter((q) => q.stage === 'ground' && !planted.has(q.kind));
    expect(others.map((q) => q.text)).toEqual([]);
    expect(result.queries.filter((q) => q.stage === 'ground').length).toBeLessThanOrEqual(14);
  });

  it('has lost gravel since September: the heap was a paraboloid 3.4 m high and is one of 2.1 m', () => {
    const month = result.summary.comparisons.find((c) => c.id === 'month')!;
    // Half the base times the height, less what chords over a round heap cut off.
    const lost = (Math.PI * 13 ** 2 * (3.4 - 2.1)) / 2;
    expect(month.ok && (month.fill - month.cut) / lost).toBeGreaterThan(0.85);
    expect(month.ok && (month.fill - month.cut) / lost).toBeLessThan(1.05);
  });
});
