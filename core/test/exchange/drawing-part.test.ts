import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distanceToSide, pointInRing } from '#core/kernel';
import {
  chooseTaken,
  partOfDrawing,
  readDxf,
  rowsOfFile,
  type DxfContent,
  type FilePart,
  type TakenRow,
} from '#core/exchange';

const rows = (...lines: string[]): string => [...lines.flatMap((l) => l.split(' ')), '0', 'EOF', ''].join('\n');
const TEXT = rows(
  '0 SECTION 2 TABLES 0 TABLE 2 LAYER 0 LAYER 2 OLD 70 1 62 7 0 LAYER 2 KERB 70 0 62 1 0 LAYER 2 Spare 0 LAYER 2 CENTRE 0 LAYER 2 FRAME 0 LAYER 2 0 0 ENDTAB 0 ENDSEC',
  '0 SECTION 2 BLOCKS 0 BLOCK 2 TREE 70 0 10 0 20 0 0 LINE 8 0 10 -1 20 0 11 1 21 0 0 POINT 8 CENTRE 10 0 20 0 0 ENDBLK 0 ENDSEC',
  '0 SECTION 2 ENTITIES',
  '0 LINE 8 KERB 10 0 20 0 30 5 11 10 21 0 31 6',
  '0 LINE 8 OLD 10 0 20 5 30 5 11 10 21 5 31 6',
  '0 POINT 8 SHOT 10 3 20 4 30 5',
  '0 TEXT 8 LEVEL 1 66.25 10 7 20 8',
  '0 TEXT 8 LEVEL 1 sheet 10 7 20 8',
  '0 INSERT 8 GARDEN 2 TREE 10 20 20 30 41 2 42 2 43 2',
  '0 SOLID 8 PAVED 10 0 20 0 11 4 21 0 12 0 22 3 13 4 23 3',
  '0 DIMENSION 8 SIZES 10 0 20 0',
  '0 LINE 8 FRAME 67 1 10 0 20 0 11 9 21 0',
  '0 ENDSEC',
);
const read = (part: FilePart) => {
  const got = rowsOfFile(new TextEncoder().encode(TEXT), part);
  if (!got.ok) throw new Error(got.reason);
  return {
    ...got,
    rows: got.text
      .split('\n')
      .slice(1)
      .map((r) => r.split('\t')),
  };
};
const table = (blocks = false) => partOfDrawing({ kind: 'dxf', content: readDxf(TEXT), unit: 'm' }, { blocks }).table;

describe('a drawing as a table', () => {
  it('has a row for each layer and kind, with what is not read and what is hidden', () => {
    const said = table().rows.map((r) => [r.layer, r.kind, r.count, r.read, r.hidden]);
    expect(said).toEqual([
      ['GARDEN', 'INSERT', 1, true, false],
      ['KERB', 'LINE', 1, true, false],
      ['LEVEL', 'TEXT', 2, true, false],
      ['OLD', 'LINE', 1, true, true],
      ['PAVED', 'SOLID', 1, true, false],
      ['SHOT', 'POINT', 1, true, false],
      ['SIZES', 'DIMENSION', 1, false, false],
    ]);
    expect(table().rows[1]).toMatchObject({ lowest: 5, highest: 6, flat: 0, box: [0, 0, 10, 0] });
  });

  it('names the layers that hold nothing: not those of blocks and sheets, nor the one that every drawing has', () => {
    expect(table().empty).toEqual({ names: ['Spare'], count: 1 });
  });

  it('counts what blocks draw as drawn there, where that is wanted', () => {
    const said = table(true).rows.map((r) => [r.layer, r.kind, r.count]);
    expect(said).toContainEqual(['GARDEN', 'LINE', 1]);
    expect(said).toContainEqual(['CENTRE', 'POINT', 1]);
  });
});

