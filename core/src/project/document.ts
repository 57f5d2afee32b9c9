import { z } from 'zod';
import { DEFAULT_CODE_LIST, codeListSchema } from '#core/codes';
import { basisSchema, LOCAL_BASIS } from './document/basis-schema.ts';
import { comparisonSchema, type Comparison } from './document/comparison-schema.ts';
import { seriesSchema } from './document/series-schema.ts';
import { handVolumeSchema } from './document/hand-volume-schema.ts';
import { drawingSchema, START_DRAWING } from './document/drawing-schema.ts';
import { intakeSchema, standingSchema } from './document/intake-schema.ts';
import { pictureSchema } from './document/picture-schema.ts';
import { pointSetSchema } from './document/point-set-schema.ts';
import { coordinate, elevation, shortText } from './document/fields.ts';
import {
  groundRecipe,
  FIRST_SURFACE,
  surfaceSchema,
  type SurfaceRecipe,
  proposedRows,
  type ProposedRow,
} from './document/surface-schema.ts';
import { settingsSchema, START_SETTINGS, type Settings } from './document/settings-schema.ts';

export * from './document/basis-schema.ts';
export * from './document/comparison-schema.ts';
export * from './document/hand-volume-schema.ts';
export * from './document/series-schema.ts';
export * from './document/intake-schema.ts';
export * from './document/settings-schema.ts';
export * from './document/surface-schema.ts';
export { unitSchema } from './document/fields.ts';

/** A person's edit of one point; a field that is absent stands as received, an elevation of null is none. */
export const pointEditSchema = z.object({
  number: z.string().max(200).optional(),
  description: z.string().max(2000).optional(),
  x: coordinate.optional(),
  y: coordinate.optional(),
  z: elevation.nullable().optional(),
  off: z.boolean().optional(),
  /** A light point that is a full one, with number and label. */
  full: z.boolean().optional(),
  /** Of a control point. */
  standing: standingSchema.optional(),
  /** Of a record of a book: instrument, target or antenna height m; readings radians and m; face; role. */
  height: z.number().min(-100).max(1000).optional(),
  circle: z.number().min(0).max(6.2832).optional(),
  zenith: z.number().min(0).max(6.2832).optional(),
  distance: z.number().min(0).max(1e5).optional(),
  face: z.int().min(0).max(2).optional(),
  role: z.enum(['back', 'shot', 'check']).optional(),
});

/**
 * What a person decided: on a sighting that orients or checks, on a setup that waits (used); or that the circle was
 * turned before a sighting.
 */
export const decisionSchema = z.enum(['used', 'aside', 'undecided', 'direction', 'distance', 'turned']);
export type PointEdit = z.infer<typeof pointEditSchema>;

export const acceptedSchema = z.object({
  evidence: z.string().max(80),
  reason: shortText.max(500),
  by: z.string().max(200),
  at: z.string().max(40),
});

const listedName = z.string().trim().min(1).max(40);
const constant = z.number().min(-1).max(1);

/** Instruments and targets that books refer to by name; what stands here comes before what a book says of them. */
export const instrumentListSchema = z.object({
  instruments: z
    .array(
      z.object({
        name: listedName,
        /** Standard deviations of a direction and a zenith angle in one face, radians. */
        direction: z.number().positive().max(0.01),
        zenith: z.number().positive().max(0.01),
        /** Of a distance: constant part m, and parts per million. */
        distance: z.number().positive().max(1),
        ppm: z.number().min(0).max(1000),
        /** Added to every distance, m. */
        constant,
        /** Micrometres. */
        wavelength: z.number().min(0.3).max(2),
      }),
    )
    .max(200),
  targets: z.array(z.object({ name: listedName, constant })).max(200),
});
export type InstrumentList = z.infer<typeof instrumentListSchema>;

