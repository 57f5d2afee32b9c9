import { readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import {
  asPolyline,
  isShapefilePart,
  isSpreadsheet,
  packShapefile,
  shapefileStem,
  decodeText,
  formatOf,
  guessLayout,
  LARGEST_TEXT,
  formatOfEnding,
  notReadOf,
  pointsIn,
  readPoints,
  surfaceFromTin,
  drawnElevation,
  type DxfContent,
  rowsOfFile,
  sampleRows,
  withLost,
  type FileClaims,
  type FileContent,
  type NotRead,
  type ReadPoints,
  type Role,
  type TextLayout,
} from '#core/exchange';
import { DEFAULT_CODE_LIST } from '#core/codes';
import { FILE_UNITS, METRES_IN_FILE, type FileUnit, type LengthUnit } from '#core/measure';
import { chordPlaces } from '#core/linework';
import { pointInRing, ringArea, ringCrossesItself } from '#core/kernel';
import type { Surface } from '#core/terrain';
import type { Account } from './account.ts';
import { cannotOpen, CannotDo, WrongUsage } from './problems.ts';

/** How text points are laid out, as far as the command says. */
export interface TextOptions {
  order?: string;
  unit?: string;
  /** Plan columns are longitude and latitude. */
  degrees?: boolean;
  /** Longitudes and latitudes are read as well: whoever asks for none would take them for metres. */
  geographic?: boolean;
  /** The sheet of a spreadsheet. */
  sheet?: string;
  /** Takes what is not read. */
  account?: Account;
  /** A file that is not read to its end is taken as far as it goes. */
  partly?: boolean;
}

export type Loaded =
  | { kind: 'points'; file: string; layout: TextLayout; read: ReadPoints; encoding: string; claims: FileClaims }
  | ({ file: string } & FileContent);

export const unitOption = (text: string | undefined): LengthUnit | undefined => {
  if (text === undefined || text === 'm' || text === 'ft' || text === 'usft') return text;
  throw new WrongUsage(`A unit that is written is m, ft or usft, not “${text}”.`);
};

/** The unit of what comes in. */
export const unitIn = (text: string | undefined): FileUnit | undefined => {
  if (text === undefined || FILE_UNITS.includes(text as FileUnit)) return text as FileUnit | undefined;
  throw new WrongUsage(`--unit is ${FILE_UNITS.join(', ')}, not “${text}”.`);
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
    throw cannotOpen(file, error);
  }
}

/** The text of a file, a spreadsheet's sheet as rows. */
export function textOf(file: string, sheet?: string): string {
  const name = basename(file);
  const bytes = boundedBytes(file);
  const read = isSpreadsheet(bytes) ? rowsOfFile(bytes, { sheet }) : decodeText(bytes);
  if (!read.ok) throw new CannotDo(`${name}: ${read.reason}`);
  return read.text;
}

/** Reads a file of any kind by its ending; what cannot be read of it goes into the account. */
export function load(file: string, options: TextOptions = {}): Loaded {
  const loaded = loadAny(file, options);
  if (isInDegrees(loaded) && !options.geographic)
    throw new CannotDo(`${loaded.file} is in degrees of longitude and latitude. Bring it to a plane system first: convert ${loaded.file} OUT --to EPSG:32735, for example.`); // prettier-ignore
  const { notRead, count, unread, whole } = refusedOf(loaded);
  if (!whole && !options.partly) {
    const [first] = notRead;
    throw new CannotDo(`${loaded.file} is not read to its end: ${first.where}: ${first.why}. What is missing is not known, and nothing was made from the rest.`); // prettier-ignore
  }
  const { account } = options;
  for (const { where, why } of notRead) account?.add(loaded.file, where, why);
  if (count > notRead.length) account?.more(loaded.file, count - notRead.length);
  for (const [kind, n] of Object.entries(unread)) account?.add(loaded.file, kind, `${n} of this kind are not read`, n);
  return loaded;
}

export const isInDegrees = (l: Loaded): boolean => l.kind === 'points' && l.layout.degrees === true;

