import { clipToRing, type Surface } from '#core/terrain';
import {
  differenceBetween,
  differenceToLevel,
  figuresOf,
  influenceOn,
  ONE_POINT,
  spacingPart,
  splitVolumes,
  VOLUME_METHODS,
  volumesByMethod,
  volumeSd,
  WITHIN_95,
  type DepthSlice,
  type Influence,
  type MethodSettings,
  type SpacingPart,
  type SplitBase,
  type VolumeSplit,
  type MethodVolume,
  type VolumeMethod,
  type VolumeResult,
  type VolumeSd,
} from '#core/quantities';
import { newDocument } from '#core/project';
import { splitText } from '#core/report';
import { courseIn } from '../course.ts';
import { boundaryOf, namedRingsOf, surfaceOf } from '../load.ts';
import { precisionAt } from '../point-precision.ts';
import { reachOf, reachText } from '../reach.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { handTable, sectionsGiven } from '../given-sections.ts';
import { zonesText } from '../zones.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { length, READING, text } from '../options.ts';

const COMPARING = {
  ...READING,
  against: text('--against <surface>', 'the other surface'),
  level: length('--level <elevation>', 'a level'),
  within: text('--within <file>', 'closed line round what is compared, with its holes'),
  theirs: text('--theirs <surface>', 'another party’s surface: why its volume is another'),
  theirWithin: text('--their-within <file>', 'their boundary; otherwise that of --within'),
  theirLevel: length('--their-level <elevation>', 'their level; otherwise that of --level'),
  zones: text('--zones <file>', 'closed lines, each a zone by the name of its layer'),
  method: text('--method <name>', `${VOLUME_METHODS.join(', ')} or all; exact otherwise`),
  cell: length('--cell <length>', 'side of a cell of the grid; 1 m otherwise', 1e-3),
  spacing: length('--spacing <length>', 'between sections; 10 m otherwise', 1e-3),
  along: text('--along <file>', 'line across which sections stand; otherwise they run north'),
  slice: length('--slice <length>', 'cut and fill by depth, in slices so thick', 1e-3),
  interval: length('--interval <length>', 'between depth contours; 0.5 m otherwise', 1e-3),
  sdPlan: length('--sd-plan <length>', 'standard deviation of the surface’s points in east and in north', 0),
  sdPoints: text(
    '--sd-points <file>',
    'points with a column S, a standard deviation each, at the vertices of the surface',
  ),
  sdHeight: length('--sd-height <length>', 'standard deviation of their elevations', 0),
  sections: text('--sections <table>', 'chainage, cut area and fill area a row, in the place of a surface'),
  drawings: text(
    '--drawings <table>',
    'chainage, offset, ground and design a row, or cross sections of LandXML or drawn in space in a DXF, in the place of a surface',
  ),
  corners: text('--corners <table>', 'corner elevations of cells, the north row first, in the place of a surface'),
};

type Options = Values<typeof COMPARING> & Common;
const HAND = ['sections', 'drawings', 'corners'] as const;

