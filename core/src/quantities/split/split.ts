import { buildSurface, ofTriangles, type Surface } from '#core/terrain';
import type { CutAndFill } from '../hand/given-sections.ts';
import { differenceBetween, differenceToLevel } from '../difference/difference.ts';
import { measured, volumeBetween, type DifferencePieces, type Volume } from '../volume.ts';
import { samePoints, type SamePoints } from './same-points.ts';

/** What a surface is measured down or up to: a level, m, or another surface. */
export type SplitBase = { level: number } | { surface: Surface };

export interface SplitSide {
  /** The whole surface, and the part of it that is measured. */
  surface: Surface;
  part: Surface;
  base: SplitBase;
}

/** Why two volumes of one thing differ, in the order in which one is made into the other. */
export const SPLIT_CAUSES = [
  'our-area',
  'shift',
  'elevations',
  'our-breaklines',
  'their-points',
  'our-points',
  'their-breaklines',
  'base',
  'their-area',
] as const;
export type SplitCause = (typeof SPLIT_CAUSES)[number];

export interface SplitStep {
  cause: SplitCause;
  /** What it adds to cut and to fill, m³. */
  cut: number;
  fill: number;
  /** m² that one has and the other lacks; points that it is about; null where it is about neither. */
  area: number | null;
  points: number | null;
}

export interface VolumeSplit {
  ours: CutAndFill;
  theirs: CutAndFill;
  /** They add up to theirs − ours. */
  steps: SplitStep[];
  /** m² that both measure. */
  commonArea: number;
  /** m by which theirs stands higher than ours, the median of the points that both have; 0 where fewer than three are. */
  shift: number;
  /** Points that both have, m in plan within which two are one. */
  common: number;
  within: number;
  /** Theirs − ours where both measure, x, y, m. */
  pieces: DifferencePieces;
}

/** Fewer points that both have tell no shift. */
const LEAST_COMMON = 3;

/** Share of the common area that slivers at a rim may lack. */
const SAME_AREA = 1e-4;

/**
 * Splits the difference of two parties' volumes into its causes. Ours is made into theirs one step at a time, each step's share
 * being what it changes, so that they add up exactly: what ours alone covers goes; all of ours is shifted in height by the
 * median of the points that both have; those points take their elevations; our breaklines go (the same points, triangulated
 * without them); the points that they alone have come in; those that we alone have go; their breaklines come in; their base
 * takes the place of ours; what theirs alone covers comes in. In another order steps that act on one place would share it otherwise.
 * @param within m in plan within which two points are one
 */
export function splitVolumes(ours: SplitSide, theirs: SplitSide, within: number): VolumeSplit | { reason: string } {
  const both = volumeBetween(ours.part, theirs.part);
  if (both.area === 0) return { reason: 'The two surfaces have no area in common.' };
  const bases = commonBases(ofTriangles(both.pieces), ours.base, theirs.base);
  const common = measured(differenceToLevel(bases.ours, 0)).area;
  if (common === 0) return { reason: 'What they are measured above has no area in common with both surfaces.' };
  const [whole, theirWhole] = [volumeOver(ours.part, ours.base), volumeOver(theirs.part, theirs.base)];
  const same = samePoints(ours.surface, theirs.surface, within);
  const shift = shiftOf(ours.surface, theirs.surface, same);
  const { both: matched } = same;
  const raised = { ...ours.part, z: ours.part.z.map((z) => z + shift) };
  const made: [SplitCause, Surface, Surface, number | null][] = [
    ['our-area', ours.part, bases.ours, null],
    ['shift', raised, bases.ours, null],
    ['elevations', withElevations(ours.surface, theirs.surface, same, shift), bases.ours, matched.length],
    ['our-breaklines', withoutBreaklines(ours.surface, theirs.surface, same, shift, false), bases.ours, null],
    ['their-points', withoutBreaklines(ours.surface, theirs.surface, same, shift, true), bases.ours, same.theirs.length], // prettier-ignore
    ['our-points', plain(theirs.surface), bases.ours, same.ours.length],
    ['their-breaklines', theirs.part, bases.ours, null],
    ['base', theirs.part, bases.theirs, null],
  ];
  const steps: SplitStep[] = [];
  let now: CutAndFill & { area: number } = whole;
  const step = (cause: SplitCause, to: Volume, area: number | null, points: number | null): void => {
    steps.push({ cause, cut: to.cut - now.cut, fill: to.fill - now.fill, area, points });
    now = to;
  };
  for (const [cause, surface, base, points] of made) {
    const to = measured(differenceBetween(surface, base));
    // Shares add up whatever they are of: of another area they would be of something else.
    if (!(Math.abs(to.area - common) <= SAME_AREA * common)) return { reason: `The ${cause.replace('-', ' ')} could not be held against the others over one area: ${to.area.toFixed(1)} m² of ${common.toFixed(1)} m².` }; // prettier-ignore
    step(cause, to, cause === 'our-area' ? whole.area - to.area : null, points);
  }
  step('their-area', theirWhole, theirWhole.area - now.area, null);
  const { cut, fill } = whole;
  return {
    ours: { cut, fill },
    theirs: { cut: theirWhole.cut, fill: theirWhole.fill },
    steps,
    commonArea: common,
    shift,
    common: matched.length,
    within,
    pieces: both.pieces,
  };
}