describe('what is taken of a drawing', () => {
  it('is its points, or its lines, where nobody ticks', () => {
    expect(read({}).rows).toEqual([['', '3', '4', '5', 'SHOT']]);
    expect(read({ lines: true }).rows.map((r) => r[4])).toEqual(['KERB1 BEG', 'KERB1 END', 'OLD2 BEG', 'OLD2 END']);
  });

  it('is what is ticked: symbols where they are put, texts that are elevations, rims of areas', () => {
    const points = read({ taken: [{ layer: 'GARDEN', kind: 'INSERT' }, { layer: 'LEVEL', kind: 'TEXT' }] }); // prettier-ignore
    expect(points.rows).toEqual([
      ['', '20', '30', '', 'TREE'],
      ['', '7', '8', '66.25', 'LEVEL'],
    ]);
    expect(points.besides).toContain('1 text');
    const rim = read({ lines: true, taken: [{ layer: 'PAVED', kind: 'SOLID' }] });
    expect(rim.rows.map((r) => [r[1], r[2]])).toEqual([['0', '0'], ['4', '0'], ['4', '3'], ['0', '3']]); // prettier-ignore
    expect(rim.rows.at(-1)![4]).toBe('PAVED1 CLOSE');
  });

  it('goes by layer and kind: the same layer may hold what is not taken', () => {
    const drawn = read({ lines: true, blocks: true, taken: [{ layer: 'GARDEN', kind: 'LINE' }] });
    expect(drawn.rows.map((r) => r.slice(1, 3))).toEqual([['18', '30'], ['22', '30']]); // prettier-ignore
  });

  it('is symbols by their block, where a layer has several and few enough; a row of none means all of them', () => {
    const put = (block: string, x: number) => `0 INSERT 8 GARDEN 2 ${block} 10 ${x} 20 5`;
    const block = (name: string) => `0 BLOCK 2 ${name} 70 0 10 0 20 0 0 POINT 8 0 10 0 20 0 0 ENDBLK`;
    const of = (names: string[]) => rows('0 SECTION 2 BLOCKS', ...names.map(block), '0 ENDSEC 0 SECTION 2 ENTITIES', ...names.map(put), '0 ENDSEC'); // prettier-ignore
    const few = of(['TREE', 'LAMP', 'TREE', 'BENCH']);
    const part = (text: string, part: FilePart) => partOfDrawing({ kind: 'dxf', content: readDxf(text), unit: 'm' }, part); // prettier-ignore
    const listed = part(few, {}).table.rows;
    expect(listed.map((r) => [r.kind, r.block, r.count])).toEqual([['INSERT', 'BENCH', 1], ['INSERT', 'LAMP', 1], ['INSERT', 'TREE', 2]]); // prettier-ignore
    const named = (taken: TakenRow[]) => part(few, { taken }).file.named!.map((p) => p.description);
    expect(named([{ layer: 'GARDEN', kind: 'INSERT', block: 'TREE', as: 'points' }])).toEqual(['TREE', 'TREE']);
    expect(named([{ layer: 'GARDEN', kind: 'INSERT', block: 'LAMP', as: 'points', code: 'LP' }])).toEqual(['LP']);
    expect(named([{ layer: 'GARDEN', kind: 'INSERT', as: 'points' }])).toEqual(['TREE', 'LAMP', 'TREE', 'BENCH']);
    // One block, or very many of them, are one row.
    expect(part(of(['TREE', 'TREE']), {}).table.rows.map((r) => [r.block, r.count])).toEqual([[undefined, 2]]);
    expect(part(of(Array.from({ length: 30 }, (_, i) => `B${i}`)), {}).table.rows.map((r) => [r.block, r.count])).toEqual([[undefined, 30]]); // prettier-ignore
    // What was ticked of an issue is there again in the next one, listed otherwise.
    const again = (text: string, taken: TakenRow[]) => chooseTaken(part(text, {}).table, [], [{ id: 'k', name: 'a', taken }]).taken.map((t) => t.block); // prettier-ignore
    expect(again(few, [{ layer: 'GARDEN', kind: 'INSERT', as: 'points' }])).toEqual(['BENCH', 'LAMP', 'TREE']);
    expect(again(of(['TREE']), [{ layer: 'GARDEN', kind: 'INSERT', block: 'TREE', as: 'points' }])).toEqual([
      undefined,
    ]);
  });

  it('that is no point and no line is said to be so', () => {
    const got = rowsOfFile(new TextEncoder().encode(TEXT), { taken: [] });
    expect(got).toMatchObject({ ok: false, reason: expect.stringContaining('Tick what is wanted') as string });
  });

  it('reads elevations that are written in metres as metres, whatever the drawing is in', () => {
    const level = (unit: FilePart['unit']) => read({ unit, taken: [{ layer: 'LEVEL', kind: 'TEXT' }] }).rows[0][3];
    expect(['m', 'mm', 'cm', 'in', 'ft'].map((u) => Number(level(u as FilePart['unit'])))).toEqual([66.25, 66_250, 6625, 795, 66.25]); // prettier-ignore
  });

  it('takes a dot at 0 for one that is drawn in plan, where points and lines come together', () => {
    const flat = TEXT.replace('3\n20\n4\n30\n5', '3\n20\n4\n30\n0');
    const got = rowsOfFile(new TextEncoder().encode(flat), { taken: [{ layer: 'SHOT', kind: 'POINT', as: 'points' }] });
    expect(got.ok && got.text.split('\n')[1].split('\t')).toEqual(['', '3', '4', '', 'SHOT']);
  });

  it('may be what reaches into a window alone: lines that do are taken whole, the table says all', () => {
    const taken = [{ layer: 'KERB', kind: 'LINE' }, { layer: 'OLD', kind: 'LINE' }, { layer: 'PAVED', kind: 'SOLID' }].map((t) => ({ ...t, as: 'lines' as const })); // prettier-ignore
    const codes = (within: FilePart['within']) => [...new Set(read({ taken, within }).rows.map((r) => r[4].split(' ')[0].replace(/\d$/, '')))]; // prettier-ignore
    expect(codes(undefined)).toEqual(['KERB', 'OLD', 'PAVED']);
    // KERB runs along y = 0, OLD along y = 5; the paved area is 4 × 3.
    expect(codes([8, -1, 9, 1])).toEqual(['KERB']);
    expect(codes([1, 1, 2, 2])).toEqual(['PAVED']);
    expect(read({ taken, within: [8, -1, 9, 1] }).rows.map((r) => r[1])).toEqual(['0', '10']);
    const { table: told } = partOfDrawing({ kind: 'dxf', content: readDxf(TEXT), unit: 'm' }, { taken, within: [8, -1, 9, 1] }); // prettier-ignore
    expect(told.rows).toHaveLength(7);
    const symbols = (within: FilePart['within']) => rowsOfFile(new TextEncoder().encode(TEXT), { within, taken: [{ layer: 'GARDEN', kind: 'INSERT', as: 'points' }] }).ok; // prettier-ignore
    expect([symbols([19, 29, 21, 31]), symbols([0, 0, 1, 1])]).toEqual([true, false]);
  });
});