/** Volume of a surface against a level or another surface, by one method or all. */
function volume([file]: string[], options: Options): Outcome {
  const { against, level } = options;
  const byHand = HAND.filter((name) => options[name] !== undefined);
  if (byHand.length) {
    const [name] = byHand;
    const isAlone = byHand.length === 1 && file === undefined && against === undefined && (level === undefined || name === 'corners'); // prettier-ignore
    if (!isAlone) throw new WrongUsage('volume takes either a surface or one of --sections, --drawings and --corners.');
    return name === 'sections' ? sectionsGiven(options.sections!, options) : handTable(name, options[name]!, options);
  }
  if (file === undefined) throw new WrongUsage('volume needs a surface, or --sections, --drawings or --corners.');
  if ((against === undefined) === (level === undefined))
    throw new WrongUsage('volume needs either --level or --against.');
  const asked = methodsAsked(options.method);
  const whole = surfaceOf(file, options);
  const boundary = options.within ? boundaryOf(options.within, options) : null;
  const ground = boundary ? clipToRing(whole, boundary.ring, boundary.holes) : whole;
  if (ground.triangles.length === 0) throw new CannotDo('Nothing of the surface lies inside the boundary.');
  const design = against ? surfaceOf(against, options) : null;
  const difference = design ? differenceBetween(ground, design) : differenceToLevel(ground, level!);
  const zonesAsked = options.zones ? namedRingsOf(options.zones, options) : [];
  const { volume: result, slope, zones, slices, pieces } = figuresOf(difference, { surface: ground, zones: zonesAsked, slice: options.slice, ...(asked.some((m) => m !== 'exact') ? { most: Infinity } : {}) }); // prettier-ignore
  if (slices && 'reason' in slices) throw new CannotDo(slices.reason);
  const { cutArea, fillArea, area } = result;
  if (area === 0) throw new CannotDo('The two surfaces do not overlap.');
  const found = byMethod({ ...result, pieces: pieces ?? new Float64Array(0) }, asked, options);
  const methods = Object.fromEntries(found.map((m) => [m.method, reported(m, options)]));
  const reach = boundary ? reachOf(boundary, area) : null;
  const split = options.theirs ? theirsOf(options.theirs, whole, ground, design, options) : null;
  const influence = (ownRim: boolean): Influence => influenceOn({ difference, pieces }, whole, -1, design, ownRim);
  const sd = precisionOf(() => influence(boundary === null), whole, options);
  const spacing = sd ? spacingPart(whole, influence(false)) : null;
  const report = {
    against: design ? { surface: against } : { level },
    area,
    cutArea,
    fillArea,
    ...(sd ? { sd } : {}),
    ...(spacing ? { spacing } : {}),
    ...(reach ? { boundary: reach } : {}),
    slope,
    ...(zones ? { zones: zones.zones, outside: zones.outside.area } : {}),
    ...(slices ? { slices } : {}),
    ...(split ? { split } : {}),
    methods,
  };
  return {
    json: report,
    text: [
      ...found.map(methodText),
      `area       ${area.toFixed(3)} m²: cut ${cutArea.toFixed(3)}, fill ${fillArea.toFixed(3)}`,
      ...(sd ? [sdText(sd)] : []),
      ...(spacing ? [spacingText(spacing)] : sd ? [TOO_FEW] : []),
      ...(reach ? reachText(reach) : []),
      `as it lies cut ${slope.cut.toFixed(3)} m², fill ${slope.fill.toFixed(3)} m²`,
      ...(zones ? zonesText(zones, area) : []),
      ...(slices ?? []).map(sliceText),
      ...(split ? splitLines(split) : []),
    ].join('\n'),
  };
}

function methodsAsked(method = 'exact'): readonly VolumeMethod[] {
  if (method === 'all') return VOLUME_METHODS;
  const found = VOLUME_METHODS.find((m) => m === method);
  if (!found) throw new WrongUsage(`--method is one of ${VOLUME_METHODS.join(', ')}, all.`);
  return [found];
}

const settingsOf = ({ cell = 1, spacing = 10, interval = 0.5, along, ...options }: Options): MethodSettings => ({
  cell,
  spacing,
  interval,
  along: along ? courseIn(along, options) : null,
});

function byMethod(result: VolumeResult, asked: readonly VolumeMethod[], options: Options): MethodVolume[] {
  return whereSizesSuit(() => volumesByMethod(result, result.pieces, settingsOf(options), asked));
}

/** Why another party's surface gives another volume. */
function theirsOf(
  file: string,
  surface: Surface,
  part: Surface,
  design: Surface | null,
  options: Options,
): Omit<VolumeSplit, 'pieces'> {
  const theirs = surfaceOf(file, options);
  const within = options.theirWithin ?? options.within;
  const boundary = within ? boundaryOf(within, options) : null;
  const theirPart = boundary ? clipToRing(theirs, boundary.ring, boundary.holes) : theirs;
  const base = (level: number | undefined): SplitBase => (level === undefined ? { surface: design! } : { level });
  const split = splitVolumes(
    { surface, part, base: base(options.level) },
    { surface: theirs, part: theirPart, base: base(options.theirLevel ?? options.level) },
    ONE_POINT,
  );
  if ('reason' in split) throw new CannotDo(split.reason);
  const { pieces: _, ...figures } = split;
  return figures;
}
const splitLines = (split: Omit<VolumeSplit, 'pieces'>): string[] => {
  const line = (name: string, { cut, fill }: { cut: number; fill: number }): string => `${name.padEnd(44)} cut ${cut.toFixed(3)}, fill ${fill.toFixed(3)}, cut − fill ${(cut - fill).toFixed(3)} m³`; // prettier-ignore
  const metres = { settings: { ...newDocument().settings, unit: 'm' as const } };
  return [line('ours', split.ours), ...split.steps.map((s) => line(splitText(metres, s, split), s)), line('theirs', split.theirs)]; // prettier-ignore
};

