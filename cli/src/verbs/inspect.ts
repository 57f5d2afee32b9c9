import { basename, extname } from 'node:path';
import { geoidArea, isNtv2, isTiff, readNtv2 } from '#core/basis';
import {
  decodeText,
  extentOfGrid,
  formatOf,
  formatOfEnding,
  isTextGrid,
  isTiffGrid,
  readTextGrid,
  readTiffGrid,
  spacingOf,
  tallyOf,
  type Box,
} from '#core/exchange';
import { METRES_IN_FILE } from '#core/measure';
import { inspectBook, isBookFile, proposedLayout } from '../books.ts';
import { geoidFrom, readBytes } from '../carry.ts';
import { CannotDo } from '../problems.ts';
import { systemClaimed } from '../registry.ts';
import { isInDegrees, load, unitIn, type Loaded } from '../load.ts';
import { inspectPicture } from './inspect-picture.ts';
import { loadedDrawing } from '../layers.ts';
import { inMetres, inspectDrawing, inspectShapes, isDrawing, MOST_ROWS, rowsAsText } from './inspect-drawing.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { LAYOUT, READING } from '../options.ts';

const OPTIONS = { ...READING, ...LAYOUT };
type Options = Values<typeof OPTIONS> & Common;

/** Kinds, counts by layer, extents, units, and what could not be read and why. */
async function inspect([file]: string[], options: Options): Promise<Outcome> {
  if (isDrawing(file)) return inspectDrawing(file, options);
  const bytes = readBytes(file);
  const format = formatOf(bytes, null) ?? formatOfEnding(file);
  if (isTiff(bytes) && isTiffGrid(bytes)) return inspectElevations(file, readTiffGrid(bytes), options);
  const text = extname(file).toLowerCase() === '.asc' ? decodeText(bytes) : null;
  if (text?.ok && isTextGrid(text.text)) return inspectElevations(file, readTextGrid(text.text), options);
  if (format.holds.includes('picture')) {
    const picture = await inspectPicture(file, bytes, unitIn(options.unit) ?? 'm');
    if (picture) return picture;
  }
  if (format.holds.includes('grid')) return inspectGrid(file, bytes);
  if (format.instead) throw new CannotDo(`${basename(file)} is a ${format.called}. ${format.instead}`);
  if (options.layout || isBookFile(file)) return inspectBook(file, options);
  const proposed = ['.txt', '.csv', '.raw', '.xlsx'].includes(extname(file).toLowerCase())
    ? proposedLayout(file)
    : null;
  if (proposed) return inspectReadings(file, proposed);
  const loaded = load(file, { ...options, partly: true, geographic: true });
  if (loaded.kind === 'dxf') return loaded.called ? inspectShapes(loaded, options) : inspectDrawing(file, options);
  const part = of(loaded);
  if (isNothing(loaded)) {
    const why = part.notRead[0];
    throw new CannotDo(`${loaded.file} holds nothing that can be read${why ? `: ${why.where}: ${why.why}` : ''}.`);
  }
  const report = { file: loaded.file, kind: loaded.kind, ...part, basis: claimedBasis(loaded, part.extent) };
  const extent =
    report.basis.degrees && report.extent
      ? `longitude ${report.extent[0]}° … ${report.extent[2]}°, latitude ${report.extent[1]}° … ${report.extent[3]}°`
      : report.extent
        ? `E ${report.extent[0].toFixed(3)} … ${report.extent[2].toFixed(3)}, N ${report.extent[1].toFixed(3)} … ${report.extent[3].toFixed(3)} m`
        : 'no extent';
  return {
    json: report,
    text: [
      `${report.file}: ${report.kind}, unit ${report.unit ?? 'not stated'}`,
      ...Object.entries(report.counts).map(([k, v]) => `  ${v} ${k}`),
      ...('rows' in report ? rowsAsText(report.rows, MOST_ROWS) : []),
      ...('alignments' in report ? report.alignments.map(alignmentText) : []),
      ...Object.entries(report.layers).map(
        ([k, v]) => `  ${'rows' in report ? 'not read, element' : 'layer'} ${k}: ${v}`,
      ),
      `  ${extent}`,
      `  basis claimed: ${basisText(report.basis)}`,
      ...report.notRead.slice(0, 20).map((p) => `  not read: ${p.where}: ${p.why}`),
    ].join('\n'),
  };
}

const alignmentText = ({ name, length, start, equations }: { name: string; length: number; start: number; equations: readonly { back: number; ahead: number }[] }): string =>
  `  alignment ${name}: ${length.toFixed(3)} m from chainage ${start.toFixed(3)}${equations.map((e) => `, ${e.back.toFixed(3)} back = ${e.ahead.toFixed(3)} ahead`).join('')}`; // prettier-ignore

type LoadedRows = Exclude<Loaded, { kind: 'dxf' }>;

