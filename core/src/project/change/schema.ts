import { z } from 'zod';
import {
  acceptedSchema,
  handLineSchema,
  comparisonSchema,
  decisionSchema,
  pointEditSchema,
  registerSchema,
  ringSchema,
} from '../document.ts';
import { basisSchema, systemSchema } from '../document/basis-schema.ts';
import {
  bookLayoutSchema,
  givenSchema,
  placementSchema,
  intakeSchema,
  layoutSchema,
  numberDecisionSchema,
} from '../document/intake-schema.ts';
import { settingsSchema } from '../document/settings-schema.ts';
import { codeListSchema, wordsSchema } from '#core/codes';
import { pointSetSchema } from '../document/point-set-schema.ts';
import { shortText } from '../document/fields.ts';
import { drawingSchema, layerSchema, plotSchema } from '../document/drawing-schema.ts';

/** Fields of an edit to set; `undo` names those that go back to what was received. */
const editChange = z.object({
  set: pointEditSchema,
  undo: z.array(
    z.enum([
      'number',
      'description',
      'x',
      'y',
      'z',
      'off',
      'full',
      'standing',
      'height',
      'circle',
      'zenith',
      'distance',
      'face',
      'role',
    ]),
  ),
});

/** Why somebody did it, in their words; kept with the change. */
const whySchema = z.string().trim().max(500).optional();

/** One edit of a project. A change is data: it is applied, stored, and undone by its inverse, another change. */
export const changeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('intake.add'), intake: intakeSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('intake.remove'), id: z.string() }),
  z.object({ op: z.literal('intake.switch'), id: z.string(), on: z.boolean() }),
  /** What a file's points are: of the ground, control, or of the design of that name. */
  z.object({ op: z.literal('intake.target'), id: z.string(), target: shortText }),
  z.object({ op: z.literal('intake.prefix'), id: z.string(), prefix: z.string().trim().max(12) }),
  z.object({ op: z.literal('intake.words'), id: z.string(), words: wordsSchema.nullable() }),
  z.object({ op: z.literal('intake.layout'), id: z.string(), layout: layoutSchema }),
  z.object({ op: z.literal('intake.bookLayout'), id: z.string(), layout: bookLayoutSchema.nullable() }),
  z.object({
    op: z.literal('intake.numbers'),
    id: z.string(),
    numbers: z.object({ all: numberDecisionSchema, each: z.record(z.string().max(200), numberDecisionSchema) }),
  }),
  z.object({
    op: z.literal('intake.place'),
    ids: z.array(z.string()).min(1).max(500),
    placements: z.array(placementSchema.nullable()),
  }),
  z.object({ op: z.literal('intake.given'), id: z.string(), given: givenSchema.nullable() }),
  z.object({
    op: z.literal('intake.system'),
    id: z.string(),
    system: systemSchema.nullable(),
    heights: z.enum(['orthometric', 'ellipsoidal']).nullable(),
  }),
  z.object({ op: z.literal('basis.set'), basis: basisSchema.partial() }),
  z.object({
    op: z.literal('points.edit'),
    edits: z.record(z.string().max(80), editChange),
    /** Why, in the words of whoever did it. */
    why: whySchema,
  }),
  z.object({
    op: z.literal('record.decide'),
    key: z.string().max(80),
    decision: decisionSchema.nullable(),
    why: whySchema,
  }),
  z.object({ op: z.literal('register.set'), register: registerSchema }),
  z.object({ op: z.literal('codes.set'), codeList: codeListSchema }),
  z.object({ op: z.literal('settings.set'), settings: settingsSchema.partial() }),
  z.object({ op: z.literal('boundary.set'), ring: ringSchema.nullable() }),
  z.object({ op: z.literal('comparison.set'), comparison: comparisonSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('comparison.remove'), id: z.string() }),
  z.object({ op: z.literal('query.accept'), key: z.string().max(300), accepted: acceptedSchema }),
  z.object({ op: z.literal('query.reopen'), key: z.string().max(300) }),
  z.object({
    op: z.literal('lines.hand'),
    /** Lines by hand to set; null takes one away, and its codes draw again. */
    set: z.record(z.string().max(200), handLineSchema.nullable()),
    what: z.string().trim().min(1).max(200),
  }),
  z.object({
    op: z.literal('drawing.set'),
    drawing: drawingSchema.omit({ moved: true, plots: true, layers: true }).partial(),
  }),
  z.object({ op: z.literal('drawing.layer'), layer: z.string().min(1).max(31), look: layerSchema.nullable() }),
  z.object({
    op: z.literal('drawing.plot'),
    id: z.string().min(1).max(40),
    plot: plotSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({
    op: z.literal('drawing.label'),
    key: z.string().max(120),
    to: z.tuple([z.number().min(-500).max(500), z.number().min(-500).max(500)]).nullable(),
  }),
  z.object({
    op: z.literal('points.set'),
    id: z.string().min(1).max(40),
    set: pointSetSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({ op: z.literal('intake.light'), id: z.string(), light: z.boolean() }),
  z.object({ op: z.literal('line.ground'), key: z.string().max(200), used: z.boolean() }),
]);
export type Change = z.infer<typeof changeSchema>;