const sliceText = ({ from, to, cut, fill }: DepthSlice): string =>
  `${from.toFixed(2)} to ${to.toFixed(2)} m deep: cut ${cut.toFixed(3)} m³, fill ${fill.toFixed(3)} m³`;

function whereSizesSuit<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) throw new CannotDo(error.message);
    throw error;
  }
}

/** What each method counts its parts in. */
const PARTS: Record<VolumeMethod, string> = { exact: 'pieces', grid: 'cells', sections: 'sections', prismoidal: 'sections', contours: 'contours' }; // prettier-ignore

function reported(
  { method, cut, fill, parts, leftOut, worst }: MethodVolume,
  { cell = 1, spacing = 10, interval = 0.5 }: Options,
) {
  // prettier-ignore
  const how = { exact: {}, grid: { cell }, sections: { spacing }, prismoidal: { spacing }, contours: { interval } };
  return {
    cut,
    fill,
    net: cut - fill,
    ...how[method],
    [PARTS[method]]: parts,
    ...(leftOut === undefined ? {} : { leftOut }),
    ...(worst ? { worst } : {}),
  };
}

const methodText = ({ method, cut, fill, leftOut = 0 }: MethodVolume): string =>
  `${method.padEnd(10)} cut ${cut.toFixed(3)} m³, fill ${fill.toFixed(3)} m³, cut − fill ${(cut - fill).toFixed(3)} m³${leftOut > 0.0005 ? `; leaves out ${leftOut.toFixed(3)} m² at the rim` : ''}`; // prettier-ignore

/** Standard deviations from the precision of the surface’s points; null where none is stated. What it is compared with counts as exact. */
function precisionOf(
  influence: () => Influence,
  surface: Surface,
  { sdPlan, sdHeight, sdPoints, ...options }: Options,
): VolumeSd | null {
  if (sdPlan === undefined && sdHeight === undefined && sdPoints === undefined) return null;
  const typed = { plan: sdPlan ?? 0, height: sdHeight ?? 0 };
  const own = sdPoints ? precisionAt(surface, sdPoints, options) : null;
  const column = (else_: number): Float64Array => own!.map((s) => (Number.isNaN(s) ? else_ : s));
  if (own && sdPlan === undefined && sdHeight === undefined && own.every(Number.isNaN)) throw new CannotDo(`${sdPoints} says nothing of the precision of the surface’s vertices: none of its points lies on one. Give --sd-plan and --sd-height.`); // prettier-ignore
  return volumeSd([
    { influence: influence(), sd: own ? { plan: column(typed.plan), height: column(typed.height) } : typed },
  ]);
}

const TOO_FEW = 'spacing of points: too few of them can be left out to tell what it leaves unknown';

const spacingText = ({ sd, wanted, after }: SpacingPart): string =>
  `spacing of points: cut ± ${(WITHIN_95 * sd.cut).toFixed(3)}, fill ± ${(WITHIN_95 * sd.fill).toFixed(3)}, cut − fill ± ${(WITHIN_95 * sd.net).toFixed(3)} m³ (95 %); with shots at ${wanted.map((w) => `${w.x.toFixed(2)} ${w.y.toFixed(2)}`).join(', ')}: ± ${(WITHIN_95 * after).toFixed(3)}`; // prettier-ignore

const sdText = (sd: VolumeSd): string =>
  `measuring: cut ± ${(WITHIN_95 * sd.cut).toFixed(3)}, fill ± ${(WITHIN_95 * sd.fill).toFixed(3)}, cut − fill ± ${(WITHIN_95 * sd.net).toFixed(3)} m³ (95 %), points independent of each other, what they are compared with exact`; // prettier-ignore

export const VOLUME = defineVerb({
  name: 'volume',
  about: 'compares a surface with another or with a level, or adds up sections: cut and fill',
  files: { name: 'SURFACE', least: 0, most: 1 },
  options: COMPARING,
  run: volume,
});
