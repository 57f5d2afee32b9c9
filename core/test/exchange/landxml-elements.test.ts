import { describe, expect, it } from 'vitest';
import { linesIn, readLandXml, rowsOfFile, type FileContent } from '#core/exchange';

// Elements as the LandXML 1.2 schema has them (LandXML.org, from memory); arcs against a circle's own equation.

const HEAD = '<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="meter"/></Units>'; // prettier-ignore
const read = (body: string) => readLandXml(`${HEAD}${body}</LandXML>`);
const feature = (geometry: string, name = 'KERB1') => read(`<PlanFeatures><PlanFeature name="${name}"><CoordGeom>${geometry}</CoordGeom></PlanFeature></PlanFeatures>`); // prettier-ignore
const inThrees = (v: readonly number[]): number[][] => Array.from({ length: v.length / 3 }, (_, i) => v.slice(3 * i, 3 * i + 3)); // prettier-ignore

describe('geometry of plan features, alignments and parcels', () => {
  it('is one line of its straights, north before east, with and without elevations', () => {
    const { features, problems } = feature('<Line><Start>10 20</Start><End>10 30</End></Line><Line><Start>10 30</Start><End>15 30 4.5</End></Line>'); // prettier-ignore
    expect(problems).toEqual([]);
    expect(features).toHaveLength(1);
    expect(inThrees(features[0].spatial)).toEqual([[20, 10, NaN], [30, 10, NaN], [30, 15, 4.5]]); // prettier-ignore
  });

  it('breaks where the next straight begins elsewhere', () => {
    const { features } = feature('<Line><Start>0 0</Start><End>0 9</End></Line><Line><Start>5 0</Start><End>5 9</End></Line>'); // prettier-ignore
    expect(features.map((f) => inThrees(f.spatial).length)).toEqual([2, 2]);
  });

  it.each([
    // From east of the centre to north of it: a quarter counter-clockwise, or three quarters the other way round.
    ['ccw', 10 * (Math.PI / 2)],
    ['cw', 10 * ((3 * Math.PI) / 2)],
  ])('keeps its curves within 5 mm: %s', (rot, length) => {
    const { features } = feature(`<Curve rot="${rot}"><Start>100 210</Start><Center>100 200</Center><End>110 200</End></Curve>`); // prettier-ignore
    const places = inThrees(features[0].spatial);
    for (const [x, y] of places) expect(Math.hypot(x - 200, y - 100)).toBeCloseTo(10, 9);
    const chords = places.slice(1).map(([x, y], i) => Math.hypot(x - places[i][0], y - places[i][1]));
    expect(chords.reduce((a, b) => a + b)).toBeGreaterThan(length - 0.02);
    expect(chords.reduce((a, b) => a + b)).toBeLessThan(length);
    // A chord c of a circle r lies r − √(r² − c²/4) from it.
    expect(Math.max(...chords.map((c) => 10 - Math.sqrt(100 - (c * c) / 4)))).toBeLessThan(0.005);
  });

  it('chords a curve by the unit of the file', () => {
    const mm = readLandXml(`${HEAD.replace('meter', 'millimeter')}<PlanFeatures><PlanFeature name="K"><CoordGeom><Curve rot="ccw"><Start>0 10000</Start><Center>0 0</Center><End>10000 0</End></Curve></CoordGeom></PlanFeature></PlanFeatures></LandXML>`); // prettier-ignore
    expect(inThrees(mm.features[0].spatial).length).toBeLessThan(70);
  });

  it('takes places of points that it names, and says which it does not know', () => {
    const points = '<CgPoints><CgPoint name="A">10 20 3</CgPoint><CgPoint name="B">10 30 4</CgPoint><CgPoint name="C" pntRef="A"/></CgPoints>'; // prettier-ignore
    const geometry = (end: string) => `<PlanFeatures><PlanFeature name="K"><CoordGeom><Line><Start pntRef="A"/><End pntRef="${end}"/></Line></CoordGeom></PlanFeature></PlanFeatures>`; // prettier-ignore
    const known = read(points + geometry('B'));
    expect(inThrees(known.features[0].spatial)).toEqual([[20, 10, 3], [30, 10, 4]]); // prettier-ignore
    expect(known.points[2]).toEqual({ name: 'C', code: '', x: 20, y: 10, z: 3 });
    const unknown = read(points + geometry('Z'));
    expect(unknown.features).toEqual([]);
    expect(unknown.problems[0].what).toContain('point Z, which is not in the file');
  });

  it('is that of parcels and alignments too, by their names; their spirals are drawn straight and said so', () => {
    const { features, problems } = read('<Parcels><Parcel name="Lot 12"><CoordGeom><Line><Start>0 0</Start><End>0 9</End></Line><Line><Start>0 9</Start><End>9 0</End></Line><Line><Start>9 0</Start><End>0 0</End></Line></CoordGeom></Parcel></Parcels><Alignments><Alignment name="Road A" staStart="0" length="9"><CoordGeom><Spiral length="9" radiusEnd="50" radiusStart="INF" rot="cw" spiType="clothoid"><Start>0 0</Start><PI>0 6</PI><End>1 9</End></Spiral></CoordGeom></Alignment></Alignments>'); // prettier-ignore
    expect(features.map((f) => [f.name, inThrees(f.spatial).length])).toEqual([['Lot 12', 4], ['Road A', 2]]); // prettier-ignore
    expect(problems[0].what).toContain('spiral');
    const lines = linesIn({ kind: 'landxml', content: read('<Parcels><Parcel name="Lot 12"><CoordGeom><Line><Start>0 0</Start><End>0 9</End></Line><Line><Start>0 9</Start><End>9 0</End></Line><Line><Start>9 0</Start><End>0 0</End></Line></CoordGeom></Parcel></Parcels>'), unit: 'm' } as FileContent); // prettier-ignore
    expect(lines).toMatchObject([{ code: 'LOT', closed: true, x: [0, 9, 0] }]);
  });

  it('of irregular lines is their list, in plan or in space', () => {
    const { features } = feature('<IrregularLine><Start>0 0</Start><End>5 9</End><PntList2D>0 0 2 4 5 9</PntList2D></IrregularLine>'); // prettier-ignore
    expect(inThrees(features[0].spatial)).toEqual([[0, 0, NaN], [4, 2, NaN], [9, 5, NaN]]); // prettier-ignore
  });
});

