import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json as said } from './ran.ts';

// What cannot be read is named with its place, left out and counted, by every verb and in one way.

interface Told {
  notRead: { file: string; where: string; why: string }[];
  notReadCount: number;
}
const json = <T>(...args: string[]): T & Told => said<T & Told>(...args);
const file = (name: string, text: string): string => {
  writeFileSync(at(name), text);
  return at(name);
};
const entities = (rows: (string | number)[], units = 6, end = true): string =>
  [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, units, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...rows, ...(end ? [0, 'ENDSEC', 0, 'EOF'] : [])].join('\n') + '\n'; // prettier-ignore
const point = (x: string, y: string, z: string): (string | number)[] => [0, 'POINT', 8, 'A', 10, x, 20, y, 30, z];
const landXml = (units: string, body: string): string =>
  `<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2">${units}${body}</LandXML>`;
const units = (unit: string): string => `<Units><Metric linearUnit="${unit}"/></Units>`;
/** A square of 10 × 10 at level 5, of two faces. */
const square = (faces = '<F>1 2 3</F><F>1 3 4</F>'): string =>
  `<Surfaces><Surface name="S"><Definition surfType="TIN"><Pnts><P id="1">0 0 5</P><P id="2">0 10 5</P><P id="3">10 10 5</P><P id="4">10 0 5</P></Pnts><Faces>${faces}</Faces></Definition></Surface></Surfaces>`;

describe('a value that is no number', () => {
  it('in a drawing leaves its entity out, named by its line, whatever it looks like', () => {
    const rows = [...point('1', '2', '3'), ...point('0x10', '2', '3'), ...point('1', '', '3'), ...point('1', '2', '20x'), 0, 'POINT', 8, 'A', 10, 7, 30, 1, 0, 'POINT', 8, 'A', 10, 4, 20, 5]; // prettier-ignore
    const told = json<{ points: number }>('convert', file('numbers.dxf', entities(rows)), at('numbers.csv'));
    expect(told.points).toBe(2);
    expect(told.notReadCount).toBe(4);
    expect(told.notRead.map((n) => n.why)).toEqual([
      expect.stringContaining('“0x10”, not a number'),
      expect.stringContaining('group 20 of POINT is “”'),
      expect.stringContaining('“20x”, not a number'),
      expect.stringContaining('no group 20'),
    ]);
    expect(told.notRead[0]).toMatchObject({
      file: 'numbers.dxf',
      where: expect.stringMatching(/^line \d+$/) as string,
    });
    expect(readFileSync(at('numbers.csv'), 'utf8')).not.toMatch(/NaN|null|,16\.000/);
    expect(dunrik('convert', at('numbers.dxf'), at('numbers.csv')).out).toContain('not taken from numbers.dxf: line');
  });

  it('spoils the whole of a line, and a vertex without a coordinate too', () => {
    const line = (x: string): (string | number)[] => [0, 'POLYLINE', 8, 'L', 66, 1, 70, 8, 0, 'VERTEX', 8, 'L', 10, 0, 20, 0, 30, 1, 0, 'VERTEX', 8, 'L', 10, x, 20, 5, 30, 1, 0, 'SEQEND']; // prettier-ignore
    const flat = [0, 'LWPOLYLINE', 8, 'L', 90, 2, 38, 4, 10, 0, 20, 0, 10, 5];
    const told = json<{ lines: number }>('convert', file('lines.dxf', entities([...line('3'), ...line('12.5abc'), ...flat])), at('lines.geojson')); // prettier-ignore
    expect([told.lines, told.notReadCount]).toEqual([1, 2]);
  });

  it('in LandXML leaves its point out, and the faces that stand on it', () => {
    const body = `<CgPoints><CgPoint name="7">1.0 2.0 abc</CgPoint><CgPoint name="8">1 2 3</CgPoint></CgPoints>${square().replace('0 10 5', '0 1e999 5')}`;
    const told = json<{ points: number }>('convert', file('numbers.xml', landXml(units('meter'), body)), at('out.dxf'));
    expect(told.points).toBe(1);
    expect(told.notRead.map((n) => n.why).join()).toMatch(/point 7 holds “abc”.*surface point 2 holds “1e999”.*face “1 2 3” does not name three known points/s); // prettier-ignore
  });

  it('in a table is a row that is left out, with its number', () => {
    const rows = [
      'Number,East [m],North [m],Elevation [m]',
      '1,0,0,1',
      '2,12.5abc,0,1',
      '3,5,0,20x',
      '4,5,5,1',
      '5,0,5,2',
    ];
    const told = json<{ points: number }>('convert', file('rows.csv', rows.join('\n')), at('rows.dxf'));
    expect([told.points, told.notRead.map((n) => n.where)]).toEqual([3, ['row 3', 'row 4']]);
  });
});

