import { readFileSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json, volcanoBefore } from './ran.ts';

interface Feature {
  geometry: { coordinates: number[][] };
  properties: { elevation: number; closed: boolean };
}
interface Checked {
  contours: number;
  interval: number;
  withoutElevation: number;
  uneven: number;
  faults: { kind: string; contour: number; elevation: number; fits?: number | null; layer: string }[];
  written?: number;
}

volcanoBefore();
// Contours of the digitised volcano (package vega-datasets), lifted a little: its heights are whole metres, on which contours would lie.
let features: Feature[];
beforeAll(() => {
  expect(dunrik('contours', at('volcano.xml'), '--interval', '7.3', '-o', at('contours.geojson')).code).toBe(0);
  features = (JSON.parse(readFileSync(at('contours.geojson'), 'utf8')) as { features: Feature[] }).features;
});
function written(name: string, change: (list: Feature[]) => void): string {
  const list = structuredClone(features);
  change(list);
  writeFileSync(at(name), JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features: list })); // prettier-ignore
  return at(name);
}
/** A long open or closed contour that is not the highest. */
const longest = (list: Feature[]): number => list.map((f, i) => [f.geometry.coordinates.length, i]).sort((a, b) => b[0] - a[0])[0][1]; // prettier-ignore

describe('contours whose elevations are written beside them', () => {
  const ring = (k: number): (string | number)[] => [0, 'LWPOLYLINE', 8, 'CT', 90, 4, 70, 1, ...[[-1, -1], [1, -1], [1, 1], [-1, 1]].flatMap(([x, y]) => [10, 10 * k * x, 20, 10 * k * y])]; // prettier-ignore
  const says = (text: string, x: number, y: number): (string | number)[] => [0, 'TEXT', 8, 'LABELS', 10, x, 20, y, 40, 1, 1, text]; // prettier-ignore
  const drawn = (...of: (string | number)[][]): string => {
    writeFileSync(
      at('labelled.dxf'),
      [
        0,
        'SECTION',
        2,
        'HEADER',
        9,
        '$INSUNITS',
        70,
        6,
        0,
        'ENDSEC',
        0,
        'SECTION',
        2,
        'ENTITIES',
        ...of.flat(),
        0,
        'ENDSEC',
        0,
        'EOF',
        '',
      ].join('\n'),
    );
    return at('labelled.dxf');
  };

  it('get them by --elevation text, and are checked by them', () => {
    const good = drawn(ring(1), ring(2), ring(3), says('64', -1, -10.5), says('63', -1, -20.5), says('62', -1, -30.5));
    expect(json<Checked>('check-contours', good, '--elevation', 'text')).toMatchObject({ contours: 3, interval: 1, withoutElevation: 0, unclear: [], faults: [] }); // prettier-ignore
    const slip = drawn(...[1, 2, 3, 4, 5].flatMap((k) => [ring(k), says(k === 3 ? '26' : String(65 - k), -1, -10 * k - 0.5)])); // prettier-ignore
    expect(json<Checked>('check-contours', slip, '--elevation', 'text').faults).toMatchObject([{ kind: 'elevation', elevation: 26 }]); // prettier-ignore
  });

  it('are told where two elevations are written beside one, and refused of what has no texts', () => {
    const two = drawn(ring(1), ring(2), says('64', -1, -10.5), says('63', -1, -20.5), says('61', -1, 19.5));
    expect(json('check-contours', two, '--elevation', 'text')).toMatchObject({ contours: 1, withoutElevation: 1, unclear: [{ elevations: [61, 63] }] }); // prettier-ignore
    expect(dunrik('check-contours', at('contours.geojson'), '--elevation', 'text').err).toContain('is no drawing');
    expect(dunrik('check-contours', two, '--elevation', 'name').code).toBe(2);
  });
});

describe('contours as they come', () => {
  it('of a surface have nothing wrong with them', () => {
    const told = json<Checked>('check-contours', at('contours.geojson'));
    expect(told.faults).toEqual([]);
    expect(told.interval).toBeCloseTo(7.3, 9);
    expect(told.contours).toBe(features.length);
  });

  it('of a wrong elevation, and drawn twice, are named and mended', () => {
    let truth = 0;
    const file = written('slips.geojson', (list) => {
      const k = longest(list);
      truth = list[k].properties.elevation;
      for (const c of list[k].geometry.coordinates) c[2] = truth + 500;
      list.push(structuredClone(list[k === 0 ? 1 : 0]));
    });
    const { faults } = json<Checked>('check-contours', file);
    expect(faults.map((f) => f.kind).sort()).toEqual(['double', 'elevation']);
    expect(faults.find((f) => f.kind === 'elevation')!.elevation).toBeCloseTo(truth + 500, 6);
    const text = dunrik('check-contours', file).out;
    expect(text).toContain('leave one out');
    expect(text).toContain('does not fit between');
    const out = at('mended.geojson');
    const mended = json<Checked>('check-contours', file, '--mend', '-o', out);
    expect(mended.written).toBe(features.length);
    expect(json<Checked>('check-contours', out).faults.filter((f) => f.kind === 'double')).toEqual([]);
  });

  it('without an elevation, or with more than one, are counted and left out', () => {
    const file = written('odd.geojson', (list) => {
      for (const c of list[0].geometry.coordinates) c.length = 2;
      list[1].geometry.coordinates[0][2] += 3;
    });
    expect(json<Checked>('check-contours', file)).toMatchObject({ contours: features.length - 2, withoutElevation: 1, uneven: 1 }); // prettier-ignore
  });

  it('say their elevation by their layer, where that is asked for', () => {
    const rows = [60, 61, 62].flatMap((z, i) => [0, 'LWPOLYLINE', 8, `CONTOUR ${z}`, 90, 2, 70, 0, 10, 0, 20, 10 * i, 10, 50, 20, 10 * i]); // prettier-ignore
    writeFileSync(at('plan.dxf'), [0, 'SECTION', 2, 'ENTITIES', ...rows, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'));
    expect(dunrik('check-contours', at('plan.dxf'), '--unit', 'm').err).toContain('3 without an elevation');
    const told = json<Checked>('check-contours', at('plan.dxf'), '--unit', 'm', '--elevation', 'layer');
    expect(told).toMatchObject({ contours: 3, interval: 1, faults: [] });
  });

  it('are refused what makes no sense', () => {
    const file = at('contours.geojson');
    expect(dunrik('check-contours', file, '--elevation', 'name').code).toBe(2);
    expect(dunrik('check-contours', file, '--mend').err).toContain('--mend and -o go together');
    expect(dunrik('check-contours', file, '--mend', '-o', at('x.dwg')).code).toBe(1);
    expect(dunrik('check-contours', at('volcano.csv')).err).toContain('points, not lines');
  });
});
