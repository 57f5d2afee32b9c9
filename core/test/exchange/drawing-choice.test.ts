import { describe, expect, it } from 'vitest';
import { codeSchema } from '#core/codes';
import { chooseTaken, codeOfTaken, codesOfDrawing, inkOfColour, mixedCodes, rowsOfFile, readPoints, sidesOfRows, takenRow, type DrawingTable, type TakenRow } from '#core/exchange'; // prettier-ignore

type Row = DrawingTable['rows'][number];
const row = (layer: string, kind: string, more: Partial<Row> = {}): Row => ({ layer, kind, count: 3, box: [0, 0, 9, 9], lowest: null, highest: null, flat: 0, far: 0, read: true, hidden: false, colour: null, ...more }); // prettier-ignore
const ROWS = [row('KERBS', 'POLYLINE'), row('KERBS', 'TEXT'), row('OLD', 'LINE', { hidden: true }), row('PAD', '3DFACE'), row('SIZES', 'DIMENSION', { read: false })]; // prettier-ignore
const CODES = [{ code: 'KT', layer: 'kerbs' }, { code: 'TR', layer: 'TREES' }, { code: 'TR2', layer: 'PITS' }]; // prettier-ignore

describe('what is ticked of a drawing before anybody ticks', () => {
  it('is its points and lines, each with the code of its layer, without what its maker does not see', () => {
    expect(chooseTaken({ rows: ROWS }, CODES, [])).toEqual({
      taken: [{ layer: 'KERBS', kind: 'POLYLINE', as: 'lines', code: 'KT' }],
      from: null,
    });
  });

  it('is what hidden layers hold where there is nothing else', () => {
    expect(chooseTaken({ rows: [ROWS[2]] }, [], []).taken).toEqual([{ layer: 'OLD', kind: 'LINE', as: 'lines' }]);
  });

  it('is what was ticked of an earlier issue with the same layers, without those that are gone', () => {
    const taken: TakenRow[] = [
      { layer: 'KERBS', kind: 'POLYLINE', as: 'breaklines', code: 'TOP' },
      { layer: 'KERBS', kind: 'TEXT', as: 'ground points' },
      { layer: 'GONE', kind: 'LINE', as: 'contours' },
    ];
    const other = { id: 'o', name: 'other.dxf', taken: [{ layer: 'OLD', kind: 'LINE', as: 'lines' as const }, { layer: 'X', kind: 'LINE', as: 'lines' as const }] }; // prettier-ignore
    expect(chooseTaken({ rows: ROWS }, CODES, [other, { id: 'a', name: 'issue-a.dxf', taken }])).toEqual({
      taken: taken.slice(0, 2),
      from: { id: 'a', name: 'issue-a.dxf' },
    });
    // Half of it is another drawing.
    expect(chooseTaken({ rows: ROWS }, CODES, [other]).from).toBeNull();
  });

  it('gives no code where several have the layer, and none that would be read as another', () => {
    expect(takenRow(row('KERBS', 'LINE'), [...CODES, { code: 'KB', layer: 'KERBS' }]).code).toBeUndefined();
    // TR2 with a line number behind would be line 2… of TR.
    expect(takenRow(row('PITS', 'LINE'), CODES).code).toBeUndefined();
  });
});

describe('the code of what is ticked', () => {
  it('is the one that it was given, else made of its layer; symbols have their block’s name', () => {
    expect(codeOfTaken({ layer: 'Edge of paving', kind: 'LINE', as: 'lines' })).toBe('EDGE_OF_PAVING');
    expect(codeOfTaken({ layer: 'X', kind: 'LINE', as: 'lines', code: 'kt' })).toBe('KT');
    expect(codeOfTaken({ layer: 'X', kind: 'INSERT', as: 'points' })).toBeNull();
    expect(codeOfTaken({ layer: 'X', kind: 'INSERT', as: 'ground points' })).toBe('X');
  });
});

describe('rows of one code', () => {
  it('that are taken as different things are told, whatever their layers are called', () => {
    const row = (layer: string, as: TakenRow['as'], code?: string): TakenRow => ({ layer, kind: 'LINE', as, ...(code ? { code } : {}) }); // prettier-ignore
    expect(mixedCodes([row('KERB', 'lines'), row('kerb', 'breaklines'), row('WALL', 'lines', 'W'), row('FENCE', 'lines', 'w')])).toEqual(['KERB']); // prettier-ignore
    expect(mixedCodes([{ layer: 'T', kind: 'INSERT', as: 'points' }, { layer: 'T', kind: 'TEXT', as: 'points' }])).toEqual([]); // prettier-ignore
  });
});

