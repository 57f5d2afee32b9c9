import { codeSchema } from '#core/codes';
import { NONE_SIGNS, OUT_COLUMNS } from '#core/exchange';
import { bookLayoutSchema, intakeSchema, layoutSchema, surfaceSchema, unitSchema } from '#core/project';
import { revisionNumber } from './changes.ts';
import { z } from 'zod';

/**
 * `into`: the surface that the file's points belong to, where they are a design: one that is there, or a new one. `codes`:
 * what is added to the code list with it, of codes that it does not have.
 */
export const intakeRequestSchema = z.object({
  revision: revisionNumber,
  intake: intakeSchema,
  into: z
    .union([
      z.object({ id: surfaceSchema.shape.id }),
      z.object({ surface: surfaceSchema.pick({ id: true, name: true }) }),
    ])
    .optional(),
  codes: z.array(codeSchema).max(500).optional(),
});

/** How points go out to somebody, as it was chosen for them. */
export const outLayoutSchema = z.object({
  out: z.object({
    what: z.enum(['text', 'drawing', 'symbols', 'texts']),
    order: z.array(z.enum(OUT_COLUMNS)).min(2).max(12),
    separator: z.enum([',', ';', '\t', ' ']),
    decimal: z.enum(['.', ',']),
    none: z.enum(NONE_SIGNS),
    decimals: z.int().min(0).max(6),
    unit: unitSchema,
    headings: z.boolean(),
    system: z.enum(['grid', 'ground', 'geographic']),
    control: z.boolean(),
    design: z.boolean(),
    light: z.boolean(),
    best: z.boolean(),
    sorted: z.boolean(),
    /** Which of the usual line words; −1 as the crew typed them. */
    words: z.int().min(-1).max(99),
    ending: z.string().max(8),
    sheet: z.boolean(),
  }),
});
export type OutLayout = z.infer<typeof outLayoutSchema>['out'];

export const saveLayoutSchema = z.object({
  name: z.string().trim().min(1).max(80),
  layout: z.union([layoutSchema, bookLayoutSchema, outLayoutSchema]),
  signature: z.string().max(400),
  team: z.uuid().nullable().default(null),
});

export interface FileCard {
  id: string;
  name: string;
  size: number;
  sha256: string;
  receivedAt: string;
  receivedBy: string;
}

export interface Job {
  id: string;
  kind: 'intake' | 'settle' | 'package';
  what: string;
  share: number;
  state: 'working' | 'done' | 'stopped' | 'failed';
  message: string;
}

export interface SavedLayout {
  id: string;
  name: string;
  /** Of points, of a field book’s rows, or of points that go out. */
  layout: z.infer<typeof saveLayoutSchema>['layout'];
  signature: string;
  team: string | null;
}

/** Rows of text under a heading, cells parted by tabs, that become a sheet; which columns are numbers. */
export const spreadsheetSchema = z.object({
  name: z
    .string()
    .min(1)
    .max(31)
    .regex(/^[^:\\/?*[\]]+$/, 'A sheet’s name cannot have any of : \\ / ? * [ ].'),
  text: z.string().min(1).max(8_000_000),
  numeric: z.array(z.boolean()).min(1).max(200),
});
