import { readFileSync, statSync } from 'node:fs';
import { basename, extname } from 'node:path';
import {
  decodeText,
  guessLayout,
  LARGEST_TEXT,
  readDxf,
  readGeoJson,
  readLandXml,
  readPoints,
  surfaceFromTin,
  unitOfLandXml,
  type DxfContent,
  rowsOfFile,
  type FileClaims,
  type GeoJsonContent,
  type LandXmlRead,
  type ReadPoints,
  type Role,
  type TextLayout,
} from '#core/exchange';
import { DEFAULT_CODE_LIST } from '#core/codes';
import { METRES_IN, type LengthUnit } from '#core/measure';
import type { Surface } from '#core/terrain';
import { CannotDo, WrongUsage } from './problems.ts';

/** How text points are laid out, as far as the command says. */
export interface TextOptions {
  order?: string;
  unit?: string;
  /** Plan columns are longitude and latitude. */
  degrees?: boolean;
}

export type Loaded =
  | { kind: 'points'; file: string; layout: TextLayout; read: ReadPoints; encoding: string; claims: FileClaims }
  | { kind: 'dxf'; file: string; content: DxfContent; unit: LengthUnit | null }
  | { kind: 'landxml'; file: string; content: LandXmlRead; unit: LengthUnit | null }
  | { kind: 'geojson'; file: string; content: GeoJsonContent };

export const unitOption = (text: string | undefined): LengthUnit | undefined => {
  if (text === undefined || text === 'm' || text === 'ft' || text === 'usft') return text;
  throw new WrongUsage(`--unit is m, ft or usft, not “${text}”.`);
};

/** A file's bytes, refused beyond what text is read of. */
export function boundedBytes(file: string): Uint8Array {
  try {
    const { size } = statSync(file);
    if (size > LARGEST_TEXT)
      throw new CannotDo(`${basename(file)} has ${Math.round(size / 1048576)} MB; at most 512 MB are read at once.`);
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    if (error instanceof CannotDo) throw error;
    throw new CannotDo(`${file} cannot be opened: ${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}.`);
  }
}

/** Reads a file of any kind by its ending. */
export function load(file: string, options: TextOptions = {}): Loaded {
  const name = basename(file);
  const bytes = boundedBytes(file);
  if (extname(file).toLowerCase() === '.xlsx') return loadRows(name, bytes, options);
  const decoded = decodeText(bytes);
  if (!decoded.ok) throw new CannotDo(`${name}: ${decoded.reason}`);
  const { text } = decoded;
  switch (extname(file).toLowerCase()) {
    case '.dxf': {
      const content = readDxf(text);
      const unit = content.units === 6 ? 'm' : content.units === 2 ? 'ft' : content.units === 21 ? 'usft' : null;
      return { kind: 'dxf', file: name, content, unit };
    }
    case '.xml': {
      const content = readLandXml(text);
      return { kind: 'landxml', file: name, content, unit: unitOfLandXml(content.linearUnit) };
    }
    case '.geojson':
    case '.json':
      return { kind: 'geojson', file: name, content: readGeoJson(text) };
    default:
      return loadRows(name, bytes, options);
  }
}

/** Text, or the first sheet of a spreadsheet, as points. */
function loadRows(name: string, bytes: Uint8Array, options: TextOptions): Loaded {
  const rows = rowsOfFile(bytes);
  if (!rows.ok) throw new CannotDo(`${name}: ${rows.reason}`);
  const { text, encoding, claims } = rows;
  const layout = textLayout(name, text, options);
  return { kind: 'points', file: name, layout, read: readPoints(text, layout)!, encoding, claims };
}

function textLayout(name: string, text: string, { order, unit, degrees }: TextOptions): TextLayout {
  const rows = text.slice(0, 200_000).split(/\r?\n/).slice(0, 200);
  const guess = guessLayout(rows, {
    fileName: '',
    unit: unitOption(unit) ?? 'm',
    near: [],
    order: 'EN',
    knownCodes: new Set(DEFAULT_CODE_LIST.codes.map((c) => c.code)),
  });
  const { layout } = guess;
  const said = { order: guess.why.order === 'the headings say so', unit: guess.why.unit === 'a heading names it' };
  if (order !== undefined) {
    if (!/^[PNEZDLW_]{2,60}$/.test(order))
      throw new WrongUsage('--order takes letters P N E Z D L W and _ for a column to skip, for example PENZD.');
    layout.roles = [...order] as Role[];
  } else if (!said.order)
    throw new CannotDo(
      `${name} does not say the order of its columns. Give it: --order PENZD, for number, east, north, elevation, code.`,
    );
  if (degrees !== undefined) layout.degrees = degrees;
  if (unit !== undefined) layout.unit = unitOption(unit)!;
  else if (!said.unit && !(layout.degrees && !layout.roles.includes('Z')))
    throw new CannotDo(`${name} does not say its unit. Give it: --unit m, ft or usft.`);
  return layout;
}

