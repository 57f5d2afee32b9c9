import { z } from 'zod';
import { MOST_TAKEN, TAKEN_AS, WRITTEN_WHERE } from '#core/exchange';
import { LAYOUT_KINDS, LAYOUT_ROLES } from '#core/book';
import { FILE_UNITS } from '#core/measure';
import { wordsSchema } from '#core/codes';
import { systemSchema } from './basis-schema.ts';
import { sha256 } from './fields.ts';

/** Corners of a fence at the most. */
const MOST_FENCE = 500;
const windowSide = z.number().min(-1e12).max(1e12);

export const layoutSchema = z.object({
  separator: z.enum([',', ';', '\t', '|', ' ']),
  decimal: z.enum(['.', ',']),
  skipRows: z.int().min(0).max(100_000),
  roles: z
    .array(z.enum(['P', 'N', 'E', 'Z', 'D', 'L', 'W', 'S', '_']))
    .min(2)
    .max(200),
  unit: z.enum(FILE_UNITS),
  /** Plan columns hold longitude (E) and latitude (N) instead of lengths. */
  degrees: z.boolean().optional(),
  /** The sheet of a spreadsheet. */
  sheet: z.string().max(200).optional(),
  /** The ready-made surface of LandXML or a drawing whose vertices its points are. */
  surface: z.string().max(200).optional(),
  /** Its points are the vertices of the file's lines. */
  lines: z.boolean().optional(),
  /** Entities that are taken of a drawing, by layer and kind; all that are points, lines or faces unless said. */
  taken: z
    .array(
      z.object({
        layer: z.string().max(255),
        kind: z.string().max(60),
        /** Of symbols, the block that they put there; absent: any. */
        block: z.string().max(255).optional(),
        /** Of anything else, the colour that it says itself: an index, 256 as its layer, from 0x1000000 on red, green, blue. */
        drawnIn: z.number().int().min(0).max(0x1ffffff).optional(),
        /** What they become; where none says so, the layout says it of all. */
        as: z.enum(TAKEN_AS).optional(),
        /** The code that they are given; absent: made of the name of the layer, of the block for symbols. */
        code: z.string().trim().min(1).max(16).optional(),
        /** Of contours drawn in plan, their elevation, m. */
        elevation: z.number().min(-12_000).max(12_000).optional(),
      }),
    )
    .max(MOST_TAKEN)
    .optional(),
  /** Of a grid: every so many-th node of every so many-th row. */
  step: z.number().int().min(1).max(100_000).optional(),
  /** The drawing's arcs stay arcs; absent, as in projects from before: chords of 5 mm. */
  arcs: z.boolean().optional(),
  /** With what the drawing's blocks draw where they are put. */
  blocks: z.boolean().optional(),
  /** With the drawing's lines cleaned for a small screen; lengths in m. */
  clean: z
    .object({ join: z.number().min(0).max(10), straight: z.number().min(0).max(10), atZero: z.boolean() })
    .optional(),
  /** Contours of it that have no elevation get the one that is written there. */
  written: z.enum(WRITTEN_WHERE).optional(),
  /** What of it reaches into this window alone: west, south, east, north in the drawing's unit. */
  within: z.tuple([windowSide, windowSide, windowSide, windowSide]).optional(),
  /** What of it reaches into this fence alone: corners x, y, x, y … in the drawing's unit. */
  fence: z
    .array(windowSide)
    .min(6)
    .max(2 * MOST_FENCE)
    .refine((f) => f.length % 2 === 0, 'A fence has as many eastings as northings.')
    .optional(),
});

const fieldPlace = z.union([
  z.object({ column: z.int().min(0).max(199) }),
  z.object({ key: z.string().trim().min(1).max(40) }),
  z
    .object({ from: z.int().min(0).max(3999), to: z.int().min(1).max(4000) })
    .refine((p) => p.to > p.from, 'A field of a fixed column ends behind its beginning.'),
]);

/** How a table or tagged text becomes records of a book. */
export const bookLayoutSchema = z.object({
  split: z.enum(['separator', 'fixed']),
  separator: z.enum([',', ';', '\t', '|', ' ']),
  decimal: z.enum(['.', ',']),
  skipRows: z.int().min(0).max(100_000),
  unit: z.enum(FILE_UNITS),
  angle: z.enum(['dms', 'deg', 'gon', 'packed']),
  vertical: z.enum(['zenith', 'elevation']),
  order: z.enum(['EN', 'NE']),
  flat: z.enum(['geometric', 'reduced']).optional(),
  tag: fieldPlace.nullable(),
  rows: z
    .array(
      z.object({
        tag: z.string().trim().max(30),
        kind: z.enum(LAYOUT_KINDS),
        fields: z.array(z.object({ role: z.enum(LAYOUT_ROLES), at: fieldPlace })).max(60),
      }),
    )
    .max(100),
  backsight: z.enum(['said', 'first']),
  sheet: z.string().max(200).optional(),
});