describe('a file that ends too early', () => {
  it('is refused by every verb that makes something, and nothing is written; inspect says where', () => {
    file('cut.dxf', entities([...point('1', '2', '3'), ...point('4', '5', '6')], 6, false));
    file('cut.xml', landXml(units('meter'), square()).slice(0, -40));
    for (const args of [
      ['convert', at('cut.dxf'), at('none.csv')],
      ['volume', at('cut.xml'), '--level', '4'],
      ['contours', at('cut.xml'), '--interval', '1'],
    ]) {
      const run = dunrik(...args);
      expect([run.code, run.err]).toEqual([1, expect.stringContaining('is not read to its end') as string]);
    }
    expect(existsSync(at('none.csv'))).toBe(false);
    expect(dunrik('inspect', at('cut.dxf')).out).toContain('no end mark');
  });

  it('or that holds nothing is said by inspect with exit 1', () => {
    for (const [name, text] of [
      ['none.dxf', 'nothing at all\n'],
      ['none.xml', '<svg/>'],
      ['none.geojson', '{"type":"FeatureCollection","features":['],
    ]) {
      const run = dunrik('inspect', file(name, text));
      expect([run.code, run.err]).toEqual([1, expect.stringContaining('holds nothing that can be read') as string]);
    }
  });
});

describe('units', () => {
  it('are said by the file or asked for; millimetres are read, and can be said', () => {
    const level = (f: string, ...more: string[]) => dunrik('volume', f, '--level', '0', '--json', ...more);
    const unsaid = file('unsaid.xml', landXml('', square()));
    expect([level(unsaid).code, level(unsaid).err]).toEqual([1, expect.stringContaining('does not say its unit') as string]); // prettier-ignore
    expect((JSON.parse(level(unsaid, '--unit', 'm').out) as { area: number }).area).toBeCloseTo(100, 9);
    const millimetres = level(file('mm.xml', landXml(units('millimeter'), square())));
    expect((JSON.parse(millimetres.out) as { area: number }).area).toBeCloseTo(1e-4, 12);
    const rows = [...point('1000', '2000', '3000')];
    json('convert', file('mm.dxf', entities(rows, 4)), at('mm.csv'));
    expect(readFileSync(at('mm.csv'), 'utf8')).toContain('1.000,2.000,3.000');
    const none = file('none-said.dxf', entities(rows, 0));
    expect(dunrik('convert', none, at('x.csv')).err).toContain('--unit m, ft, usft, mm, cm, in');
    json('convert', none, at('cm.csv'), '--unit', 'cm');
    expect(readFileSync(at('cm.csv'), 'utf8')).toContain('10.000,20.000,30.000');
  });
});

describe('what a verb does not use', () => {
  it('is named: contours drawn in plan are taken at their elevation, those without are counted', () => {
    const contour = (z: number, ...more: (string | number)[]): (string | number)[] => [0, 'LWPOLYLINE', 8, 'C', 90, 3, ...(z ? [38, z] : []), 10, 0, 20, z, 10, 10, 20, z, 10, 10, 20, z + 1, ...more]; // prettier-ignore
    const rows = [
      ...contour(5),
      ...contour(10),
      ...contour(0),
      0,
      'LEADER',
      8,
      'X',
      10,
      1,
      20,
      1,
      11,
      1,
      21,
      0,
      40,
      0.5,
    ];
    const f = file('contours.dxf', entities(rows));
    const told = json<{ breaklines: number; highest: number }>('surface', f, '--lines', f);
    expect([told.breaklines, told.highest]).toEqual([2, 10]);
    expect(told.notRead).toContainEqual({ file: 'contours.dxf', where: 'lines', why: '1 have no elevation' });
    expect(told.notRead).toContainEqual({ file: 'contours.dxf', where: 'LEADER', why: '1 of this kind are not read' });
  });
});

