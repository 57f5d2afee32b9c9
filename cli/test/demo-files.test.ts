import { writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { SYMBOL_STROKES } from '#core/codes';
import { writeDxf, type Drawing } from '#core/exchange';
import { at, demo, dunrik, json, outside, PYTHON, script } from './ran.ts';

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
