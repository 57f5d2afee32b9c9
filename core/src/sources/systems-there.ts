import {
  sameDatum,
  systemOfEntry,
  transformBetween,
  WGS84,
  type PublishedSystem,
  type RegistryEntry,
} from '#core/basis';
import type { FileUnit } from '#core/measure';
import { betweenMiddles, whereItLies, type Extent } from './where-it-lies.ts';

/** A published system in which a file lies where the project is. */
export interface SystemThere {
  /** `EPSG:25833`, by which the system is looked up. */
  code: string;
  name: string;
  /** In which unit, and which way round, the file is read then. */
  unit: FileUnit;
  swapped: boolean;
  /** m between the middle of the file and that of the project, in that system. */
  off: number;
  /** Stands on the project's datum: nothing but the projection is another. */
  sameDatum: boolean;
}

export interface FoundThere {
  systems: SystemThere[];
  /** So many more that are not listed. */
  more: number;
}

/** Degrees of longitude and latitude by which a system is used beyond the area it is published for: a strip's neighbour, say. */
const BEYOND = { along: 3, across: 0.5 };
const MOST = 8;

/**
 * Published systems in which a file that lies elsewhere would lie where the project is: the file's numbers are read in each
 * system that is used near the site. The likelier ones first, then by how near the middles come.
 * @param file without what lies far from all others, m, as it is read in `unit`
 * @param project its control or its points, m, in `own`
 */
export function systemsThere(
  list: readonly RegistryEntry[],
  file: Extent,
  unit: FileUnit,
  project: Extent,
  own: PublishedSystem,
): FoundThere {
  const where = carried(project, own, WGS84);
  if (!where) return { systems: [], more: 0 };
  const found: { there: SystemThere; rank: number }[] = [];
  for (const entry of list) {
    if (entry.kind !== 'CRS-PROJCRS' || !usedNear(entry, where)) continue;
    const made = systemOfEntry(entry);
    if (!made.ok || made.system.definition === own.definition) continue;
    const site = carried(project, own, made.system);
    const way = site && wayIn(file, unit, site);
    if (!way) continue;
    const there: SystemThere = { code: `EPSG:${entry.code}`, name: entry.name, ...way, sameDatum: sameDatum(own, made.system) }; // prettier-ignore
    found.push({ there, rank: rankOf(entry, there, unit) });
  }
  const systems = found
    .sort(
      (a, b) =>
        a.rank - b.rank ||
        a.there.off - b.there.off ||
        a.there.code.localeCompare(b.there.code, 'en', { numeric: true }),
    )
    .map(({ there }) => there);
  return { systems: systems.slice(0, MOST), more: Math.max(0, systems.length - MOST) };
}

/** Codes from here on are another register's names for systems that mostly have one before. */
const SECOND_NAMES = 100_000;

/** The likelier the lower: on the project's datum, nothing to be read another way, still in use, on a figure of the earth of today. */
function rankOf({ code, name, proj4 }: RegistryEntry, there: SystemThere, unit: FileUnit): number {
  const against = [
    !there.sameDatum,
    there.unit !== unit || there.swapped,
    /deprecated/i.test(name) || Number(code) >= SECOND_NAMES,
    !/\b(WGS84|GRS80|NAD83)\b/.test(proj4 ?? ''),
  ];
  return against.reduce((rank, is) => 2 * rank + Number(is), 0);
}

function usedNear({ bbox }: RegistryEntry, [west, south, east, north]: Extent): boolean {
  if (bbox?.length !== 4) return false;
  const [top, left, bottom, right] = bbox;
  if (north < bottom - BEYOND.across || south > top + BEYOND.across) return false;
  // An area across the 180th meridian runs from its west over it to its east.
  const within = (lon: number): boolean =>
    left <= right
      ? lon >= left - BEYOND.along && lon <= right + BEYOND.along
      : lon >= left - BEYOND.along || lon <= right + BEYOND.along;
  return within((west + east) / 2);
}

/** An extent's corners in another system, and what they reach; null where they cannot be carried over. */
function carried([west, south, east, north]: Extent, from: PublishedSystem, to: PublishedSystem): Extent | null {
  const made = transformBetween(from, to);
  if (!made.ok) return null;
  const x = Float64Array.of(west, east, west, east);
  const y = Float64Array.of(south, south, north, north);
  if (made.transformation.apply(x, y) > 0) return null;
  return [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)];
}

/** How a file is read so that it lies at an extent; null where no unit and no exchange of its axes brings it there. */
function wayIn(file: Extent, unit: FileUnit, there: Extent): Pick<SystemThere, 'unit' | 'swapped' | 'off'> | null {
  const lying = whereItLies(file, unit, there);
  if (!lying) return { unit, swapped: false, off: betweenMiddles(file, there) };
  const way = lying.ways.find((w) => !w.shift);
  return way ? { unit: way.unit, swapped: way.swapped, off: way.off } : null;
}
