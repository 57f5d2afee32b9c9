import { METRES_IN } from '#core/measure';
import type { Projective } from './projective.ts';

/** What the tags of a GeoTIFF say of its place (OGC 19-008r4); lists are empty and numbers 0 where they say nothing. */
export interface TiffTags {
  /** Column, row, 0, x, y, z of a place, further ones behind it. */
  tie: readonly number[];
  /** Steps of a column and of a row. */
  scale: readonly number[];
  /** Sixteen numbers, row by row. */
  transformation: readonly number[];
  /** 1 projected, 2 in degrees. */
  modelType: number;
  /** 1: a tie point is at the corner of its pixel; 2: in its middle. */
  rasterType: number;
  /** EPSG’s number of the unit of length. */
  lengthUnit: number;
  /** EPSG’s number of the projected system. */
  system: number;
}

const METRES_OF: Record<number, number> = { 9001: METRES_IN.m, 9002: METRES_IN.ft, 9003: METRES_IN.usft };

export interface TiffPlace {
  /** Pixels to metres, or to the unit of the file where its tags do not say which that is; null without a place. */
  matrix: Projective | null;
  isUnitSaid: boolean;
  /** As EPSG:… */
  system: string | null;
  /** Why what is said is not taken. */
  remark: string | null;
}

/** Numbers from here on are somebody's own. */
const OWN_SYSTEM = 32767;

/** Where a GeoTIFF says that it is. */
export function tiffPlace(tags: TiffTags): TiffPlace {
  const system = tags.system > 0 && tags.system < OWN_SYSTEM ? `EPSG:${tags.system}` : null;
  const isUnitSaid = tags.lengthUnit !== 0;
  const none = (remark: string | null): TiffPlace => ({ matrix: null, isUnitSaid, system, remark });
  const { tie, scale, transformation: t } = tags;
  const plain = plainPlace(tie, scale) ?? (t.length === 16 ? [t[0], t[1], t[3], t[4], t[5], t[7]] : null);
  if (!plain) return none(tie.length > 6 ? 'Its tie points give no regular grid: fit it by marks.' : null);
  if (tags.modelType === 2) return none('Its place is given in degrees of latitude and longitude: fit it by marks.');
  const metres = tags.lengthUnit === 0 ? 1 : METRES_OF[tags.lengthUnit];
  if (metres === undefined) return none(`Its unit of length (EPSG ${tags.lengthUnit}) is not known here: fit it by marks.`); // prettier-ignore
  // Pixels are counted from the corner.
  const half = tags.rasterType === 2 ? 0.5 : 0;
  const [a, b, c, d, e, f] = plain.map((v) => v * metres);
  if (![a, b, c, d, e, f].every((v) => Math.abs(v) < 1e12) || !(Math.abs(a * e - b * d) > 0))
    return none('Its tags give it no area: fit it by marks.');
  return { matrix: [a, b, c - half * (a + b), d, e, f - half * (d + e), 0, 0, 1], isUnitSaid, system, remark: null };
}

function plainPlace(tie: readonly number[], scale: readonly number[]): number[] | null {
  if (tie.length !== 6 || scale.length < 2) return null;
  const [i, j, , x, y] = tie;
  return [scale[0], 0, x - scale[0] * i, 0, -scale[1], y + scale[1] * j];
}
