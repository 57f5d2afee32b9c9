import { describe, expect, it } from 'vitest';
import { readDxf, readLandXml } from '#core/exchange';
import { newDocument, type Comparison } from '#core/project';
import { crossSections, profileAlong, type CrossSection } from '#core/quantities';
import {
  profileSheets,
  sectionFigure,
  sectionsCsv,
  sectionsDxf,
  sectionsLandXml,
  sectionSheets,
  sizeOfSections,
  usualScale,
} from '#core/report';
import { groundFinder } from '#core/terrain';
import { surfaceOf } from '../quantities/bodies.ts';

// Ground that rises 1 in 10 to the north, and a trench 2 m deep below the level of 10 m; a line with a bend.
const slope = surfaceOf([[-80, -80, 2], [80, -80, 2], [80, 80, 18], [-80, 80, 18]]); // prettier-ignore
const COURSE = [0, 0, 30, 0, 30, 20];
const cut = (): CrossSection[] => crossSections({ course: COURSE, spacing: 10, bends: true, left: 6, right: 4 }, [{ name: 'Ground', finder: groundFinder(slope) }, { name: 'level, "formation"', level: 10 }]); // prettier-ignore
const OF = { name: 'Axis A', course: COURSE, unit: 'm' as const, made: '2026-11-30T10:00:00Z' };

describe('sections as files', () => {
  it('as a table have every bend with where it is on the ground, and quoted names', () => {
    const [head, ...rows] = sectionsCsv(cut(), OF).trim().split('\r\n');
    expect(head).toBe('Chainage [m],Surface,Offset [m],Elevation [m],East [m],North [m]');
    expect(rows[0]).toBe('0.0000,Ground,-6.0000,10.6000,0.0000,6.0000');
    expect(rows.find((r) => r.includes('formation'))).toContain('"level, ""formation"""');
    // 40 m along: 10 m up the second leg, where its right is east.
    expect(rows).toContain('40.0000,Ground,4.0000,11.0000,34.0000,10.0000');
    expect(sectionsCsv(cut(), { unit: 'ft' })).toContain('Offset [ft]');
  });

  it('as a table have what lies near too, with no elevation where there is none', () => {
    const near = [{ kind: 'line' as const, name: 'FENCE "A"', offset: 2, z: null, ahead: 0, x: 0, y: -2 }];
    const rows = sectionsCsv([{ ...cut()[0], near }], OF)
      .trim()
      .split('\r\n');
    expect(rows.at(-1)).toBe('0.0000,"line FENCE ""A""",2.0000,,0.0000,-2.0000');
  });

  it('as LandXML stand across the alignment where they were cut, read by the reader that takes others’', () => {
    const { crossSections: sections, problems } = readLandXml(sectionsLandXml(cut(), OF));
    expect(problems).toEqual([]);
    expect(sections).toHaveLength(2 * cut().length);
    const first = sections.find((l) => l.name.includes('Ground'))!;
    expect(first.spatial.slice(0, 3)).toEqual([0, 6, 10.6].map((v) => expect.closeTo(v, 4)));
    const feet = readLandXml(sectionsLandXml(cut(), { ...OF, unit: 'ft' })).crossSections;
    expect(feet.find((l) => l.name.includes('Ground'))!.spatial[2]).toBeCloseTo(10.6 / 0.3048, 3);
  });

  it('as a drawing are lines in space, a layer for each surface', () => {
    const written = sectionsDxf(cut(), OF);
    const content = readDxf(typeof written === 'string' ? new TextEncoder().encode(written) : written);
    const layers = new Set(content.polylines.map((l) => l.layer));
    expect(layers.size).toBe(3);
    const ground = content.polylines.filter((l) => /ground/i.test(l.layer));
    expect(ground).toHaveLength(cut().length);
    expect([ground[0].x[0], ground[0].y[0]]).toEqual([0, 6].map((v) => expect.closeTo(v, 4)));
  });
});

describe('what lies near on a sheet', () => {
  it('has a mark each, and its name as text alone', () => {
    const near = [-3, 0, 2].map((offset, i) => ({ kind: i === 1 ? ('line' as const) : ('point' as const), name: `<${i}&>`, offset, z: 10, ahead: 0, x: 0, y: 0 })); // prettier-ignore
    const { svg } = sectionFigure({ ...cut()[0], near }, { scale: 100, times: 1 });
    expect(svg).toContain('&lt;0&amp;&gt;</text>');
    expect(svg!.match(/<circle /g)).toHaveLength(1);
    expect(svg!.match(/<text /g)).toHaveLength(3);
  });
});

