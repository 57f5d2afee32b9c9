import { describe, expect, it } from 'vitest';
import { readLandXml } from '#core/exchange';

// Elements as the LandXML 1.2 schema has them (LandXML.org, from memory). Clothoids against the series of textbooks,
// x = L (1 − θ²/10 + θ⁴/216 − …), y = L (θ/3 − θ³/42 + θ⁵/1320 − …) with θ = L / 2R; vertical curves against their closed forms.

const read = (body: string, unit = 'meter') => readLandXml(`<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="${unit}"/></Units>${body}</LandXML>`); // prettier-ignore
const inThrees = (v: readonly number[]): number[][] => Array.from({ length: v.length / 3 }, (_, i) => v.slice(3 * i, 3 * i + 3)); // prettier-ignore
const STRAIGHT = '<CoordGeom><Line><Start>100 0</Start><End>100 200</End></Line></CoordGeom>';
const alignment = (inner: string, start = 0) => read(`<Alignments><Alignment name="Road" length="200" staStart="${start}">${inner}</Alignment></Alignments>`); // prettier-ignore

describe('a clothoid', () => {
  const [L, R] = [60, 100];
  const theta = L / (2 * R);
  const end = [L * (1 - theta ** 2 / 10 + theta ** 4 / 216), L * (theta / 3 - theta ** 3 / 42 + theta ** 5 / 1320)];
  const spiral = (rot: string, [east, north]: number[], radii = 'radiusStart="INF" radiusEnd="100"', length = L) => read(`<PlanFeatures><PlanFeature name="K"><CoordGeom><Spiral length="${length}" ${radii} rot="${rot}" spiType="clothoid"><Start>0 0</Start><PI>0 ${east / 2}</PI><End>${north} ${east}</End></Spiral></CoordGeom></PlanFeature></PlanFeatures>`); // prettier-ignore

  it.each(['ccw', 'cw'])('runs as its series has it: %s', (rot) => {
    const side = rot === 'ccw' ? 1 : -1;
    const { features, problems } = spiral(rot, [end[0], side * end[1]]);
    expect(problems).toEqual([]);
    const places = inThrees(features[0].spatial);
    expect(places.length).toBeGreaterThan(10);
    // Half way along it, θ is a quarter.
    const [x, y] = [30 * (1 - (theta / 4) ** 2 / 10 + (theta / 4) ** 4 / 216), side * 30 * (theta / 4 / 3 - (theta / 4) ** 3 / 42)]; // prettier-ignore
    const off = Math.min(...places.slice(1).map(([bx, by], i) => {
      const [ax, ay] = places[i];
      const share = Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)));
      return Math.hypot(x - ax - share * (bx - ax), y - ay - share * (by - ay));
    })); // prettier-ignore
    expect(off).toBeLessThan(0.005);
  });

  it('from curve to curve and out of a curve ends where it is said to', () => {
    const out = spiral('ccw', [end[0], end[0] * 0 + end[1]], 'radiusStart="100" radiusEnd="INF"');
    expect(out.problems).toEqual([]);
    expect(inThrees(out.features[0].spatial).at(-1)!.slice(0, 2)).toEqual([end[0], end[1]]);
  });

  it.each([
    ['whose length and radii lead elsewhere', [80, 0], undefined, 60],
    ['without a length', [end[0], end[1]], undefined, 0],
    ['whose radius is a word', [end[0], end[1]], 'radiusStart="wide" radiusEnd="100"', 60],
  ] as const)('%s is drawn straight, and said so', (_, to, radii, length) => {
    const { features, problems } = spiral('ccw', [...to], radii, length);
    expect(inThrees(features[0].spatial)).toHaveLength(2);
    expect(problems[0].what).toContain('drawn straight');
  });
});

