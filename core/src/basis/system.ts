import { plainNumber } from '#core/measure';
import proj4 from 'proj4';
import type { LengthUnit } from '#core/measure';

/** What a set of plane coordinates means. Coordinates of a local or projected system are metres, of a geographic one degrees. */
export type CoordinateSystem =
  | { kind: 'local' }
  | {
      kind: 'projected' | 'geographic';
      name: string;
      /** Authority and code, `EPSG:32612`, or null when it was defined by parameters. */
      code: string | null;
      /** As a PROJ string, always with metres as its unit. */
      definition: string;
      /** The unit in which the system is published. */
      unit: LengthUnit | 'degree';
      /** Where the system is meant to be used, degrees; null when nobody said. */
      area: GeographicArea | null;
      /** The same area in the system's own coordinates, metres; null for geographic systems and unknown areas. */
      extent: [minEast: number, minNorth: number, maxEast: number, maxNorth: number] | null;
    };

export type PublishedSystem = Exclude<CoordinateSystem, { kind: 'local' }>;

export interface GeographicArea {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** Longitude and latitude on the World Geodetic System 1984. */
export const WGS84: PublishedSystem = {
  kind: 'geographic',
  name: 'WGS 84',
  code: 'EPSG:4326',
  definition: '+proj=longlat +datum=WGS84 +no_defs',
  unit: 'degree',
  area: { west: -180, south: -90, east: 180, north: 90 },
  extent: null,
};

const NUMBER_KEYS = new Set(
  'lat_0 lon_0 lat_1 lat_2 lat_ts k k_0 x_0 y_0 a b rf zone alpha gamma lonc pm to_meter lon_wrap h'.split(' '),
);
const WORD_KEYS = new Set('proj ellps datum towgs84 nadgrids geoidgrids units axis type vunits'.split(' '));
const FLAG_KEYS = new Set('south no_defs no_uoff no_off over no_rot wktext approx'.split(' '));
const PROJECTIONS = new Set(
  'longlat utm tmerc etmerc lcc omerc somerc stere sterea merc cass krovak laea aea poly nzmg cea eqc aeqd bonne gnom ortho mill sinu'.split(
    ' ',
  ),
);
const LONGEST_DEFINITION = 800;

export type ReadDefinition =
  { ok: true; parameters: Map<string, string>; unit: LengthUnit | 'degree' } | { ok: false; reason: string };

const UNIT_OF: Record<string, LengthUnit> = { m: 'm', ft: 'ft', 'us-ft': 'usft' };

/** Reads a PROJ string without trusting it: known words only, numbers that are numbers, a scale that a map can have. */
export function readDefinition(text: string): ReadDefinition {
  const no = (reason: string): ReadDefinition => ({ ok: false, reason });
  if (text.length > LONGEST_DEFINITION)
    return no(`The definition has ${text.length} characters; at most ${LONGEST_DEFINITION} are read.`);
  const parameters = new Map<string, string>();
  for (const word of text.trim().split(/\s+/)) {
    const [, key, value = ''] = /^\+?([a-zA-Z_0-9]+)(?:=(.*))?$/.exec(word) ?? [];
    if (!key) return no(`“${word.slice(0, 40)}” in the definition is not read. A parameter is written +name=value.`);
    if (NUMBER_KEYS.has(key)) {
      if (key === 'pm' && /^[a-z]+$/.test(value)) {
        parameters.set(key, value);
        continue;
      }
      if (Number.isNaN(plainNumber(value))) return no(`+${key} is “${value.slice(0, 40)}”, which is not a number.`);
    } else if (WORD_KEYS.has(key)) {
      if (!/^[-@A-Za-z0-9_.,+]{1,200}$/.test(value))
        return no(`+${key} is “${value.slice(0, 40)}”, which is not read.`);
    } else if (!FLAG_KEYS.has(key)) return no(`The parameter +${key} is not known.`);
    parameters.set(key, value);
  }
  const projection = parameters.get('proj');
  if (!projection) return no('The definition names no projection: +proj is missing.');
  if (!PROJECTIONS.has(projection)) return no(`The projection “${projection}” cannot be computed here.`);
  const problem = parameterProblem(parameters);
  if (problem) return no(problem);
  const named = parameters.get('units') ?? 'm';
  const unit = projection === 'longlat' ? 'degree' : UNIT_OF[named];
  if (!unit) return no(`Lengths in “${named}” are not read; metres, feet and US survey feet are.`);
  return { ok: true, parameters, unit };
}

/** Smallest and largest scale that a map projection has on its central line. */
export const SCALE_RANGE = [0.9, 1.1] as const;

function parameterProblem(p: Map<string, string>): string | null {
  const scale = Number(p.get('k') ?? p.get('k_0') ?? 1);
  if (!(scale >= SCALE_RANGE[0] && scale <= SCALE_RANGE[1]))
    return `A scale factor of ${scale} cannot be: a map’s lies between ${SCALE_RANGE[0]} and ${SCALE_RANGE[1]}, mostly near 0.9996 or 1.`;
  for (const key of ['lat_0', 'lat_1', 'lat_2', 'lat_ts']) {
    const value = Number(p.get(key) ?? 0);
    if (Math.abs(value) > 90) return `A latitude of ${value}° is beyond a pole. Are latitude and longitude swapped?`;
  }
  for (const key of ['lon_0', 'lonc']) {
    const value = Number(p.get(key) ?? 0);
    if (Math.abs(value) > 360) return `A longitude of ${value}° is more than a full turn.`;
  }
  if (p.get('proj') === 'lcc' && p.has('lat_1') && p.has('lat_2')) {
    const [one, two] = [Number(p.get('lat_1')), Number(p.get('lat_2'))];
    if (one + two === 0) return 'Standard parallels at equal latitudes north and south make no cone.';
  }
  return null;
}

/** The definition in metres, whatever unit it was published in: false origins are metres in PROJ strings always. */
export function definitionInMetres(parameters: Map<string, string>): string {
  const out: string[] = [];
  for (const [key, value] of parameters) {
    if (key === 'units' || key === 'to_meter' || key === 'type' || key === 'axis' || key === 'geoidgrids') continue;
    out.push(value === '' ? `+${key}` : `+${key}=${value}`);
  }
  if (parameters.get('proj') !== 'longlat') out.push('+units=m');
  if (!parameters.has('no_defs')) out.push('+no_defs');
  return out.join(' ');
}

/** Names of the datum grids that a definition asks for, without those that may be missing. */
export function gridsNamed(definition: string): string[] {
  const named = /\+nadgrids=(\S+)/.exec(definition)?.[1] ?? '';
  return named.split(',').filter((n) => n !== '' && n !== 'null' && n !== '@null' && !n.startsWith('@'));
}

export type MadeSystem = { ok: true; system: PublishedSystem } | { ok: false; reason: string };

/** A system from its definition: checked, tried on its own area, and refused in a sentence when it does not come back. */
export function makeSystem(from: {
  name: string;
  code: string | null;
  definition: string;
  area: GeographicArea | null;
}): MadeSystem {
  const read = readDefinition(from.definition);
  if (!read.ok) return read;
  const definition = definitionInMetres(read.parameters);
  const kind = read.unit === 'degree' ? 'geographic' : 'projected';
  const base: PublishedSystem = {
    kind,
    name: from.name.trim().slice(0, 120) || 'without a name',
    code: from.code,
    definition,
    unit: read.unit,
    area: from.area,
    extent: null,
  };
  if (kind === 'geographic') return { ok: true, system: base };
  let projection: (at: { x: number; y: number }) => { x: number; y: number };
  let back: typeof projection;
  try {
    const own = proj4(geographicOf(definition), plainDatum(definition));
    projection = (at) => own.forward({ ...at });
    back = (at) => own.inverse({ ...at });
  } catch (error) {
    return { ok: false, reason: `The definition cannot be computed: ${(error as Error).message}.` };
  }
  if (!from.area) return { ok: true, system: base };
  const { west, south, east, north } = from.area;
  const width = east < west ? east + 360 - west : east - west;
  const extent: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i <= 8; i++)
    for (let j = 0; j <= 8; j++) {
      const lon = wrapped(west + (width * i) / 8);
      const lat = Math.max(-89.9, Math.min(89.9, south + ((north - south) * j) / 8));
      let at: { x: number; y: number };
      try {
        at = projection({ x: lon, y: lat });
        const again = back(at);
        if (i === 4 && j === 4 && !(Math.abs(again.y - lat) < 1e-7))
          return {
            ok: false,
            reason: 'The definition cannot be inverted in the middle of its area.',
          };
      } catch {
        continue;
      }
      if (!Number.isFinite(at.x) || !Number.isFinite(at.y)) continue;
      extent[0] = Math.min(extent[0], at.x);
      extent[1] = Math.min(extent[1], at.y);
      extent[2] = Math.max(extent[2], at.x);
      extent[3] = Math.max(extent[3], at.y);
    }
  if (!(extent[2] > extent[0] && extent[3] > extent[1])) return { ok: true, system: base };
  // Whole metres: the extent warns, it does not measure.
  return { ok: true, system: { ...base, extent: extent.map(Math.round) as typeof extent } };
}

export const wrapped = (degrees: number): number => degrees - 360 * Math.round(degrees / 360);

/** The geographic system on the same datum, degrees. */
export function geographicOf(definition: string): string {
  const kept = definition
    .split(/\s+/)
    .filter((w) => /^\+(ellps|datum|a|b|rf|towgs84|nadgrids|pm)=/.test(w))
    .join(' ');
  return plainDatum(`+proj=longlat ${kept} +no_defs`);
}

/** The definition without its way to other datums: for computing on its own ellipsoid. */
export const plainDatum = (definition: string): string =>
  definition
    .split(/\s+/)
    .filter((w) => !/^\+(towgs84|nadgrids)=/.test(w))
    .join(' ');

/** One line for headers and manifests. */
export const systemLine = (system: CoordinateSystem): string =>
  system.kind === 'local' ? 'local ground' : `${system.name}${system.code ? ` (${system.code})` : ''}`;