describe('codes that come with a drawing', () => {
  const taken: TakenRow[] = [
    { layer: 'KERBS', kind: 'POLYLINE', as: 'lines', code: 'KT' },
    { layer: 'Edge of paving', kind: 'LINE', as: 'lines' },
    { layer: 'EDGE OF PAVING', kind: 'ARC', as: 'breaklines' },
    { layer: 'LEVELS', kind: 'TEXT', as: 'ground points' },
    { layer: 'TREES', kind: 'INSERT', as: 'points' },
  ];

  it('are those that the list lacks, each once, on the layer that it was drawn on', () => {
    const rows = [row('Edge of paving', 'LINE', { colour: 1 }), row('LEVELS', 'TEXT')];
    const codes = codesOfDrawing(rows, taken, [{ code: 'kt' }]);
    expect(codes.map(({ code, kind, layer, ink, breakline, ground }) => [code, kind, layer, ink, breakline, ground])).toEqual([
      ['EDGE_OF_PAVING', 'line', 'Edge of paving', 'pole', true, true],
      ['LEVELS', 'point', 'LEVELS', 'slate', false, true],
    ]); // prettier-ignore
    expect(codes.every((c) => codeSchema.safeParse(c).success)).toBe(true);
  });

  it('have an ink near to the colour of their layer', () => {
    expect([1, 2, 3, 5, 6, 7, 8].map(inkOfColour)).toEqual(['pole', 'brass', 'pine', 'lake', 'plum', 'ink', 'slate']);
    // 30 is orange, 90 green, 170 blue, 240 red again.
    expect([30, 90, 170, 240].map(inkOfColour)).toEqual(['brass', 'pine', 'lake', 'pole']);
    expect([null, 0, 256, 999].map(inkOfColour)).toEqual(['slate', 'slate', 'slate', 'slate']);
    for (let i = 1; i < 256; i++) expect(inkOfColour(i)).toBeTruthy();
  });
});

describe('lines among rows', () => {
  const line = (layer: string, y: number) => [0, 'LINE', 8, layer, 10, 0, 20, y, 30, 1, 11, 9, 21, y, 31, 1];
  const square = [0, 'LWPOLYLINE', 8, 'PAD', 90, 3, 70, 1, 10, 0, 20, 0, 10, 4, 20, 0, 10, 4, 20, 3];
  const file = new TextEncoder().encode([0, 'SECTION', 2, 'ENTITIES', ...line('A', 5), ...square, 0, 'POINT', 8, 'P', 10, 1, 20, 1, 0, 'ENDSEC', 0, 'EOF', ''].join('\n')); // prettier-ignore
  const taken: TakenRow[] = [{ layer: 'P', kind: 'POINT', as: 'points' }, { layer: 'A', kind: 'LINE', as: 'lines' }, { layer: 'PAD', kind: 'LWPOLYLINE', as: 'lines' }]; // prettier-ignore

  it('are told by their sides: no side leads from one line to the next, closed ones come back', () => {
    const rows = rowsOfFile(file, { taken });
    if (!rows.ok) throw new Error(rows.reason);
    expect(rows.together).toEqual({ points: 1, lightFrom: 3 });
    expect(rows.lines).toEqual({ count: 2, taken: true });
    const read = readPoints(rows.text, { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' })!; // prettier-ignore
    expect([...sidesOfRows(read, 1, 100)]).toEqual([0, 5, 9, 5, 0, 0, 4, 0, 4, 0, 4, 3, 4, 3, 0, 0]);
  });

  it('are taken evenly where there are too many', () => {
    const many = new TextEncoder().encode([0, 'SECTION', 2, 'ENTITIES', ...Array.from({ length: 50 }, (_, i) => line('A', i)).flat(), 0, 'ENDSEC', 0, 'EOF', ''].join('\n')); // prettier-ignore
    const rows = rowsOfFile(many, { taken: [{ layer: 'A', kind: 'LINE', as: 'lines' }] });
    if (!rows.ok) throw new Error(rows.reason);
    const read = readPoints(rows.text, { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' })!; // prettier-ignore
    const sides = sidesOfRows(read, 0, 20);
    expect(sides.length / 4).toBe(10);
    expect(new Set([...sides].filter((_, i) => i % 4 === 1)).size).toBe(10);
  });

  it('with nothing ticked are not taken for a surface that is there besides', () => {
    const face = [0, '3DFACE', 8, 'PAD', 10, 0, 20, 0, 30, 0, 11, 1, 21, 0, 31, 0, 12, 1, 22, 1, 32, 0, 13, 1, 23, 1, 33, 0]; // prettier-ignore
    const both = new TextEncoder().encode([0, 'SECTION', 2, 'ENTITIES', ...face, ...line('A', 1), 0, 'ENDSEC', 0, 'EOF', ''].join('\n')); // prettier-ignore
    const nothing = rowsOfFile(both, { taken: [] });
    expect(nothing).toMatchObject({ ok: false, reason: expect.stringContaining('Tick what is wanted') as string });
    expect(!nothing.ok && nothing.drawing?.rows).toHaveLength(2);
  });
});
