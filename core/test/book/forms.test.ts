import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  bookLayoutProblem,
  guessBookLayout,
  readBookText,
  readByLayout,
  type Book,
  type BookLayout,
  type BookRecord,
} from '#core/book';
import { LOCAL_BASIS, type Basis, type Intake } from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';
import { bookFormOf, readBookFile, readLandXmlSurvey, writeLandXmlSurvey } from '#core/exchange';
import { STATION_TABLE } from './station-table.ts';

const DEGREE = Math.PI / 180;
const MADE = '2026-07-20T08:00:00Z';
const kessa = readBookText(readFileSync('demo/kessa-bank/kessa-one.book', 'utf8'))!;
const written = (book: Book): string => writeLandXmlSurvey({ project: 'Kessa', made: MADE, control: [], book }).text;

/** What matters of a record for its results: where it stood in a file does not. */
const readings = (r: BookRecord) => ({
  kind: r.kind,
  number: r.number,
  role: r.role,
  face: r.face,
  round: r.round,
  code: r.code,
  deleted: r.deleted,
  numbers: [r.height, r.circle, r.zenith, r.distance, r.temperature, r.pressure].map((v) =>
    Number.isNaN(v) ? null : Math.round(v * 1e6) / 1e6,
  ),
});
const sightings = (book: Book) => book.records.filter((r) => r.kind === 'sighting' || r.kind === 'setup').map(readings);

