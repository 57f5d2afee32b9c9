import { z } from 'zod';
import { DEFAULT_CODE_LIST, DEFAULT_WORDS, MEANINGS, type CodeList, codeListSchema } from '#core/codes';
import { basisSchema, LOCAL_BASIS, type Basis } from './document/basis-schema.ts';
import { drawingSchema, START_DRAWING, type DrawingSettings } from './document/drawing-schema.ts';
import { intakeSchema, standingSchema } from './document/intake-schema.ts';
import { pointSetSchema } from './document/point-set-schema.ts';
import { coordinate, elevation, shortText } from './document/fields.ts';
import { settingsSchema, START_SETTINGS, type Settings } from './document/settings-schema.ts';

export * from './document/basis-schema.ts';
export * from './document/intake-schema.ts';
export * from './document/settings-schema.ts';
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

export const ringSchema = z
  .array(coordinate)
  .min(6)
  .max(20_000)
  .refine((r) => r.length % 2 === 0, 'A boundary is pairs of coordinates.');

export const comparisonSchema = z.object({
  id: z.string().min(1).max(40),
  name: shortText,
  ground: shortText,
  against: z.union([z.object({ level: elevation }), z.object({ surface: shortText })]),
  within: ringSchema.nullable(),
});
export type Comparison = z.infer<typeof comparisonSchema>;

export const acceptedSchema = z.object({
  evidence: z.string().max(80),
  reason: shortText.max(500),
  by: z.string().max(200),
  at: z.string().max(40),
});

const registerName = z.string().trim().min(1).max(40);
const constant = z.number().min(-1).max(1);

/** Instruments and targets that books refer to by name; what stands here comes before what a book says of them. */
export const registerSchema = z.object({
  instruments: z
    .array(
      z.object({
        name: registerName,
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
  targets: z.array(z.object({ name: registerName, constant })).max(200),
});
export type Register = z.infer<typeof registerSchema>;

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
      }),
    )
    .max(20_000),
  /** The line by codes in whose place it stands, and what that went through when it was changed. */
  replaces: z.object({ key: z.string().max(200), course: z.string().max(80) }).nullable(),
});
export type HandLine = z.infer<typeof handLineSchema>;

export const documentSchema = z.object({
  settings: settingsSchema,
  basis: basisSchema,
  codeList: codeListSchema,
  intakes: z.array(intakeSchema).max(500),
  /** By point key, `intake:row`. */
  edits: z.record(z.string(), pointEditSchema),
  /** Decisions on backsights and setups, by record key, `intake:row`. */
  decisions: z.record(z.string(), decisionSchema),
  register: registerSchema,
  boundary: ringSchema.nullable(),
  comparisons: z.array(comparisonSchema).max(200),
  accepted: z.record(z.string(), acceptedSchema),
  /** Lines that a person took out of the ground, by line key. */
  linesOutOfGround: z.array(z.string().max(200)).max(10_000),
  /** Lines by hand, by their keys. */
  handLines: z.record(z.string().max(200), handLineSchema),
  pointSets: z.array(pointSetSchema).max(200),
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
  boundary: null,
  comparisons: [],
  accepted: {},
  linesOutOfGround: [],
  handLines: {},
  pointSets: [],
  drawing: structuredClone(START_DRAWING),
});

/** A document kept by an earlier version, with what has been added since at its start value. */
export function upgradeDocument(kept: ProjectDocument): ProjectDocument {
  return {
    ...kept,
    decisions: (kept.decisions as ProjectDocument['decisions'] | undefined) ?? {},
    register: (kept.register as Register | undefined) ?? { instruments: [], targets: [] },
    pointSets: (kept.pointSets as ProjectDocument['pointSets'] | undefined) ?? [],
    drawing: { ...structuredClone(START_DRAWING), ...(kept.drawing as DrawingSettings | undefined) },
    handLines: (kept.handLines as ProjectDocument['handLines'] | undefined) ?? {},
    settings: { ...START_SETTINGS, ...kept.settings },
    codeList: withAllWords(kept.codeList),
    basis: { ...LOCAL_BASIS, ...(kept.basis as Basis | undefined) },
  };
}

/** Words that came with a later version are added, unless a code or another word is spelt like one. */
function withAllWords(list: CodeList): CodeList {
  if (list.words.form !== undefined || list.words.continue !== undefined) return list;
  const taken = new Set([...list.codes.map((c) => c.code), ...Object.values(list.words)].map((t) => String(t).toUpperCase())); // prettier-ignore
  const words = { ...list.words };
  for (const m of MEANINGS) if (!words[m] && !taken.has(DEFAULT_WORDS[m])) words[m] = DEFAULT_WORDS[m];
  return { ...list, words };
}
