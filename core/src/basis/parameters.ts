import { makeSystem, type MadeSystem } from './system.ts';

/** Projections that can be defined by their parameters, named as the EPSG registry names the methods. */
export const METHODS = {
  tmerc: 'Transverse Mercator',
  lcc1: 'Lambert Conic Conformal, one parallel',
  lcc2: 'Lambert Conic Conformal, two parallels',
  omerc: 'Oblique Mercator, azimuth at the projection centre',
  sterea: 'Oblique Stereographic',
  stere: 'Polar Stereographic',
} as const;
export type Method = keyof typeof METHODS;

export interface SystemParameters {
  name: string;
  method: Method;
  /** Degrees. */
  latitude: number;
  longitude: number;
  /** Degrees; standard parallels of the conic, or the latitude of true scale. */
  parallel1?: number;
  parallel2?: number;
  /** Degrees from north; of the initial line of the oblique Mercator. */
  azimuth?: number;
  rectifiedAngle?: number;
  /** On the central line or at the origin. */
  scale: number;
  /** m. */
  falseEast: number;
  falseNorth: number;
  ellipsoid: keyof typeof ELLIPSOIDS;
  /** To WGS 84: three or seven parameters, metres, arc-seconds (position vector), parts per million; or a grid's file name; or none. */
  datum: { kind: 'same' } | { kind: 'parameters'; values: number[] } | { kind: 'grid'; file: string };
}

export const ELLIPSOIDS = {
  GRS80: 'GRS 1980',
  WGS84: 'WGS 84',
  bessel: 'Bessel 1841',
  clrk66: 'Clarke 1866',
  clrk80ign: 'Clarke 1880 (IGN)',
  intl: 'International 1924',
  airy: 'Airy 1830',
  krass: 'Krassowsky 1940',
  evrst30: 'Everest 1830',
} as const;

/** A system from typed parameters; refused in a sentence where they make none. */
export function systemFromParameters(p: SystemParameters): MadeSystem {
  const need = (value: number | undefined, what: string): string | null =>
    value === undefined || !Number.isFinite(value) ? `${what} is missing.` : null;
  const missing =
    need(p.latitude, 'The latitude of the origin') ??
    need(p.longitude, 'The longitude of the origin') ??
    need(p.scale, 'The scale factor') ??
    need(p.falseEast, 'The false easting') ??
    need(p.falseNorth, 'The false northing') ??
    (p.method === 'lcc2'
      ? (need(p.parallel1, 'The first standard parallel') ?? need(p.parallel2, 'The second standard parallel'))
      : null) ??
    (p.method === 'omerc' ? need(p.azimuth, 'The azimuth') : null);
  if (missing) return { ok: false, reason: missing };
  if (Math.abs(p.falseEast) > 1e8 || Math.abs(p.falseNorth) > 1e8)
    return { ok: false, reason: 'A false origin farther than 100 000 km cannot be.' };
  const words = [`+proj=${p.method === 'lcc1' || p.method === 'lcc2' ? 'lcc' : p.method}`];
  const set = (key: string, value: number): void => void words.push(`+${key}=${value}`);
  if (p.method === 'omerc') {
    set('lat_0', p.latitude);
    set('lonc', p.longitude);
    set('alpha', p.azimuth!);
    set('gamma', p.rectifiedAngle ?? p.azimuth!);
  } else {
    set('lat_0', p.latitude);
    set('lon_0', p.longitude);
  }
  if (p.method === 'lcc1') set('lat_1', p.latitude);
  if (p.method === 'lcc2') {
    set('lat_1', p.parallel1!);
    set('lat_2', p.parallel2!);
  }
  if (p.method !== 'lcc2') set('k', p.scale);
  set('x_0', p.falseEast);
  set('y_0', p.falseNorth);
  words.push(`+ellps=${p.ellipsoid}`);
  if (p.datum.kind === 'parameters') {
    if (p.datum.values.length !== 3 && p.datum.values.length !== 7)
      return { ok: false, reason: `A datum has three or seven parameters, not ${p.datum.values.length}.` };
    words.push(`+towgs84=${p.datum.values.join(',')}`);
  } else if (p.datum.kind === 'grid') words.push(`+nadgrids=${p.datum.file}`);
  else if (p.ellipsoid === 'GRS80' || p.ellipsoid === 'WGS84') words.push('+towgs84=0,0,0');
  words.push('+units=m', '+no_defs');
  // Whoever defines a system means to use it about its origin: 15° to each side at most.
  const area = {
    west: p.longitude - 15,
    east: p.longitude + 15,
    south: Math.max(-90, Math.min(p.latitude, p.parallel1 ?? p.latitude) - 30),
    north: Math.min(90, Math.max(p.latitude, p.parallel2 ?? p.latitude) + (p.method === 'tmerc' ? 84 : 30)),
  };
  return makeSystem({ name: p.name, code: null, definition: words.join(' '), area });
}