describe('what reaches into a fence', () => {
  const nothing = readDxf('0\nEOF\n');
  const line = (x: number[], y: number[], closed = false) => ({ layer: '0', kind: 'LINE', x, y, z: x.map(() => 0), bulge: x.map(() => 0), closed, spatial: true }) as DxfContent['polylines'][number]; // prettier-ignore
  const reaching = (content: Partial<DxfContent>, fence: readonly number[], taken?: FilePart['taken']): number => partOfDrawing({ kind: 'dxf', content: { ...nothing, ...content }, unit: 'm' }, { taken, fence }).file.content.polylines.length; // prettier-ignore
  const lines = (list: DxfContent['polylines'], fence: readonly number[]): number =>
    reaching({ polylines: list }, fence);
  const L = [0, 0, 10, 0, 10, 4, 4, 4, 4, 10, 0, 10];

  it('is a line that enters, crosses, or ends in it, and none that passes its inner corner or runs round it', () => {
    expect(lines([line([2, 20], [2, 2])], L)).toBe(1);
    expect(lines([line([-5, 5], [2, -5])], L)).toBe(0);
    expect(lines([line([-5, 20], [2, 2])], L)).toBe(1);
    // Within its box, off the fence itself.
    expect(lines([line([6, 9], [6, 9])], L)).toBe(0);
    expect(lines([line([-1, 20, 20, -1], [-1, -1, 20, 20], true)], L)).toBe(0);
    // Its closing side crosses.
    expect(lines([line([-2, -2, 12, 12], [2, 20, 20, 2], true)], L)).toBe(1);
    expect(lines([line([-2, -2, 12, 12], [2, 20, 20, 2])], L)).toBe(0);
  });

  it('is an area that covers it, whose rim does not come near', () => {
    const area = { layer: '0', kind: 'HATCH', rings: [{ x: [-9, 30, 30, -9], y: [-9, -9, 30, 30], z: [0, 0, 0, 0] }] } as never; // prettier-ignore
    const taken = [{ layer: '0', kind: 'HATCH', as: 'lines' as const }];
    expect(reaching({ hatches: [area] }, L, taken)).toBe(1);
    expect(reaching({ hatches: [area] }, L.map((v) => v + 90), taken)).toBe(0); // prettier-ignore
  });

  it('is told like sampling the line closely, whichever way round the fence is drawn', () => {
    const c = fc.integer({ min: -20, max: 20 });
    const fence = fc.array(fc.tuple(fc.integer({ min: 2, max: 15 }), fc.integer({ min: 0, max: 359 })), { minLength: 3, maxLength: 9 }).map((all) => [...new Map(all.map(([r, a]) => [a, r])).entries()].sort((p, q) => p[0] - q[0]).flatMap(([a, r]) => [r * Math.cos((a * Math.PI) / 180), r * Math.sin((a * Math.PI) / 180)])).filter((f) => f.length >= 6); // prettier-ignore
    fc.assert(
      fc.property(fence, c, c, c, c, (f, ax, ay, bx, by) => {
        const ring = Float64Array.from(f);
        const touches = Array.from({ length: 2001 }, (_, i) => i / 2000).some((t) => pointInRing(ring, ax + t * (bx - ax), ay + t * (by - ay))); // prettier-ignore
        const back = Array.from({ length: f.length / 2 }, (_, i) =>
          f.slice(f.length - 2 * i - 2, f.length - 2 * i),
        ).flat();
        const reached = lines([line([ax, bx], [ay, by])], f);
        expect(lines([line([ax, bx], [ay, by])], back)).toBe(reached);
        // What it touches between two samples alone is the fence's to say.
        if (touches) expect(reached).toBe(1);
        const clear = Array.from({ length: 401 }, (_, i) => i / 400).every((t) => farFrom(f, ax + t * (bx - ax), ay + t * (by - ay)) > 0.2); // prettier-ignore
        if (!touches && clear) expect(reached).toBe(0);
      }),
    );
  });

  it('is kept with the file, and read again the same', () => {
    const taken = [{ layer: 'KERB', kind: 'LINE' }, { layer: 'OLD', kind: 'LINE' }].map((t) => ({ ...t, as: 'lines' as const })); // prettier-ignore
    // KERB runs along y = 0, OLD along y = 5.
    const rows = read({ taken, fence: [8, -1, 9, -1, 9, 1, 8, 1] }).rows;
    expect([...new Set(rows.map((r) => r[4].split(' ')[0].replace(/\d$/, '')))]).toEqual(['KERB']);
  });
});

/** How far a place is from the nearest side of a ring. */
function farFrom(ring: readonly number[], x: number, y: number): number {
  const at = (i: number): [number, number] => [ring[(2 * i) % ring.length], ring[(2 * i + 1) % ring.length]];
  return Math.min(...Array.from({ length: ring.length / 2 }, (_, i) => distanceToSide([x, y], at(i), at(i + 1))));
}
