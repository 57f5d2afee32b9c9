import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rowsOfFile, type Footprints, type TakenRow } from '#core/exchange';

// The plan of each building as one closed line, named after what is written in it or in the lot around it.

type Group = string | number;
const drawing = (...entities: Group[]): Uint8Array => new TextEncoder().encode([0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n')); // prettier-ignore
const ring = (layer: string, x: number, y: number, size: number): Group[] => [0, 'LWPOLYLINE', 8, layer, 90, 4, 70, 1, ...[[x, y], [x + size, y], [x + size, y + size], [x, y + size]].flatMap(([px, py]) => [10, px, 20, py])]; // prettier-ignore
const line = (layer: string, ax: number, ay: number, bx: number, by: number): Group[] => [0, 'LINE', 8, layer, 10, ax, 20, ay, 11, bx, 21, by]; // prettier-ignore
const text = (x: number, y: number, says: string, layer = 'NAMES'): Group[] => [0, 'TEXT', 8, layer, 1, says, 10, x, 20, y]; // prettier-ignore
const square = (layer: string, x: number, y: number, size: number, gap = 0): Group[] => [...line(layer, x, y, x + size, y), ...line(layer, x + size, y + gap, x + size, y + size), ...line(layer, x + size, y + size, x, y + size), ...line(layer, x, y + size, x, y)]; // prettier-ignore

function taken(...entities: Group[]): { told: Footprints; numbers: string[]; rows: string[]; places: number[][] } {
  const rows: TakenRow[] = ['LWPOLYLINE', 'LINE'].map((kind) => ({ layer: 'HOUSE', kind, as: 'footprints', code: 'BW' })); // prettier-ignore
  const got = rowsOfFile(drawing(...entities), { taken: rows, arcs: true });
  if (!got.ok) throw new Error(got.reason);
  const lines = got.text.split('\n').slice(1);
  return { told: got.drawing!.footprints!, numbers: lines.map((r) => r.split('\t')[0]), rows: lines.map((r) => r.split('\t')[4]), places: lines.map((r) => r.split('\t').slice(1, 3).map(Number)) }; // prettier-ignore
}

describe('footprints', () => {
  it('are named after the text inside, whatever layer it is on; a level is no name', () => {
    const { told, numbers, rows } = taken(...ring('HOUSE', 0, 0, 10), ...text(3, 3, 'Plot 12'), ...text(5, 5, 'FFL 62.50'), ...text(5, 7, '62.50')); // prettier-ignore
    expect(told).toMatchObject({ closed: 1, inside: 1, around: 0, unnamed: 0, openCount: 0 });
    expect(numbers).toEqual(['Plot_12-1', 'Plot_12-2', 'Plot_12-3', 'Plot_12-4']);
    expect(rows).toEqual(['BW1 BEG', 'BW1', 'BW1', 'BW1 CLOSE']);
  });

  it('are named after the smallest lot around them, which may have two', () => {
    const { told, numbers } = taken(...ring('LOT', -20, -20, 100), ...text(-15, 70, 'ESTATE'), ...ring('LOT', -5, -5, 40), ...text(-3, 30, '7'), ...ring('HOUSE', 0, 0, 10), ...ring('HOUSE', 15, 15, 6)); // prettier-ignore
    expect(told).toMatchObject({ closed: 2, around: 2, unnamed: 0 });
    expect(numbers.filter((n) => n.endsWith('-1'))).toEqual(['7-1', '7.2-1']);
  });

  it('get no name where several are written: nothing says which is meant', () => {
    const { told, numbers } = taken(...ring('HOUSE', 0, 0, 10), ...text(3, 3, 'A'), ...text(5, 5, 'B'));
    expect(told).toMatchObject({ closed: 1, unnamed: 1 });
    expect(numbers).toEqual(['', '', '', '']);
  });

  it('are closed of pieces whose ends meet, and said where they are not', () => {
    expect(taken(...square('HOUSE', 0, 0, 10)).told).toMatchObject({ closed: 1, openCount: 0 });
    const gap = taken(...square('HOUSE', 100, 200, 10, 0.3));
    expect(gap.told).toMatchObject({ closed: 0, openCount: 1 });
    expect([[110, 200], [110, 200.3]]).toContainEqual([gap.told.open[0].x, gap.told.open[0].y]); // prettier-ignore
    expect(gap.rows.at(-1)).toBe('BW1 END');
  });

  it('with a round end are numbered at their corners, not in the middle of the arc', () => {
    const round: Group[] = [0, 'LWPOLYLINE', 8, 'HOUSE', 90, 4, 70, 1, 10, 0, 20, 0, 10, 10, 20, 0, 42, 0.5, 10, 10, 20, 8, 10, 0, 20, 8]; // prettier-ignore
    const { numbers } = taken(...round, ...text(3, 3, 'K'));
    expect(numbers).toEqual(['K-1', 'K-2', '', 'K-3', 'K-4']);
  });

  it('of an estate are each named by their own lot, in any order of the drawing', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 1, max: 5 }),
        fc.boolean(),
        fc.integer(),
        (columns, rows, asLines, seed) => {
          // prettier-ignore
          const parts: Group[][] = [];
          for (let i = 0; i < columns; i++)
            for (let j = 0; j < rows; j++) {
              const [x, y] = [i * 30, j * 40];
              parts.push(ring('LOT', x, y, 28), text(x + 2, y + 26, `L${i}${String.fromCharCode(65 + j)}`));
              parts.push((asLines ? square : ring)('HOUSE', x + 8, y + 6, 12));
            }
          parts.sort(
            (a, b) => Math.sin(seed + a.length * 7 + Number(a[5])) - Math.sin(seed + b.length * 7 + Number(b[5])),
          );
          const { told, numbers, places } = taken(...parts.flat());
          expect(told).toMatchObject({ closed: columns * rows, around: columns * rows, unnamed: 0, openCount: 0 });
          numbers.forEach((number, i) => {
            const [column, row] = [Math.floor(places[i][0] / 30), Math.floor(places[i][1] / 40)];
            expect(number).toMatch(new RegExp(`^L${column}${String.fromCharCode(65 + row)}-[1-4]$`));
          });
          expect(new Set(numbers).size).toBe(4 * columns * rows);
        },
      ),
      { numRuns: 60 },
    );
  });
});
