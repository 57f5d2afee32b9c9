import fc from 'fast-check';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { BY_LAYER, chooseTaken, codesOfDrawing, inkOfColour, partOfDrawing, readDxf, rowFinder, TRUE_COLOUR, type LayerAndKind, type TakenRow } from '#core/exchange'; // prettier-ignore
import { intakeSchema } from '#core/project';
import { saidOutside } from './near-course.ts';

// Colours that entities say themselves, as ezdxf (Debian python3-ezdxf) writes them: what a layer has in several is chosen by.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-dxf-'));
afterAll(() => rmSync(folder, { recursive: true }));

const rows = (...lines: string[]): string => [...lines.flatMap((l) => l.split(' ')), '0', 'EOF', ''].join('\n');
const drawing = (text: string) => ({ kind: 'dxf' as const, content: readDxf(text), unit: 'm' as const });
const kerb = (colour: string, y = 0): string => `0 LINE 8 KERB ${colour} 10 0 20 ${y} 30 5 11 9 21 ${y} 31 5`.replace(/ {2,}/g, ' '); // prettier-ignore
const kerbs = (...colours: string[]) => drawing(rows('0 SECTION 2 ENTITIES', ...colours.map((c, i) => kerb(c, i)), '0 ENDSEC')); // prettier-ignore
const listed = (of: ReturnType<typeof drawing>, blocks = false) => partOfDrawing(of, { blocks }).table.rows.map((r) => [r.layer, r.kind, r.count, r.drawnIn]); // prettier-ignore
const taken = (of: ReturnType<typeof drawing>, ...ticked: TakenRow[]): number[] => partOfDrawing(of, { taken: ticked }).file.content.polylines.map((l) => l.y[0]); // prettier-ignore
const KERB = { layer: 'KERB', kind: 'LINE' } as const;

describe.each(['R12', 'R2000', 'R2004', 'R2018'])('a drawing of %s', (version) => {
  const file = join(folder, `${version}.dxf`);
  const truth = saidOutside<Record<string, number>>('drawing_colours.py', file, version);
  const read = drawing(readFileSync(file, 'utf8'));

  it('says of each entity the colour that it says itself', () => {
    const said = Object.fromEntries(read.content.polylines.map((l) => [l.x[0], l.drawnIn]));
    const meant: Record<string, number | undefined> = { 'by layer': undefined, 'by layer, said': undefined, red: 1, yellow: 2, '#123456': TRUE_COLOUR + 0x123456 }; // prettier-ignore
    for (const [name, x] of Object.entries(truth)) expect([name, said[x]]).toEqual([name, meant[name]]);
  });

  it('lists a layer that has several colours by them, its own together', () => {
    const counts = listed(read).filter(([layer]) => layer === 'KERB').map(([, , count, colour]) => [count, colour]); // prettier-ignore
    expect(counts).toEqual([[1, 1], [1, 2], [2, BY_LAYER], ...(truth['#123456'] === undefined ? [] : [[1, TRUE_COLOUR + 0x123456]])]); // prettier-ignore
  });

  it('gives what a block draws the colour of where it is put, or its own', () => {
    const put = listed(read, true).filter(([layer]) => layer === 'FENCE' || layer === 'POSTS');
    expect(put.filter(([, kind]) => kind === 'LINE')).toEqual([
      ['FENCE', 'LINE', 1, 6],
      ['FENCE', 'LINE', 1, BY_LAYER],
      ['POSTS', 'LINE', 2, undefined],
    ]);
  });
});

