import {
  buildSurface,
  claimOrder,
  clipToRing,
  cutVoid,
  fillLevelParts,
  KEEP_RULES,
  lastDecimalOf,
  measureSurface,
  MEETING_RULES,
  NO_POINT,
  oneAfterOther,
  onlyKept,
  thinPoints,
  withPlaces,
  type MeetingChoice,
  type MeetingKind,
  type SurfaceInput,
} from '#core/terrain';
import { writeLandXml } from '#core/exchange';
import { boundaryOf, load, linesOf, pointsOf, ringsOf, type Loaded } from '../load.ts';
import { onLayers } from '../layers.ts';
import { reachOf, reachText } from '../reach.ts';
import { CannotDo } from '../problems.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { choice, length, number, OUTPUT, READING, text } from '../options.ts';

const OPTIONS = {
  ...READING,
  lines: text('--lines <file>', 'lines with elevations, as breaklines'),
  boundary: text('--boundary <file>', 'closed line round the surface, with its holes'),
  voids: text('--voids <file>', 'closed lines inside which there is no surface'),
  longestSide: length('--longest-side <length>', 'no triangle has a longer side, breaklines apart', 1e-6),
  coincidence: length('--coincidence <length>', 'points nearer than this in plan are one', 0),
  keep: choice('--keep <which>', 'of coincident points', KEEP_RULES, 'first'),
  meeting: choice('--meeting <which>', 'elevation where breaklines meet', MEETING_RULES, 'first'),
  thin: length('--thin <length>', 'leaves out points while the surface stays within this of them in height', 1e-6),
  fillLevel: number(
    '--fill-level <percent>',
    'fills level parts between contours; summits and hollows go on by this share of the step outside',
    0,
    99,
  ),
  layer: text('--layer <layers>', 'of drawings only what is on these layers, separated by commas'),
  name: text('--name <text>', 'name of the surface in the file'),
  ...OUTPUT,
};
type Options = Values<typeof OPTIONS> & Common;

/** Elevations that differ by no more are one, m. */
const MEETING_TOLERANCE = 0.005;
const MEETING_WORD: Record<MeetingKind | 'place', string> = {
  cross: 'breaklines cross',
  end: 'a breakline ends on another',
  overlap: 'breaklines run over each other',
  place: 'two points in one place',
};

/** Lines that a file holds beside its points. */
const linesIn = (l: Loaded): number =>
  l.kind === 'points' ? 0 : l.kind === 'dxf' ? l.content.polylines.length + l.content.curves.length : l.kind === 'geojson' ? l.content.lines.length : l.content.breaklines.length + l.content.features.length; // prettier-ignore