export interface PlainPoints {
  number: string[];
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  description: string[];
}

const needUnit = (loaded: { file: string; unit: LengthUnit | null }, options: TextOptions): number => {
  const unit = unitOption(options.unit) ?? loaded.unit;
  if (!unit) throw new CannotDo(`${loaded.file} does not say its unit. Give it: --unit m, ft or usft.`);
  return METRES_IN[unit];
};

/** Points of a file in metres, whatever its kind. */
export function pointsOf(loaded: Loaded, options: TextOptions): PlainPoints {
  if (loaded.kind === 'points') return loaded.read;
  const list: { number: string; x: number; y: number; z: number; description: string }[] =
    loaded.kind === 'dxf'
      ? loaded.content.points.map((p) => ({ ...p, number: '', description: p.layer }))
      : loaded.kind === 'landxml'
        ? loaded.content.points.map((p) => ({ ...p, number: p.name, description: p.code }))
        : loaded.content.points.map((p) => ({
            ...p,
            number: String(p.properties.number ?? ''),
            description: String(p.properties.description ?? ''),
          }));
  const factor = loaded.kind === 'geojson' ? METRES_IN[unitOption(options.unit) ?? 'm'] : needUnit(loaded, options);
  return {
    number: list.map((p) => p.number),
    x: Float64Array.from(list, (p) => p.x * factor),
    y: Float64Array.from(list, (p) => p.y * factor),
    z: Float64Array.from(list, (p) => p.z * factor),
    description: list.map((p) => p.description),
  };
}

export interface PlainLine {
  closed: boolean;
  /** x, y, z, x, y, z … metres. */
  places: number[];
}

/** Lines of a drawing, LandXML or GeoJSON file in metres. */
export function linesOf(loaded: Loaded, options: TextOptions): PlainLine[] {
  if (loaded.kind === 'points')
    throw new CannotDo(`${loaded.file} holds points, not lines. Build lines from it first: dunrik lines.`);
  const factor = loaded.kind === 'geojson' ? METRES_IN[unitOption(options.unit) ?? 'm'] : needUnit(loaded, options);
  const scaled = (places: number[]): number[] => places.map((v) => v * factor);
  if (loaded.kind === 'dxf')
    return loaded.content.polylines
      .filter((p) => p.spatial)
      .map((p) => ({ closed: p.closed, places: scaled(p.x.flatMap((x, i) => [x, p.y[i], p.z[i]])) }));
  if (loaded.kind === 'landxml') {
    const list = loaded.content.breaklines.length ? loaded.content.breaklines : loaded.content.features;
    return list.map((l) => ({ closed: false, places: scaled(l.spatial) }));
  }
  return loaded.content.lines.map((l) => ({
    closed: l.closed,
    places: scaled(l.coordinates.flatMap((c) => [c[0], c[1], c[2] ?? NaN])),
  }));
}

/** The one closed course of a boundary file, x, y … */
export function ringOf(file: string, options: TextOptions): Float64Array {
  const loaded = load(file, options);
  if (loaded.kind === 'points') {
    const { x, y } = loaded.read;
    if (x.length < 3) throw new CannotDo(`${loaded.file} has ${x.length} points; a boundary needs three.`);
    return Float64Array.from({ length: x.length * 2 }, (_, i) => (i % 2 ? y[i >> 1] : x[i >> 1]));
  }
  const [line] = linesOf(loaded, options);
  if (!line || line.places.length < 9) throw new CannotDo(`${loaded.file} holds no line that could be a boundary.`);
  const ring: number[] = [];
  for (let i = 0; i < line.places.length; i += 3) ring.push(line.places[i], line.places[i + 1]);
  const n = ring.length;
  if (ring[0] === ring[n - 2] && ring[1] === ring[n - 1]) ring.length = n - 2;
  return Float64Array.from(ring);
}

/** The first surface of a LandXML file, kept as received, metres. */
export function surfaceOf(file: string, options: TextOptions): Surface {
  const loaded = load(file, options);
  if (loaded.kind !== 'landxml')
    throw new CannotDo(`${loaded.file} is no LandXML file; surfaces are kept as LandXML. Make one: dunrik surface.`);
  const [tin] = loaded.content.surfaces;
  if (!tin) {
    const why = loaded.content.problems[0];
    throw new CannotDo(`${loaded.file} holds no surface${why ? ` (line ${why.line}: ${why.what})` : ''}.`);
  }
  const surface = surfaceFromTin(tin, unitOption(options.unit) ?? loaded.unit ?? 'm');
  if (surface.triangles.length === 0)
    throw new CannotDo(`The surface “${tin.name}” in ${loaded.file} has no triangles.`);
  return surface;
}
