import { describe, expect, it } from 'vitest';
import { chooseTaken, choicesFor, keyOfTaken, rowsOfFile, type FilePart, type TakenRow } from '#core/exchange';

const bytes = new TextEncoder().encode(`<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter"/></Units>
<CgPoints><CgPoint name="1" code="KB1 BEG">10 20 0</CgPoint><CgPoint name="2" code="KB1 END">10 30 1.5</CgPoint></CgPoints>
<CgPoints name="Trees"><CgPoint name="7">12 22 60</CgPoint></CgPoints>
<PlanFeatures><PlanFeature name="KERB1"><CoordGeom><Line><Start>0 0 5</Start><End>0 9 6</End></Line></CoordGeom></PlanFeature><PlanFeature name="KERB2"><CoordGeom><Line><Start>1 0</Start><End>1 9</End></Line></CoordGeom></PlanFeature></PlanFeatures>
<PipeNetworks><PipeNetwork name="Storm"><Structs><Struct name="M1" elevRim="62" elevSump="59"><Center>100 200</Center></Struct><Struct name="M2" elevRim="61"><Center>100 240</Center></Struct></Structs><Pipes><Pipe name="P1" refStart="M1" refEnd="M2"/></Pipes></PipeNetwork></PipeNetworks>
<Surfaces><Surface name="Ground"><SourceData><Breaklines><Breakline name="EDGE 1"><PntList3D>0 0 1 0 9 2</PntList3D></Breakline></Breaklines></SourceData><Definition surfType="TIN"><Pnts><P id="1">0 0 1</P><P id="2">0 9 1</P><P id="3">9 0 2</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface>
<Surface name="Base"><Definition surfType="TIN"><Pnts><P id="1">0 0 1</P><P id="2">0 9 1</P><P id="3">9 9 2</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface></Surfaces></LandXML>`); // prettier-ignore
const read = (part: FilePart = {}) => {
  const rows = rowsOfFile(bytes, part);
  if (!rows.ok) throw new Error(rows.reason);
  return rows;
};
const rowsOf = (part: FilePart): string[] => read(part).text.split('\n').slice(1);

describe('LandXML as a table to tick', () => {
  it('has its elements by the groups and names that they have', () => {
    const { drawing, surfaces } = read();
    expect(drawing!.rows.map((r) => [r.layer, r.kind, r.count]).sort()).toEqual([
      ['EDGE', 'Breakline', 1],
      ['KERB', 'PlanFeature', 2],
      ['POINTS', 'CgPoint', 2],
      ['Storm chambers', 'Struct', 2],
      ['Storm chambers', 'Sump', 1],
      ['Storm', 'Pipe', 1],
      ['Trees', 'CgPoint', 1],
    ]);
    expect(drawing!.surfaces).toEqual(['Ground', 'Base']);
    expect(surfaces!.map((s) => s.name)).toEqual(['Ground', 'Base']);
    const kerb = drawing!.rows.find((r) => r.layer === 'KERB')!;
    expect([kerb.lowest, kerb.highest, kerb.flat]).toEqual([5, 6, 1]);
  });

  it('is read as before where nobody has ticked', () => {
    expect(rowsOf({})).toEqual(['1\t20\t10\t0\tKB1 BEG', '2\t30\t10\t1.5\tKB1 END', '7\t22\t12\t60\t']);
    expect(rowsOf({ lines: true }).map((r) => r.split('\t').at(-1))).toEqual(['EDGE1 BEG', 'EDGE1 END', 'KERB2 BEG', 'KERB2 END', 'KERB3 BEG', 'KERB3 END']); // prettier-ignore
    expect(rowsOf({ surface: 'Base' })).toHaveLength(3);
  });

  it('proposes points and lines, and not what a surface was made of, since the surface is there', () => {
    const { taken } = chooseTaken(read().drawing!, [], []);
    const as = new Map(taken.map((t) => [`${t.layer} ${t.kind}`, t.as]));
    expect([...as]).toEqual(expect.arrayContaining([['POINTS CgPoint', 'points'], ['KERB PlanFeature', 'lines'], ['Storm chambers Struct', 'points'], ['Storm Pipe', 'lines']])); // prettier-ignore
    expect(as.has('EDGE Breakline')).toBe(false);
    expect(as.has('Storm chambers Sump')).toBe(false);
    const [first] = choicesFor('Breakline');
    expect(first).toBe('breaklines');
    expect(choicesFor('Contour')).toHaveLength(6);
  });

  it('keeps the codes of its points unless somebody gives them one, and 0 as an elevation', () => {
    const taken: TakenRow[] = [{ layer: 'POINTS', kind: 'CgPoint', as: 'points' }, { layer: 'Trees', kind: 'CgPoint', as: 'points', code: 'TR' }]; // prettier-ignore
    expect(rowsOf({ taken })).toEqual(['1\t20\t10\t0\tKB1 BEG', '2\t30\t10\t1.5\tKB1 END', '7\t22\t12\t60\tTR']);
  });

  it('gives chambers at their covers, their lowest levels, and pipes between them', () => {
    const taken: TakenRow[] = ['Struct', 'Sump'].map((kind) => ({ layer: 'Storm chambers', kind, as: 'points', code: kind === 'Sump' ? 'IL' : 'MH' })); // prettier-ignore
    expect(rowsOf({ taken: [...taken, { layer: 'Storm', kind: 'Pipe', as: 'lines' }] })).toEqual(['M1\t200\t100\t62\tMH', 'M2\t240\t100\t61\tMH', 'M1-SUMP\t200\t100\t59\tIL', '\t200\t100\t\tSTORM1 BEG', '\t240\t100\t\tSTORM1 END']); // prettier-ignore
  });

  it('has codes proposed for lines alone', () => {
    const codes = ['KERB', 'POINTS'].map((code) => ({ code, layer: code }));
    const { taken } = chooseTaken(read().drawing!, codes, []);
    const code = (key: { layer: string; kind: string }) => taken.find((t) => keyOfTaken(t) === keyOfTaken(key))?.code;
    expect(code({ layer: 'KERB', kind: 'PlanFeature' })).toBe('KERB');
    expect(code({ layer: 'POINTS', kind: 'CgPoint' })).toBeUndefined();
  });
});

describe('GeoJSON as a table to tick', () => {
  const of = (features: object[], system = true) => {
    const root = { type: 'FeatureCollection', ...(system ? { system: 'local, metres: east, north, elevation' } : {}), features }; // prettier-ignore
    const rows = rowsOfFile(new TextEncoder().encode(JSON.stringify(root)));
    if (!rows.ok) throw new Error(rows.reason);
    return rows;
  };
  const feature = (type: string, coordinates: unknown, properties: object = {}) => ({ type: 'Feature', geometry: { type, coordinates }, properties }); // prettier-ignore

  it('has its geometries by the layer that their properties say', () => {
    const { drawing } = of([
      feature('Point', [500, 600, 0], { number: '1', description: 'GR', layer: 'SHOTS' }),
      feature('LineString', [[0, 0], [500, 500]], { code: 'KB' }),
      feature('Polygon', [[[0, 0, 1], [900, 0, 1], [900, 900, 1], [0, 0, 1]]]),
    ]); // prettier-ignore
    expect(drawing!.rows.map((r) => [r.layer, r.kind]).sort()).toEqual([['KB', 'LineString'], ['SHOTS', 'Point'], ['UNNAMED', 'Polygon']]); // prettier-ignore
  });

  it('of longitude and latitude has none', () => {
    expect(of([feature('Point', [14.5, 53.4])], false).drawing).toBeUndefined();
  });
});