describe('LandXML surveys', () => {
  it('hold a book: written and read again its readings are the same, and the XML is well formed', () => {
    const text = written(kessa);
    expect(() => execFileSync('xmllint', ['--noout', '-'], { input: text })).not.toThrow();
    const again = readLandXmlSurvey(text)!;
    expect(again.book.problems).toEqual([]);
    expect(sightings(again.book)).toEqual(sightings(kessa));
    expect(again.book.instruments.map((i) => [i.name, i.distance, i.ppm])).toEqual(
      kessa.instruments.map((i) => [i.name, i.distance, i.ppm]),
    );
    expect(again.book.targets).toEqual(kessa.targets);
  });

  it('of any sightings come back to a tenth of a millimetre and a hundredth of a second', () => {
    const sighting = fc.record({
      number: fc.string({ minLength: 1, maxLength: 12 }).filter((s) => s.trim() === s && /^[\x20-\x7e]+$/.test(s)),
      code: fc.string({ maxLength: 20 }).filter((s) => s.trim() === s && /^[\x20-\x7e]*$/.test(s)),
      role: fc.constantFrom('back' as const, 'shot' as const, 'check' as const),
      face: fc.integer({ min: 0, max: 2 }),
      circle: fc.double({ min: 0, max: 6.283, noNaN: true }),
      zenith: fc.double({ min: 0.2, max: 2.9, noNaN: true }),
      distance: fc.double({ min: 0.5, max: 3000, noNaN: true }),
      height: fc.double({ min: 0, max: 5, noNaN: true }),
      deleted: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(sighting, { maxLength: 20 }), (list) => {
        const [setup] = kessa.records.filter((r) => r.kind === 'setup');
        const plain = kessa.records.find((r) => r.kind === 'sighting')!;
        const book: Book = {
          ...kessa,
          records: [setup, ...list.map((s, i) => ({ ...plain, ...s, row: setup.row + i + 1 }))],
        };
        const back = readLandXmlSurvey(written(book))!.book.records.filter((r) => r.kind === 'sighting');
        expect(back.map((r) => [r.number, r.code, r.role, r.face, r.deleted])).toEqual(
          list.map((s) => [s.number, s.code, s.role, s.face, s.deleted]),
        );
        back.forEach((r, i) => {
          expect(Math.abs(r.circle - list[i].circle)).toBeLessThan(5e-8);
          expect(Math.abs(r.distance - list[i].distance)).toBeLessThan(5.1e-5);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('of another program are read: gon, a backsight with its circle, references to points, targets with heights', () => {
    const text = `<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="meter" angularUnit="grads"/></Units>
<CgPoints><CgPoint name="P1" pntSurv="control">200.000 100.000 50.000</CgPoint><CgPoint name="P2" pntSurv="control">300.000 100.000 51.000</CgPoint><CgPoint name="77" pntSurv="sideshot">1 2 3</CgPoint></CgPoints>
<Survey><InstrumentSetup id="a" stationName="P1" instrumentHeight="1.5"><InstrumentPoint pntRef="P1"/>
<Backsight id="b" circle="0.0000"><BacksightPoint pntRef="P2"/></Backsight>
<TargetSetup id="t" targetHeight="1.3" prismConstant="-0.03"/>
<ObservationGroup id="g"><RawObservation targetSetupID="t" horizAngle="100.0000" zenithAngle="100.0000" slopeDistance="50.030" purpose="sideshot"><TargetPoint name="101" desc="KT1"/></RawObservation></ObservationGroup>
</InstrumentSetup></Survey></LandXML>`;
    const { book } = readLandXmlSurvey(text)!;
    expect(book.problems).toEqual([]);
    expect(book.records.map((r) => [r.kind, r.role, r.number])).toEqual([
      ['point', 'control', 'P1'],
      ['point', 'control', 'P2'],
      ['setup', '', 'P1'],
      ['sighting', 'back', 'P2'],
      ['sighting', 'shot', '101'],
    ]);
    const shot = book.records.at(-1)!;
    expect(shot.circle).toBeCloseTo(Math.PI / 2, 12);
    expect([shot.height, shot.target, shot.code]).toEqual([1.3, 't', 'KT1']);
    expect(book.targets).toEqual([{ name: 't', constant: -0.03 }]);
    // North stands before east.
    expect(book.records[0]).toMatchObject({ x: 100, y: 200, z: 50 });
  });

  it('on one row have records of their own all the same', () => {
    const { book } = readLandXmlSurvey(written(kessa).replaceAll('\n', ''))!;
    const rows = book.records.map((r) => r.row);
    expect(new Set(rows).size).toBe(rows.length);
    expect(sightings(book)).toEqual(sightings(kessa));
  });

  it('that are hostile or broken are refused with what and where, and what stands before is kept', () => {
    const doctype = written(kessa).replace('<LandXML', '<!DOCTYPE x [<!ENTITY e "e">]><LandXML');
    expect(bookFormOf(doctype)).toBe('landxml');
    expect(readLandXmlSurvey(doctype)!.book).toMatchObject({ records: [], complete: false });
    expect(readLandXmlSurvey(doctype)!.book.problems[0].reason).toContain('document type');
    const deep = `<LandXML>${'<a>'.repeat(100)}`;
    expect(readLandXmlSurvey(deep)!.book.problems[0].reason).toContain('deep');
    const cut = written(kessa);
    const half = readLandXmlSurvey(cut.slice(0, cut.length / 2))!.book;
    expect(half.complete).toBe(false);
    expect(half.records.length).toBeGreaterThan(20);
    const wrong = written(kessa).replace(/slopeDistance="[\d.]+"/, 'slopeDistance="86.43.22"');
    const { book } = readLandXmlSurvey(wrong)!;
    expect(book.problems).toHaveLength(1);
    expect(book.problems[0].reason).toContain('not a length');
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), fc.nat(cut.length), (noise, at) => {
        expect(readLandXmlSurvey(cut.slice(0, at) + noise + cut.slice(at))).not.toBeNull();
      }),
      { numRuns: 40 },
    );
  });

  it('with latitudes and longitudes name the records that have to be carried over', () => {
    const text = `<LandXML><Units><Imperial linearUnit="foot" angularUnit="decimal degrees"/></Units><Survey><GPSSetup id="g" antennaHeight="6.5617" stationName="G1"><GPSPosition setupID="g" purpose="sideshot" wgsLatitude="59.4371" wgsLongitude="24.7454" wgsHeight="164.042"><GPSQCInfoLevel2 covarianceXX="0.0001" covarianceYY="0.0001" covarianceZZ="0.0004" GPSSolnType="RTK fixed" nbrSatellites="14"/></GPSPosition></GPSSetup></Survey></LandXML>`;
    const { book, geographic } = readLandXmlSurvey(text)!;
    const [r] = book.records;
    expect(geographic).toEqual([r.row]);
    expect([r.x, r.y]).toEqual([24.7454, 59.4371].map((v) => expect.closeTo(v, 9)));
    expect(r.z).toBeCloseTo(50, 3);
    // Stated in the file's own unit, feet.
    expect(r.gnss!.plan).toBeCloseTo(0.01 * 0.3048, 9);
    expect(r.gnss!.satellites).toBe(14);
  });
});

describe('positions by satellite of a LandXML survey', () => {
  const xml = `<LandXML><Units><Metric linearUnit="meter" angularUnit="decimal degrees"/></Units><Survey><GPSSetup id="g" antennaHeight="2" stationName="G1"><GPSPosition setupID="g" purpose="sideshot" wgsLatitude="59.4371" wgsLongitude="15.2454" wgsHeight="61.5"/></GPSSetup></Survey></LandXML>`;
  const intake: Intake = { id: 'b', fileId: 'b', fileName: 'b.xml', sha256: '0'.repeat(64), layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['E', 'N'], unit: 'm' }, purpose: 'survey', form: 'book', on: true, numbers: { all: 'both', each: {} } }; // prettier-ignore
  const read = async (basis: Basis) => {
    const reading = await readByPlan(new TextEncoder().encode(xml), readingPlan(basis, intake), {});
    if (!reading?.ok) throw new Error('not read');
    return reading.read.book!;
  };
  const utm = { kind: 'projected' as const, name: 'ETRS89 / UTM zone 33N', code: 'EPSG:25833', definition: '+proj=utm +zone=33 +ellps=GRS80 +towgs84=0,0,0,0,0,0,0 +no_defs', unit: 'm' as const, area: null, extent: null }; // prettier-ignore

  it('come to the project’s grid as PROJ’s cs2cs brings them, without an elevation that no geoid gives', async () => {
    const book = await read({ ...LOCAL_BASIS, system: utm });
    const answer = execFileSync('cs2cs', ['-f', '%.4f', 'EPSG:4326', 'EPSG:25833'], { input: '59.4371 15.2454\n', encoding: 'utf8' }); // prettier-ignore
    const [x, y] = answer.trim().split(/\s+/).map(Number);
    expect(book.records[0].x).toBeCloseTo(x, 3);
    expect(book.records[0].y).toBeCloseTo(y, 3);
    expect(book.records[0].z).toBeNaN();
    expect(book.problems[0].reason).toContain('no geoid');
    const ellipsoidal = await read({ ...LOCAL_BASIS, system: utm, heights: 'ellipsoidal' });
    expect(ellipsoidal.records[0].z).toBeCloseTo(61.5, 6);
    expect(ellipsoidal.problems).toEqual([]);
  });

  it('are left out, and say so, where the project is on no published grid', async () => {
    const book = await read(LOCAL_BASIS);
    expect(book.records).toEqual([]);
    expect(book.problems.map((p) => p.reason)).toEqual([expect.stringContaining('no published system')]);
  });
});

describe('layouts of tables and tagged text', () => {
  it('make a setup where the station changes, its first sighting the backsight in both faces', () => {
    const text = [
      'Station;HI;Point;Hz;V;SD;HT;Code',
      'A;1,6;B;0,0000;100,0000;50,000;1,5;',
      'A;1,6;B;200,0000;300,0000;50,000;1,5;',
      'A;1,6;1;50,0000;99,5000;12,345;1,5;KT1 BEG',
      'B;1,55;A;0,0000;100,0000;50,000;1,5;',
    ].join('\n');
    const book = readByLayout(text, STATION_TABLE)!;
    expect(book.problems).toEqual([]);
    expect(book.records.map((r) => [r.kind, r.role, r.number, r.height])).toEqual([
      ['setup', '', 'A', 1.6],
      ['sighting', 'back', 'B', 1.5],
      ['sighting', 'back', 'B', 1.5],
      ['sighting', 'shot', '1', 1.5],
      ['setup', '', 'B', 1.55],
      ['sighting', 'back', 'A', 1.5],
    ]);
    expect(book.records[3].circle / DEGREE).toBeCloseTo(45, 9);
    expect(book.records[3].distance).toBeCloseTo(12.345, 9);
  });

  it('read tagged text by keys, with target heights that hold for what follows', () => {
    const layout: BookLayout = {
      ...STATION_TABLE,
      separator: ',',
      decimal: '.',
      angle: 'packed',
      skipRows: 0,
      backsight: 'said',
      tag: { column: 0 },
      rows: [
        {
          tag: 'ST',
          kind: 'setup',
          fields: [
            { role: 'station', at: { column: 1 } },
            { role: 'hi', at: { key: 'IH' } },
          ],
        },
        { tag: 'TH', kind: 'target height', fields: [{ role: 'th', at: { column: 1 } }] },
        ...(['BS', 'OB'] as const).map((tag) => ({
          tag,
          kind: tag === 'BS' ? ('back' as const) : ('shot' as const),
          fields: [
            { role: 'number' as const, at: { column: 1 } },
            { role: 'circle' as const, at: { key: 'HZ' } },
            { role: 'zenith' as const, at: { key: 'VA' } },
            { role: 'dist' as const, at: { key: 'SD' } },
            { role: 'face' as const, at: { key: 'F' } },
          ],
        })),
      ],
    };
    const text =
      'ST,A,IH=1.6\nTH,1.8\nBS,B,HZ=0.0000,VA=89.3015,SD=50.0,F=R\nXX,what\nOB,1,VA=90.0000,HZ=12.7530,SD=3\nOB,2,SD=9.5,HZ=12.3045,VA=90.1500';
    const book = readByLayout(text, layout)!;
    expect(book.records.map((r) => [r.number, r.height, r.face])).toEqual([
      ['A', 1.6, 0],
      ['B', 1.8, 2],
      ['2', 1.8, 0],
    ]);
    expect(book.records[2].circle / DEGREE).toBeCloseTo(12 + 30 / 60 + 45 / 3600, 9);
    expect(book.problems.map((p) => [p.row, p.reason])).toEqual([
      [4, '“XX” is not a type of row that the layout knows'],
      [5, expect.stringContaining('both stay below 60')],
    ]);
  });

  it('read fixed columns, signs in angles, and horizontal distances with height differences', () => {
    const fields = [
      { role: 'number' as const, at: { from: 1, to: 7 } },
      { role: 'circle' as const, at: { from: 7, to: 18 } },
      { role: 'hdist' as const, at: { from: 18, to: 26 } },
      { role: 'rise' as const, at: { from: 26, to: 34 } },
    ];
    const layout: BookLayout = {
      ...STATION_TABLE,
      split: 'fixed',
      decimal: '.',
      angle: 'dms',
      skipRows: 0,
      tag: { from: 0, to: 1 },
      rows: [
        { tag: 'S', kind: 'setup', fields: [fields[0]] },
        { tag: 'M', kind: 'shot', fields },
      ],
    };
    const book = readByLayout('SA     \nM101    45°30′15″  40.000  -3.000\n', layout)!;
    expect(book.problems).toEqual([]);
    const shot = book.records[1];
    expect(shot.circle / DEGREE).toBeCloseTo(45 + 30 / 60 + 15 / 3600, 9);
    expect(shot.distance).toBeCloseTo(Math.hypot(40, 3), 9);
    expect(shot.distance * Math.cos(shot.zenith)).toBeCloseTo(-3, 9);
  });

  it('are proposed from headings and from tags, and hold what they propose', () => {
    const table = guessBookLayout([
      'Station;HI;Point;Hz [gon];V [gon];Slope dist [m];HT;Code',
      ...Array.from({ length: 30 }, (_, i) => `A;1,600;${i};${i * 7},1234;99,5000;12,345;1,500;KT1`),
    ]);
    expect(table.likely).toBe(true);
    expect(table.layout).toMatchObject({ separator: ';', decimal: ',', angle: 'gon', unit: 'm', skipRows: 1 });
    expect(bookLayoutProblem(table.layout)).toBeNull();
    const points = guessBookLayout(['Number,East [m],North [m],Elevation [m],Code', '1,100.0,200.0,30.0,KT1']);
    expect(points.likely).toBe(false);
  });

  it('know whose height a column called height holds: the instrument’s, the target’s, or none of them', () => {
    const rows = [
      'type,number,circle,zenith,distance,height [m],code',
      'ST,OL1,,,,1.552,',
      'BS,OL2,34-12-10,89-58-04,74.210,1.500,',
      'SS,901,40-01-30,90-10-20,21.334,1.700,GR',
    ];
    const { layout } = guessBookLayout(rows);
    expect(readByLayout(rows.join('\n'), layout)!.records.map((r) => [r.kind, r.number, r.height])).toEqual([
      ['setup', 'OL1', 1.552],
      ['sighting', 'OL2', 1.5],
      ['sighting', '901', 1.7],
    ]);
    const roles = (heading: string) => guessBookLayout([heading]).layout.rows[0].fields.map((f) => f.role);
    expect(roles('Point;Hz;V;Dist;Height')).toEqual(['number', 'circle', 'zenith', 'dist', 'th']);
    expect(roles('Point;Hz;V;Dist;HT;Height')).toEqual(['number', 'circle', 'zenith', 'dist', 'th', 'z']);
    expect(roles('Point;East;North;Height')).toEqual(['number', 'x', 'y', 'z']);
  });

  it('that cannot serve say why before anything is read', () => {
    const of = (part: Partial<BookLayout>): string | null => bookLayoutProblem({ ...STATION_TABLE, ...part });
    expect(of({})).toBeNull();
    expect(of({ rows: [] })).toContain('No row becomes a record');
    expect(of({ rows: [{ tag: '', kind: 'gnss', fields: [] }] })).toContain('east and north');
    expect(of({ rows: [{ tag: '', kind: 'setup', fields: [] }] })).toContain('station');
    expect(of({ rows: [STATION_TABLE.rows[0], { ...STATION_TABLE.rows[0], tag: 'B' }] })).toContain('type field');
  });

  it('take a hundred thousand rows in pieces, and stop when asked', () => {
    const rows = Array.from({ length: 100_000 }, (_, i) => `A;1,6;${i};${i % 400},0;99,5;12,3;1,5;KT1`);
    const text = `head\n${rows.join('\n')}`;
    const seen: number[] = [];
    const book = readByLayout(text, STATION_TABLE, (share) => void seen.push(share))!;
    expect(book.records).toHaveLength(100_001);
    expect(seen.length).toBeGreaterThan(3);
    expect(readByLayout(text, STATION_TABLE, () => false)).toBeNull();
  });

  it('never throw, whatever the rows hold', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 80 }), { maxLength: 20 }), fc.boolean(), (rows, fixed) => {
        const layout: BookLayout = { ...STATION_TABLE, split: fixed ? 'fixed' : 'separator', separator: ' ' };
        const read = readBookFile(rows.join('\n'), layout)!;
        expect(read.book.rows).toBeGreaterThanOrEqual(0);
        expect(guessBookLayout(rows).layout.rows.length).toBeLessThanOrEqual(60);
      }),
      { numRuns: 100 },
    );
  });
});
