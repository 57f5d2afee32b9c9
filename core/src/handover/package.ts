import { zipSync } from 'fflate';
import { z } from 'zod';
import { hashBytes } from '#core/kernel';
import {
  distinctName,
  fileStem,
  OUT_COLUMNS,
  writeDxf,
  writeLandXml,
  writeText,
  type TextOutSettings,
} from '#core/exchange';
import { isPublished, type CoordinateSystem } from '#core/basis';
import type { ChainResult } from '#core/chain';
import { unitSchema, type ProjectDocument } from '#core/project';
import { basisLine, coordinatesSchema, placeResult, staysLevel } from './coordinates.ts';
import { drawingOf, landXmlOf, pointRow, rowsOut } from './drawing.ts';
import { readBackDxf, readBackLandXml, readBackText, type ReadBack } from './read-back.ts';

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
    separator: z.enum([',', ';', '\t']),
    headings: z.boolean(),
    control: z.boolean(),
  }),
  z.object({
    kind: z.literal('dxf'),
    version: z.enum(['R12', '2000']),
    decimals,
    parts: partsSchema,
    textHeight: z.number().min(0).max(100),
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
});
export type PackageSpec = z.infer<typeof packageSpecSchema>;
/** As it is asked for, with what may be left out. */

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
  files: ManifestFile[];
}

export interface Package {
  manifest: Manifest;
  zip: Uint8Array;
}

/** Thrown with a sentence when a package would be empty or a file does not come back as it was meant. */
export class PackageRefused extends Error {}

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
  for (const file of spec.files) {
    const { what, text, readBack, extension } = writeOne(doc, placed.result, file, spec, made);
    const bytes = new TextEncoder().encode(text);
    const stem = `${fileStem(made.project, what)}-${made.at.slice(0, 10)}-r${made.revision}`;
    const name = distinctName(names, stem, extension);
    if (!readBack.ok)
      throw new PackageRefused(
        `${name} does not come back as it was meant: ${readBack.problems[0]}. Nothing was made.`,
      );
    files.push({ name, bytes });
    entries.push({ name, what, bytes: bytes.length, sha256: hashBytes(bytes), readBack });
  }
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
    openQueries: result.queries.filter((q) => !q.accepted).length,
    files: entries,
  };
  const tree: Record<string, Uint8Array> = {
    'manifest.json': new TextEncoder().encode(JSON.stringify(manifest, null, 2) + '\n'),
  };
  for (const f of files) tree[f.name] = f.bytes;
  return { manifest, zip: zipSync(tree, { level: 6, mtime: new Date(made.at) }) };
}

function writeOne(doc: ProjectDocument, result: ChainResult, file: FileSpec, spec: PackageSpec, made: Made) {
  if (file.kind === 'csv') {
    const rows = rowsOut(doc, result.points, file.control).map((row) => pointRow(result.points, row));
    if (rows.length === 0) throw new PackageRefused('There are no points to write. Take a file in first.');
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
      extension: file.separator === '\t' ? 'txt' : 'csv',
    };
  }
  const asked = file.kind === 'dxf' ? [file.parts.of ?? []].flat() : (file.surfaces ?? []);
  if (asked.some((id) => !doc.surfaces.some((s) => s.id === id)))
    throw new PackageRefused('A surface that was asked for is no longer in the project. Choose the surfaces anew.');
  if (file.kind === 'dxf') {
    const drawing = drawingOf(doc, result, file.parts);
    const settings = { version: file.version, unit: spec.unit, decimals: file.decimals, textHeight: file.textHeight };
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
  if (content.points.length === 0) throw new PackageRefused('There are no points to write. Take a file in first.');
  const text = writeLandXml(content, spec.unit, file.decimals);
  return { what: 'ground', text, readBack: readBackLandXml(text, content, spec.unit, file.decimals), extension: 'xml' };
}

const systemOut = (system: CoordinateSystem): Manifest['coordinates']['system'] =>
  isPublished(system) ? { name: system.name, code: system.code, definition: system.definition } : null;
