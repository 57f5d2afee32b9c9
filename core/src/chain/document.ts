import { z } from 'zod';
import { INKS, LINE_STYLES, SYMBOLS, DEFAULT_CODE_LIST } from '#core/codes';

/** Coordinates in metres that are places on earth. */
const coordinate = z.number().min(-1e8).max(1e8);
const elevation = z.number().min(-1e5).max(1e5);
const shortText = z.string().trim().min(1).max(120);

export const unitSchema = z.enum(['m', 'ft', 'usft']);

export const codeSchema = z.object({
  code: z
    .string()
    .trim()
    .min(1)
    .max(16)
    .regex(/^[^\s/"=]+$/, 'A code is one word without spaces, slashes, quotes or equals signs.'),
  name: z.string().trim().max(80),
  kind: z.enum(['point', 'line']),
  layer: z.string().trim().min(1).max(31),
  ink: z.enum(INKS),
  symbol: z.enum(SYMBOLS),
  style: z.enum(LINE_STYLES),
  breakline: z.boolean(),
  ground: z.boolean(),
});

const word = z
  .string()
  .trim()
  .min(1)
  .max(16)
  .regex(/^[^\s/"=]+$/);

export const codeListSchema = z
  .object({
    codes: z.array(codeSchema).max(2000),
    words: z.object({ begin: word, end: word, close: word, curveBegin: word, curveEnd: word }),
  })
  .superRefine((list, context) => {
    const seen = new Set<string>();
    for (const text of [...list.codes.map((c) => c.code), ...Object.values(list.words)]) {
      const key = text.toUpperCase();
      if (seen.has(key))
        context.addIssue({ code: 'custom', message: `“${text}” stands twice among codes and line words.` });
      seen.add(key);
    }
  });

export const layoutSchema = z.object({
  separator: z.enum([',', ';', '\t', '|', ' ']),
  decimal: z.enum(['.', ',']),
  skipRows: z.int().min(0).max(100_000),
  roles: z
    .array(z.enum(['P', 'N', 'E', 'Z', 'D', '_']))
    .min(2)
    .max(200),
  unit: unitSchema,
});

/** What is done with a point whose number exists already. */
export const numberDecisionSchema = z.enum(['both', 'merge', 'renumber', 'leave-out']);
export type NumberDecision = z.infer<typeof numberDecisionSchema>;

export const GROUND = 'Ground';
export const CONTROL = 'Control';

export const intakeSchema = z.object({
  id: z.string().min(1).max(40),
  fileId: z.string().min(1).max(40),
  fileName: z.string().min(1).max(255),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  layout: layoutSchema,
  /** The surface that its points belong to: Ground, Control for given coordinates, or a design's name. */
  target: shortText,
  on: z.boolean(),
  numbers: z.object({
    all: numberDecisionSchema,
    each: z.record(z.string().max(200), numberDecisionSchema),
  }),
});
export type Intake = z.infer<typeof intakeSchema>;

/** A person's edit of one point; a field that is absent stands as received, an elevation of null is none. */
export const pointEditSchema = z.object({
  number: z.string().max(200).optional(),
  description: z.string().max(2000).optional(),
  x: coordinate.optional(),
  y: coordinate.optional(),
  z: elevation.nullable().optional(),
  off: z.boolean().optional(),
});
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

export const settingsSchema = z.object({
  unit: unitSchema,
  order: z.enum(['EN', 'NE']),
  /** Decimals of coordinates and elevations on screen. */
  decimals: z.int().min(0).max(6),
  volumeUnit: z.enum(['m3', 'yd3']),
  /** m; points nearer than this in plan are one in a surface. */
  coincidence: z.number().min(0).max(10),
  /** m; null for no limit. */
  longestSide: z.number().positive().max(1e6).nullable(),
  contourInterval: z.number().min(0.001).max(1e4),
  indexEvery: z.int().min(0).max(100),
  /** m; a point that stands off its neighbours by more is asked about. */
  spike: z.number().positive().max(1e4),
  /** m; no chord of an arc stands off it by more in the ground. */
  sagitta: z.number().min(0.001).max(10),
});
export type Settings = z.infer<typeof settingsSchema>;

export const acceptedSchema = z.object({
  evidence: z.string().max(80),
  reason: shortText.max(500),
  by: z.string().max(200),
  at: z.string().max(40),
});

export const documentSchema = z.object({
  settings: settingsSchema,
  codeList: codeListSchema,
  intakes: z.array(intakeSchema).max(500),
  /** By point key, `intake:row`. */
  edits: z.record(z.string(), pointEditSchema),
  boundary: ringSchema.nullable(),
  comparisons: z.array(comparisonSchema).max(200),
  accepted: z.record(z.string(), acceptedSchema),
  /** Lines that a person took out of the ground, by line key. */
  linesOutOfGround: z.array(z.string().max(200)).max(10_000),
});

/** Everything about a project that is not an original: settings, decisions, edits. All else is derived from it and the originals. */
export type ProjectDocument = z.infer<typeof documentSchema>;

export function newDocument(settings: Partial<Settings> = {}): ProjectDocument {
  return {
    settings: {
      unit: 'm',
      order: 'EN',
      decimals: 3,
      volumeUnit: 'm3',
      coincidence: 0.01,
      longestSide: 30,
      contourInterval: 0.25,
      indexEvery: 4,
      spike: 0.5,
      sagitta: 0.02,
      ...settings,
    },
    codeList: structuredClone(DEFAULT_CODE_LIST),
    intakes: [],
    edits: {},
    boundary: null,
    comparisons: [],
    accepted: {},
    linesOutOfGround: [],
  };
}
