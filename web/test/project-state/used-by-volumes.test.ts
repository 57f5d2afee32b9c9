import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Comparison } from '#core/project';
import { influenceOf, netByRaising, volumeBetween, volumeToLevel } from '#core/quantities';
import { buildSurface } from '#core/terrain';
import { volumesThrough } from '../../src/project-state/used-by.ts';
import { projectOf } from '../tables.ts';

const given = projectOf({ points: Array.from({ length: 9 }, (_, i) => [String(i + 1), 20 * (i % 3), 20 * Math.floor(i / 3), 50]) }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 48 }, within: null };
const surface = given.tables.surfaces.get('ground')!;
const tables = { surfaces: given.tables.surfaces, pieces: new Map([['c', volumeToLevel(surface, 48).pieces]]) };

describe('volumes that a point has a part in', () => {
  it('are named with what a metre of it would do: a third of the triangles around it', () => {
    const row = surface.point[surface.x.findIndex((x, v) => x === 20 && surface.y[v] === 20)];
    const [{ comparison, byMetre }] = volumesThrough(tables, [DOWN], row);
    expect(comparison.name).toBe('Down');
    let area = 0;
    for (let i = 0; i < surface.triangles.length; i++) if (surface.point[surface.triangles[i]] === row) area += 200;
    expect(byMetre).toBeCloseTo(area / 3, 9);
  });

  it('are none of a point in no surface, and of a comparison that is not computed', () => {
    expect(volumesThrough(tables, [DOWN], 9999)).toEqual([]);
    expect(volumesThrough({ ...tables, pieces: new Map() }, [DOWN], 0)).toEqual([]);
  });

  it('weigh as the whole influence says, of ground and of design', () => {
    const z = fc.array(fc.integer({ min: 0, max: 500 }), { minLength: 32, maxLength: 32 });
    fc.assert(
      fc.property(z, fc.integer({ min: 0, max: 15 }), (h, v) => {
        const of = (from: number) => buildSurface({ x: Float64Array.from({ length: 16 }, (_, i) => 10 * (i % 4)), y: Float64Array.from({ length: 16 }, (_, i) => 10 * Math.floor(i / 4)), z: Float64Array.from({ length: 16 }, (_, i) => h[from + i] / 100), segments: new Uint32Array(0), longestSide: null, coincidence: 0 }).surface; // prettier-ignore
        const [ground, design] = [of(0), of(16)];
        const { pieces } = volumeBetween(ground, design);
        for (const [s, other, sign] of [
          [ground, design, -1],
          [design, ground, 1],
        ] as const) {
          const all = influenceOf(pieces, s, sign, other, false);
          expect(netByRaising(pieces, s, v, sign)).toBeCloseTo(all.cutByZ[v] - all.fillByZ[v], 6);
        }
      }),
      { numRuns: 40 },
    );
  });
});
