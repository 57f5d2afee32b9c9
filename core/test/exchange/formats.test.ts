import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  readDxf,
  readGeoJson,
  readLandXml,
  surfaceFromTin,
  writeDxf,
  writeGeoJson,
  writeLandXml,
  type Drawing,
} from '#core/exchange';
import { readBackDxf, readBackLandXml, readBackText } from '#core/handover';
import { buildSurface } from '#core/terrain';

const place = fc.integer({ min: -99_999_999, max: 99_999_999 }).map((v) => v / 1000);
const drawing: fc.Arbitrary<Drawing> = fc.record({
  points: fc.array(
    fc.record({
      layer: fc.constantFrom('TREE', 'höhe', 'a b/c'),
      x: place,
      y: place,
      z: fc.oneof(place, fc.constant(NaN)),
      label: fc.string({ maxLength: 6 }),
    }),
    { maxLength: 8 },
  ),
  lines: fc.array(
    fc.record({
      layer: fc.constantFrom('KERB-TOP', 'EDGE'),
      closed: fc.boolean(),
      spatial: fc.array(fc.tuple(place, place, place), { minLength: 2, maxLength: 6 }).map((p) => p.flat()),
      plan: fc
        .array(fc.tuple(place, place, fc.constantFrom(0, 0.41421356, -0.2)), { minLength: 2, maxLength: 5 })
        .map((p) => p.flat()),
    }),
    { maxLength: 5 },
  ),
  contours: fc.constant([]),
  surface: fc.constant(null),
  colours: fc.constant({}),
});

describe('DXF', () => {
  for (const version of ['R12', '2000'] as const)
    it(`${version}: what is read back is what was meant, within half of the last decimal`, () => {
      fc.assert(
        fc.property(drawing, fc.constantFrom('m' as const, 'ft' as const, 'usft' as const), (meant, unit) => {
          const settings = { version, unit, decimals: 4, textHeight: 0.5 };
          const back = readBackDxf(writeDxf(meant, settings), meant, settings);
          expect(back.problems).toEqual([]);
        }),
        { numRuns: 60 },
      );
    });

  it('keeps letters of every script apart: layers stay two, texts come back as they were', () => {
    const names = ['Дорога', 'Дома', 'Δρόμος', '道路', 'Höhe', 'Ein Layername der länger ist als alle alten Leser nehmen', 'Ein Layername der länger ist als alle alten Leser gern hätten']; // prettier-ignore
    const meant: Drawing = {
      points: names.map((layer, i) => ({ layer, x: i, y: 0, z: 1, label: `${layer} € 😀` })),
      lines: [],
      contours: [],
      surface: null,
      colours: {},
    };
    const old = writeDxf(meant, { version: 'R12', unit: 'm', decimals: 3, textHeight: 1 });
    expect(old).toMatch(/^[\x00-\x7f]*$/);
    const layers = (text: string): string[] => [...new Set(readDxf(text).points.map((p) => p.layer))];
    expect(layers(old)).toHaveLength(names.length);
    for (const layer of layers(old)) expect(layer).toMatch(/^[A-Z0-9$_-]{1,31}$/);
    const now = writeDxf(meant, { version: '2000', unit: 'm', decimals: 3, textHeight: 1 });
    expect(now).toMatch(/^[\x00-\x7f]*$/);
    expect(layers(now).slice(0, 5)).toEqual(['ДОРОГА', 'ДОМА', 'ΔΡΌΜΟΣ', '道路', 'HÖHE']);
    expect(layers(now)).toHaveLength(names.length);
    expect(readDxf(now).texts.map((t) => t.text)).toEqual(meant.points.map((p) => p.label));
    // Read by something that nobody here wrote: ezdxf, where every layer of an entity has its record.
    const file = join(mkdtempSync(join(tmpdir(), 'dunrik-dxf-')), 'letters.dxf');
    writeFileSync(file, now);
    const seen = spawnSync('/usr/bin/python3', ['-c', 'import ezdxf,sys,json; from ezdxf.lldxf.encoding import decode_dxf_unicode as u; d=ezdxf.readfile(sys.argv[1]); print(json.dumps([[e.dxf.layer in d.layers, u(e.dxf.layer)] for e in d.modelspace().query("POINT")]))', file], { encoding: 'utf8' }); // prettier-ignore
    expect((JSON.parse(seen.stdout) as [boolean, string][]).slice(0, 5)).toEqual(layers(now).slice(0, 5).map((l) => [true, l])); // prettier-ignore
  });

  it('is found out when a coordinate, a layer’s worth of lines, or the end is missing', () => {
    const meant: Drawing = {
      points: [{ layer: 'A', x: 4312.5, y: 7741.25, z: 61.75, label: '1' }],
      lines: [],
      contours: [],
      surface: null,
      colours: {},
    };
    const settings = { version: 'R12', unit: 'm', decimals: 4, textHeight: 0 } as const;
    const text = writeDxf(meant, settings);
    expect(readBackDxf(text.replaceAll('4312.5000', '4312.5003'), meant, settings).problems[0]).toContain('off by');
    expect(readBackDxf(text.slice(0, -12), meant, settings).ok).toBe(false);
    expect(readBackDxf(text, { ...meant, points: [...meant.points, ...meant.points] }, settings).problems[0]).toContain(
      '2 were meant, 1 were read',
    );
  });

  it('reader never throws and says where it stopped', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 500 }), (text) => void readDxf(text)));
    expect(readDxf('  0\nSECTION\n  2\nENTITIES\n  0\nPOINT\n 10\nabc\nhello\n').problems.map((p) => p.line)).toContain(
      9,
    );
  });
});

