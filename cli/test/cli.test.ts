import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { SYMBOL_STROKES } from '#core/codes';
import { writeDxf, type Drawing } from '#core/exchange';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'dunrik-cli-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

interface Ran {
  code: number | null;
  out: string;
  err: string;
}
function dunrik(...args: string[]): Ran {
  const run = spawnSync(process.execPath, ['--import', 'tsx', 'cli/src/main.ts', ...args], {
    cwd: ROOT,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  return { code: run.status, out: run.stdout, err: run.stderr };
}
function json<T = Record<string, never>>(...args: string[]): T {
  const run = dunrik(...args, '--json');
  expect(run.err).toBe('');
  expect(run.code).toBe(0);
  return JSON.parse(run.out) as T;
}
const outside = (program: string, ...args: string[]): string => {
  const run = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 28 });
  if (run.status !== 0) throw new Error(`${program}: ${run.stderr}`);
  return run.stdout;
};
const PYTHON = '/usr/bin/python3';
const script = (name: string): string => fileURLToPath(new URL(`./outside/${name}`, import.meta.url));
const demo = (name: string): string => join(ROOT, 'demo/ostrel-landing', name);

/** A digitised volcano, 87 × 61 heights on a 10 m grid, from the package vega-datasets (data/volcano.json). */
interface Volcano {
  width: number;
  height: number;
  values: number[];
}
const volcano = JSON.parse(readFileSync(join(ROOT, 'node_modules/vega-datasets/data/volcano.json'), 'utf8')) as Volcano;

beforeAll(() => {
  const rows = volcano.values.map(
    (z, i) => `${i + 1},${(i % volcano.width) * 10},${(volcano.height - 1 - Math.floor(i / volcano.width)) * 10},${z}`,
  );
  writeFileSync(at('volcano.csv'), ['Number,East [m],North [m],Elevation [m]', ...rows].join('\n'));
  expect(dunrik('surface', at('volcano.csv'), '-o', at('volcano.xml')).code).toBe(0);
});

describe('the volcano', () => {
  it('goes in as 5,307 points and comes out as a surface over the whole grid', () => {
    expect(json<{ counts: { points: number } }>('inspect', at('volcano.csv')).counts.points).toBe(5307);
    const s = json<{ vertices: number; triangles: number; planArea: number; lowest: number; highest: number }>(
      'surface',
      at('volcano.csv'),
    );
    // Euler: 2n − 2 − h, with the grid's rim as hull.
    expect(s).toMatchObject({ vertices: 5307, triangles: 2 * 86 * 60, planArea: 86 * 60 * 100 });
    expect([s.lowest, s.highest]).toEqual([Math.min(...volcano.values), Math.max(...volcano.values)]);
  });

  it('is well-formed LandXML, whose volume above 100 m a reader written apart agrees with', () => {
    outside('xmllint', '--noout', at('volcano.xml'));
    const [vertices, faces, cut, fill] = outside(PYTHON, script('landxml_volume.py'), at('volcano.xml'), '100')
      .trim()
      .split(' ')
      .map(Number);
    expect([vertices, faces]).toEqual([5307, 10320]);
    const v = json<{ methods: { exact: { cut: number; fill: number } } }>(
      'volume',
      at('volcano.xml'),
      '--level',
      '100',
    );
    expect(Math.abs(v.methods.exact.cut / cut - 1)).toBeLessThan(1e-12);
    expect(Math.abs(v.methods.exact.fill / fill - 1)).toBeLessThan(1e-10);
  });

  it('has a volume that the hand methods come near', () => {
    const { methods } = json<{ methods: Record<string, { cut: number; fill: number; net: number }> }>(
      'volume',
      at('volcano.xml'),
      '--level',
      '100',
      '--method',
      'all',
      '--cell',
      '10',
    );
    for (const m of Object.values(methods)) expect(m.net).toBe(m.cut - m.fill);
    expect(Math.abs(methods.grid.cut / methods.exact.cut - 1)).toBeLessThan(0.001);
    expect(Math.abs(methods.sections.cut / methods.exact.cut - 1)).toBeLessThan(0.001);
  });

  it('gives back every height it was made of', () => {
    const { list, off } = json<{ list: { elevation: number }[]; off: number }>(
      'heights',
      at('volcano.xml'),
      '--at',
      at('volcano.csv'),
    );
    expect(off).toBe(0);
    list.forEach((p, i) => expect(p.elevation).toBeCloseTo(volcano.values[i], 9));
  });

  for (const [version, code] of [
    ['R12', 'AC1009'],
    ['2000', 'AC1015'],
  ])
    it(`as a drawing ${version} is opened by ezdxf without a complaint, and by ogrinfo`, () => {
      const file = at(`volcano-${version}.dxf`);
      json('convert', at('volcano.xml'), file, '--dxf', version);
      const audit = JSON.parse(outside(PYTHON, script('dxf_audit.py'), file)) as {
        version: string;
        errors: number;
        kinds: Record<string, number>;
      };
      expect(audit).toMatchObject({ version: code, errors: 0, kinds: { '3DFACE': 10320 } });
      expect(audit).toMatchObject({ extent: [[0, 0, 94], [860, 600, 195]], viewports: 1 }); // prettier-ignore
      if (version === '2000') expect(audit).toMatchObject({ dimension_styles: 1, layouts: ['Model', 'Layout1'] });
      expect(outside('ogrinfo', '-so', file, 'entities')).toContain('Feature Count: 10320');
    });

  it('has closed or rim-to-rim contours on levels of the interval, as gdal sees them too', () => {
    const c = json<{ contours: number; levels: { elevation: number }[] }>(
      'contours',
      at('volcano.xml'),
      '--interval',
      '10',
      '--every',
      '5',
      '-o',
      at('c.geojson'),
    );
    expect(c.levels.every((l) => l.elevation % 10 === 0)).toBe(true);
    const info = outside('ogrinfo', '-so', at('c.geojson'), '-al');
    expect(info).toContain(`Feature Count: ${c.contours}`);
    json('contours', at('volcano.xml'), '--interval', '10', '-o', at('c.dxf'));
    expect((JSON.parse(outside(PYTHON, script('dxf_audit.py'), at('c.dxf'))) as { errors: number }).errors).toBe(0);
  });
});

