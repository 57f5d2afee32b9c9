import type { Volume } from '#core/quantities';
import { clipToRing, type Surface } from '#core/terrain';
import { namedRingsOf, type TextOptions } from './load.ts';

export interface ZoneVolume {
  name: string;
  cut: number;
  fill: number;
  net: number;
  /** m², where both that are compared are known. */
  area: number;
}

export interface Zones {
  zones: ZoneVolume[];
  /** m² that are compared and lie in no zone; below 0 where zones lie over each other. */
  outside: number;
}

/** The part of each closed line of a file in a comparison. */
export function volumesByZone(
  file: string,
  ground: Surface,
  volumeOf: (part: Surface) => Volume,
  whole: number,
  options: TextOptions,
): Zones {
  const zones = namedRingsOf(file, options).map(({ name, ring }): ZoneVolume => {
    const part = clipToRing(ground, ring);
    const { cut, fill, area } = part.triangles.length ? volumeOf(part) : { cut: 0, fill: 0, area: 0 };
    return { name, cut, fill, net: cut - fill, area };
  });
  return { zones, outside: whole - zones.reduce((sum, z) => sum + z.area, 0) };
}

/** m², by which rounding may part areas that are the same. */
const ROUNDING = 1e-6;

export const zonesText = ({ zones, outside }: Zones, whole: number): string[] => [
  ...zones.map((z) => `${z.name}: ${z.area > 0 ? `cut ${z.cut.toFixed(3)} m³, fill ${z.fill.toFixed(3)} m³, cut − fill ${z.net.toFixed(3)} m³ on ${z.area.toFixed(3)} m²` : 'nothing that is compared lies in it'}`), // prettier-ignore
  ...(outside > ROUNDING * whole ? [`${outside.toFixed(3)} m² that are compared lie in no zone`] : []),
  ...(outside < -ROUNDING * whole ? [`zones lie over each other, by ${(-outside).toFixed(3)} m² at least: they do not add up`] : []), // prettier-ignore
];
