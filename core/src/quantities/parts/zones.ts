import { clipToRing, ofTriangles } from '#core/terrain';
import { PIECE } from '../difference/gathered.ts';
import { Tally, type Volume } from '../tally.ts';
import type { DifferencePieces } from '../volume.ts';

/** A closed line, x, y …, m, and what lies in it is called. */
export interface Zone {
  name: string;
  ring: ArrayLike<number>;
}

export interface ZoneVolume extends Volume {
  name: string;
  /** Cut − fill, m³. */
  net: number;
}

export interface ZoneVolumes {
  zones: ZoneVolume[];
  /** What is compared and lies in no zone; below 0 where zones lie over each other. */
  outside: { cut: number; fill: number; area: number };
}

/** Share of an area by which rounding may part areas that are the same. */
export const ZONE_ROUNDING = 1e-6;

/** What lies in each zone of what is compared, cut exactly along it. */
export function zoneVolumes(whole: Volume, pieces: DifferencePieces, zones: readonly Zone[]): ZoneVolumes {
  const each = volumesInZones(pieces, zones);
  return { zones: each, outside: outsideOf(whole, each) };
}

/** Numbers of the pieces that are cut along the zones at once: the copies that a cut makes are of these alone. */
const AT_ONCE = 50_000 * PIECE;

/** The zones alone, of all that is compared or of a part of it. */
export function volumesInZones(pieces: DifferencePieces, zones: readonly Zone[]): ZoneVolume[] {
  let sum = inZones(pieces.subarray(0, AT_ONCE), zones);
  for (let i = AT_ONCE; i < pieces.length; i += AT_ONCE)
    sum = addZones(sum, inZones(pieces.subarray(i, i + AT_ONCE), zones));
  return sum;
}

function inZones(pieces: DifferencePieces, zones: readonly Zone[]): ZoneVolume[] {
  const difference = ofTriangles(pieces);
  return zones.map(({ name, ring }): ZoneVolume => {
    const { x, y, z, triangles } = clipToRing(difference, Float64Array.from(ring));
    const tally = new Tally();
    for (let t = 0; t < triangles.length; t += 3) {
      const [a, b, c] = triangles.subarray(t, t + 3);
      tally.add(((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])) / 2, z[a], z[b], z[c]);
    }
    const volume = tally.result();
    return { name, ...volume, net: volume.cut - volume.fill };
  });
}

/** Zones of two parts of what is compared, added up; null for none yet. */
export const addZones = (a: readonly ZoneVolume[] | null, b: readonly ZoneVolume[]): ZoneVolume[] =>
  b.map((zone, i) => {
    if (!a) return zone;
    const of = (key: 'cut' | 'fill' | 'cutArea' | 'fillArea' | 'area' | 'net'): number => a[i][key] + zone[key];
    return { name: zone.name, cut: of('cut'), fill: of('fill'), cutArea: of('cutArea'), fillArea: of('fillArea'), area: of('area'), net: of('net') }; // prettier-ignore
  });

/** What is compared and lies in no zone. */
export function outsideOf(whole: Volume, zones: readonly ZoneVolume[]): ZoneVolumes['outside'] {
  const left = (of: (v: Volume) => number): number => zones.reduce((rest, zone) => rest - of(zone), of(whole));
  return { cut: left((v) => v.cut), fill: left((v) => v.fill), area: left((v) => v.area) };
}