describe('the demo’s files', () => {
  it('give lines with arcs as arcs', () => {
    const l = json<{ lines: number; unknownCodes: string[]; curvesNotEnded: { line: string }[] }>(
      'lines',
      demo('landing-day1.csv'),
      '-o',
      at('lines.dxf'),
    );
    expect(l.unknownCodes).toEqual(['DTT']);
    expect(l.curvesNotEnded).toMatchObject([{ line: 'KT1' }]);
    const audit = JSON.parse(outside(PYTHON, script('dxf_audit.py'), at('lines.dxf'))) as {
      errors: number;
      layers: string[];
      bulges: number;
    };
    expect(audit.errors).toBe(0);
    expect(audit.layers).toContain('KERB-FOOT-PLAN');
    expect(audit.bulges).toBe(18);
  });

  for (const version of ['R12', '2000'] as const)
    it(`give symbols with their attributes that ezdxf reads without a complaint, ${version}`, () => {
      const file = at(`symbols-${version}.dxf`);
      const drawing: Drawing = {
        points: [],
        lines: [],
        contours: [],
        surface: null,
        colours: {},
        texts: [{ layer: 'TEXT-NUMBER', x: 1, y: 2, height: 0.8, text: '14' }],
        blocks: [{ name: 'TR', strokes: SYMBOL_STROKES.crown, attributes: ['number', 'girth'] }],
        inserts: [{ block: 'TR', layer: 'TREE', x: 10, y: 20, z: 5, size: 1.2, rotation: 0.5, colour: 200, attributes: { number: '14', girth: '0.4' } }], // prettier-ignore
      };
      writeFileSync(file, writeDxf(drawing, { version, unit: 'm', decimals: 4, textHeight: 0 }));
      expect(JSON.parse(outside(PYTHON, script('dxf_audit.py'), file))).toMatchObject({
        errors: 0,
        kinds: { INSERT: 1, TEXT: 1 },
        attributes: [{ NUMBER: '14', GIRTH: '0.4' }],
        strokes: { TR: 17 },
      });
    });

  it('keep codes of every script apart as layers, and ezdxf reads their letters', () => {
    writeFileSync(at('scripts.csv'), 'Number,East [m],North [m],Elevation [m],Code\nŻ1,0,0,1,Žluť\n2,1,0,1,Łódź\n3,0,1,1,Ελλ\n'); // prettier-ignore
    for (const version of ['2000', 'R12']) {
      json('convert', at('scripts.csv'), at('scripts.dxf'), '--dxf', version);
      const seen = JSON.parse(outside(PYTHON, script('dxf_audit.py'), at('scripts.dxf'))) as { errors: number; layers: string[]; texts: string[] }; // prettier-ignore
      expect(seen.errors).toBe(0);
      const own = seen.layers.filter((l) => !['0', 'Defpoints', 'POINT-NUMBER'].includes(l));
      if (version === '2000') expect(own).toEqual(['ŁÓDŹ', 'ŽLUŤ', 'ΕΛΛ']);
      else expect([own.length, own.every((l) => /^[A-Z0-9$_-]+$/.test(l))]).toEqual([3, true]);
      if (version === '2000') expect(seen.texts).toContain('Ż1');
    }
  });

  for (const version of ['R12', '2000'] as const)
    it(`give lines in the style, colour and width of the drawing, as ezdxf has them, ${version}`, () => {
      const file = at(`styles-${version}.dxf`);
      const line = { layer: 'FENCE', closed: false, spatial: [0, 0, 1, 10, 0, 1], plan: [0, 0, 0, 10, 0, 0] };
      const drawing: Drawing = {
        points: [{ layer: 'TREE', x: 1, y: 2, z: 3, label: '', colour: 94 }],
        lines: [
          { ...line, style: 'dash-dot', colour: 150 },
          { ...line, style: 'solid' },
        ],
        contours: [],
        surface: null,
        colours: { FENCE: 32 },
        widths: { FENCE: 0.26 },
        perMm: 0.5,
      };
      writeFileSync(file, writeDxf(drawing, { version, unit: 'm', decimals: 4, textHeight: 0 }));
      const seen = JSON.parse(outside(PYTHON, script('dxf_audit.py'), file)) as Record<string, unknown>;
      const plan = version === 'R12' ? 'POLYLINE' : 'LWPOLYLINE';
      expect(seen).toMatchObject({ errors: 0, styles: { 'DASH-DOT': [1.5, -0.5, 0.25, -0.5] } });
      expect(seen.looks).toEqual(
        [
          [plan, 150, 'DASH-DOT'],
          [plan, 256, 'BYLAYER'],
          ['POINT', 94, 'BYLAYER'],
          ['POLYLINE', 150, 'DASH-DOT'],
          ['POLYLINE', 256, 'BYLAYER'],
        ].sort((a, b) => (String(a) < String(b) ? -1 : 1)),
      );
      // The older version has no widths of layers.
      expect(seen.weights).toEqual(version === '2000' ? expect.objectContaining({ FENCE: 25, 'FENCE-PLAN': 25 }) : {});
    });

  it('say what they lack before they are taken for something', () => {
    const run = dunrik('inspect', demo('landing-day2.txt'));
    expect([run.code, run.err]).toEqual([
      1,
      'dunrik: landing-day2.txt does not say the order of its columns. Give it: --order PENZD, for number, east, north, elevation, code.\n',
    ]);
    expect(dunrik('inspect', demo('landing-day2.txt'), '--order', 'PNEZDDDD').err).toContain(
      '--unit m, ft, usft, mm, cm, in',
    );
    const i = json<{ counts: { points: number }; layout: { roles: string[] } }>(
      'inspect',
      demo('landing-day2.txt'),
      '--order',
      'PNEZDDDD',
      '--unit',
      'm',
    );
    expect(i.counts.points).toBe(270);
  });

  it('go from any format to any other', () => {
    for (const [from, to] of [
      [demo('landing-day1.csv'), 'a.geojson'],
      [at('a.geojson'), 'b.dxf'],
      [at('b.dxf'), 'c.xml'],
      [at('c.xml'), 'd.csv'],
    ])
      expect(json<{ points: number }>('convert', from, at(to)).points).toBe(480);
    const inspected = json<{ counts: { points: number } }>('inspect', at('d.csv'));
    expect(inspected.counts.points).toBe(480);
    const feet = json<{ extent: number[] }>('inspect', demo('landing-day1.csv'));
    json('convert', demo('landing-day1.csv'), at('feet.csv'), '--to-unit', 'usft', '--decimals', '4');
    const back = json<{ extent: number[]; unit: string }>('inspect', at('feet.csv'));
    expect(back.unit).toBe('usft');
    back.extent.forEach((v, i) => expect(v).toBeCloseTo(feet.extent[i], 4));
  });

  it('are cut by a boundary, compared with a design, and triangulated with breaklines', () => {
    json('lines', demo('landing-day1.csv'), '-o', at('breaks.xml'));
    const s = json<{ breaklines: number; crossings: unknown[]; planArea: number }>(
      'surface',
      demo('landing-day1.csv'),
      '--lines',
      at('breaks.xml'),
      '--longest-side',
      '30',
      '--boundary',
      demo('boat-park-pad.csv'),
      '-o',
      at('cut.xml'),
    );
    expect(s.breaklines).toBe(12);
    // The pad is 24 m × 20 m.
    expect(s.planArea).toBeCloseTo(480.02, 1);
    json('surface', demo('boat-park-pad.csv'), '-o', at('pad.xml'));
    const against = json<{ area: number; methods: { exact: { cut: number; fill: number } } }>(
      'volume',
      at('cut.xml'),
      '--against',
      at('pad.xml'),
    );
    const level = json<{ area: number; methods: { exact: { cut: number; fill: number } } }>(
      'volume',
      at('cut.xml'),
      '--level',
      '62.40',
    );
    expect(against.methods.exact.cut).toBeCloseTo(level.methods.exact.cut, 4);
    expect(against.methods.exact.fill).toBeCloseTo(level.methods.exact.fill, 4);
  });
});

