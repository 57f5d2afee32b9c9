import {
  cellsBetween,
  differenceBetween,
  differenceToLevel,
  extentOfPieces,
  figuresBySides,
  figuresOf,
  heapAboveEarlier,
  heapBase,
  heapDifference,
  influenceOn,
  joinShared,
  measureHeap,
  needsPieces,
  spacingOfBoth,
  spacingPart,
  toeOf,
  usualSizes,
  volumesByMethod,
  volumeSd,
  weightiest,
  withBase,
  withoutBand,
  withScale,
  type Deepest,
  type DepthSlice,
  type Difference,
  type Heap,
  type HeapVolume,
  type Influence,
  type MaterialVolumes,
  type MethodSizes,
  type MethodVolume,
  type SlopeAreas,
  type SpacingPart,
  type VolumeResult,
  type VolumeSd,
  type VolumeSplit,
  type WeightyPoint,
  type ZoneVolumes,
} from '#core/quantities';
import { METRES_IN, type LengthUnit } from '#core/measure';
import type { Surface } from '#core/terrain';
import { isHeap, type Comparison } from '#core/project';
import type { BuiltSurface } from '../surface/build.ts';
import { precisionOf, type PointPrecision } from './point-precision.ts';
import { insideOf } from './inside-of.ts';
import { materialsOf } from './materials-of.ts';
import { splitOf } from './split-of.ts';

/** What hand methods make of it, how they went, or why there are none. */
export type ByHand = { ok: true; sizes: MethodSizes; methods: MethodVolume[] } | { ok: false; reason: string };

export interface Compared {
  id: string;
  ok: true;
  volume: VolumeResult;
  /** m; the pieces are square cells of this size to look at, since there are too many to keep; null where they are all. */
  cells: number | null;
  deepest: { cut: Deepest | null; fill: Deepest | null };
  byHand: ByHand;
  /** m² that are compared and count as neither cut nor fill. */
  neither: number;
  /** m³ of topsoil that go first; null where none does. */
  stripped: number | null;
  /** Of a heap: its toe and what it holds above every base, and above what was there before it where somebody names that. */
  heap: (Heap & { earlier: EarlierBase | null }) | null;
  /** The points of the compared surface that weigh most in it; empty where it is too large to ask. */
  weighty: WeightyPoint[];
  /** As the compared surface lies, m². */
  slope: SlopeAreas;
  /** Null where nobody asked for zones. */
  zones: ZoneVolumes | null;
  /** The cut by materials; null where nobody asked, the reason where it cannot be told. */
  materials: MaterialVolumes | { reason: string } | null;
  /** By depth; null where nobody asked, the reason where there are too many. */
  slices: DepthSlice[] | { reason: string } | null;
  /** Against another party's measurement; null where there is none. */
  split: Omit<VolumeSplit, 'pieces'> | { reason: string } | null;
  /** Null where nobody says how precise the points are. */
  sd: VolumeSd | null;
  /** How far the spacing of the compared surface’s points goes; null unless the above is asked, and where too few points tell it. */
  spacing: SpacingPart | null;
}

export type ComparisonResult = Compared | { id: string; ok: false; reason: string };

/** A heap above an earlier surface; m², as much of the heap as that surface lies under. Null volume where it lies under none of it. */
export interface EarlierBase {
  surface: string;
  volume: HeapVolume | null;
  area: number;
}

function earlierBase({ earlier }: Comparison, inside: Surface, surfaces: readonly BuiltSurface[]): EarlierBase | null {
  const built = earlier === undefined ? undefined : surfaces.find((s) => s.id === earlier);
  return built ? { surface: built.id, ...heapAboveEarlier(inside, built.surface) } : null;
}

/** So many points are told. */
const MOST_WEIGHTY = 10;

/** Cells that are looked at where pieces are too many to keep. */
const CELLS = 100_000;

/** Pieces beyond which hand methods are not worked out unasked. */
const MOST_PIECES = 400_000;

