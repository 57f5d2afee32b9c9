import { describe, expect, it } from 'vitest';
import { geographicAt, projectedAt, transformBetween } from '#core/basis';
import { byCode, cs2cs, stream, system } from './outside.ts';

describe('PROJ’s cs2cs (Debian proj-bin) on thousands of places', () => {
  for (const code of [
    'EPSG:25833',
    'EPSG:2277',
    'EPSG:2154',
    'EPSG:28992',
    'EPSG:3031',
    'EPSG:29873',
    'EPSG:31467',
    'EPSG:2056',
  ])
    it(`${code}: forward within 0.1 mm, and back`, () => {
      const s = byCode(code);
      const own = s.definition.replace(/\+(towgs84|nadgrids)=\S+/g, '');
      const next = stream(7);
      const { west, south, east, north } = s.area!;
      const places = Array.from({ length: 1000 }, (): [number, number] => [
        west + (east - west) * next(),
        Math.max(-89, south) + (north - Math.max(-89, south)) * next(),
      ]);
      const ellipsoid = own.match(/\+(ellps|a|rf|b|datum|pm)=\S+/g)!.join(' ');
      const truth = cs2cs(`+proj=longlat ${ellipsoid} +no_defs`, own, places);
      let worst = 0;
      places.forEach(([lon, lat], i) => {
        const at = projectedAt(s, lon, lat)!;
        worst = Math.max(worst, Math.abs(at.x - truth[i][0]), Math.abs(at.y - truth[i][1]));
        const back = geographicAt(s, at.x, at.y)!;
        expect(Math.abs(back.latitude - lat)).toBeLessThan(2e-9);
      });
      expect(worst).toBeLessThan(1e-4);
    });

  it('a datum by seven parameters: DHDN to WGS 84 within a millimetre', () => {
    const from = system(
      '+proj=tmerc +lat_0=0 +lon_0=9 +k=1 +x_0=3500000 +y_0=0 +ellps=bessel +towgs84=598.1,73.7,418.2,0.202,0.045,-2.455,6.7 +units=m',
    );
    const to = system('+proj=utm +zone=32 +datum=WGS84 +units=m');
    const next = stream(3);
    const places = Array.from({ length: 2000 }, (): [number, number] => [
      3400000 + 200000 * next(),
      5300000 + 600000 * next(),
    ]);
    const truth = cs2cs(from.definition, to.definition, places);
    const made = transformBetween(from, to);
    if (!made.ok) throw new Error(made.reason);
    const x = Float64Array.from(places, (p) => p[0]);
    const y = Float64Array.from(places, (p) => p[1]);
    expect(made.transformation.apply(x, y)).toBe(0);
    truth.forEach(([e, n], i) => {
      expect(Math.abs(x[i] - e)).toBeLessThan(1e-3);
      expect(Math.abs(y[i] - n)).toBeLessThan(1e-3);
    });
  });
});