/** What a file says that could not be read, where, and why. */
function refusedOf(l: Loaded): NotRead {
  if (l.kind !== 'points') return notReadOf(l);
  const notRead = l.read.refused.map((r) => ({ where: `row ${r.row}`, why: r.reason }));
  return { notRead, count: l.read.refusedCount, unread: {}, whole: true };
}

/** By its ending, which a command names on purpose. */
function loadAny(file: string, options: TextOptions): Loaded {
  const name = basename(file);
  const bytes = withPartsBeside(file, boundedBytes(file));
  const { content, contentOfBytes } = formatOfEnding(name);
  if (contentOfBytes && formatOf(bytes, null)?.contentOfBytes) return { file: name, ...contentOfBytes(bytes) };
  if (!content && !contentOfBytes) return loadRows(name, bytes, options);
  const decoded = decodeText(bytes);
  if (!decoded.ok) throw new CannotDo(`${name}: ${decoded.reason}`);
  // Of what its ending promises and its beginning does not keep, its reader says what is wrong with it.
  return { file: name, ...(contentOfBytes ? contentOfBytes(bytes) : content!(decoded.text)) };
}

/** A Shapefile with the files of its name that lie beside it: its attributes and its system. */
function withPartsBeside(file: string, shp: Uint8Array): Uint8Array {
  if (extname(file).toLowerCase() !== '.shp') return shp;
  const parts = readdirSync(dirname(file)).filter(
    (n) => n !== basename(file) && isShapefilePart(n) && shapefileStem(n) === shapefileStem(file),
  );
  const beside = parts.map((n): [string, Uint8Array] => [n, boundedBytes(join(dirname(file), n))]);
  return packShapefile(new Map([[basename(file), shp], ...beside]));
}

/** Text, or the first sheet of a spreadsheet, as points. */
function loadRows(name: string, bytes: Uint8Array, options: TextOptions): Loaded {
  const rows = rowsOfFile(bytes, { sheet: options.sheet, step: 1 });
  if (!rows.ok) throw new CannotDo(`${name}: ${rows.reason}`);
  const { text, encoding, claims, lost } = rows;
  const layout = textLayout(name, text, claims, options);
  return { kind: 'points', file: name, layout, read: withLost(readPoints(text, layout)!, lost), encoding, claims };
}

function textLayout(name: string, text: string, claims: FileClaims, { order, unit, degrees }: TextOptions): TextLayout {
  const guess = guessLayout(sampleRows(text), {
    fileName: '',
    unit: asProject(unitIn(unit)),
    near: [],
    order: 'EN',
    knownCodes: new Set(DEFAULT_CODE_LIST.codes.map((c) => c.code)),
    unitSaid: claims.unit,
  });
  const { layout, said } = guess;
  if (order !== undefined) {
    if (!/^[PNEZDLWS_]{2,60}$/.test(order))
      throw new WrongUsage('--order takes letters P N E Z D L W S and _ for a column to skip, for example PENZD.');
    layout.roles = [...order] as Role[];
  } else if (!said.order)
    throw new CannotDo(
      `${name} does not say the order of its columns. Give it: --order PENZD, for number, east, north, elevation, code.`,
    );
  if (degrees !== undefined) layout.degrees = degrees;
  if (unit !== undefined) layout.unit = unitIn(unit)!;
  else if (!said.unit && !(layout.degrees && !layout.roles.includes('Z')))
    throw new CannotDo(`${name} does not say its unit. Give it: --unit ${FILE_UNITS.join(', ')}.`);
  return layout;
}

/** What a project could have; a guess needs no more. */
const asProject = (unit: FileUnit | undefined): LengthUnit => (unit === 'ft' || unit === 'usft' ? unit : 'm');

export interface PlainPoints {
  number: string[];
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  description: string[];
  /** Standard deviations, m, where a column S has them; NaN where a row has none. */
  sdHeight?: Float32Array;
}

