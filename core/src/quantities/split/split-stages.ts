import { buildSurface, ofTriangles, type Surface } from '#core/terrain';
import { differenceToLevel } from '../difference/difference.ts';
import { measured, volumeBetween, type DifferencePieces } from '../volume.ts';
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

/** Ours as it is made into theirs: a surface, and what it is measured down to, over the area that both measure. */
export interface SplitStage {
  cause: SplitCause;
  surface: Surface;
  base: Surface;
  /** That it is about; null where it is about none. */
  points: number | null;
}

export interface SplitStages {
  /** Theirs − ours where both measure, x, y, m. */
  pieces: DifferencePieces;
  /** m² that both measure, and as triangles. */
  commonArea: number;
  region: Surface;
  same: SamePoints;
  /** m by which theirs stands higher than ours. */
  shift: number;
  stages: SplitStage[];
}

/** Fewer points that both have tell no shift. */
const LEAST_COMMON = 3;

/** Every state between ours and theirs over the area that both measure, or why there are none. */
export function stagesOf(ours: SplitSide, theirs: SplitSide, within: number): SplitStages | { reason: string } {
  const both = volumeBetween(ours.part, theirs.part);
  if (both.area === 0) return { reason: 'The two surfaces have no area in common.' };
  const bases = commonBases(ofTriangles(both.pieces), ours.base, theirs.base);
  const common = measured(differenceToLevel(bases.ours, 0)).area;
  if (common === 0) return { reason: 'What they are measured above has no area in common with both surfaces.' };
  const same = samePoints(ours.surface, theirs.surface, within);
  const shift = shiftOf(ours.surface, theirs.surface, same);
  const raised = { ...ours.part, z: ours.part.z.map((z) => z + shift) };
  const stage = (cause: SplitCause, surface: Surface, points: number | null = null, base = bases.ours): SplitStage => ({ cause, surface, base, points }); // prettier-ignore
  const stages = [
    stage('our-area', ours.part),
    stage('shift', raised),
    stage('elevations', withElevations(ours.surface, theirs.surface, same, shift), same.both.length),
    stage('our-breaklines', withoutBreaklines(ours.surface, theirs.surface, same, shift, false)),
    stage('their-points', withoutBreaklines(ours.surface, theirs.surface, same, shift, true), same.theirs.length),
    stage('our-points', plain(theirs.surface), same.ours.length),
    stage('their-breaklines', theirs.part),
    stage('base', theirs.part, null, bases.theirs),
  ];
  return { pieces: both.pieces, commonArea: common, region: bases.ours, same, shift, stages };
}

/** The elevations of a base over a region; where it does not reach, nothing. */
export function baseOver(region: Surface, base: SplitBase): Surface {
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