/** What is done with a point whose number exists already. */
export const numberDecisionSchema = z.enum(['both', 'merge', 'renumber', 'leave-out']);
export type NumberDecision = z.infer<typeof numberDecisionSchema>;

/** What a file's points are: given coordinates, what was measured on the ground, or what somebody designed. */
export const PURPOSES = ['survey', 'control', 'design'] as const;
export const purposeSchema = z.enum(PURPOSES);
export type Purpose = z.infer<typeof purposeSchema>;

export const standingSchema = z.enum(['fixed', 'weighted', 'check']);
export type Standing = z.infer<typeof standingSchema>;
export const STANDING_NAME: Record<Standing, string> = { fixed: 'fixed', weighted: 'weighted', check: 'check only' };

/** Where a file's numbers come from: who gave them, when, from what; for control, how good they are. */
export const givenSchema = z.object({
  by: z.string().trim().max(120),
  /** ISO date. */
  date: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}$/, 'A date is written 2026-05-31.')
    .nullable(),
  source: z.string().trim().max(200),
  standing: standingSchema,
  /** Standard deviations, m. */
  plan: z.number().positive().max(100).nullable(),
  height: z.number().positive().max(100).nullable(),
});
export type Given = z.infer<typeof givenSchema>;

/** What a file itself says of its numbers. */
export const claimsSchema = z.object({
  unit: z.enum(FILE_UNITS).nullable(),
  system: z.string().max(200).nullable(),
  geoid: z.string().max(200).nullable(),
});

/** How an intake's points are carried over as a whole: a matrix, and what it was found from. */
export const placementSchema = z.object({
  kind: z.enum(['plan', 'space', 'shift', 'mirror']),
  scale: z.enum(['free', 'fixed']),
  height: z.enum(['none', 'shift', 'plane']),
  /** x' = m0 x + m1 y + m2 z + m3, y' = m4 …, z' = m8 … m11. */
  matrix: z.array(z.number().min(-1e12).max(1e12)).length(12),
  pairs: z
    .array(z.object({ from: z.string().max(200), to: z.string().max(200), plan: z.boolean(), height: z.boolean() }))
    .max(1000),
  /** Standard deviation of a coordinate, m; null without redundancy. */
  sigmaPlan: z.number().min(0).nullable(),
  sigmaHeight: z.number().min(0).nullable(),
});
export type Placement = z.infer<typeof placementSchema>;

export const intakeSchema = z.object({
  id: z.string().min(1).max(40),
  fileId: z.string().min(1).max(40),
  fileName: z.string().min(1).max(255),
  sha256,
  layout: layoutSchema,
  purpose: purposeSchema,
  /** A file of points, or a field book; absent: points. */
  form: z.enum(['points', 'book']).optional(),
  /** How its rows become records, where a book is neither in the open text form nor LandXML. */
  bookLayout: bookLayoutSchema.optional(),
  on: z.boolean(),
  /** Its points are heights of the ground that nobody needs a number for. */
  light: z.boolean().optional(),
  /** Its crew’s line words, where they are not those of the project’s list. */
  words: wordsSchema.optional(),
  /** Stands before the number of each of its points, to tell files apart. */
  prefix: z.string().trim().max(12).optional(),
  numbers: z.object({
    all: numberDecisionSchema,
    each: z.record(z.string().max(200), numberDecisionSchema),
  }),
  /** The system of the file's numbers; absent: the project's. */
  system: systemSchema.optional(),
  /** What the file's elevations are; absent: as the project's. */
  heights: z.enum(['orthometric', 'ellipsoidal']).optional(),
  given: givenSchema.optional(),
  claims: claimsSchema.optional(),
  placement: placementSchema.optional(),
});
export type Intake = z.infer<typeof intakeSchema>;

/** Whether something of a file lies under the drawing. */
export const hasUnderlay = ({ layout }: Pick<Intake, 'layout'>): boolean =>
  layout.taken?.some((t) => t.as === 'underlay') ?? false;

/** A file as it is before anybody says anything of it: points of the ground by number, east, north and elevation, in metres. */
export const plainIntake = (id: string, said: Partial<Intake> = {}): Intake => ({
  id,
  fileId: id,
  fileName: id,
  sha256: '0'.repeat(64),
  layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z'], unit: 'm' },
  purpose: 'survey',
  on: true,
  numbers: { all: 'both', each: {} },
  ...said,
});
