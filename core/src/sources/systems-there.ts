import {
  sameDatum,
  systemByCode,
  transformBetween,
  WGS84,
  type PublishedSystem,
  type RegistryEntry,
} from '#core/basis';
import { distance } from '#core/kernel';
import type { FileUnit } from '#core/measure';
import { whereItLies, type Extent } from './where-it-lies.ts';

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
 * system that is used near the site. Those on the project's datum first, then those in which nothing else has to be read
 * another way, then by how near the middles come.
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
  const site = carried(project, own, WGS84);
  if (!site) return { systems: [], more: 0 };
  const found: SystemThere[] = [];
  for (const entry of list) {
    if (entry.kind !== 'CRS-PROJCRS' || !usedNear(entry, site)) continue;
    const made = systemByCode(list, entry.code);
    if (!made.ok || made.system.definition === own.definition) continue;
    const there = carried(project, own, made.system);
    const way = there && wayIn(file, unit, there);
    if (way) found.push({ code: `EPSG:${entry.code}`, name: entry.name, ...way, sameDatum: sameDatum(own, made.system) }); // prettier-ignore
  }
  const systems = found.sort(
    (a, b) =>
      Number(b.sameDatum) - Number(a.sameDatum) ||
      Number(a.unit !== unit || a.swapped) - Number(b.unit !== unit || b.swapped) ||
      Number(isOld(a)) - Number(isOld(b)) ||
      a.off - b.off ||
      a.code.localeCompare(b.code, 'en', { numeric: true }),
  );
  return { systems: systems.slice(0, MOST), more: Math.max(0, systems.length - MOST) };
}

const isOld = ({ name }: SystemThere): boolean => /deprecated/i.test(name);

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
  const middle = (e: Extent, from: 0 | 1): number => (e[from] + e[from + 2]) / 2;
  if (!lying)
    return {
      unit,
      swapped: false,
      off: distance(middle(file, 0) - middle(there, 0), middle(file, 1) - middle(there, 1)),
    };
  const way = lying.ways.find((w) => !w.shift);
  return way ? { unit: way.unit, swapped: way.swapped, off: way.off } : null;
}