const surface = buildSurface({
  x: Float64Array.from([0, 10, 10, 0, 5]),
  y: Float64Array.from([0, 0, 10, 10, 5]),
  z: Float64Array.from([1, 2, 3, 4, 9]),
  segments: new Uint32Array(),
  coincidence: 0,
  longestSide: null,
}).surface;
const content = {
  project: 'Fish & <Chips> "Landing"',
  made: '2026-05-12T10:00:00.000Z',
  points: [
    { number: '7', x: 4312.123, y: 7741.456, z: 61.7, description: 'KT1 BEG' },
    { number: '7', x: 4313, y: 7742, z: NaN, description: 'a < b' },
  ],
  breaklines: [{ name: 'KT1', code: 'KT', closed: true, spatial: [0, 0, 1, 10, 0, 2, 10, 10, 3] }],
  surfaces: [{ name: 'Ground', surface }],
};

describe('LandXML', () => {
  it('comes back as it was meant, in metres and in both feet', () => {
    for (const unit of ['m', 'ft', 'usft'] as const) {
      const back = readBackLandXml(writeLandXml(content, unit, 4), content, unit, 4);
      expect(back.problems).toEqual([]);
      expect(back.counts).toMatchObject({ points: 2, breaklines: 1, surfaces: 1, 'faces of Ground': 4 });
    }
  });

  it('stands north before east, as the schema has it', () => {
    expect(writeLandXml(content, 'm', 3)).toContain('>7741.456 4312.123 61.700<');
  });

  it('keeps a surface as received, and turns its faces counter-clockwise', () => {
    const read = readLandXml(writeLandXml(content, 'm', 4));
    const tin = read.surfaces[0];
    const turned = { ...tin, faces: tin.faces.slice().reverse() };
    const s = surfaceFromTin(turned, 'm');
    expect(s.triangles.length).toBe(12);
    for (let t = 0; t < s.triangles.length; t += 3) {
      const [a, b, c] = s.triangles.slice(t, t + 3);
      expect((s.x[b] - s.x[a]) * (s.y[c] - s.y[a]) - (s.x[c] - s.x[a]) * (s.y[b] - s.y[a])).toBeGreaterThan(0);
    }
  });

  it('reader refuses document types, other roots, depth and broken files in a sentence', () => {
    const bomb =
      '<?xml version="1.0"?><!DOCTYPE LandXML [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><LandXML>&b;</LandXML>';
    expect(readLandXml(bomb).problems[0].what).toContain('document type');
    expect(readLandXml('<kml/>').problems[0].what).toContain('not LandXML');
    expect(readLandXml('<LandXML>'.padEnd(3000, '<a>')).problems[0].what).toContain('deep');
    expect(readLandXml('<LandXML><CgPoints><CgPoint name="1">1 2').problems[0].what).toContain('not well-formed');
    expect(
      readLandXml('<LandXML><CgPoints><CgPoint name="9">x y</CgPoint></CgPoints></LandXML>').problems[0],
    ).toMatchObject({ line: 1 });
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => void readLandXml(text)));
  });
});