describe('systems and heights', () => {
  const places = Array.from({ length: 300 }, (_, i) => ({
    lat: 59 + ((i * 37) % 100) / 200,
    lon: 24.2 + ((i * 61) % 100) / 60,
    h: 20 + (i % 40),
  }));
  const file = (): string => {
    writeFileSync(
      at('gnss.csv'),
      [
        'Number,Latitude,Longitude,Ellipsoidal height [m]',
        ...places.map((p, i) => `${i + 1},${p.lat.toFixed(9)},${p.lon.toFixed(9)},${p.h.toFixed(4)}`),
      ].join('\n'),
    );
    return at('gnss.csv');
  };
  const rowsOf = (name: string): number[][] =>
    readFileSync(at(name), 'utf8')
      .trim()
      .split('\r\n')
      .slice(1)
      .map((r) => r.split(',').slice(1, 4).map(Number));

  it('go over as PROJ brings them, plan and geoid alike', () => {
    const done = json<{ carried: { from: string; to: string } }>(
      ...['convert', file(), at('utm.csv'), '--from', '4326', '--to', 'EPSG:32635', '--decimals', '5'],
      ...['--geoid', '/usr/share/proj/egm96_15.gtx', '--heights', 'to-orthometric'],
    );
    expect(done.carried).toMatchObject({ from: 'WGS 84', to: 'WGS 84 / UTM zone 35N' });
    const input = places.map((p) => `${p.lon.toFixed(9)} ${p.lat.toFixed(9)} ${p.h.toFixed(4)} 0\n`).join('');
    // PROJ, with the same grid: longitude and latitude with ellipsoidal heights to UTM above EGM96.
    const cct = spawnSync(
      'cct',
      [
        ...['-d', '6', '+proj=pipeline', '+step', '+proj=unitconvert', '+xy_in=deg', '+xy_out=rad'],
        ...['+step', '+proj=vgridshift', '+grids=egm96_15.gtx', '+step', '+proj=utm', '+zone=35', '+ellps=WGS84'],
      ],
      { input, encoding: 'utf8' },
    );
    const known = cct.stdout
      .trim()
      .split('\n')
      .map((l) => l.trim().split(/\s+/).map(Number));
    expect(known).toHaveLength(300);
    rowsOf('utm.csv').forEach((r, i) => r.forEach((v, k) => expect(Math.abs(v - known[i][k])).toBeLessThan(2e-5)));
  });

  it('come back to where they were, in feet too', () => {
    json('convert', file(), at('ft.csv'), '--from', '4326', '--to', '32635', '--to-unit', 'usft', '--decimals', '5');
    json('convert', at('ft.csv'), at('back.csv'), '--from', '32635', '--to', '4326');
    rowsOf('back.csv').forEach(([lon, lat], i) => {
      expect(Math.abs(lon - places[i].lon)).toBeLessThan(2e-9);
      expect(Math.abs(lat - places[i].lat)).toBeLessThan(2e-9);
    });
    expect(readFileSync(at('back.csv'), 'utf8').split('\r\n')[0]).toBe(
      'Number,Longitude,Latitude,Elevation [m],Description',
    );
  });

  it('are told by inspect as the file claims them', () => {
    writeFileSync(
      at('claim.csv'),
      'system: EPSG:32635\ngeoid: EGM96\nNumber,East [m],North [m],Elevation [m]\n1,5,6,7\n',
    );
    const { basis } = json<{ basis: object }>('inspect', at('claim.csv'));
    expect(basis).toEqual({
      unit: 'm',
      system: 'EPSG:32635',
      known: { code: 'EPSG:32635', name: 'WGS 84 / UTM zone 35N' },
      geoid: 'EGM96',
      degrees: false,
      insideArea: false,
    });
    expect(dunrik('inspect', '/usr/share/proj/egm96_15.gtx').out).toContain('721 × 1440 nodes');
  });

  it('are refused in a sentence where they make no sense', () => {
    writeFileSync(at('turned.csv'), 'Number,Latitude,Longitude\n1,24.7,59.4\n2,24.8,59.5\n');
    writeFileSync(at('plain.csv'), 'Number,East [m],North [m]\n1,372129,6590902\n');
    writeFileSync(at('short.gtx'), readFileSync('/usr/share/proj/egm96_15.gtx').subarray(0, 100_000));
    const out = ['-o', at('never.csv')].slice(1);
    const cases: [string[], number, string][] = [
      [['convert', at('turned.csv'), ...out, '--from', '4326', '--to', '32635'], 1, 'longitude are swapped'],
      [['convert', file(), ...out, '--from', '4326', '--to', '2277'], 1, 'outside the area of'],
      [['convert', at('plain.csv'), ...out, '--to', '4326'], 1, 'does not say in which system'],
      [['convert', at('plain.csv'), ...out, '--from', '99999'], 1, 'no system with the code'],
      [
        ['convert', at('plain.csv'), ...out, '--from', '+proj=tmerc +lon_0=24 +k=10 +ellps=GRS80'],
        1,
        'scale factor of 10',
      ],
      [
        ['convert', at('plain.csv'), ...out, '--from', '+proj=tmerc +lon_0=24 +k=0 +ellps=GRS80'],
        1,
        'scale factor of 0',
      ],
      [
        [
          'convert',
          at('plain.csv'),
          ...out,
          '--from',
          '32635',
          '--geoid',
          at('short.gtx'),
          '--heights',
          'to-orthometric',
        ],
        1,
        'cut short',
      ],
      [['inspect', at('short.gtx')], 1, 'cut short'],
      [['convert', at('plain.csv'), ...out, '--from', '32635', '--geoid', at('short.gtx')], 2, '--heights'],
      [['convert', at('plain.csv'), at('never.dxf'), '--from', '32635', '--to', '4326'], 1, 'plane coordinates'],
    ];
    for (const [args, code, says] of cases) {
      const run = dunrik(...args);
      expect([args.join(' '), run.code]).toEqual([args.join(' '), code]);
      expect(run.err).toContain(says);
    }
    expect(existsSync(at('never.csv')) || existsSync(at('never.dxf'))).toBe(false);
  });
});

