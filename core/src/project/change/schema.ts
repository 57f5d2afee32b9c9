import { z } from 'zod';
import {
  acceptedSchema,
  handLineSchema,
  comparisonSchema,
  decisionSchema,
  pointEditSchema,
  instrumentListSchema,
} from '../document.ts';
import { ringSchema, surfaceRowSchema, surfaceSchema } from '../document/surface-schema.ts';
import { sha256 } from '../document/fields.ts';
import { basisSchema, systemSchema } from '../document/basis-schema.ts';
import {
  bookLayoutSchema,
  givenSchema,
  placementSchema,
  intakeSchema,
  layoutSchema,
  numberDecisionSchema,
  purposeSchema,
} from '../document/intake-schema.ts';
import { settingsSchema } from '../document/settings-schema.ts';
import { codeListSchema, wordsSchema } from '#core/codes';
import { pictureSchema } from '../document/picture-schema.ts';
import { seriesSchema } from '../document/series-schema.ts';
import { handVolumeSchema } from '../document/hand-volume-schema.ts';
import { pointSetSchema } from '../document/point-set-schema.ts';
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

const surfaceId = z.string().min(1).max(40);

/** Why somebody did it, in their words; kept with the change. */
const whySchema = z.string().trim().max(500).optional();

/** One edit of a project. A change is data: it is applied, stored, and undone by its inverse, another change. */
const oneChange = z.discriminatedUnion('op', [
  z.object({ op: z.literal('intake.add'), intake: intakeSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('intake.remove'), id: z.string() }),
  /** A later export of the same job in the place of the file. */
  z.object({
    op: z.literal('intake.file'),
    id: z.string(),
    fileId: z.string().min(1).max(40),
    fileName: z.string().min(1).max(255),
    sha256,
  }),
  z.object({ op: z.literal('intake.switch'), id: z.string(), on: z.boolean() }),
  z.object({ op: z.literal('intake.purpose'), id: z.string(), purpose: purposeSchema }),
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
  z.object({ op: z.literal('register.set'), register: instrumentListSchema }),
  z.object({ op: z.literal('codes.set'), codeList: codeListSchema }),
  z.object({ op: z.literal('settings.set'), settings: settingsSchema.partial() }),
  /** Of the surface named, or of the ground. */
  z.object({ op: z.literal('boundary.set'), ring: ringSchema.nullable(), surface: surfaceId.optional() }),
  z.object({ op: z.literal('surface.add'), surface: surfaceSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('surface.remove'), id: surfaceId }),
  z.object({
    op: z.literal('surface.edit'),
    id: surfaceId,
    set: surfaceSchema.omit({ id: true, rows: true }).partial(),
  }),
  /** Sets a row of a recipe, or adds it, last or at a place; a row that is there moves to the place. */
  z.object({ op: z.literal('surface.row'), surface: surfaceId, row: surfaceRowSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('surface.rowRemove'), surface: surfaceId, id: surfaceId }),
  z.object({ op: z.literal('comparison.set'), comparison: comparisonSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('comparison.remove'), id: z.string() }),
  z.object({ op: z.literal('query.accept'), key: z.string().max(300), accepted: acceptedSchema }),
  z.object({ op: z.literal('query.reopen'), key: z.string().max(300) }),
  /** Accepted queries that speak of another key now, as they were accepted; null where what they spoke of is gone. */
  z.object({
    op: z.literal('query.follow'),
    to: z.record(z.string().max(300), z.string().max(300).nullable()),
  }),
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
    op: z.literal('drawing.series'),
    id: z.string().min(1).max(36),
    /** All sheets of the series; none deletes it. */
    plots: z.array(plotSchema).max(100),
    /** Where among the plots each stands; behind them unless said. */
    at: z.array(z.int().min(0)).max(100).optional(),
  }),
  z.object({
    op: z.literal('drawing.label'),
    key: z.string().max(120),
    to: z.tuple([z.number().min(-500).max(500), z.number().min(-500).max(500)]).nullable(),
  }),
  z.object({
    op: z.literal('picture.set'),
    id: z.string().min(1).max(40),
    picture: pictureSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({
    op: z.literal('points.set'),
    id: z.string().min(1).max(40),
    set: pointSetSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({
    op: z.literal('volume.hand'),
    id: z.string().min(1).max(40),
    volume: handVolumeSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({
    op: z.literal('series.set'),
    id: z.string().min(1).max(40),
    series: seriesSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({ op: z.literal('intake.light'), id: z.string(), light: z.boolean() }),
  /** Whether a line is a breakline of the surface named, or of the ground. */
  z.object({
    op: z.literal('line.ground'),
    key: z.string().max(200),
    used: z.boolean(),
    surface: surfaceId.optional(),
  }),
]);
type OneChange = z.infer<typeof oneChange>;

/** Several changes that are made, and undone, as one; what was done is said in few words. */
export interface SeveralChanges {
  op: 'several';
  changes: Change[];
  what?: string;
}
export type Change = OneChange | SeveralChanges;

export const changeSchema: z.ZodType<Change> = z.discriminatedUnion('op', [
  ...oneChange.options,
  z.object({
    op: z.literal('several'),
    changes: z.array(oneChange).min(1).max(5000),
    what: z.string().trim().max(200).optional(),
  }),
]);
