import { execFileSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { factorsAt, projectedAt } from '#core/basis';
import { byCode, stream, system } from './outside.ts';

describe('GeographicLib (Debian geographiclib-tools)', () => {
  it('convergence and point scale of a transverse Mercator agree with TransverseMercatorProj to 1e-9', () => {
    const s = system('+proj=tmerc +lat_0=0 +lon_0=15 +k=0.9996 +x_0=500000 +y_0=0 +ellps=WGS84 +units=m');
    const next = stream(5);
    const places = Array.from({ length: 300 }, (): [number, number] => [11 + 8 * next(), -70 + 140 * next()]);
    const out = execFileSync('TransverseMercatorProj', ['-s', '-l', '15', '-k', '0.9996', '-p', '9'], {
      input: places.map(([lon, lat]) => `${lat} ${lon}`).join('\n') + '\n',
      encoding: 'utf8',
    });
    out
      .trim()
      .split('\n')
      .forEach((line, i) => {
        const [, , convergence, scale] = line.split(/\s+/).map(Number);
        const at = projectedAt(s, ...places[i])!;
        const f = factorsAt(s, at.x, at.y, 0)!;
        expect(Math.abs((f.convergence * 180) / Math.PI - convergence)).toBeLessThan(1e-7);
        expect(Math.abs(f.pointScale - scale)).toBeLessThan(1e-9);
      });
  });

  it('a short line on the grid, over the combined factor, is the line on the ground: against the geodesic', () => {
    const s = byCode('EPSG:25833');
    const from = projectedAt(s, 15.2, 47.1)!;
    const out = execFileSync('GeodSolve', ['-p', '6'], { input: '47.1 15.2 40 1000\n', encoding: 'utf8' });
    const [lat, lon] = out.split(/\s+/).map(Number);
    const to = projectedAt(s, lon, lat)!;
    const f = factorsAt(s, (from.x + to.x) / 2, (from.y + to.y) / 2, 0)!;
    const grid = Math.sqrt((to.x - from.x) ** 2 + (to.y - from.y) ** 2);
    expect(Math.abs(grid / f.pointScale - 1000)).toBeLessThan(1e-4);
    const up = factorsAt(s, from.x, from.y, 800)!;
    // R / (R + h), mean radius about 6 383 km at 47°: 800 m shorten by some 125 ppm.
    expect((1 - up.elevationFactor) * 1e6).toBeCloseTo(125.3, 0);
  });
});
