import type { Settings } from './document.ts';

type Proposed = Pick<Settings, 'areaUnit' | 'volumeUnit' | 'chainage' | 'plotScale' | 'contourInterval' | 'indexEvery'>;

// What goes with a unit of length (common practice): 1 in = 40 ft is 1 : 480; one foot is 0.3048 m, and 2 ppm between
// the two feet are nothing in an interval of contours.
const METRIC: Proposed = { areaUnit: 'm2ha', volumeUnit: 'm3', chainage: 'plain', plotScale: 500, contourInterval: 0.25, indexEvery: 4 }; // prettier-ignore
const FEET: Proposed = { areaUnit: 'ft2', volumeUnit: 'yd3', chainage: 'hundreds', plotScale: 480, contourInterval: 0.3048, indexEvery: 5 }; // prettier-ignore

const usualFor = (unit: Settings['unit']): Proposed => (unit === 'm' ? METRIC : FEET);

/**
 * A unit of length, with what goes along with it: units of area and volume, plot scale, contours, chainage. What a
 * person set otherwise than the former unit proposed stays as it is.
 */
export function unitWithUsual(settings: Settings, unit: Settings['unit']): Partial<Settings> {
  const [before, after] = [usualFor(settings.unit), usualFor(unit)];
  const kept = Object.entries(after).filter(([name]) => settings[name as keyof Proposed] === before[name as keyof Proposed]); // prettier-ignore
  return { unit, ...(Object.fromEntries(kept) as Partial<Proposed>) };
}