/** A line that a person drew or changed: it follows points by their keys, or goes through places. */
export const handLineSchema = z.object({
  code: z.string().trim().toUpperCase().min(1).max(16),
  lineNumber: z.string().max(9),
  closed: z.boolean(),
  /** None where a person took the line out. */
  vertices: z
    .array(
      z.object({
        point: z.string().max(80).nullable(),
        x: coordinate,
        y: coordinate,
        z: elevation.nullable(),
        bulge: z.number().min(-2.5).max(2.5),
        side: z.int().min(0).max(2),
        /** Follows its point in plan alone: its elevation is `z`, and none where that is null. */
        plan: z.boolean().optional(),
      }),
    )
    .max(20_000),
  /** The line by codes in whose place it stands, and what that went through when it was changed. */
  replaces: z.object({ key: z.string().max(200), course: z.string().max(80) }).nullable(),
  /** The file that it belongs to, by id, where that is not its first point's: a drawing's line that was tied to points. */
  file: z.string().max(40).optional(),
  /** Points that its vertices were before they were tied to others: they do not count in surfaces besides. */
  insteadOf: z.array(z.string().max(80)).max(20_000).optional(),
});
export type HandLine = z.infer<typeof handLineSchema>;

export const documentSchema = z.object({
  settings: settingsSchema,
  basis: basisSchema,
  codeList: codeListSchema,
  intakes: z.array(intakeSchema).max(500),
  /** By file, and by row of the file. */
  edits: z.record(z.string(), z.record(z.string().regex(/^\d+(\.\d+)?$/), pointEditSchema)),
  /** Decisions on backsights and setups, by record key, `intake:row`. */
  decisions: z.record(z.string(), decisionSchema),
  register: instrumentListSchema,
  comparisons: z.array(comparisonSchema).max(200),
  accepted: z.record(z.string(), acceptedSchema),
  /** Terrain models, each by its recipe; at least one is ground. */
  surfaces: z.array(surfaceSchema).min(1).max(200),
  /** Lines by hand, by their keys. */
  handLines: z.record(z.string().max(200), handLineSchema),
  pointSets: z.array(pointSetSchema).max(200),
  handVolumes: z.array(handVolumeSchema).max(200),
  series: z.array(seriesSchema).max(100),
  /** Pictures under the drawing, the lowest first. */
  pictures: z.array(pictureSchema).max(200),
  /** How all is drawn: layers, labels, plots. */
  drawing: drawingSchema,
});

/** Everything about a project that is not an original: settings, decisions, edits. All else is derived from it and the originals. */
export type ProjectDocument = z.infer<typeof documentSchema>;

/** What a team's new projects begin with. */
export const startSchema = z.object({ settings: settingsSchema, basis: basisSchema, codeList: codeListSchema });
export type Start = z.infer<typeof startSchema>;

export const newStart = (settings: Partial<Settings> = {}): Start => ({
  settings: { ...START_SETTINGS, ...settings },
  basis: structuredClone(LOCAL_BASIS),
  codeList: structuredClone(DEFAULT_CODE_LIST),
});

export const newDocument = (settings: Partial<Settings> = {}, start: Start = newStart(settings)): ProjectDocument => ({
  ...structuredClone(start),
  intakes: [],
  edits: {},
  decisions: {},
  register: { instruments: [], targets: [] },
  comparisons: [],
  accepted: {},
  surfaces: [groundRecipe({ id: FIRST_SURFACE, name: 'Ground' })],
  handLines: {},
  pointSets: [],
  handVolumes: [],
  series: [],
  pictures: [],
  drawing: structuredClone(START_DRAWING),
});

/** What the proposed ground is made of that a comparison is with, and the surface whose rows that is; null of one that is with none. */
export function proposedIn(
  { surfaces }: Pick<ProjectDocument, 'surfaces'>,
  { against }: Comparison,
): { surface: string; rows: ProposedRow[] } | null {
  const recipe = 'surface' in against ? surfaces.find((s) => s.id === against.surface) : undefined;
  const rows = recipe ? proposedRows(recipe) : [];
  return recipe && rows.length ? { surface: recipe.id, rows } : null;
}

/**
 * The surface that is meant where none is named: the first that is ground. A project always has one; where a document
 * of unknown origin has none, its first surface.
 */
export const groundOf = (doc: Pick<ProjectDocument, 'surfaces'>): SurfaceRecipe =>
  doc.surfaces.find((s) => s.role === 'ground') ?? doc.surfaces[0];

/** A ring that a person drew round a surface, in the first row that holds one. */
export const boundaryOf = (surface: SurfaceRecipe): readonly number[] | null =>
  surface.rows.flatMap((r) => (r.kind === 'boundary' && r.on ? [r.ring] : []))[0] ?? null;

/** Lines that are no breaklines of a surface, by their keys. */
export const linesOutOf = (surface: SurfaceRecipe): readonly string[] =>
  surface.rows.flatMap((r) => (r.kind === 'exclude-lines' && r.on ? r.lines : []));