describe('what cannot be done', () => {
  const cases: [string[], number, string][] = [
    [['surface', at('one.csv'), '-o', at('no.xml')], 1, 'a surface needs three'],
    [['surface', at('line.csv'), '-o', at('no.xml')], 1, 'stand in one line'],
    [['inspect', at('empty.csv')], 1, 'empty'],
    [['inspect', at('native.csv')], 1, 'closed native drawing'],
    [['inspect', at('missing.csv')], 1, 'ENOENT'],
    [['contours', at('volcano.xml'), '--interval', '0.000002'], 1, 'choose a larger one'],
    [['convert', at('volcano.csv'), at('no.pdf')], 1, 'Nothing can be written'],
    [['volume', at('volcano.csv'), '--level', '5'], 1, 'no LandXML'],
    [['volume', at('volcano.xml')], 2, '--level or --against'],
    [['contours', at('volcano.xml')], 2, '--interval'],
    [['frobnicate'], 2, 'no verb'],
    [['inspect'], 2, 'usage'],
    [['inspect', at('one.csv'), '--colour'], 2, 'colour'],
    [['surface', at('one.csv'), '--longest-side', 'far'], 2, 'longest-side'],
  ];
  beforeAll(() => {
    writeFileSync(at('one.csv'), 'Number,East [m],North [m],Elevation [m]\n1,1,2,3\n');
    writeFileSync(at('line.csv'), 'Number,East [m],North [m],Elevation [m]\n1,1,1,3\n2,2,2,3\n3,3,3,3\n');
    writeFileSync(at('empty.csv'), '');
    writeFileSync(at('native.csv'), 'AC1027\0\0\0');
  });
  // Each has a process of its own, and the time of a test of its own.
  for (const [args, code, says] of cases)
    it(`is one plain sentence and exit ${code}: ${args.join(' ').replaceAll(`${folder}/`, '')}`, () => {
      const run = dunrik(...args);
      expect(run.code).toBe(code);
      expect(run.err).toContain(says);
      if (code === 1) expect(run.err.trim().split('\n')).toHaveLength(1);
      expect(run.out).toBe('');
      expect(existsSync(at('no.xml')) || existsSync(at('no.pdf'))).toBe(false);
    });
});

