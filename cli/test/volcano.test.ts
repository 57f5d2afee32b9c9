import { describe, expect, it } from 'vitest';
import { at, json, outside, PYTHON, script, volcano, volcanoBefore } from './ran.ts';

volcanoBefore();

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
