import { exp, sinCosInto, type SinCos } from '#core/kernel';

/** Mean radius of the earth, m: what curvature and sea level are reckoned with where no ellipsoid is asked for. */
export const EARTH_RADIUS = 6_371_000;

/** Air at the instrument: °C, hPa, % relative humidity. */
export interface Air {
  temperature: number;
  pressure: number;
  humidity: number;
}

/** Air at which instruments of the trade show true distances: 12 °C, 1013.25 hPa, 60 % (common practice). */
export const REFERENCE_AIR: Air = { temperature: 12, pressure: 1013.25, humidity: 60 };

/** Saturation pressure of water vapour, hPa, over water (Magnus; WMO coefficients 6.112, 17.62, 243.12). */
export const vapourPressure = ({ temperature: t, humidity }: Air): number =>
  (humidity / 100) * 6.112 * exp((17.62 * t) / (243.12 + t));

/**
 * Group refractivity (n − 1) × 10⁶ of the air for a modulated carrier, IAG resolution 3 (1999), from memory:
 * N₀ = 287.6155 + 4.8866/λ² + 0.0680/λ⁴ (λ in µm), N = 273.15/1013.25 · p/T · N₀ − 11.27 e/T.
 */
export function groupRefractivity(air: Air, wavelength: number): number {
  const l2 = wavelength * wavelength;
  const standard = 287.6155 + 4.8866 / l2 + 0.068 / (l2 * l2);
  const kelvin = 273.15 + air.temperature;
  return ((273.15 / 1013.25) * air.pressure * standard) / kelvin - (11.27 * vapourPressure(air)) / kelvin;
}

/** First velocity correction, parts per million to add to a distance: reference refractivity less that of the air. */
export const velocityPpm = (air: Air, wavelength: number): number =>
  groupRefractivity(REFERENCE_AIR, wavelength) - groupRefractivity(air, wavelength);

export interface Reduced {
  /** Horizontal distance at the instrument's height, m. */
  horizontal: number;
  /** Height of the target above the instrument, m. */
  rise: number;
}

/**
 * Slope distance and zenith angle to horizontal distance and rise, with the earth's curvature and refraction
 * k (k = 0.13 common practice; any surveying textbook): rise = D cos z + (1 − k)(D sin z)² / 2R,
 * horizontal = D sin z − (2 − k) D² sin z cos z / 2R.
 */
export function reduceSlope(distance: number, zenith: number, k: number, radius = EARTH_RADIUS): Reduced {
  const out: Reduced = { horizontal: 0, rise: 0 };
  sinCosInto(zenith, room);
  reduceSlopeInto(distance, room.sin, room.cos, k, radius, out);
  return out;
}
const room: SinCos = { sin: 0, cos: 0 };

/** The same from the zenith angle's sine and cosine, into `out`. */
export function reduceSlopeInto(distance: number, s: number, c: number, k: number, radius: number, out: Reduced): void {
  const flat = distance * s;
  out.horizontal = flat - ((2 - k) * distance * distance * s * c) / (2 * radius);
  out.rise = distance * c + ((1 - k) * flat * flat) / (2 * radius);
}

/** A length at height h brought down to sea level: R / (R + h). */
export const seaLevelFactor = (height: number, radius = EARTH_RADIUS): number => radius / (radius + height);
