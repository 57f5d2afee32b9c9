import { zipSync } from 'fflate';
import { z } from 'zod';
import { hashBytes } from '#core/kernel';
import {
  distinctName,
  fileStem,
  NONE_SIGNS,
  OUT_COLUMNS,
  writeDxf,
  writeLandXml,
  writeText,
  type TextOutSettings,
} from '#core/exchange';
import { fromMetres } from '#core/measure';
import { isPublished, type CoordinateSystem } from '#core/basis';
import type { ChainResult } from '#core/chain';
import { unitSchema, type ProjectDocument } from '#core/project';
import { basisLine, coordinatesSchema, placeResult, staysLevel } from './coordinates.ts';
import { drawingOf, landXmlOf, pointRow, rowsOut } from './drawing.ts';
import type { ReadBack } from './comparison.ts';
import { readBackDxf } from './read-back-drawing.ts';
import { readBackLandXml } from './read-back-landxml.ts';
import { readBackText } from './read-back-text.ts';

const decimals = z.int().min(0).max(6);
const partsSchema = z.object({
  points: z.boolean(),
  lines: z.boolean(),
  contours: z.boolean(),
  surface: z.boolean(),
  /** The surface whose contours and faces are drawn, by id; the ground unless said. */
  of: z.string().min(1).max(40).optional(),
  symbols: z.boolean().optional(),
  labels: z.boolean().optional(),
});

export const fileSpecSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('csv'),
    order: z
      .array(z.enum(OUT_COLUMNS))
      .min(2)
      .max(5)
      .refine(
        (o) => o.includes('N') && o.includes('E') && new Set(o).size === o.length,
        'North and east belong in it, each column once.',
      ),
    decimals,
    separator: z.enum([',', ';', '\t', ' ']),
    headings: z.boolean(),
    control: z.boolean(),
    decimal: z.enum(['.', ',']).optional(),
    none: z.enum(NONE_SIGNS).optional(),
  }),
  z.object({
    kind: z.literal('dxf'),
    version: z.enum(['R12', '2000']),
    decimals,
    parts: partsSchema,
    /** Height of point numbers in drawing units, 0 for none; or on paper at the plot scale, mm, which comes before. */
    textHeight: z.number().min(0).max(100),
    textMm: z.number().min(0.5).max(20).optional(),
  }),
  z.object({
    kind: z.literal('landxml'),
    decimals,
    /** Surfaces by id; all of them unless said. */
    surfaces: z.array(z.string().min(1).max(40)).max(200).optional(),
  }),
]);
export type FileSpec = z.infer<typeof fileSpecSchema>;

export const packageSpecSchema = z.object({
  name: z.string().trim().min(1).max(80),
  unit: unitSchema,
  coordinates: coordinatesSchema.default({ kind: 'grid' }),
  files: z.array(fileSpecSchema).min(1).max(12),
  /** Without the files that cannot be made: somebody was told which, and wants the others. */
  partial: z.boolean().optional(),
});
export type PackageSpec = z.infer<typeof packageSpecSchema>;

export interface Made {
  project: string;
  revision: number;
  /** ISO date and time. */
  at: string;
  by: string;
}

export interface ManifestFile {
  name: string;
  what: string;
  bytes: number;
  sha256: string;
  readBack: ReadBack;
}

export interface Manifest {
  madeBy: 'Dunrik';
  package: string;
  project: string;
  revision: number;
  made: string;
  by: string;
  unit: string;
  basis: string;
  /** The same for programs; lengths in metres. */
  coordinates: {
    kind: PackageSpec['coordinates']['kind'];
    system: { name: string; code: string | null; definition: string } | null;
    scaleFactor: number;
    heights: string;
    geoid: string | null;
    epoch: number | null;
  };
  /** Queries that nobody had decided when it was made. */
  openQueries: number;
  /** The sentences of those that should have stopped it. */
  stopQueries: string[];
  files: ManifestFile[];
  /** Files that were asked for and could not be made, and why. */
  notMade: { what: string; why: string }[];
}

export interface Package {
  manifest: Manifest;
  zip: Uint8Array;
}

/** Thrown with a sentence when a package cannot be made; with the files that could, where some could. */
export class PackageRefused extends Error {
  constructor(
    message: string,
    readonly couldBe: string[] = [],
  ) {
    super(message);
  }
}