describe('profiles', () => {
  const profile = (points: string, start = 0) => alignment(`${STRAIGHT}<Profile name="P"><ProfAlign name="design">${points}</ProfAlign></Profile>`, start); // prettier-ignore

  it('lift an alignment into space by chainage, with parabolas over their points of intersection', () => {
    const { profiles, problems } = profile('<PVI>1000 50</PVI><ParaCurve length="80">1100 54</ParaCurve><PVI>1200 52</PVI>', 1000); // prettier-ignore
    expect(problems).toEqual([]);
    expect(profiles).toHaveLength(1);
    expect(profiles[0].name).toBe('Road design');
    const places = inThrees(profiles[0].spatial);
    for (const [, north] of places) expect(north).toBe(100);
    for (const [east, , z] of places) {
      // Grades 4 % and −2 % over 80 m: z = z₀ + g₁ d + (g₂ − g₁) d² / 2 L.
      const d = east - 60;
      const want = d <= 0 ? 50 + 0.04 * east : d >= 80 ? 54 - 0.02 * (east - 100) : 52.4 + 0.04 * d + (-0.06 * d * d) / 160; // prettier-ignore
      expect(z).toBeCloseTo(want, 9);
    }
    expect(places[0]).toEqual([0, 100, 50]);
    expect(places.at(-1)).toEqual([200, 100, 52]);
    // Crest: 0.06 / 80 per m² stays within 5 mm of chords.
    const steps = places.slice(1).map(([e], i) => e - places[i][0]);
    expect(Math.max(...steps.slice(1, -1)) ** 2 * (0.06 / 80 / 8)).toBeLessThanOrEqual(0.005 + 1e-9);
  });

  it('have unequal parabolas that meet with one grade', () => {
    const { profiles } = profile('<PVI>0 50</PVI><UnsymParaCurve lengthIn="60" lengthOut="20">100 54</UnsymParaCurve><PVI>200 52</PVI>'); // prettier-ignore
    const z = new Map(inThrees(profiles[0].spatial).map(([e, , h]) => [Math.round(e * 1000) / 1000, h]));
    expect(z.get(40)).toBeCloseTo(51.6, 9);
    expect(z.get(120)).toBeCloseTo(53.6, 9);
    const all = inThrees(profiles[0].spatial);
    const grades = all.slice(1).map(([e, , h], i) => (h - all[i][2]) / (e - all[i][0]));
    for (let i = 1; i < grades.length; i++) expect(grades[i]).toBeLessThanOrEqual(grades[i - 1] + 1e-9);
  });

  it('have circles that touch both grades', () => {
    const { profiles } = profile('<PVI>0 50</PVI><CircCurve length="30" radius="500">100 50</CircCurve><PVI>200 60</PVI>'); // prettier-ignore
    const tangent = 500 * Math.tan(Math.atan(0.1) / 2);
    const [cx, cz] = [100 - tangent, 550];
    const on = inThrees(profiles[0].spatial).filter(([e]) => e > cx && e < 100 + tangent * Math.cos(Math.atan(0.1)));
    expect(on.length).toBeGreaterThan(5);
    for (const [e, , z] of on) expect(Math.hypot(e - cx, z - cz)).toBeCloseTo(500, 9);
  });

  it('that cannot be used say why, and make nothing', () => {
    const of = (points: string) => profile(points).problems.map((p) => p.what).join('; '); // prettier-ignore
    expect(of('<PVI>0 50</PVI><PVI>0 51</PVI>')).toContain('do not go on');
    expect(of('<PVI>5000 50</PVI><PVI>6000 51</PVI>')).toContain('nowhere on alignment “Road”');
    expect(of('<PVI>0 50</PVI><ParaCurve length="500">100 54</ParaCurve><PVI>200 52</PVI>')).toContain(
      'reaches beyond',
    );
    expect(of('<PVI>0 x</PVI><PVI>0 51</PVI><PVI>100 51</PVI>')).toContain('not a number');
    expect(alignment('<Profile><ProfAlign name="d"><PVI>0 1</PVI><PVI>9 1</PVI></ProfAlign></Profile>').problems[0].what).toContain('no course'); // prettier-ignore
  });

  it('of ground along it are no lines in plan', () => {
    const { features, profiles } = alignment(`${STRAIGHT}<Profile name="P"><ProfSurf name="existing"><PntList2D>0 50 120 55.5 200 51</PntList2D></ProfSurf></Profile>`); // prettier-ignore
    expect(features.map((f) => f.kind)).toEqual(['Alignment']);
    expect(profiles.map((p) => inThrees(p.spatial))).toEqual([[[0, 100, 50], [120, 100, 55.5], [200, 100, 51]]]); // prettier-ignore
  });

  it('follow the curves of their alignment', () => {
    // A quarter of a circle of 100 m, then its tangent; the profile rises 1 % all along.
    const arc = 100 * (Math.PI / 2);
    const { profiles } = alignment('<CoordGeom><Curve rot="ccw"><Start>0 100</Start><Center>0 0</Center><End>100 0</End></Curve><Line><Start>100 0</Start><End>100 -50</End></Line></CoordGeom><Profile><ProfAlign name="d"><PVI>0 0</PVI><PVI>300 3</PVI></ProfAlign></Profile>'); // prettier-ignore
    for (const [x, y, z] of inThrees(profiles[0].spatial)) {
      const along = x >= 0 ? 100 * Math.atan2(y, x) : arc - x;
      expect(z).toBeCloseTo(along / 100, 6);
    }
    expect(inThrees(profiles[0].spatial).length).toBeGreaterThan(15);
  });
});