describe('a boundary', () => {
  const ring = (x: number, y: number, side: number): number[][] => [[x, y], [x + side, y], [x + side, y + side], [x, y + side], [x, y]]; // prettier-ignore
  const polygon = (...rings: number[][][]): string => JSON.stringify({ type: 'Feature', properties: {}, geometry: { type: 'Polygon', coordinates: rings } }); // prettier-ignore
  const ground = (): string => file('square.xml', landXml(units('meter'), square()));

  it('keeps its hole out of a surface and out of a volume', () => {
    const holed = file('holed.geojson', polygon(ring(0, 0, 10), ring(4, 4, 2)));
    const v = json<{ area: number; methods: { exact: { cut: number } } }>('volume', ground(), '--level', '4', '--within', holed); // prettier-ignore
    expect([v.area, v.methods.exact.cut]).toEqual([expect.closeTo(96, 9), expect.closeTo(96, 9)]);
    const points = file(
      'square.csv',
      'Number,East [m],North [m],Elevation [m]\n1,0,0,5\n2,10,0,5\n3,10,10,5\n4,0,10,5\n',
    );
    expect(json<{ planArea: number }>('surface', points, '--boundary', holed).planArea).toBeCloseTo(96, 9);
  });

  it('that reaches off the ground is said, with how much of it there is ground for', () => {
    const wide = file('wide.geojson', polygon(ring(5, 5, 10)));
    expect(json<{ boundary: unknown }>('volume', ground(), '--level', '4', '--within', wide).boundary).toEqual({ area: expect.closeTo(100, 9), covered: expect.closeTo(25, 9) }); // prettier-ignore
    expect(dunrik('volume', ground(), '--level', '4', '--within', wide).out).toContain('25.000 m² of its 100.000 m² are covered'); // prettier-ignore
  });

  it('is one: two side by side, and one that crosses itself, are refused', () => {
    const two = file('two.geojson', JSON.stringify({ type: 'FeatureCollection', features: [ring(0, 0, 2), ring(5, 5, 2)].map((r) => JSON.parse(polygon(r)) as unknown) })); // prettier-ignore
    const eight = file('eight.geojson', polygon([[0, 0], [9, 9], [9, 0], [0, 9], [0, 0]])); // prettier-ignore
    for (const [f, why] of [[two, 'side by side'], [eight, 'crosses itself']] as const) // prettier-ignore
      expect(dunrik('volume', ground(), '--level', '4', '--within', f)).toMatchObject({ code: 1, err: expect.stringContaining(why) as string }); // prettier-ignore
  });
});

describe('what of a drawing is not the site', () => {
  it('is counted and passed over: sheets are no part of its extent, its points or its lines', () => {
    const sheet = [0, 'LINE', 67, 1, 8, 'FRAME', 10, 0, 20, 0, 11, 841, 21, 594];
    const kerb = [0, 'LWPOLYLINE', 8, 'KERB', 90, 2, 70, 0, 38, 12.5, 10, 1000, 20, 2000, 10, 1010, 20, 2004];
    const drawing = file(
      'sheet.dxf',
      entities([...sheet, ...kerb, 0, 'INSERT', 8, 'TREES', 2, 'T', 10, 1020, 20, 2010]),
    );
    const seen = json<{ extent: number[]; inPaperSpace: number; layers: object }>('inspect', drawing);
    expect(seen).toMatchObject({ extent: [1000, 2000, 1020, 2010], inPaperSpace: 1, layers: { KERB: 1, TREES: 1 } });
    const made = json<{ lines: number }>('convert', drawing, at('kerb.geojson'));
    expect(made.lines).toBe(1);
    const { features } = JSON.parse(readFileSync(at('kerb.geojson'), 'utf8')) as { features: { geometry: { coordinates: number[][] }; properties: { layer?: string } }[] }; // prettier-ignore
    expect(features.map((f) => [f.properties.layer, f.geometry.coordinates])).toEqual([['KERB', [[1000, 2000, 12.5], [1010, 2004, 12.5]]]]); // prettier-ignore
    // The layer goes on from form to form.
    json('convert', at('kerb.geojson'), at('kerb.dxf'));
    expect(json<{ layers: Record<string, number> }>('inspect', at('kerb.dxf')).layers).toHaveProperty('KERB');
  });
});