describe('what is ticked by colour', () => {
  const three = kerbs('62 1', '62 2', '', '62 1');

  it('is what is drawn in it, and without a colour all of the layer', () => {
    expect(taken(three, { ...KERB, drawnIn: 1 })).toEqual([0, 3]);
    expect(taken(three, { ...KERB, drawnIn: BY_LAYER })).toEqual([2]);
    expect(taken(three, KERB)).toEqual([0, 1, 2, 3]);
    expect(taken(three, { ...KERB, drawnIn: 7 })).toEqual([]);
  });

  it('becomes different things colour by colour', () => {
    const ticked: TakenRow[] = [{ ...KERB, drawnIn: 1, as: 'breaklines', code: 'KT' }, { ...KERB, drawnIn: 2, as: 'lines', code: 'FN' }]; // prettier-ignore
    const { polylines } = partOfDrawing(three, { taken: ticked }).file.content;
    expect(polylines.map((l) => [l.y[0], l.layer])).toEqual([[0, 'KT'], [1, 'FN'], [3, 'KT']]); // prettier-ignore
  });

  it('is not listed by colour where there is but one, or where there are too many to choose among', () => {
    expect(listed(kerbs('62 1', '62 1'))).toEqual([['KERB', 'LINE', 2, undefined]]);
    const many = kerbs(...Array.from({ length: 13 }, (_, i) => `62 ${i + 1}`));
    expect(listed(many)).toEqual([['KERB', 'LINE', 13, undefined]]);
  });

  it('is ticked again in the next issue, though that lists the layer otherwise', () => {
    const byColour = { id: 'a', name: 'a.dxf', taken: [{ ...KERB, drawnIn: 1, as: 'breaklines' as const }, { ...KERB, drawnIn: 2, as: 'lines' as const }] }; // prettier-ignore
    const whole = { id: 'b', name: 'b.dxf', taken: [{ ...KERB, as: 'breaklines' as const, code: 'KT' }] };
    const again = (of: ReturnType<typeof drawing>, kept: typeof byColour | typeof whole) => chooseTaken(partOfDrawing(of, {}).table, [], [kept]).taken; // prettier-ignore
    expect(again(three, byColour)).toEqual(byColour.taken);
    expect(again(three, whole)).toEqual([1, 2, BY_LAYER].map((drawnIn) => ({ ...KERB, drawnIn, as: 'breaklines', code: 'KT' }))); // prettier-ignore
    // What was two rows is one: as the first of them.
    expect(again(kerbs('62 1'), byColour)).toEqual([{ ...KERB, as: 'breaklines' }]);
  });

  it('is a choice that a document keeps, and none beyond colours that there are', () => {
    const kept = (drawnIn: number) => intakeSchema.shape.layout.shape.taken.safeParse([{ ...KERB, drawnIn }]).success;
    expect([kept(1), kept(BY_LAYER), kept(TRUE_COLOUR + 0xffffff), kept(2 * TRUE_COLOUR), kept(-1), kept(1.5)]).toEqual([true, true, true, false, false, false]); // prettier-ignore
  });
});

describe('a colour from outside', () => {
  it.each(['62 x', '62 -3', '62 1.5', '62 999', '420 -1', '420 16777216', '420 x'])('that is none (%s) says none, and the line stays', (said) => {
    expect(kerbs(said).content.polylines.map((l) => l.drawnIn)).toEqual([undefined]);
  }); // prettier-ignore

  it('never changes which entities are found: a row of all takes what rows of each take together', () => {
    const colour = fc.constantFrom('', '62 1', '62 2', '62 256', '62 0', '420 255');
    fc.assert(
      fc.property(fc.array(colour, { minLength: 1, maxLength: 20 }), (colours) => {
        const of = kerbs(...colours);
        const each = new Set(of.content.polylines.map((l) => l.drawnIn ?? BY_LAYER));
        const together = [...each].flatMap((drawnIn) => taken(of, { ...KERB, drawnIn }));
        expect(together.sort((a, b) => a - b)).toEqual(taken(of, KERB));
      }),
    );
  });
});

describe('the row of an entity', () => {
  const find = (ticked: LayerAndKind[], of: LayerAndKind) => rowFinder(ticked)(of);

  it('is that of its block or its colour before that of all', () => {
    const [all, red] = [KERB, { ...KERB, drawnIn: 1 }];
    expect([find([all, red], { ...KERB, drawnIn: 1 }), find([all, red], { ...KERB, drawnIn: 2 }), find([red], KERB)]).toEqual([red, all, undefined]); // prettier-ignore
    const [tree, any] = [
      { layer: 'A', kind: 'INSERT', block: 'TREE' },
      { layer: 'A', kind: 'INSERT' },
    ];
    expect([find([tree, any], { ...any, block: 'TREE' }), find([tree, any], { ...any, block: 'LAMP', drawnIn: 1 })]).toEqual([tree, any]); // prettier-ignore
  });
});

it('the ink of a new code is that of the colour that was ticked, by its hue', () => {
  expect([0xff0000, 0x00ff00, 0x0000ff, 0xff00ff, 0x808080, 0x000000].map((rgb) => inkOfColour(TRUE_COLOUR + rgb))).toEqual(['pole', 'pine', 'lake', 'plum', 'slate', 'ink']); // prettier-ignore
  const table = partOfDrawing(kerbs('62 1', '62 5'), {}).table.rows;
  const codes = codesOfDrawing(table, [{ ...KERB, drawnIn: 1, as: 'lines', code: 'R' }, { ...KERB, drawnIn: 5, as: 'lines', code: 'B' }], []); // prettier-ignore
  expect(codes.map((c) => [c.code, c.ink])).toEqual([['R', 'pole'], ['B', 'lake']]); // prettier-ignore
});