describe('LandXML as others write it', () => {
  const landXml = (body: string) => readLandXml(`<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2">${body}</LandXML>`); // prettier-ignore

  it('keeps the coordinates of a point that says more in elements of its own, before or behind them', () => {
    const more = '<Feature code="survey"><Property label="crew" value="2"/></Feature>';
    const { points, problems } = landXml(`<CgPoints>
      <CgPoint name="1" code="KB">10.5 20.25 3.5${more}</CgPoint>
      <CgPoint name="2">${more}11.5 21.25 4.5</CgPoint>
      <CgPoint name="3">12.5 22.25${more}5.5</CgPoint>
    </CgPoints>`);
    expect(problems).toEqual([]);
    expect(points).toEqual([
      { name: '1', code: 'KB', x: 20.25, y: 10.5, z: 3.5 },
      { name: '2', code: '', x: 21.25, y: 11.5, z: 4.5 },
      { name: '3', code: '', x: 22.25, y: 12.5, z: 5.5 },
    ]);
  });

  it('reads a number whole wherever the file is cut into pieces', () => {
    // The reader takes a million letters at a time: numbers lie over every such border in turn.
    const before = '<CgPoints>';
    for (let shift = 0; shift < 24; shift++) {
      const filler = `<!--${'x'.repeat((1 << 20) - 120 + shift)}-->`;
      const { points } = landXml(`${before}${filler}<CgPoint name="1">1234.567 8765.432 55.125</CgPoint></CgPoints>`);
      expect(points).toEqual([{ name: '1', code: '', x: 8765.432, y: 1234.567, z: 55.125 }]);
    }
  });

  it('names a face that refers to a point that is not there, and keeps the others', () => {
    const { surfaces, problems } = landXml('<Surfaces><Surface name="S"><Definition surfType="TIN"><Pnts><P id="a">0 0 1</P><P id="b">0 9 1</P><P id="c">9 0 2</P></Pnts><Faces><F>a b c</F><F>a b zz</F><F i="1">a c b</F></Faces></Definition></Surface></Surfaces>'); // prettier-ignore
    expect(surfaces[0].faces).toHaveLength(3);
    expect(problems.map((p) => p.what)).toEqual([expect.stringContaining('does not name three known points')]);
  });

  it('counts elements by their names, whatever those are', () => {
    const { unread } = landXml('<constructor/><constructor/><toString/>');
    expect(Object.entries(unread)).toEqual([['constructor', 2], ['toString', 1]]); // prettier-ignore
  });
});

