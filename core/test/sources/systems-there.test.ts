import { createRequire } from 'node:module';
import { describe, expect, it } from 'vitest';
import { systemByCode, transformBetween, type PublishedSystem, type RegistryEntry } from '#core/basis';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { systemsThere, whereItLies, type Extent } from '#core/sources';

// Codes, areas and definitions: the published list that the package epsg-index carries.

const list = Object.values(createRequire(import.meta.url)('epsg-index/all.json') as Record<string, RegistryEntry>);
const systemOf = (code: string): PublishedSystem => {
  const made = systemByCode(list, code);
  if (!made.ok) throw new Error(code);
  return made.system;
};
const around = (x: number, y: number, half: number): Extent => [x - half, y - half, x + half, y + half];
/** A site of so many metres about a place of one system, in another one. */
function inOther(from: PublishedSystem, to: PublishedSystem, [w, s, e, n]: Extent): Extent | null {
  const made = transformBetween(from, to);
  if (!made.ok) return null;
  const [x, y] = [Float64Array.of(w, e, w, e), Float64Array.of(s, s, n, n)];
  if (made.transformation.apply(x, y) > 0) return null;
  return [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)];
}
const readIn = (e: Extent, is: FileUnit, as: FileUnit): Extent => e.map((v) => (v / METRES_IN_FILE[is]) * METRES_IN_FILE[as]) as unknown as Extent; // prettier-ignore
/** Repeatable random numbers in 0 … 1. */
function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
}
const plane = list.filter((e) => e.kind === 'CRS-PROJCRS' && e.proj4 && e.bbox?.length === 4 && e.bbox[1] < e.bbox[3] && e.bbox[3] - e.bbox[1] < 40); // prettier-ignore

describe('in which system a file lies where the project is', () => {
  const own = systemOf('EPSG:32719');
  const project = around(512_300, 7_204_800, 150);

  it('names the strip beside it, on the project’s datum first', () => {
    const file = inOther(own, systemOf('EPSG:32720'), around(512_350, 7_204_760, 80))!;
    expect(whereItLies(file, 'm', project)!.ways).toEqual([]);
    const { systems } = systemsThere(list, file, 'm', project, own);
    expect(systems[0]).toMatchObject({ code: 'EPSG:32720', unit: 'm', swapped: false, sameDatum: true });
    expect(systems[0].off).toBeLessThan(80);
  });

  it('names it when it is read in another unit, or the wrong way round, as well', () => {
    const [w, s, e, n] = inOther(own, systemOf('EPSG:32720'), around(512_350, 7_204_760, 80))!;
    const feet = systemsThere(list, readIn([w, s, e, n], 'ft', 'm'), 'm', project, own);
    expect(feet.systems.find((f) => f.code === 'EPSG:32720')).toMatchObject({ unit: expect.stringMatching(/^(us)?ft$/) as string, swapped: false }); // prettier-ignore
    const swapped = systemsThere(list, [s, w, n, e], 'm', project, own);
    expect(swapped.systems.find((f) => f.code === 'EPSG:32720')).toMatchObject({ unit: 'm', swapped: true });
  });

  it('says nothing of a drawing on its own origin, nor of another place of the same country', () => {
    expect(systemsThere(list, [-40, -30, 60, 40], 'm', project, own).systems).toEqual([]);
    expect(systemsThere(list, around(612_350, 7_254_760, 80), 'm', project, own).systems).toEqual([]);
  });

  it('finds it across the 180th meridian', () => {
    const fiji = systemOf('EPSG:32701');
    const site = around(180_000, 8_030_000, 200);
    const file = inOther(fiji, systemOf('EPSG:32760'), site)!;
    expect(systemsThere(list, file, 'm', site, fiji).systems.map((s) => s.code)).toContain('EPSG:32760');
  });

  it('names the system of invented sites over the world, and none for drawings on their own origin', () => {
    const sites = Number(process.env.DUNRIK_SITES ?? 40);
    const next = random(77);
    const pick = <T>(from: readonly T[]): T => from[Math.floor(next() * from.length)];
    const tally = { sites: 0, first: 0, listed: 0, among: 0, missed: 0, asked: 0 };
    while (tally.sites < sites) {
      const entry = pick(plane);
      const [top, left, bottom, right] = entry.bbox!;
      const [lon, lat] = [left + next() * (right - left), bottom + next() * (top - bottom)];
      const other = pick(plane.filter((e) => e !== entry && e.bbox![1] <= lon && e.bbox![3] >= lon && e.bbox![2] <= lat && e.bbox![0] >= lat)); // prettier-ignore
      if (!other) continue;
      const [own, its] = [systemByCode(list, entry.code), systemByCode(list, other.code)];
      if (!own.ok || !its.ok) continue;
      if (own.system.definition === its.system.definition) continue;
      const place = inOther(systemOf('EPSG:4326'), own.system, [lon, lat, lon, lat]);
      if (!place) continue;
      const size = 50 + next() * 1500;
      const site = around(place[0], place[1], size);
      const file = inOther(own.system, its.system, around(place[0] + (next() - 0.5) * size, place[1] + (next() - 0.5) * size, size / 3)); // prettier-ignore
      if (!file || !whereItLies(file, 'm', site)) continue;
      tally.sites++;
      const answer = systemsThere(list, file, 'm', site, own.system);
      const codes = answer.systems.map((s) => s.code);
      // Systems that compute alike (a newer issue of the same datum) are one answer to a surveyor.
      const same = (code: string): boolean => systemOf(code).definition === its.system.definition;
      if (codes[0] && same(codes[0])) tally.first++;
      if (codes.some(same)) tally.listed++;
      else if (codes.length && answer.more) tally.among++;
      else tally.missed++;
      const [ox, oy] = [next() * 5000, next() * 5000];
      if (systemsThere(list, [ox, oy, ox + size / 2, oy + size / 2], 'm', site, own.system).systems.length)
        tally.asked++;
    }
    if (process.env.DUNRIK_SITES) console.log(JSON.stringify(tally));
    expect(tally.listed + tally.among).toBeGreaterThanOrEqual(sites * 0.97);
    expect(tally.asked).toBeLessThanOrEqual(sites * 0.03);
  });
});