describe('what a surface was made of', () => {
  const source = (inner: string) => read(`<Surfaces><Surface name="Ground"><SourceData>${inner}</SourceData></Surface></Surfaces>`); // prettier-ignore

  it('comes as contours at their elevations, boundaries by their kind, and points of the ground', () => {
    const got = source('<Contours><Contour elev="62.4"><PntList2D>0 0 0 9 0 18</PntList2D></Contour></Contours><Boundaries><Boundary bndType="outer"><PntList2D>0 0 0 9 9 9 0 0</PntList2D></Boundary><Boundary bndType="void"><PntList3D>2 2 1 2 3 1 3 3 1 2 2 1</PntList3D></Boundary></Boundaries><DataPoints><PntList3D>1 2 3 4 5 6</PntList3D></DataPoints>'); // prettier-ignore
    expect(got.problems).toEqual([]);
    expect(got.features.map((f) => f.name)).toEqual(['CONTOUR', 'BOUNDARY-OUTER', 'BOUNDARY-VOID']);
    expect(inThrees(got.features[0].spatial)[2]).toEqual([18, 0, 62.4]);
    expect(got.points).toEqual([{ name: '', code: '', x: 2, y: 1, z: 3, kind: 'DataPoint' }, { name: '', code: '', x: 5, y: 4, z: 6, kind: 'DataPoint' }]); // prettier-ignore
    // A surface without faces is none to take as it is.
    const rows = rowsOfFile(new TextEncoder().encode(`${HEAD}<Surfaces><Surface name="Ground"><SourceData><Contours><Contour elev="62.4"><PntList2D>0 0 0 9</PntList2D></Contour></Contours></SourceData></Surface></Surfaces></LandXML>`)); // prettier-ignore
    expect(rows).toMatchObject({ ok: true, lines: { count: 1, taken: true }, surfaces: [] });
  });

  it('leaves a contour without an elevation, or with a wrong one, in plan, and says so', () => {
    const got = source('<Contours><Contour elev="high"><PntList2D>0 0 0 9</PntList2D></Contour></Contours>');
    expect(got.features[0].spatial[2]).toBeNaN();
    expect(got.problems[0].what).toContain('elevation “high”');
  });
});

describe('what is none of it', () => {
  it('of another namespace is passed over and counted, whatever it is called', () => {
    const got = read('<CgPoints><CgPoint name="1">1 2 3<x:note xmlns:x="http://other.example/ns">7 8 9</x:note></CgPoint></CgPoints><o:Extras xmlns:o="http://other.example/ns"><o:CgPoint name="no">5 6 7</o:CgPoint></o:Extras><CgPoints xmlns="http://other.example/ns"><CgPoint name="neither">5 6 7</CgPoint></CgPoints>'); // prettier-ignore
    expect(got.points).toEqual([{ name: '1', code: '', x: 2, y: 1, z: 3 }]);
    expect(got.unread).toEqual({ 'x:note': 1, 'o:Extras': 1, 'CgPoints of another namespace': 1 });
  });

  it('with a prefix of its own throughout is read as it stands', () => {
    const got = readLandXml('<l:LandXML xmlns:l="http://www.landxml.org/schema/LandXML-1.1"><l:CgPoints><l:CgPoint name="1">1 2 3</l:CgPoint></l:CgPoints></l:LandXML>'); // prettier-ignore
    expect(got.points).toHaveLength(1);
  });

  it('names a number that is none, and leaves out what it belongs to', () => {
    const { features, problems } = feature('<Line><Start>0 zero</Start><End>0 9</End></Line><Curve rot="cw"><Start>0 9</Start><End>9 9</End></Curve>'); // prettier-ignore
    expect(problems.map((p) => p.what).join()).toContain('“zero”');
    expect(problems.map((p) => p.what).join()).toContain('no centre');
    // The curve without a centre is drawn straight.
    expect(inThrees(features[0].spatial)).toEqual([[9, 0, NaN], [9, 9, NaN]]); // prettier-ignore
  });
});
