import type { NamedLook } from '#core/project';
import { formatFixed, formatLength, rangeNames, UNIT_SIGN, type LengthUnit } from '#core/measure';
import {
  areasByAspect,
  areasByElevation,
  areasBySlope,
  LEVEL_SLOPE,
  measureSurface,
  type Polygon,
  type Surface,
} from '#core/terrain';
import type { Colour, Frame, Mark } from './marks.ts';
import { meets } from './plan.ts';

/** Slopes, rise over run, from which the next tint is taken. */
export const TINTED_SLOPES = [0.02, 0.05, 0.1, 0.25] as const;
/** Eight directions in which ground falls, clockwise from north. */
export const ASPECTS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'] as const;

/** Tints by day and on paper: low to high, level to steep, round the compass with neighbours alike. */
export const TINTS = {
  elevation: ['#CFE0E4', '#D6E4CF', '#EDE8CC', '#F0DEC8', '#EBD5CC'],
  slope: ['#F6F4EA', '#EAE6CB', '#E4D2A9', '#DBB48C', '#CF947A'],
  aspect: ['#C6DAEA', '#CCE4DF', '#DAE8C4', '#EEE6B9', '#F3D6B6', '#EFC8C3', '#DFC9E2', '#CCCDEA'],
} as const;

/** A tint that a sheet shows, and what it means. */
export interface TintEntry {
  name: string;
  colour: Colour;
}

/** What of a surface has one tint. */
export interface TintedAreas {
  name: string;
  /** By day and on paper. */
  hex: string;
  polygons: Polygon[];
}

/** The tints of a surface on paper, inside a frame, and those that are seen there. */
export function tintMarks(
  surface: Surface,
  { tintedBy }: Pick<NamedLook, 'tintedBy'>,
  unit: LengthUnit,
  frame: Frame,
  onPaper: (x: number, y: number) => [number, number],
): { marks: Mark[]; entries: TintEntry[] } {
  const view = { minX: frame.left, minY: frame.bottom, maxX: frame.left + frame.width, maxY: frame.bottom + frame.height }; // prettier-ignore
  const marks: Mark[] = [];
  const entries: TintEntry[] = [];
  for (const { name, hex, polygons } of tintedAreas(surface, tintedBy, unit)) {
    const colour = colourOf(hex);
    const seen = polygons.flatMap((rings): Mark[] => {
      const placed = rings.map((ring) => placesOf(ring, onPaper));
      return meets(placed[0], view) ? [{ kind: 'area', rings: placed, colour, inside: frame }] : [];
    });
    if (seen.length === 0) continue;
    marks.push(...seen);
    entries.push({ name, colour });
  }
  return { marks, entries };
}

/** A surface by what its tints tell apart, low to high, level to steep, round the compass. */
export function tintedAreas(s: Surface, by: NamedLook['tintedBy'], unit: LengthUnit): TintedAreas[] {
  const tints = TINTS[by];
  if (by === 'slope') {
    const names = rangeNames(TINTED_SLOPES, (v) => formatFixed(v * 100, 0));
    return areasBySlope(s, TINTED_SLOPES).map(({ polygons }, i) => ({ name: `slope % ${names[i]}`, hex: tints[i], polygons })); // prettier-ignore
  }
  if (by === 'aspect')
    return areasByAspect(s).map((polygons, i) => ({ name: `falls to ${ASPECTS[i]}, over ${formatFixed(LEVEL_SLOPE * 100, 1)} %`, hex: tints[i], polygons })); // prettier-ignore
  const { lowest, highest } = measureSurface(s);
  if (!(highest > lowest)) return [];
  const levels = tints.map((_, i) => lowest + ((highest - lowest) * i) / tints.length);
  const decimals = highest - lowest < 4 ? 2 : 1;
  const text = (m: number): string => formatLength(m, unit, decimals);
  return areasByElevation(s, [...levels, highest]).map(({ from, to, polygons }, i) => ({ name: `elevation ${text(from)} – ${text(to)} ${UNIT_SIGN[unit]}`, hex: tints[i], polygons })); // prettier-ignore
}

const colourOf = (hex: string): Colour => {
  const part = (i: number): number => parseInt(hex.slice(i, i + 2), 16) / 255;
  return [part(1), part(3), part(5)];
};

function placesOf(ring: Float64Array, onPaper: (x: number, y: number) => [number, number]): number[] {
  const out: number[] = [];
  for (let i = 0; i < ring.length; i += 2) out.push(...onPaper(ring[i], ring[i + 1]));
  return out;
}