/** The unit of a file: what the command says, else what the file says; where neither does, it is asked. */
export function unitOf(loaded: { file: string; unit: FileUnit | null }, options: TextOptions): FileUnit {
  const unit = unitIn(options.unit) ?? loaded.unit;
  if (!unit) throw new CannotDo(`${loaded.file} does not say its unit. Give it: --unit ${FILE_UNITS.join(', ')}.`);
  return unit;
}
const needUnit = (loaded: { file: string; unit: FileUnit | null }, options: TextOptions): number =>
  METRES_IN_FILE[unitOf(loaded, options)];

/** Points of a file in metres, whatever its kind. */
export function pointsOf(loaded: Loaded, options: TextOptions): PlainPoints {
  if (loaded.kind === 'points') return loaded.read;
  const list = pointsIn(loaded);
  const factor = loaded.kind === 'geojson' ? METRES_IN_FILE[unitIn(options.unit) ?? 'm'] : needUnit(loaded, options);
  return {
    number: list.map((p) => p.number),
    x: Float64Array.from(list, (p) => p.x * factor),
    y: Float64Array.from(list, (p) => p.y * factor),
    z: Float64Array.from(list, (p) => p.z * factor),
    description: list.map((p) => p.description),
  };
}

export interface PlainLine {
  /** The layer or code that its file has it on; empty where it says none. */
  layer: string;
  closed: boolean;
  /** x, y, z, x, y, z … metres. */
  places: number[];
}

/** Lines of a drawing, LandXML or GeoJSON file in metres. */
export function linesOf(loaded: Loaded, options: TextOptions): PlainLine[] {
  if (loaded.kind === 'points')
    throw new CannotDo(`${loaded.file} holds points, not lines. Build lines from it first: dunrik lines.`);
  const factor = loaded.kind === 'geojson' ? METRES_IN_FILE[unitIn(options.unit) ?? 'm'] : needUnit(loaded, options);
  const scaled = (places: number[]): number[] => places.map((v) => v * factor);
  if (loaded.kind === 'dxf') return allLines(loaded.content, SAGITTA / factor).map((p) => ({ layer: p.layer, closed: p.closed, places: scaled(placesOf(p, SAGITTA / factor)) })); // prettier-ignore
  if (loaded.kind === 'landxml') {
    const named: readonly { name: string; code?: string; spatial: number[] }[] = [...loaded.content.breaklines, ...loaded.content.features]; // prettier-ignore
    return named.map((l) => ({ layer: l.code ?? l.name, closed: false, places: scaled(l.spatial) }));
  }
  return loaded.content.lines.map((l) => ({
    layer: [l.properties.layer, l.properties.code].find((v): v is string => typeof v === 'string') ?? '',
    closed: l.closed,
    places: scaled(l.coordinates.flatMap((c) => [c[0], c[1], c[2] ?? NaN])),
  }));
}

const allLines = ({ polylines, curves }: DxfContent, sagitta: number): DxfContent['polylines'] => [...polylines, ...curves.map((c) => asPolyline(c, sagitta))]; // prettier-ignore

/** Chords of arcs are off them by at most this, m. */
const SAGITTA = 0.01;

/** Vertices of a drawn line with places added on its arcs; one drawn in plan has the elevation that it says, or none. */
function placesOf(p: DxfContent['polylines'][number], sagitta: number): number[] {
  const n = p.x.length;
  const elevation = (i: number): number => drawnElevation(p, i);
  const at = (i: number): { x: number; y: number } => ({ x: p.x[i], y: p.y[i] });
  return p.x.flatMap((x, i) => {
    const own = [x, p.y[i], elevation(i)];
    const next = (i + 1) % n;
    if (p.bulge[i] === 0 || (next === 0 && !p.closed)) return own;
    return [...own, ...chordPlaces(at(i), at(next), p.bulge[i], sagitta).flatMap((c) => [c.x, c.y, elevation(i)])];
  });
}

export interface Boundary {
  /** x, y … */
  ring: Float64Array;
  holes: Float64Array[];
}