describe('names and words of what is written', () => {
  const content = (points: string[], lines: number[][] = [], project = '') => ({ project, made: '2026-07-20T08:00:00', points: points.map((number, i) => ({ number, x: i, y: 0, z: 1, description: '' })), breaklines: lines.map((spatial) => ({ name: '', code: '', closed: true, spatial })), surfaces: [] }); // prettier-ignore

  it('LandXML names every point, and no two alike, whatever their numbers', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('', '1', '1_2', '1_3', '2', ' 1', 'point-1', 'point-3'), { maxLength: 12 }),
        (numbers) => {
          const meant = content(numbers);
          const text = writeLandXml(meant, 'm', 3);
          const names = readLandXml(text).points.map((p) => p.name);
          expect(new Set(names).size).toBe(numbers.length);
          expect(names.every((n) => n.trim() !== '')).toBe(true);
          // The first who has a number keeps it.
          for (const n of new Set(numbers.map((v) => v.trim()))) if (n !== '') expect(names[numbers.findIndex((v) => v.trim() === n)]).toBe(n); // prettier-ignore
          expect(text).not.toMatch(/undefined|NaN|name=""/);
          expect(readBackLandXml(text, meant, 'm', 3).problems).toEqual([]);
        },
      ),
    );
  });

  it('a line without a place is not written, and nothing says undefined', () => {
    const text = writeLandXml(content(['1'], [[], [0, 0, 1, 5, 5, 1]]), 'm', 3);
    expect(text).not.toMatch(/undefined|<PlanFeature name="" desc=""><CoordGeom><IrregularLine>\n<Start><\/Start>/);
    expect(readLandXml(text)).toMatchObject({ problems: [], project: 'unnamed' });
  });

  it('GeoJSON has no member that RFC 7946 keeps for geometries, and says the system that it is in', () => {
    const written = (...system: Parameters<typeof writeGeoJson> extends [unknown, ...infer R] ? R : never) => JSON.parse(writeGeoJson([{ kind: 'Point', coordinates: [1, 2], properties: {} }], ...system)) as object; // prettier-ignore
    for (const root of [written(), written(null), written({ name: 'ETRS89 / UTM 33, metres', code: 'EPSG:25833' })])
      for (const member of ['coordinates', 'geometries', 'geometry', 'properties'])
        expect(root).not.toHaveProperty(member);
    expect(Object.keys(written(null))).toEqual(['type', 'features']);
    expect(written()).toHaveProperty('system', 'local, metres: east, north, elevation');
    expect(written({ name: 'ETRS89 / UTM 33, metres', code: 'EPSG:25833' })).toMatchObject({ crs: { properties: { name: 'urn:ogc:def:crs:EPSG::25833' } } }); // prettier-ignore
  });
});

describe('GeoJSON', () => {
  it('comes back, and what cannot be read is named by feature', () => {
    const text = writeGeoJson([
      { kind: 'Point', coordinates: [1, 2, 3], properties: { number: '5' } },
      {
        kind: 'LineString',
        coordinates: [
          [0, 0, 1],
          [5, 5, 2],
        ],
        properties: {},
      },
    ]);
    const read = readGeoJson(text);
    expect(read.points[0]).toMatchObject({ x: 1, y: 2, z: 3, properties: { number: '5' } });
    expect(read.lines[0].coordinates).toEqual([
      [0, 0, 1],
      [5, 5, 2],
    ]);
    expect(
      readGeoJson('{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"Blob"}}]}').problems,
    ).toEqual([{ where: 'feature 1', why: 'a geometry of type Blob is not read' }]);
    expect(readGeoJson('not json')).toMatchObject({ whole: false, problems: [{ why: expect.stringContaining('not JSON') as string }] }); // prettier-ignore
  });
});

describe('text', () => {
  it('is found out when a row, a digit or a description changes on the way', () => {
    const meant = [{ number: '1', x: 1.5, y: 2.5, z: NaN, description: 'GR' }];
    const settings = {
      order: ['P', 'E', 'N', 'Z', 'D'] as ('P' | 'E' | 'N' | 'Z' | 'D')[],
      decimals: 3,
      unit: 'm',
      separator: ',',
      headings: false,
    } as const;
    expect(readBackText('1,1.500,2.500,,GR\r\n', meant, { ...settings }).ok).toBe(true);
    expect(readBackText('1,1.501,2.500,,GR\r\n', meant, { ...settings }).ok).toBe(false);
    expect(readBackText('1,1.500,2.500,0.000,GR\r\n', meant, { ...settings }).problems[0]).toContain('elevation');
    expect(readBackText('1,1.500,2.500,,GX\r\n', meant, { ...settings }).problems[0]).toContain('GX');
  });
});