const isNothing = (l: LoadedRows): boolean =>
  l.kind === 'points'
    ? l.read.x.length === 0
    : l.kind === 'landxml'
      ? [l.content.points, l.content.breaklines, l.content.features, l.content.surfaces, l.content.chambers].every(
          (of) => of.length === 0,
        )
      : l.content.points.length + l.content.lines.length === 0;

/** A table or tagged text that looks like readings: the layout proposed for it, to be looked at and given back. */
function inspectReadings(file: string, proposed: NonNullable<ReturnType<typeof proposedLayout>>): Outcome {
  const { layout, tags } = proposed;
  const rows = layout.rows.map((r) => ({ tag: r.tag, kind: r.kind, fields: r.fields.map((f) => f.role) }));
  return {
    json: { file: basename(file), kind: 'readings', layoutProposed: layout, tags },
    text: [
      `${basename(file)}: readings; a layout is proposed, “--json” prints it`,
      `  lengths in ${layout.unit}, angles ${layout.angle}, ${layout.split === 'fixed' ? 'fixed columns' : `separated by ${JSON.stringify(layout.separator)}`}`,
      ...rows.map((r) => `  ${r.tag || 'every row'}: ${r.kind}${r.fields.length ? `: ${r.fields.join(', ')}` : ''}`),
    ].join('\n'),
  };
}

/** What a file says of its own basis, and whether its places agree with it. */
interface ClaimedBasis {
  unit: string | null;
  system: string | null;
  /** The published system that the name leads to. */
  known: { code: string | null; name: string } | null;
  geoid: string | null;
  degrees: boolean;
  /** Whether the extent lies where the system is meant for; null when nobody can tell. */
  insideArea: boolean | null;
}

function claimedBasis(loaded: LoadedRows, extent: [number, number, number, number] | null): ClaimedBasis {
  const claims =
    loaded.kind === 'points'
      ? loaded.claims
      : loaded.kind === 'landxml'
        ? { system: loaded.content.system || null, geoid: loaded.content.verticalDatum || null }
        : { system: null, geoid: null };
  const degrees = isInDegrees(loaded);
  const known = systemClaimed(claims.system);
  const box = known?.extent;
  return {
    unit: loaded.kind === 'points' ? loaded.claims.unit : loaded.kind === 'geojson' ? null : loaded.unit,
    system: claims.system,
    known: known ? { code: known.code, name: known.name } : null,
    geoid: claims.geoid,
    degrees,
    insideArea:
      box && extent && !degrees
        ? extent[0] >= box[0] && extent[1] >= box[1] && extent[2] <= box[2] && extent[3] <= box[3]
        : null,
  };
}

const basisText = (b: ClaimedBasis): string =>
  [
    b.unit ? `unit ${b.unit}` : 'no unit',
    b.system ? `system ${b.system}${b.known ? ` (${b.known.name})` : ', which the list does not know'}` : 'no system',
    b.geoid ? `geoid ${b.geoid}` : 'no geoid',
    ...(b.degrees ? ['latitude and longitude'] : []),
    ...(b.insideArea === false ? ['but its places lie outside that system’s area'] : []),
  ].join(', ');

/** A grid of elevations: its nodes, how far they are apart, and how high. */
function inspectElevations(file: string, read: ReturnType<typeof readTiffGrid>, options: Options): Outcome {
  const name = basename(file);
  if (!read.ok) throw new CannotDo(`${name}: ${read.reason}`);
  const { columns, rows, values, unit: said, system, degrees } = read.grid;
  const unit = unitIn(options.unit) ?? said;
  const factor = METRES_IN_FILE[unit ?? 'm'];
  let [lowest, highest, empty] = [Infinity, -Infinity, 0];
  for (const v of values) {
    if (Number.isNaN(v)) empty++;
    else [lowest, highest] = [Math.min(lowest, v), Math.max(highest, v)];
  }
  if (empty === values.length) throw new CannotDo(`${name}: none of its nodes says an elevation.`);
  const extent = extentOfGrid({ ...read.grid, unit });
  const spacing = spacingOf(read.grid).map((v) => (degrees ? v : v * factor));
  const known = systemClaimed(system);
  const basis = { unit: said, system, known: known ? { code: known.code, name: known.name } : null, geoid: null, degrees, insideArea: null }; // prettier-ignore
  return {
    json: { file: name, kind: 'elevation grid', unit, columns, rows, spacing, empty, lowest: lowest * factor, highest: highest * factor, extent, basis }, // prettier-ignore
    text: [
      `${name}: elevation grid, ${columns} × ${rows} nodes, ${degrees ? 'about ' : ''}${spacing.map((v) => v.toFixed(degrees ? 0 : 3)).join(' × ')} m apart, unit ${unit ?? 'not stated'}`,
      `  elevations ${(lowest * factor).toFixed(3)} … ${(highest * factor).toFixed(3)} m; ${empty} nodes have none`,
      degrees
        ? `  longitude ${extent[0].toFixed(6)}° … ${extent[2].toFixed(6)}°, latitude ${extent[1].toFixed(6)}° … ${extent[3].toFixed(6)}°`
        : `  E ${extent[0].toFixed(3)} … ${extent[2].toFixed(3)}, N ${extent[1].toFixed(3)} … ${extent[3].toFixed(3)} m`,
      `  basis claimed: ${basisText(basis)}`,
    ].join('\n'),
  };
}