describe('cross sections', () => {
  it('stand square across their alignment, offsets to the right', () => {
    const { crossSections, features, problems } = alignment(`${STRAIGHT}<CrossSects><CrossSect sta="1050"><CrossSectSurf name="existing"><PntList2D>-5 60 0 61 5.5 60.5</PntList2D></CrossSectSurf><DesignCrossSectSurf name="design"><CrossSectPnt>-4 62</CrossSectPnt><CrossSectPnt>4 62.1</CrossSectPnt></DesignCrossSectSurf></CrossSect><CrossSect sta="9999"><CrossSectSurf name="existing"><PntList2D>0 1 1 1</PntList2D></CrossSectSurf></CrossSect></CrossSects>`, 1000); // prettier-ignore
    expect(features).toHaveLength(1);
    expect(crossSections.map((c) => [c.name, inThrees(c.spatial)])).toEqual([
      ['Road existing', [[50, 105, 60], [50, 100, 61], [50, 94.5, 60.5]]],
      ['Road design', [[50, 104, 62], [50, 96, 62.1]]],
    ]); // prettier-ignore
    expect(problems.map((p) => p.what)).toEqual(['a cross section of alignment “Road” is beyond its ends']);
  });

  it('of several lists are as many lines: nothing bridges what lies between them', () => {
    const { crossSections } = alignment(`${STRAIGHT}<CrossSects><CrossSect sta="50"><CrossSectSurf name="existing"><PntList2D>-5 60 -2 61</PntList2D><PntList2D>2 61 5 60</PntList2D></CrossSectSurf></CrossSect></CrossSects>`); // prettier-ignore
    expect(crossSections.map((c) => inThrees(c.spatial).length)).toEqual([2, 2]);
  });

  it('without a chainage, or of points that are half, are left out and named', () => {
    const { crossSections, problems } = alignment(`${STRAIGHT}<CrossSects><CrossSect sta="here"><CrossSectSurf name="e"><PntList2D>0 1 1 1</PntList2D></CrossSectSurf></CrossSect><CrossSect sta="50"><CrossSectSurf name="e"><PntList2D>0 1 1</PntList2D></CrossSectSurf></CrossSect></CrossSects>`); // prettier-ignore
    expect(crossSections).toEqual([]);
    expect(problems.map((p) => p.what).join('; ')).toMatch(/not a number.*no chainage.*do not come in twos/);
  });
});

