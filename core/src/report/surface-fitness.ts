import {
  areaBySlope,
  errorMap,
  findHollows,
  flatParts,
  leaveOneOut,
  SLIVER_SINE,
  slivers,
  verticalAccuracy,
  type ErrorMap,
  type Surface,
  type VerticalAccuracy,
} from '#core/terrain';

/** Slopes, rise over run, between which areas are told. */
export const SLOPE_STEPS = [0.02, 0.05, 0.1, 0.25, 0.5, 1] as const;
/** Cells along the longer side of a site. */
const CELLS = 8;
/** Shallower hollows are within what shots are good for, m. */
const HOLLOW_FROM = 0.02;

/** What a surface is worth, from its triangles alone: what takes a while to find. */
export interface SurfaceFitness {
  slopes: number[];
  /** m² in plan. */
  level: { parts: number; area: number };
  slivers: number;
  /** m² and m³ of all; the deepest first, m. */
  hollows: { count: number; area: number; volume: number; deepest: number };
  /** Error without each point in turn; null where none can be left out. */
  leftOut: (VerticalAccuracy & { of: number }) | null;
  map: ErrorMap | null;
}

/** @param progress share done; throws to end it */
export function surfaceFitness(s: Surface, progress: (share: number) => void = () => {}): SurfaceFitness {
  const left = leaveOneOut(s, (share) => progress(0.8 * share));
  const level = flatParts(s);
  const hollows = findHollows(s, HOLLOW_FROM);
  const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
  return {
    slopes: areaBySlope(s, SLOPE_STEPS),
    level: { parts: level.length, area: sum(level.map((p) => p.area)) },
    slivers: slivers(s, SLIVER_SINE).length,
    hollows: {
      count: hollows.length,
      area: sum(hollows.map((h) => h.area)),
      volume: sum(hollows.map((h) => h.volume)),
      deepest: hollows[0] ? hollows[0].spill - hollows[0].bottom : 0,
    },
    leftOut: left.off.length ? { ...verticalAccuracy([...left.off]), of: left.of } : null,
    map: errorMap(s, left, CELLS),
  };
}