/** Points and breaklines to a triangulated surface. */
function surface(files: string[], options: Options): Outcome {
  const x: number[] = [];
  const y: number[] = [];
  const z: number[] = [];
  let without = 0;
  const refused: { file: string; row: number; reason: string }[] = [];
  for (const file of files) {
    const loaded = onLayers(load(file, options), options.layer);
    const p = pointsOf(loaded, options);
    const others = linesIn(loaded);
    if (others > 0)
      options.account.add(
        loaded.file,
        'lines',
        `${others} are not breaklines here; give the file by --lines too`,
        others,
      );
    if (loaded.kind === 'points')
      for (const r of loaded.read.refused) refused.push({ file: loaded.file, row: r.row, reason: r.reason });
    for (let i = 0; i < p.x.length; i++) {
      if (Number.isNaN(p.z[i])) without++;
      else {
        x.push(p.x[i]);
        y.push(p.y[i]);
        z.push(p.z[i]);
      }
    }
  }
  const segments: number[] = [];
  let lines = 0;
  if (options.lines) {
    const loaded = onLayers(load(options.lines, options), options.layer);
    const list = linesOf(loaded, options);
    const level = list.filter((l) => l.places.some((v, i) => i % 3 === 2 && !Number.isNaN(v)));
    const without = list.length - level.length;
    if (without > 0) options.account.add(loaded.file, 'lines', `${without} have no elevation`, without);
    for (const line of level) {
      let first = -1;
      let last = -1;
      for (let i = 0; i < line.places.length; i += 3) {
        if (Number.isNaN(line.places[i + 2])) continue;
        x.push(line.places[i]);
        y.push(line.places[i + 1]);
        z.push(line.places[i + 2]);
        if (last >= 0) segments.push(last, x.length - 1);
        else first = x.length - 1;
        last = x.length - 1;
      }
      if (line.closed && last > first) segments.push(last, first);
      lines++;
    }
  }
  if (x.length < 3)
    throw new CannotDo(
      `${x.length} points with elevation; a surface needs three. ${refused[0] ? `First row left out: ${refused[0].file} row ${refused[0].row}: ${refused[0].reason}.` : ''}`,
    );
  const start = performance.now();
  const [px, py, pz] = [x, y, z].map((values) => Float64Array.from(values));
  const input: SurfaceInput = {
    x: px,
    y: py,
    z: pz,
    segments: Uint32Array.from(segments),
    coincidence: options.coincidence ?? 0,
    claim: claimOrder(options.keep, px, py, pz),
    mean: options.keep === 'mean',
    longestSide: options.longestSide ?? null,
    rounding: lastDecimalOf(px, py),
  };
  const thinned = options.thin === undefined ? null : thinPoints(input, options.thin);
  const left = thinned ? onlyKept(input, thinned.kept) : input;
  // Which of coincident points stays is asked of those that are left.
  const chosen = { ...left, claim: claimOrder(options.keep, left.x, left.y, left.z) };
  const settling: MeetingChoice = { rule: options.meeting, tolerance: MEETING_TOLERANCE };
  const level = buildSurface(chosen, settling);
  const fill = options.fillLevel === undefined ? null : fillLevelParts(level.surface, options.fillLevel / 100);
  const built = fill?.x.length
    ? buildSurface({ ...withPlaces(chosen, fill), z: oneAfterOther(chosen.z, fill.z) }, settling)
    : level;
  const boundary = options.boundary ? boundaryOf(options.boundary, options) : null;
  const voids = options.voids ? ringsOf(options.voids, options) : [];
  const bounded = boundary ? clipToRing(built.surface, boundary.ring, boundary.holes) : built.surface;
  const made = voids.reduce((s, ring) => cutVoid(s, ring), bounded);
  const seconds = (performance.now() - start) / 1000;
  if (made.triangles.length === 0) {
    const why = boundary
      ? 'nothing lies inside the boundary'
      : options.longestSide
        ? 'every triangle has a longer side than allowed, or the points are in line'
        : 'all points are in one line';
    throw new CannotDo(`The surface would have no triangle: ${why}.`);
  }
  const m = measureSurface(made);
  const report = {
    vertices: m.points,
    triangles: m.triangles,
    planArea: m.planArea,
    slopeArea: m.slopeArea,
    lowest: m.lowest,
    highest: m.highest,
    extent: m.extent,
    breaklines: lines,
    coincidentPoints: built.account.coincident.length / 2,
    meetings: built.account.meetings.map(({ x, y, kind, elevations, kept }) => ({ x, y, kind, elevations, kept })),
    joined: built.account.joined,
    thin: built.account.thin,
    ...(thinned
      ? {
          thinned: {
            left: thinned.kept.reduce((sum, k) => sum + k, 0),
            of: x.length,
            largestError: thinned.largestError,
          },
        }
      : {}),
    ...(fill ? { filled: fill.x.length } : {}),
    tooLong: built.account.tooLong,
    ...(boundary ? { boundary: reachOf(boundary, m.planArea) } : {}),
    verticesOnBoundary: made.point.filter((p) => p === NO_POINT).length,
    withoutElevation: without,
    refused,
    seconds,
  };
  if (options.output)
    save(
      options.output,
      writeLandXml(
        {
          project: options.name ?? 'Ground',
          made: new Date().toISOString(),
          points: [],
          breaklines: [],
          surfaces: [{ name: options.name ?? 'Ground', surface: made }],
        },
        'm',
        6,
      ),
    );
  return {
    json: report,
    text: [
      `${report.vertices} vertices, ${report.triangles} triangles`,
      `  area ${report.planArea.toFixed(3)} m² in plan, ${report.slopeArea.toFixed(3)} m² along the slope`,
      `  elevation ${report.lowest.toFixed(3)} … ${report.highest.toFixed(3)} m`,
      `  ${report.coincidentPoints} coincident points, ${report.meetings.length} places with several elevations, ${report.tooLong} triangles excluded for their longest side`,
      ...report.meetings.slice(0, 20).map((m) => `  ${MEETING_WORD[m.kind]} at E ${m.x.toFixed(3)} N ${m.y.toFixed(3)}: ${m.elevations.map((e) => e.toFixed(3)).join(', ')} m; ${m.kept.toFixed(3)} is kept`), // prettier-ignore
      ...(report.meetings.length > 20 ? [`  and ${report.meetings.length - 20} more, all in --json`] : []),
      ...(thinned ? [`  thinned to ${report.thinned!.left} of ${x.length} points; the others are within ${thinned.largestError.toFixed(4)} m of the surface`] : []), // prettier-ignore
      ...(fill ? [`  ${fill.x.length} points put along the middle of level parts`] : []),
      ...(boundary ? reachText(reachOf(boundary, m.planArea)) : []),
      ...(without ? [`  ${without} points without elevation excluded`] : []),
    ].join('\n'),
  };
}

export const SURFACE = defineVerb({
  name: 'surface',
  about: 'triangulates points and breaklines',
  files: { name: 'IN', least: 1, most: 1000 },
  options: OPTIONS,
  run: surface,
});
