import { makeSystem, type GeographicArea, type MadeSystem } from './system.ts';

/** One entry of the list of published systems, as a package carries it. */
export interface RegistryEntry {
  code: string;
  kind: string;
  name: string;
  proj4: string | null;
  /** North, west, south, east; degrees. */
  bbox: number[] | null;
  unit: string | null;
  area: string | null;
}

export interface FoundSystem {
  code: string;
  name: string;
  area: string;
  unit: string;
  bounds: GeographicArea | null;
}

const areaOf = (entry: RegistryEntry): GeographicArea | null =>
  entry.bbox?.length === 4
    ? { north: entry.bbox[0], west: entry.bbox[1], south: entry.bbox[2], east: entry.bbox[3] }
    : null;

const usable = (entry: RegistryEntry): boolean =>
  (entry.kind === 'CRS-PROJCRS' || entry.kind === 'CRS-GEOGCRS') && Boolean(entry.proj4);

/** Systems whose code, name or area hold every word typed; codes first, then names. */
export function findSystems(list: readonly RegistryEntry[], typed: string, most = 30): FoundSystem[] {
  const words = typed
    .toLowerCase()
    .replace(/^epsg:?\s*/, '')
    .split(/[\s,/]+/)
    .filter(Boolean);
  if (words.length === 0) return [];
  const scored: { entry: RegistryEntry; score: number }[] = [];
  for (const entry of list) {
    if (!usable(entry)) continue;
    const name = entry.name.toLowerCase();
    const area = (entry.area ?? '').toLowerCase();
    let score = 0;
    for (const word of words) {
      if (entry.code === word) score += 100;
      else if (entry.code.startsWith(word)) score += 8;
      else if (name.includes(word))
        score += new RegExp(`(^|[^a-z0-9])${escaped(word)}([^a-z0-9]|$)`).test(name) ? 6 : 4;
      else if (area.includes(word)) score += 2;
      else {
        score = -1;
        break;
      }
    }
    if (score > 0) scored.push({ entry, score: score - name.length / 1000 - (/deprecated/.test(name) ? 3 : 0) });
  }
  return scored
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map(({ entry }) => ({
      code: `EPSG:${entry.code}`,
      name: entry.name,
      area: (entry.area ?? '').slice(0, 300),
      unit: entry.unit ?? '',
      bounds: areaOf(entry),
    }));
}

const escaped = (word: string): string => word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The system with a code, `EPSG:28356` or `28356`. */
export function systemByCode(list: readonly RegistryEntry[], code: string): MadeSystem {
  const digits = /^(?:epsg:)?(\d{3,6})$/i.exec(code.trim())?.[1];
  if (!digits) return { ok: false, reason: `“${code.slice(0, 40)}” is not a code. Type it as EPSG:28356.` };
  const entry = list.find((e) => e.code === digits);
  if (!entry) return { ok: false, reason: `The list has no system with the code EPSG:${digits}.` };
  return systemOfEntry(entry);
}

/** The system of an entry of the list. */
export function systemOfEntry(entry: RegistryEntry): MadeSystem {
  const code = `EPSG:${entry.code}`;
  if (!usable(entry))
    return {
      ok: false,
      reason: `${code}, ${entry.name}, is not a plane or geographic system that can be computed here.`,
    };
  return makeSystem({ name: entry.name, code, definition: entry.proj4!, area: areaOf(entry) });
}