describe('a profile on sheets', () => {
  const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 10 }, within: null };
  const surfaces = [{ name: 'Ground', finder: groundFinder(slope) }, { name: 'level', level: 10 }]; // prettier-ignore
  const sheets = (course: number[], scale: number | null) => profileSheets(newDocument(), DOWN, profileAlong(course, surfaces), { scale, times: 1, spacing: 10 }, { name: 'Ostrel', revision: 4, date: 'today' }); // prettier-ignore

  it('has its elevations every so far and where it bends', () => {
    const [{ title, columns, rows }] = sheets([0, 0, 35, 0, 35, 20], null).tables;
    expect(title).toBe('From 0.00 to 55.00 m');
    expect(columns.map((c) => c.name)).toEqual(['', '0.00', '10.00', '20.00', '30.00', '35.00', '40.00', '50.00', '55.00']); // prettier-ignore
    expect(rows[0].cells.map((c) => c.text)).toEqual(['Ground', '10.000', '10.000', '10.000', '10.000', '10.000', '10.500', '11.500', '12.000']); // prettier-ignore
  });

  it('is in as many parts as it is longer than a sheet', () => {
    expect(sheets([-70, 0, 70, 0], 200).tables.map((t) => t.title)).toEqual(['From 0.00 to 46.67 m', 'From 46.67 to 93.33 m', 'From 93.33 to 140.00 m']); // prettier-ignore
  });
});

describe('sheets of sections', () => {
  const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 10 }, within: null };
  const sheets = (scale = 100, times = 1) => sectionSheets(newDocument(), DOWN, cut(), { scale, times }, { name: 'Ostrel', revision: 4, date: 'today' }); // prettier-ignore

  it('have areas, volumes between them by average end area, and a sheet of values for each', () => {
    const { tables, wide } = sheets();
    expect(wide).toBe(true);
    const [areas, first] = tables;
    // 6 m of ground above the level to the left, 4 m below it to the right, 1 in 10.
    expect(areas.rows[0].cells.map((c) => c.text.replaceAll('\u2009', ''))).toEqual([
      '0.00',
      '1.8 m²',
      '0.8 m²',
      '',
      '',
    ]);
    const volumes = areas.rows.slice(1, 4).map((r) => r.cells.map((c) => c.text));
    // Over the first leg each 10 m hold 18 m³ of cut and 8 of fill.
    expect(volumes[0].slice(3)).toEqual(['18.0', '8.0']);
    expect(areas.rows.at(-1)!.cells[0].text).toBe('Together');
    expect(first.title).toMatch(/Section at 0.00 m; cut 1.8 m², fill 0.8 m²/);
    expect(first.rows.map((r) => r.cells[0].text)).toEqual(['Ground', 'level, "formation"']);
    expect(first.rows[0].cells.at(-1)!.text).toBe('9.600');
  });

  it('draw each at true scale: 10 m at 1 : 100 are 100 mm', () => {
    const size = (scale: number, times: number): number[] => /width="([\d.]+)" height="([\d.]+)"/.exec(sheets(scale, times).tables[1].drawing!)!.slice(1).map(Number); // prettier-ignore
    const mm = 72 / 25.4;
    expect(size(100, 1)[0]).toBeCloseTo(100 * mm, 1);
    expect(size(200, 1)[0]).toBeCloseTo(50 * mm, 1);
    // From the rule below 9.6 m to that above 10.6 m; ten times as high the rules are a tenth of a metre apart.
    expect(size(100, 1)[1]).toBeCloseTo(20 * mm + 16, 1);
    expect(size(100, 10)[1]).toBeCloseTo(100 * mm + 16, 0);
    expect(sheets(100, 10).about[1]).toContain('1 : 100 across, 1 : 10 up');
  });

  it('go on a sheet at the largest usual scale', () => {
    expect(sizeOfSections(cut())).toEqual({ wide: expect.closeTo(10, 9), high: expect.any(Number) });
    expect([usualScale(10, 2), usualScale(26, 2), usualScale(27, 2), usualScale(10, 60)]).toEqual([50, 100, 200, 500]);
  });
});
