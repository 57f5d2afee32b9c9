import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { codesOfDrawing, DRAWN_WORDS, mixedCodes, rowsOfFile, sidesOfUnderlay, UNDER, withoutUnderlay, type TakenRow } from '#core/exchange'; // prettier-ignore
import { newDocument, plainIntake, type ProjectDocument } from '#core/project';
import { packRead, readByPlan, readingPlan, unpackRead } from '#core/sources';

// What of a drawing lies under the project's own: it is read and transformed like all else, and is nothing but seen.

type Group = string | number;
const drawing = (...entities: Group[]): Uint8Array =>
  new TextEncoder().encode([0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'));
const line = (layer: string, ...p: number[]): Group[] => [0, 'LINE', 8, layer, 10, p[0], 20, p[1], 30, p[2], 11, p[3], 21, p[4], 31, p[5]]; // prettier-ignore
const ring = (layer: string, ...v: [number, number][]): Group[] => [0, 'LWPOLYLINE', 8, layer, 90, v.length, 70, 1, ...v.flatMap(([x, y]) => [10, x, 20, y])]; // prettier-ignore
const text = (layer: string, x: number, y: number, says: string): Group[] => [0, 'TEXT', 8, layer, 1, says, 10, x, 20, y]; // prettier-ignore
const point = (layer: string, x: number, y: number, z: number): Group[] => [0, 'POINT', 8, layer, 10, x, 20, y, 30, z];

const FILE = drawing(
  ...line('KERB', 0, 0, 5, 10, 0, 6),
  ...ring('PLOT', [0, 10], [20, 10], [20, 30]),
  ...text('LOTS', 3, 12, 'Lot 7 END'),
  ...line('ROAD', 0, 2, 5, 10, 2, 6),
  ...point('TREE', 4, 4, 0),
  ...point('SHOT', 1, 1, 5.5),
);
const row = (layer: string, kind: string, as: TakenRow['as']): TakenRow => ({ layer, kind, as });
const UNDERLAY = [row('PLOT', 'LWPOLYLINE', 'underlay'), row('LOTS', 'TEXT', 'underlay'), row('ROAD', 'LINE', 'underlay'), row('TREE', 'POINT', 'underlay')]; // prettier-ignore
const TAKEN = [row('KERB', 'LINE', 'lines'), row('SHOT', 'POINT', 'points'), ...UNDERLAY];

async function imported(taken: TakenRow[], said: Partial<ProjectDocument['intakes'][number]> = {}) {
  const rows = rowsOfFile(FILE, { taken });
  if (!rows.ok) throw new Error(rows.reason);
  const layout = { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm', taken } as const; // prettier-ignore
  const intake = plainIntake('d', { words: DRAWN_WORDS, layout: { ...layout, roles: [...layout.roles] }, ...said });
  const doc = { ...newDocument(), intakes: [intake] };
  const reading = await readByPlan(FILE, readingPlan(doc.basis, intake), {});
  if (!reading?.ok) throw new Error(reading?.reason);
  return { rows, doc, read: reading.read };
}

describe('an underlay', () => {
  it('holds what is taken so: lines, closed ones, marks, and texts as they are written', async () => {
    const { read, rows } = await imported(TAKEN);
    expect(rows.together).toMatchObject({ points: 1, underlay: { count: 4 } });
    const { underlay } = read;
    const things = Array.from(underlay!.kinds, (kind, t) => {
      const [from, to] = [underlay!.starts[t], underlay!.starts[t + 1]];
      return [kind, underlay!.names[t], Array.from(underlay!.x.subarray(from, to)), Array.from(underlay!.z.subarray(from, to))]; // prettier-ignore
    });
    expect(things).toEqual([
      [UNDER.point, 'TREE', [4], [NaN]],
      [UNDER.text, 'Lot 7 END', [3], [NaN]],
      [UNDER.closed, 'PLOT', [0, 20, 20], [NaN, NaN, NaN]],
      [UNDER.line, 'ROAD', [0, 10], [5, 6]],
    ]);
    const sides = sidesOfUnderlay(underlay!);
    expect(sides.x).toHaveLength(2 * (3 + 1));
    expect([...sides.x.subarray(4, 6)]).toEqual([20, 0]);
  });

  it('is no point, no line, no code and not in the ground', async () => {
    const { doc, read } = await imported(TAKEN);
    const { points, linework, queries } = runChain(doc, () => read);
    expect(points.description).toEqual(['SHOT', 'KERB1 BEG', 'KERB1 END']);
    expect(linework.lines.length).toBeLessThanOrEqual(1);
    expect(JSON.stringify(queries)).not.toContain('ROAD');
    expect(codesOfDrawing([], TAKEN, []).map((c) => c.code).sort()).toEqual(['KERB', 'SHOT']); // prettier-ignore
    expect(mixedCodes([row('KERB', 'LINE', 'lines'), row('KERB', 'TEXT', 'underlay')])).toEqual([]);
  });

  it('can be all of a drawing', async () => {
    const { read, rows } = await imported(UNDERLAY);
    expect(rows.besides).toBeNull();
    expect(read.x).toHaveLength(0);
    expect(read.underlay!.kinds).toHaveLength(4);
  });

  it('is kept and read back as it is', async () => {
    const { read } = await imported(TAKEN);
    expect(unpackRead(packRead(read))).toEqual(read);
  });

  it('loses what could not be read, and nothing joins across it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 0, max: 6 })), {
          minLength: 1,
          maxLength: 12,
        }),
        (lines) => {
          // prettier-ignore
          // Lines of so many vertices each; of each one vertex is lost, or none.
          const kept: { line: number; row: number; number: string }[] = [];
          let at = 2;
          lines.forEach(([n, lost], line) => {
            for (let i = 0; i < n; i++, at++) if (i !== lost) kept.push({ line, row: at, number: i ? '' : 'line' });
          });
          const flat = (of: (k: (typeof kept)[number]) => number): Float64Array => Float64Array.from(kept, of);
          const { underlay, x } = withoutUnderlay(
            { number: kept.map((k) => k.number), x: flat((k) => k.line), y: flat((k) => k.row), z: flat(() => NaN), description: kept.map((k) => `L${k.line}`), row: Uint32Array.from(kept, (k) => k.row), refused: [], refusedCount: 0, blank: 0, rows: at }, // prettier-ignore
            2,
          );
          expect(x).toHaveLength(0);
          underlay.kinds.forEach((_, t) => {
            const [from, to] = [underlay.starts[t], underlay.starts[t + 1]];
            expect(to).toBeGreaterThan(from);
            expect(new Set(underlay.x.subarray(from, to)).size).toBe(1);
            for (let i = from + 1; i < to; i++) expect(underlay.y[i]).toBe(underlay.y[i - 1] + 1);
          });
          expect(underlay.starts.at(-1)).toBe(kept.length);
        },
      ),
    );
  });
});