describe('field books', () => {
  const kessa = (name: string): string => join(ROOT, 'demo/kessa-bank', name);
  const control = ['--control', kessa('kessa-control.csv')];

  it('are reduced to points near the true ground; what waits is not among them, and says why', () => {
    const report = json<{
      points: number;
      waiting: number;
      setups: { station: string; waits: string | null; orientation: number }[];
      list: { number: string; x: number; y: number; z: number; waits: boolean }[];
    }>('reduce', kessa('kessa-one.book'), kessa('kessa-two.book'), ...control, '-o', at('kessa.csv'));
    expect(report.setups.map((s) => s.station)).toEqual(['KB1', 'KB4', 'FS1', 'T1']);
    expect(report.setups[1].waits).toContain('KB6');
    const shot = report.list.find((p) => p.number === '104')!;
    // The fourth shot of the bank's foot stands 36 m along it, 22 m across.
    expect(Math.hypot(shot.x - 2176, shot.y - 5232)).toBeLessThan(0.01);
    const written = readFileSync(at('kessa.csv'), 'utf8').trim().split('\n');
    expect(written.length - 1).toBe(report.list.filter((p) => !p.waits).length);
    expect(report.waiting).toBe(report.list.filter((p) => p.waits).length);
    expect(report.waiting).toBeGreaterThan(20);
    expect(written.some((row) => row.startsWith('201,'))).toBe(false);
  });

  it('are asked what a project is asked: the crew’s slips with the cause that explains them, and angles in another form', () => {
    const { queries } = json<{ queries: { kind: string; weight: string; text: string; remedies: string[] }[] }>(
      'reduce',
      kessa('kessa-one.book'),
      kessa('kessa-two.book'),
      ...control,
    );
    const wrong = queries.find((q) => q.kind === 'backsight-wrong')!;
    expect(wrong).toMatchObject({ weight: 'stop' });
    expect(wrong.text).toContain('Was KB3 sighted?');
    expect(wrong.remedies.length).toBeGreaterThan(0);
    const rows = Array.from({ length: 15 }, (_, i) => `shot ${i} circle=${i * 7}.${10 + ((i * 13) % 50)}${10 + ((i * 29) % 50)} zenith=9${i % 3}.2314 dist=20 th=1.5`); // prettier-ignore
    writeFileSync(at('packed.book'), ['book 1', 'unit m', 'angle deg', 'setup KB1 hi=1.5', 'back KB2 circle=0 zenith=90 dist=100 th=1.5', ...rows, 'end'].join('\n')); // prettier-ignore
    const run = dunrik('reduce', at('packed.book'), ...control);
    expect(run.out).toContain('stop: packed.book says decimal degrees, but no minute or second');
  });

  it('give a network with its variance factor, its bounds, and every station with an ellipse', () => {
    const a = json<{
      observations: number;
      unknowns: number;
      freedom: number;
      varianceFactor: number;
      bounds: [number, number];
      stations: { number: string; ellipse: { major: number; minor: number } }[];
      list: { redundancy: number }[];
    }>('adjust', kessa('kessa-two.book'), ...control);
    expect(a.observations - a.unknowns).toBe(a.freedom);
    expect(a.list.reduce((s, o) => s + o.redundancy, 0)).toBeCloseTo(a.freedom, 6);
    const free = a.stations.find((s) => s.number === 'FS1')!;
    expect(free.ellipse.major).toBeGreaterThan(0);
    expect(free.ellipse.major).toBeLessThan(0.01);
    expect(free.ellipse.minor).toBeLessThanOrEqual(free.ellipse.major);
  });

  it('that are none, without control, or a refraction that is no number are refused in a sentence', () => {
    expect(dunrik('reduce', kessa('kessa-one.book'))).toMatchObject({ code: 2 });
    const none = dunrik('reduce', kessa('kessa-control.csv'), ...control);
    expect(none.code).toBe(1);
    expect(none.err).toContain('is no field book');
    expect(dunrik('adjust', at('not-there.book'), ...control).err).toContain('cannot be opened');
    expect(dunrik('reduce', kessa('kessa-one.book'), ...control, '--refraction', 'much').code).toBe(2);
  });
});