/** Quantities between a surface and another, a level, or the base of a heap, inside a boundary; or why there are none. */
export function compare(
  c: Comparison,
  surfaces: readonly BuiltSurface[],
  unit: LengthUnit,
  /** Needed where each point’s own precision counts. */
  points: PointPrecision | null = null,
): ComparisonResult {
  const no = (reason: string): ComparisonResult => ({ id: c.id, ok: false, reason });
  const from = surfaces.find((s) => s.id === c.surface);
  if (!from) return no('The surface that is compared is no longer in the project.');
  if (from.surface.triangles.length === 0) return no(`The surface “${from.name}” has no triangles yet.`);
  const { against } = c;
  const inside = insideOf(c, from.surface);
  if (inside.triangles.length === 0) return no(`Nothing of the surface “${from.name}” lies inside the boundary.`);
  const to = 'surface' in against ? surfaces.find((s) => s.id === against.surface) : null;
  if (to === undefined) return no(`The surface that “${from.name}” is compared with is no longer in the project.`);
  const lowered = (s: Surface): Surface => (c.strip ? { ...s, z: s.z.map((v) => v - c.strip!) } : s);
  const part = lowered(inside);
  const difference = differenceOf(c, part, to?.surface ?? null);
  if (!difference)
    return no('The points of the toe lie in one line: no plane can be fitted to them. Choose another base.');
  // Hand methods that somebody asks for need all pieces at once.
  const asked = { surface: from.surface, band: c.neither, zones: c.zones, slice: c.slice, ...(c.methods ? { most: Infinity } : {}) }; // prettier-ignore
  const bySides = to && !c.methods && !needsPieces(asked) ? figuresBySides(part, to.surface) : null;
  const { volume, deepest, slope, zones, slices, pieces } = bySides ?? figuresOf(difference, asked);
  if (volume.area === 0 && to) return no(`“${from.name}” and “${to.name}” do not overlap inside the boundary.`);
  const neither = Math.max(0, volume.area - volume.cutArea - volume.fillArea);
  const stripped = c.strip ? c.strip * volume.area : null;
  const heap = isHeap(c) ? { ...measureHeap(inside), earlier: earlierBase(c, inside, surfaces) } : null;
  const isLarge = pieces === null || pieces.length / 9 > MOST_PIECES;
  const isOwnRim = !c.within && !c.voids?.length;
  const influenceFor = (s: Surface, sign: 1 | -1, other: Surface | null): Influence => influenceOn({ difference, pieces }, s, sign, other, isOwnRim); // prettier-ignore
  const aboveStill = isLarge && !c.sd ? null : influenceFor(from.surface, -1, to?.surface ?? null);
  const influence = aboveStill && pieces && 'base' in against ? withBase(aboveStill, from.surface, against.base, toeOf(inside), pieces) : aboveStill; // prettier-ignore
  const own = c.sd?.own ? points : null;
  // A design is exact but for points that have a precision of their own; what was measured counts like the surface itself.
  const isMeasured = to !== null && to.role !== 'design';
  const other = influence && c.sd && to && (own || isMeasured) ? influenceFor(to.surface, 1, from.surface) : null;
  const [ours, theirs] = other ? joinShared({ surface: from.surface, influence: influence! }, { surface: to!.surface, influence: other }) : [influence, null]; // prettier-ignore
  const parts = ours && c.sd ? [{ influence: ours, sd: precisionOf(from.surface, c.sd, own) }] : [];
  if (theirs) parts.push({ influence: theirs, sd: precisionOf(to!.surface, c.sd!, own, isMeasured ? undefined : 0) });
  const sd = parts.length ? withScale(volumeSd(parts), volume, c.sd?.scale ?? 0) : null;
  const spaced = ours && c.sd ? spacingPart(from.surface, ours) : null;
  const weighty = influence ? weightiest(from.surface, influence, MOST_WEIGHTY) : [];
  const cells = pieces ? null : cellsOfDifference(c, part, to?.surface ?? null);
  const shown = pieces ?? cells!.pieces;
  return {
    id: c.id,
    ok: true,
    volume: { ...volume, pieces: shown },
    cells: cells && cells.size,
    deepest,
    neither,
    stripped,
    byHand: byHand(c, { ...volume, pieces: shown }, isLarge, deepest, unit),
    slope,
    zones,
    slices,
    materials: c.materials?.length ? materialsOf(c, c.materials, { ground: part, pieces }, surfaces) : null,
    split: c.theirs ? splitOf(c, surfaces) : null,
    heap,
    weighty,
    sd,
    spacing: theirs && isMeasured ? spacingOfBoth(spaced, spacingPart(to.surface, theirs)) : spaced,
  };
}

function differenceOf({ against }: Comparison, inside: Surface, to: Surface | null): Difference | null {
  if ('level' in against) return differenceToLevel(inside, against.level);
  if ('base' in against) return heapDifference(inside, against.base);
  return differenceBetween(inside, to!);
}

/** What is looked at of a difference whose pieces are too many to keep. */
function cellsOfDifference({ against, neither }: Comparison, inside: Surface, to: Surface | null) {
  const base = 'level' in against ? against : 'base' in against ? heapBase(toeOf(inside), against.base)! : { surface: to! }; // prettier-ignore
  const { pieces, size } = cellsBetween(inside, 'level' in base ? base : base.surface, CELLS);
  return { size, pieces: neither ? withoutBand({ pieces, area: 0 }, neither).pieces : pieces };
}

function byHand(
  c: Comparison,
  volume: VolumeResult,
  isLarge: boolean,
  deepest: Compared['deepest'],
  unit: LengthUnit,
): ByHand {
  const { pieces } = volume;
  if (pieces.length === 0) return { ok: false, reason: 'Nothing is deeper than what counts as neither.' };
  if (isLarge && !c.methods) return { ok: false, reason: 'The surfaces are large: hand methods are worked out once somebody says their sizes.' }; // prettier-ignore
  const deep = Math.max(deepest.cut?.depth ?? 0, deepest.fill?.depth ?? 0);
  const sizes = { ...usualSizes(extentOfPieces(pieces), deep, METRES_IN[unit]), ...c.methods };
  const methods = orReason(() => volumesByMethod(volume, pieces, { ...sizes, along: c.along ?? null }));
  return 'reason' in methods ? { ok: false, ...methods } : { ok: true, sizes, methods };
}

/** A result, or why sizes that somebody typed suit another site. */
function orReason<T>(work: () => T): T | { reason: string } {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) return { reason: error.message };
    throw error;
  }
}