/** Geoid and datum grids: what they are and where they apply, or why they cannot be used. */
async function inspectGrid(file: string, bytes: Uint8Array): Promise<Outcome> {
  const name = basename(file);
  if (isNtv2(bytes) || /\.gsb$/i.test(file)) {
    const read = readNtv2(bytes);
    if (!read.ok) throw new CannotDo(`${name}: ${read.reason}`);
    const { subgrids, from, to } = read.facts;
    return {
      json: { file: name, kind: 'datum grid', from, to, subgrids },
      text: `${name}: datum grid from ${from} to ${to}, ${subgrids.length} subgrids, the first ${subgrids[0].rows} × ${subgrids[0].columns} nodes`,
    };
  }
  const grid = await geoidFrom(file);
  const area = geoidArea(grid);
  const { rows, columns, latitudeStep, longitudeStep } = grid;
  return {
    json: { file: name, kind: 'geoid grid', area, rows, columns, latitudeStep, longitudeStep },
    text: `${name}: geoid grid, ${rows} × ${columns} nodes, ${area.south}° to ${area.north}° north, ${area.west}° to ${area.east}° east`,
  };
}

function of(loaded: LoadedRows) {
  if (loaded.kind === 'points') {
    const { read, layout, encoding } = loaded;
    return {
      unit: layout.unit,
      counts: {
        points: read.x.length,
        'without elevation': read.z.filter((z) => Number.isNaN(z)).length,
        'rows not read': read.refusedCount,
      } as Record<string, number>,
      layers: {} as Record<string, number>,
      extent: extentOf(read.x, read.y),
      layout: { ...layout, encoding },
      notRead: read.refused.map((r) => ({ where: `row ${r.row}`, why: r.reason })),
    };
  }
  if (loaded.kind === 'landxml') return ofLandXml(loaded);
  const { content } = loaded;
  const x = [...content.points.map((p) => p.x), ...content.lines.flatMap((l) => l.coordinates.map((c) => c[0]))];
  const y = [...content.points.map((p) => p.y), ...content.lines.flatMap((l) => l.coordinates.map((c) => c[1]))];
  return {
    unit: null,
    counts: { points: content.points.length, lines: content.lines.length } as Record<string, number>,
    layers: {} as Record<string, number>,
    extent: extentOf(x, y),
    notRead: content.problems,
  };
}

/** Counts of what LandXML holds, layer by layer and kind by kind as of a drawing, and how its alignments run. */
function ofLandXml(loaded: Extract<Loaded, { kind: 'landxml' }>) {
  const { content, unit } = loaded;
  const drawing = loadedDrawing(loaded)!;
  const factor = METRES_IN_FILE[unit ?? 'm'];
  const { rows, extent } = inMetres(tallyOf(drawing.content).table(drawing.content), factor);
  const counts: Record<string, number> = {
    points: content.points.length,
    breaklines: content.breaklines.length,
    'plan features': content.features.length,
    profiles: content.profiles.length,
    'cross sections': content.crossSections.length,
    chambers: content.chambers.length,
    pipes: content.pipes.length,
    surfaces: content.surfaces.length,
  };
  for (const s of content.surfaces) counts[`faces of ${s.name}`] = s.faces.length / 3;
  const boxes = content.surfaces.map((s) => extentOf(s.x, s.y)).filter((b) => b !== null).map((b) => b.map((v) => v * factor) as Box); // prettier-ignore
  const alignments = content.alignments.map(({ name, length, start, equations }) => ({ name, length: length * factor, start: start * factor, equations: equations.map((e) => ({ along: e.along * factor, back: e.back * factor, ahead: e.ahead * factor })) })); // prettier-ignore
  return {
    unit,
    counts,
    layers: content.unread,
    rows,
    alignments,
    extent: [...boxes, ...(extent ? [extent] : [])].reduce<Box | null>(around, null),
    notRead: content.problems.map((p) => ({ where: `line ${p.line}`, why: p.what })),
  };
}

const around = (a: Box | null, b: Box): Box => a ? [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])] : b; // prettier-ignore

function extentOf(x: ArrayLike<number>, y: ArrayLike<number>): [number, number, number, number] | null {
  const out: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < x.length; i++) {
    out[0] = Math.min(out[0], x[i]);
    out[1] = Math.min(out[1], y[i]);
    out[2] = Math.max(out[2], x[i]);
    out[3] = Math.max(out[3], y[i]);
  }
  return x.length ? out : null;
}

export const INSPECT = defineVerb({
  name: 'inspect',
  about: 'says what a file holds, and what could not be read',
  files: { name: 'FILE', least: 1, most: 1 },
  options: OPTIONS,
  run: inspect,
});