describe('chainage', () => {
  it('starts where it is said to, and jumps where an equation says so', () => {
    const { alignments, problems } = alignment(`<StaEquation staInternal="1080" staBack="1080" staAhead="2000"/><StaEquation staBack="x" staAhead="1"/>${STRAIGHT}`, 1000); // prettier-ignore
    expect(alignments).toEqual([{ name: 'Road', start: 1000, length: 200, equations: [{ along: 80, back: 1080, ahead: 2000 }] }]); // prettier-ignore
    expect(problems.map((p) => p.what)[1]).toContain('lacks a figure');
  });

  it('is counted from equation to equation where none says how far along it is', () => {
    const { alignments } = alignment(`<StaEquation staBack="1080" staAhead="2000"/><StaEquation staBack="2050" staAhead="500"/>${STRAIGHT}`, 1000); // prettier-ignore
    expect(alignments[0].equations.map((e) => e.along)).toEqual([80, 130]);
  });
});

describe('pipe networks', () => {
  const network = '<PipeNetworks><PipeNetwork name="Storm" pipeNetType="storm"><Structs><Struct name="M1" elevRim="62.5" elevSump="59.9"><CircStruct diameter="1"/><Center>100 200</Center><Invert elev="60.1" flowDir="out" refPipe="P1"/></Struct><Struct name="M2"><Center>100 240 61.8</Center><Invert elev="59.7" flowDir="in" refPipe="P1"/></Struct></Structs><Pipes><Pipe name="P1" refStart="M1" refEnd="M2" desc="300 CONC"><CircPipe diameter="0.3"/></Pipe><Pipe name="P2" refStart="M2" refEnd="M9"/></Pipes></PipeNetwork></PipeNetworks>'; // prettier-ignore

  it('give chambers with cover and lowest level, and pipes at their inverts', () => {
    const { chambers, pipes, points, features, problems, unread } = read(network);
    expect(chambers).toEqual([
      { name: 'M1', desc: '', network: 'Storm', x: 200, y: 100, rim: 62.5, sump: 59.9 },
      { name: 'M2', desc: '', network: 'Storm', x: 240, y: 100, rim: 61.8, sump: 59.7 },
    ]);
    expect(pipes).toEqual([
      { kind: 'Pipe', name: 'Storm', code: '300 CONC', spatial: [200, 100, 60.1, 240, 100, 59.7] },
    ]);
    expect([points, features, unread]).toEqual([[], [], {}]);
    const bare = read(network.replace('<Center>100 240 61.8</Center>', ''));
    expect(bare.chambers.map((c) => c.name)).toEqual(['M1']);
    expect(bare.problems[0].what).toContain('structure M2 has no place');
    expect(problems.map((p) => p.what)).toEqual(['pipe “P2” names chamber “M9”, which is not in its network']);
  });
});

describe('names and groups', () => {
  it('of points are their own description, or that of their group', () => {
    const { points } = read('<CgPoints name="Trees" code="TR"><CgPoint name="1" code="OAK">1 2 3</CgPoint><CgPoint name="2">1 2 3</CgPoint><CgPoint name="3" desc="big one">1 2 3</CgPoint></CgPoints>'); // prettier-ignore
    expect(points.map((p) => [p.code, p.desc])).toEqual([['OAK', 'TR'], ['', 'TR'], ['', 'big one']]); // prettier-ignore
  });

  it('of plan features are those of the feature in them where they describe themselves by nothing', () => {
    const { features } = read('<PlanFeatures><PlanFeature name="k-1"><CoordGeom><Line><Start>0 0</Start><End>0 9</End></Line></CoordGeom><Feature code="KERB"/></PlanFeature></PlanFeatures>'.replace(/(<CoordGeom>.*<\/CoordGeom>)(<Feature[^>]*>)/, '$2$1')); // prettier-ignore
    expect(features[0]).toMatchObject({ name: 'k-1', code: 'KERB' });
  });
});