/** Every closed course of a file, x, y … ; points are one in their order. */
export function ringsOf(file: string, options: TextOptions): Float64Array[] {
  const loaded = load(file, options);
  if (loaded.kind === 'points') {
    const { x, y } = loaded.read;
    if (x.length < 3) throw new CannotDo(`${loaded.file} has ${x.length} points; a boundary needs three.`);
    return [checkedRing(loaded.file, Float64Array.from({ length: x.length * 2 }, (_, i) => (i % 2 ? y[i >> 1] : x[i >> 1])))]; // prettier-ignore
  }
  const lines = linesOf(loaded, options);
  const rings = lines
    .filter((l) => isClosed(l) || lines.length === 1)
    .map(ringOfLine)
    .filter((r) => r.length >= 6);
  if (rings.length === 0) throw new CannotDo(`${loaded.file} holds no line that could be a boundary.`);
  const open = lines.length - rings.length;
  if (open > 0) options.account?.add(loaded.file, 'lines', `${open} are not closed, and are no boundary`, open);
  return rings.map((r) => checkedRing(loaded.file, r));
}

/** Closed lines of a file with their layers as names; a second one of a layer has its number behind. */
export function namedRingsOf(file: string, options: TextOptions): { name: string; ring: Float64Array }[] {
  const loaded = load(file, options);
  const closed = linesOf(loaded, options).filter(isClosed);
  const times = new Map<string, number>();
  const rings = closed.map((line) => {
    const own = line.layer || 'zone';
    const n = (times.get(own) ?? 0) + 1;
    times.set(own, n);
    return { name: n === 1 ? own : `${own} ${n}`, ring: checkedRing(loaded.file, ringOfLine(line)) };
  });
  const usable = rings.filter((r) => r.ring.length >= 6);
  if (usable.length === 0) throw new CannotDo(`${loaded.file} holds no closed line that could be a zone.`);
  return usable;
}

/** The boundary in a file: its largest closed course, and the others as holes of it. */
export function boundaryOf(file: string, options: TextOptions): Boundary {
  const rings = ringsOf(file, options).sort((a, b) => Math.abs(ringArea(b)) - Math.abs(ringArea(a)));
  const [ring, ...holes] = rings;
  const apart = holes.filter((h) => !pointInRing(ring, h[0], h[1])).length;
  if (apart > 0)
    throw new CannotDo(`${basename(file)} holds ${apart + 1} boundaries side by side; one is needed, with its holes.`);
  return { ring, holes };
}

function checkedRing(file: string, ring: Float64Array): Float64Array {
  if (ringCrossesItself(ring)) throw new CannotDo(`The boundary in ${file} crosses itself.`);
  return ring;
}

const isClosed = ({ closed, places }: PlainLine): boolean => {
  const n = places.length;
  return closed || (n > 9 && places[0] === places[n - 3] && places[1] === places[n - 2]);
};

function ringOfLine({ places }: PlainLine): Float64Array {
  const ring: number[] = [];
  for (let i = 0; i < places.length; i += 3) ring.push(places[i], places[i + 1]);
  const n = ring.length;
  if (n > 2 && ring[0] === ring[n - 2] && ring[1] === ring[n - 1]) ring.length = n - 2;
  return Float64Array.from(ring);
}

/** The first surface of a LandXML file, kept as received, metres. */
export function surfaceOf(file: string, options: TextOptions): Surface {
  const loaded = load(file, options);
  if (loaded.kind !== 'landxml')
    throw new CannotDo(`${loaded.file} is not a LandXML file; surfaces are kept as LandXML. Make one: dunrik surface.`);
  const [tin] = loaded.content.surfaces;
  if (!tin) {
    const why = loaded.content.problems[0];
    throw new CannotDo(`${loaded.file} holds no surface${why ? ` (line ${why.line}: ${why.what})` : ''}.`);
  }
  const surface = surfaceFromTin(tin, unitOf(loaded, options));
  if (surface.triangles.length === 0)
    throw new CannotDo(`The surface “${tin.name}” in ${loaded.file} has no triangles.`);
  return surface;
}