/** Writes every file, reads each back, and packs them with a manifest. */
export function makePackage(doc: ProjectDocument, result: ChainResult, spec: PackageSpec, made: Made): Package {
  const placed = placeResult(doc, result, spec.coordinates, spec.unit);
  if (!placed.ok) throw new PackageRefused(placed.reason);
  const onlyText = spec.files.every((f) => f.kind === 'csv');
  if (spec.coordinates.kind === 'geographic' && !onlyText)
    throw new PackageRefused(
      'Drawings and LandXML go out in plane coordinates. Latitude and longitude are for points as text.',
    );
  if (!onlyText && !staysLevel(doc, spec.coordinates))
    throw new PackageRefused(
      'The fit tilts a plane, so contours would not stay level on the way back. Only points as text go out like this.',
    );
  const files: { name: string; bytes: Uint8Array }[] = [];
  const entries: ManifestFile[] = [];
  const names = new Set(['manifest.json']);
  const notMade: Manifest['notMade'] = [];
  for (const file of spec.files) {
    const one = oneOrWhyNot(doc, placed.result, file, spec, made);
    if ('why' in one) {
      notMade.push(one);
      continue;
    }
    const { what, text, readBack, extension } = one;
    const bytes = new TextEncoder().encode(text);
    const stem = `${fileStem(made.project, what)}-${made.at.slice(0, 10)}-r${made.revision}`;
    const name = distinctName(names, stem, extension);
    files.push({ name, bytes });
    entries.push({ name, what, bytes: bytes.length, sha256: hashBytes(bytes), readBack });
  }
  if (notMade.length && (entries.length === 0 || !spec.partial))
    throw new PackageRefused(
      `${notMade.map((n) => `${n.what}: ${n.why}`).join(' ')} Nothing was made.`,
      entries.map((e) => e.what),
    );
  const unresolved = result.queries.filter((q) => !q.accepted);
  const manifest: Manifest = {
    madeBy: 'Dunrik',
    package: spec.name,
    project: made.project,
    revision: made.revision,
    made: made.at,
    by: made.by,
    unit: spec.unit,
    basis: basisLine(doc, placed.about, spec.unit),
    coordinates: {
      kind: spec.coordinates.kind,
      system: systemOut(doc.basis.system),
      scaleFactor: doc.basis.factor,
      heights: doc.basis.heights,
      geoid: doc.basis.geoid?.name ?? null,
      epoch: doc.basis.epoch,
    },
    openQueries: unresolved.length,
    stopQueries: unresolved.filter((q) => q.weight === 'stop').map((q) => q.text),
    files: entries,
    notMade,
  };
  const tree: Record<string, Uint8Array> = {
    'manifest.json': new TextEncoder().encode(JSON.stringify(manifest, null, 2) + '\n'),
  };
  for (const f of files) tree[f.name] = f.bytes;
  return { manifest, zip: zipSync(tree, { level: 6, mtime: new Date(made.at) }) };
}

const CALLED: Record<FileSpec['kind'], string> = { csv: 'Points as text', dxf: 'Drawing', landxml: 'LandXML' };

/** A file as it was written and read back; or why there is none that could be sent. */
function oneOrWhyNot(doc: ProjectDocument, result: ChainResult, file: FileSpec, spec: PackageSpec, made: Made) {
  const what = CALLED[file.kind];
  try {
    const one = writeOne(doc, result, file, spec, made);
    if (one.readBack.ok) return one;
    return { what, why: `it does not come back as it was meant: ${one.readBack.problems[0]}.` };
  } catch (error) {
    if (error instanceof PackageRefused) return { what, why: error.message };
    throw error;
  }
}

function writeOne(doc: ProjectDocument, result: ChainResult, file: FileSpec, spec: PackageSpec, made: Made) {
  if (file.kind === 'csv') {
    const rows = rowsOut(doc, result.points, file.control).map((row) => pointRow(result.points, row));
    if (rows.length === 0) throw new PackageRefused('There are no points to write. Import a file first.');
    if (file.decimal === ',' && file.separator === ',')
      throw new PackageRefused(
        'A comma cannot be both the decimal sign and between the columns. Choose another separator.',
      );
    const settings: TextOutSettings = {
      ...file,
      unit: spec.unit,
      ...(spec.coordinates.kind === 'geographic' ? { degrees: true } : {}),
    };
    const text = writeText(rows, settings);
    return {
      what: 'points',
      text,
      readBack: readBackText(text, rows, settings),
      extension: file.separator === '\t' || file.separator === ' ' ? 'txt' : 'csv',
    };
  }
  const asked = file.kind === 'dxf' ? [file.parts.of ?? []].flat() : (file.surfaces ?? []);
  if (asked.some((id) => !doc.surfaces.some((s) => s.id === id)))
    throw new PackageRefused('A surface that was asked for is no longer in the project. Choose the surfaces anew.');
  if (file.kind === 'dxf') {
    const drawing = { ...drawingOf(doc, result, file.parts), sent: made.at };
    const textHeight = file.textMm === undefined ? file.textHeight : fromMetres((file.textMm / 1000) * doc.settings.plotScale, spec.unit); // prettier-ignore
    const settings = { version: file.version, unit: spec.unit, decimals: file.decimals, textHeight };
    const empty =
      drawing.points.length === 0 &&
      (drawing.inserts ?? []).length === 0 &&
      (drawing.texts ?? []).length === 0 &&
      drawing.lines.length === 0 &&
      drawing.contours.length === 0 &&
      !drawing.surface?.triangles.length;
    if (empty)
      throw new PackageRefused('The drawing would be empty: nothing is chosen, or what is chosen has nothing in it.');
    const text = writeDxf(drawing, settings);
    return { what: `drawing ${file.version}`, text, readBack: readBackDxf(text, drawing, settings), extension: 'dxf' };
  }
  const content = landXmlOf(doc, result, made.project, made.at, file.surfaces);
  const { system } = doc.basis;
  if (isPublished(system))
    content.system = {
      name: spec.coordinates.kind === 'grid' ? system.name : `${system.name}, ${spec.coordinates.kind} coordinates`,
      epsg: spec.coordinates.kind === 'grid' ? (system.code?.replace('EPSG:', '') ?? null) : null,
      verticalDatum: doc.basis.geoid?.name ?? null,
    };
  if (content.points.length === 0) throw new PackageRefused('There are no points to write. Import a file first.');
  const text = writeLandXml(content, spec.unit, file.decimals);
  return { what: 'ground', text, readBack: readBackLandXml(text, content, spec.unit, file.decimals), extension: 'xml' };
}

const systemOut = (system: CoordinateSystem): Manifest['coordinates']['system'] =>
  isPublished(system) ? { name: system.name, code: system.code, definition: system.definition } : null;
