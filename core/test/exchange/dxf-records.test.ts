import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDxf } from '#core/exchange';

const file = (...lines: string[]): string => ['0', 'SECTION', '2', 'ENTITIES', ...lines, '0', 'ENDSEC', '0', 'EOF', ''].join('\n'); // prettier-ignore
const point = (x: string): string => file('0', 'POINT', '8', 'A', '10', x, '20', '0');

describe('numbers of a drawing', () => {
  it('are read to the last bit, however they are written', () => {
    const form = fc.constantFrom(
      (v: number) => String(v),
      (v: number) => v.toFixed(4),
      (v: number) => `  ${v.toFixed(12)} `,
      (v: number) => v.toExponential(),
      (v: number) => (v < 0 ? String(v) : `0000${v.toFixed(6)}`),
    );
    const value = fc.oneof(fc.double({ noNaN: true, min: -1e7, max: 1e7 }), fc.integer({ min: -1e15, max: 1e15 }).map((v) => v / 1e6)); // prettier-ignore
    fc.assert(
      fc.property(value, form, (v, written) => {
        expect(readDxf(point(written(v))).points[0].x).toBe(Number(written(v)));
      }),
      { numRuns: 2000 },
    );
  });

  it('that are none leave their entity out, named by its line', () => {
    for (const wrong of ['', '-', '.', '1.2.3', '1,5', '0x10', 'NaN', '1e999', '12 3', 'Infinity', '--1']) {
      const read = readDxf(point(wrong));
      expect(read.points, wrong).toEqual([]);
      expect(read.problems, wrong).toEqual([{ line: 6, what: expect.stringContaining('POINT') as string }]);
    }
  });
});

describe('a drawing that is none', () => {
  it('gives a problem by its line, never an exception', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 400 }),
        fc.constantFrom('', 'Some Binary DXF\r\n\x1a\0', '0\nSECTION\n2\nENTITIES\n'),
        (bytes, head) => {
          const all = new Uint8Array([...new TextEncoder().encode(head), ...bytes]);
          const read = readDxf(all);
          expect(read.whole).toBe(false);
          expect(read.problemCount).toBeGreaterThan(0);
        },
      ),
      { numRuns: 1000 },
    );
  });
});
