import { writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

// A slope of 20 × 10 m from 0 to 10 m, against its middle level: half of it is cut.
const ring = (layer: string, x0: number, y0: number, x1: number, y1: number): object => ({ type: 'Feature', properties: { layer }, geometry: { type: 'Polygon', coordinates: [[[x0, y0], [x1, y0], [x1, y1], [x0, y1], [x0, y0]]] } }); // prettier-ignore
const zones = (name: string, ...features: object[]): string => {
  writeFileSync(at(name), JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features })); // prettier-ignore
  return at(name);
};
type Told = { area: number; outside: number; zones: { name: string; cut: number; fill: number; net: number; area: number }[]; methods: { exact: { cut: number; fill: number } } }; // prettier-ignore

beforeAll(() => {
  writeFileSync(at('slope.csv'), 'Number,East [m],North [m],Elevation [m]\n1,1000,2000,0\n2,1020,2000,10\n3,1020,2010,10\n4,1000,2010,0\n'); // prettier-ignore
  dunrik('surface', at('slope.csv'), '-o', at('slope.xml'));
});

describe('volume --zones', () => {
  it('gives the part of each zone by its name; zones that share out the whole add up to it', () => {
    const file = zones('halves.geojson', ring('LOW', 1000, 2000, 1010, 2010), ring('HIGH', 1010, 2000, 1020, 2010));
    const told = json<Told>('volume', at('slope.xml'), '--level', '5', '--zones', file);
    // Each half is a wedge: 10 × 10 × 5 / 2.
    expect(told.zones.map((z) => z.name)).toEqual(['LOW', 'HIGH']);
    expect(told.zones[0].fill).toBeCloseTo(250, 9);
    expect(told.zones[1].cut).toBeCloseTo(250, 9);
    expect(told.zones[1].net).toBeCloseTo(250, 9);
    expect(told.zones.reduce((sum, z) => sum + z.cut, 0)).toBeCloseTo(told.methods.exact.cut, 9);
    expect(told.outside).toBeCloseTo(0, 9);
  });

  it('says what lies in no zone, zones that hold nothing, and zones over each other', () => {
    const file = zones('odd.geojson', ring('A', 1000, 2000, 1005, 2010), ring('A', 1100, 2000, 1110, 2010));
    const run = dunrik('volume', at('slope.xml'), '--level', '5', '--zones', file);
    expect(run.out).toContain('A 2: nothing that is compared lies in it');
    expect(run.out).toContain('in no zone: cut 250.000 m³, fill 62.500 m³ on 150.000 m²');
    const over = zones('over.geojson', ring('A', 1000, 2000, 1020, 2010), ring('B', 1000, 2000, 1010, 2010));
    expect(dunrik('volume', at('slope.xml'), '--level', '5', '--zones', over).out).toContain('zones lie over each other, by 100.000 m² at least: they do not add up'); // prettier-ignore
  });
});
