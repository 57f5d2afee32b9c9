import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

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
    // Each case starts a process of its own: a busy machine takes its time.
  }, 240_000);
});