const volumeOver = (s: Surface, base: SplitBase): Volume =>
  measured('level' in base ? differenceToLevel(s, base.level) : differenceBetween(s, base.surface));

/** The elevations of a base over a region; where it does not reach, nothing. */
function baseOver(region: Surface, base: SplitBase): Surface {
  if ('level' in base) return { ...region, z: region.z.map(() => base.level) };
  return ofTriangles(volumeBetween({ ...region, z: region.z.map(() => 0) }, base.surface).pieces);
}

/** Both bases over what both of them reach of a region. */
function commonBases(region: Surface, ours: SplitBase, theirs: SplitBase): { ours: Surface; theirs: Surface } {
  const reached = 'surface' in ours ? baseOver(region, ours) : region;
  const over = baseOver(reached, theirs);
  return { ours: baseOver(over, ours), theirs: over };
}

function shiftOf(ours: Surface, theirs: Surface, { both }: SamePoints): number {
  if (both.length < LEAST_COMMON) return 0;
  const off = both.map(([v, w]) => theirs.z[w] - ours.z[v]).sort((p, q) => p - q);
  return (off[(off.length - 1) >> 1] + off[off.length >> 1]) / 2;
}

/** Ours with the elevations of theirs at the points that both have, all else shifted. */
function withElevations(ours: Surface, theirs: Surface, { both }: SamePoints, shift: number): Surface {
  const z = ours.z.map((v) => v + shift);
  for (const [v, w] of both) z[v] = theirs.z[w];
  return { ...ours, z };
}

type Place = readonly [x: number, y: number, z: number];
const triangulated = (places: readonly Place[]): Surface =>
  buildSurface({
    x: Float64Array.from(places, (p) => p[0]),
    y: Float64Array.from(places, (p) => p[1]),
    z: Float64Array.from(places, (p) => p[2]),
    segments: new Uint32Array(0),
    longestSide: null,
    coincidence: 0,
  }).surface;

/** Points of ours, those that both have as theirs are, and with those that they alone have, triangulated by themselves. */
function withoutBreaklines(
  ours: Surface,
  theirs: Surface,
  same: SamePoints,
  shift: number,
  withTheirs: boolean,
): Surface {
  const of = (s: Surface, v: number, up = 0): Place => [s.x[v], s.y[v], s.z[v] + up];
  return triangulated([
    ...same.both.map(([v, w]): Place => (withTheirs ? of(theirs, w) : [ours.x[v], ours.y[v], theirs.z[w]])),
    ...same.ours.map((v) => of(ours, v, shift)),
    ...(withTheirs ? same.theirs.map((w) => of(theirs, w)) : []),
  ]);
}

/** A surface's points, triangulated by themselves. */
function plain(s: Surface): Surface {
  const used = new Set(s.triangles);
  return triangulated([...used].sort((a, b) => a - b).map((v): Place => [s.x[v], s.y[v], s.z[v]]));
}
