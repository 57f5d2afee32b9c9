import { describe, expect, it } from 'vitest';
import { firstLines } from '#core/exchange';

const head = (units: string): string =>
  `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n${units}\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n`;
const line = (i: number): string => `0\nLINE\n8\nKERB\n10\n${i}.5\n20\n7\n30\n0\n11\n${i + 1}\n21\n8\n31\n0\n`;
const drawing = (count: number, units = '6', more = ''): Uint8Array =>
  new TextEncoder().encode(head(units) + more + Array.from({ length: count }, (_, i) => line(i)).join('') + '0\nENDSEC\n0\nEOF\n'); // prettier-ignore
const MANY = 200_000;

describe('a first look at a large drawing', () => {
  it('has its first lines and points as they are drawn, in metres, and not all of them', () => {
    const closed = '0\nLWPOLYLINE\n8\nPAD\n90\n3\n70\n1\n10\n0\n20\n0\n10\n4\n20\n0\n10\n4\n20\n3\n';
    const first = firstLines(drawing(MANY, '4', `${closed}0\nPOINT\n8\nSHOT\n10\n3000\n20\n4000\n30\n0\n`), 'ft')!;
    // Millimetres, as the drawing says; a closed line has its closing side.
    expect([...first.sides.slice(0, 12)].map((v) => v * 1000)).toEqual([4, 3, 0, 0, 0, 0, 4, 0, 4, 0, 4, 3]);
    expect([...first.sides.slice(12, 16)].map((v) => Math.round(v * 1e6))).toEqual([500, 7000, 1000, 8000]);
    expect([[...first.x], [...first.y]]).toEqual([[3], [4]]);
    expect(first.sides.length / 4).toBeGreaterThan(10_000);
    expect(first.sides.length / 4).toBeLessThan(MANY);
  });

  it('is in the unit that is said for it where it says none', () => {
    expect(firstLines(drawing(MANY, '0'), 'ft')!.sides[0]).toBeCloseTo(0.5 * 0.3048, 12);
  });

  it('is nothing of a small one, of another file, and of one that draws nothing so far', () => {
    expect(firstLines(drawing(10), 'm')).toBeNull();
    expect(firstLines(new TextEncoder().encode('1,2,3\n'.repeat(2_000_000)), 'm')).toBeNull();
    const late = `999\n${'x'.repeat(60)}\n`.repeat(300_000);
    expect(firstLines(new TextEncoder().encode(head('6') + late + line(1)), 'm')).toBeNull();
    expect(firstLines(new Uint8Array(9 << 20), 'm')).toBeNull();
  });

  it('of a garbled one is what can be read', () => {
    const bytes = drawing(MANY);
    for (let i = 4000; i < bytes.length; i += 997) bytes[i] = 120;
    const first = firstLines(bytes, 'm');
    for (const v of first?.sides ?? []) expect(Number.isFinite(v)).toBe(true);
  });
});
