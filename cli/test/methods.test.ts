import { writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

type Method = { cut: number; fill: number; net: number; worst?: { from: number }; leftOut?: number };
type Told = { methods: Record<string, Method>; sd?: { cut: number; fill: number; net: number } };

// A frustum on a floor at 50 m: 12 × 12 m at its foot, 4 × 4 m on top, 4 m high.
beforeAll(() => {
  const corners = (half: number, z: number): string[] => [[-half, -half], [half, -half], [half, half], [-half, half]].map(([x, y], i) => `${z}${i},${100 + x},${200 + y},${z}`); // prettier-ignore
  writeFileSync(at('frustum.csv'), ['Number,East [m],North [m],Elevation [m]', ...corners(6, 50), ...corners(2, 54), ''].join('\n')); // prettier-ignore
  const line = (name: string, half: number, z: number): object => ({ type: 'Feature', properties: { layer: name }, geometry: { type: 'LineString', coordinates: [[-half, -half], [half, -half], [half, half], [-half, half], [-half, -half]].map(([x, y]) => [100 + x, 200 + y, z]) } }); // prettier-ignore
  writeFileSync(at('frustum.geojson'), JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features: [line('foot', 6, 50), line('top', 2, 54)] })); // prettier-ignore
  expect(dunrik('surface', at('frustum.csv'), '--lines', at('frustum.geojson'), '-o', at('frustum.xml')).err).toBe('');
});
const EXACT = (4 / 3) * (144 + 16 + 48);

describe('volume --method', () => {
  it('all gives every method beside the others', () => {
    const { methods } = json<Told>('volume', at('frustum.xml'), '--level', '50', '--method', 'all', '--spacing', '4', '--interval', '1'); // prettier-ignore
    expect(Object.keys(methods)).toEqual(['exact', 'grid', 'sections', 'prismoidal', 'contours']);
    expect(methods.exact.net).toBeCloseTo(EXACT, 9);
    expect(methods.prismoidal.net).toBeCloseTo(EXACT, 8);
    // By hand: areas of 0, 32, 32 and 0 m² 4 m apart.
    expect(methods.sections.net).toBeCloseTo(256, 8);
    // By hand: 144, 100, 64 and 36 m² at 0 to 3 m, and a frustum up to the 16 m² of its top.
    expect(methods.contours.net).toBeCloseTo(122 + 82 + 50 + (36 + 16 + 24) / 3, 8);
    expect(methods.grid.leftOut).toBeCloseTo(0, 9);
  });

  it('takes a line across which sections stand: turned by a right angle the figures are the same', () => {
    writeFileSync(at('northward.csv'), 'Number,East [m],North [m],Elevation [m]\n1,100,194,0\n2,100,206,0\n');
    const { methods } = json<Told>('volume', at('frustum.xml'), '--level', '50', '--method', 'sections', '--spacing', '4', '--along', at('northward.csv')); // prettier-ignore
    expect(methods.sections.net).toBeCloseTo(256, 8);
    expect(Object.keys(methods)).toEqual(['sections']);
  });

  it('refuses a method that there is none of, and sizes meant for another site', () => {
    expect(dunrik('volume', at('frustum.xml'), '--level', '50', '--method', 'guess')).toMatchObject({ code: 2 });
    const run = dunrik('volume', at('frustum.xml'), '--level', '50', '--method', 'grid', '--cell', '0.001');
    expect([run.code, run.err]).toEqual([1, expect.stringContaining('Cells of 0.001 m would be more than')]);
    const none = dunrik('volume', at('frustum.xml'), '--level', '50', '--method', 'all', '--along', at('frustum.geojson')); // prettier-ignore
    expect([none.code, none.err]).toEqual([1, expect.stringContaining('holds 2 lines; sections stand across one')]);
  });
});

describe('volume --sd-height', () => {
  it('gives the standard deviation of what the points make: of the frustum, by its hat functions', () => {
    const { sd } = json<Told>('volume', at('frustum.xml'), '--level', '50', '--sd-height', '0.02');
    expect(sd!.net).toBeCloseTo(sd!.cut, 9);
    // All points raised by 1 m raise it by 144 m³: of eight independent ones between 144 / √8 and 144.
    expect(sd!.cut / 0.02).toBeGreaterThan(144 / Math.sqrt(8));
    expect(sd!.cut / 0.02).toBeLessThan(144);
    const { out } = dunrik('volume', at('frustum.xml'), '--level', '50', '--sd-height', '0.02', '--sd-plan', '0.02');
    expect(out).toContain('(95 %)');
  });
});
