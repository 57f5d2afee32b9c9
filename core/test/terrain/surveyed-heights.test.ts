import { spawnSync } from 'node:child_process';
import Delaunator from 'delaunator';
import { beforeAll, describe, expect, it } from 'vitest';
import { areaOfSurface, buildSurface, contours, elevationsAt, lastDecimalOf, leaveOneOut, measureSurface, SLIVER_SINE, slivers, type Surface } from '#core/terrain'; // prettier-ignore

// 52 surveyed heights in a square of 310 ft: J. C. Davis, Statistics and Data Analysis in Geology, Wiley 1973, table 6.4, as
// the package MASS of R carries them (Debian r-cran-mass); plan in units of 50 ft to a tenth, heights in feet.

let points: { x: Float64Array; y: Float64Array; z: Float64Array };
let surface: Surface;
const build = (rounding: number): Surface =>
  buildSurface({ ...points, segments: new Uint32Array(), coincidence: 0, longestSide: null, rounding }).surface;

beforeAll(() => {
  const { stdout } = spawnSync('Rscript', ['-e', 'write.csv(MASS::topo, row.names = FALSE)'], { encoding: 'utf8' });
  const rows = stdout.trim().split('\n').slice(1).map((row) => row.split(',').map(Number)); // prettier-ignore
  const [x, y, z] = [0, 1, 2].map((k) => Float64Array.from(rows, (r) => r[k]));
  points = { x, y, z };
  surface = build(lastDecimalOf(x, y));
});

describe('52 surveyed heights', () => {
  it('are triangulated as another package does it, but for what only rounding makes at the rim', () => {
    const peer = new Delaunator(Float64Array.from({ length: 104 }, (_, i) => (i % 2 ? points.y : points.x)[i >> 1]));
    const areaOf = (a: number, b: number, c: number): number => Math.abs((points.x[b] - points.x[a]) * (points.y[c] - points.y[a]) - (points.x[c] - points.x[a]) * (points.y[b] - points.y[a])) / 2; // prettier-ignore
    const peerArea = Array.from({ length: peer.triangles.length / 3 }, (_, t) => areaOf(...([0, 1, 2].map((k) => peer.triangles[3 * t + k]) as [number, number, number]))).reduce((a, b) => a + b, 0); // prettier-ignore
    expect(points.x).toHaveLength(52);
    expect(measureSurface(build(0)).planArea).toBeCloseTo(peerArea, 9);
    expect(build(0).triangles).toHaveLength(peer.triangles.length);
    expect(surface.triangles.length).toBeLessThanOrEqual(peer.triangles.length);
    expect(measureSurface(surface).planArea).toBeGreaterThan(0.99 * peerArea);
  });

  it('have no sliver at the rim: none adds slope area that is not there', () => {
    const all = measureSurface(build(0));
    const kept = measureSurface(surface);
    const rim = (s: Surface) => slivers(s, SLIVER_SINE).filter((t) => t.atRim);
    expect(rim(surface)).toEqual([]);
    // What went is next to nothing in plan, and all the more in slope, since it stood on its side.
    const [plan, slope] = [all.planArea - kept.planArea, all.slopeArea - kept.slopeArea];
    expect(plan / all.planArea).toBeLessThan(0.005);
    expect(slope).toBeGreaterThanOrEqual(plan);
  });

  it('keep every height, and lie between the lowest and the highest', () => {
    const { z } = elevationsAt(surface, points.x, points.y);
    z.forEach((v, i) => Number.isNaN(v) || expect(v).toBeCloseTo(points.z[i], 9));
    expect([Math.min(...surface.z), Math.max(...surface.z)]).toEqual([690, 960]);
    expect(areaOfSurface(surface)).toHaveLength(1);
  });

  it('have contours every 25 ft that close or end at the rim', () => {
    const drawn = contours(surface, { interval: 25, indexEvery: 4 });
    expect(new Set(drawn.map((c) => c.elevation))).toEqual(new Set([700, 725, 750, 775, 800, 825, 850, 875, 900, 925, 950])); // prettier-ignore
    const rim = areaOfSurface(surface)[0][0];
    const onRim = (x: number, y: number): boolean =>
      Array.from({ length: rim.length / 2 }, (_, i) => {
        const [ax, ay, bx, by] = [rim[2 * i], rim[2 * i + 1], rim[(2 * i + 2) % rim.length], rim[(2 * i + 3) % rim.length]]; // prettier-ignore
        const length = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2);
        const along = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length ** 2;
        return along > -1e-9 && along < 1 + 1e-9 && Math.abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) / length < 1e-9; // prettier-ignore
      }).some(Boolean);
    for (const { closed, line } of drawn)
      expect(closed || (onRim(line[0], line[1]) && onRim(line.at(-2)!, line.at(-1)!))).toBe(true);
  });

  it('are told without each other to some ten feet: the ground bends between them', () => {
    const left = [...leaveOneOut(surface).off].filter((v) => !Number.isNaN(v));
    const rms = Math.sqrt(left.reduce((sum, v) => sum + v * v, 0) / left.length);
    expect(left.length).toBeGreaterThan(30);
    // Least squares of the second degree leaves some 29 ft (computed by R: lm on poly(x, y, 2)); triangles do better.
    expect(rms).toBeGreaterThan(5);
    expect(rms).toBeLessThan(29);
  });
});
