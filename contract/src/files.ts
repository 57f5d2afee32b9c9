import { bookLayoutSchema, intakeSchema, layoutSchema, surfaceSchema } from '#core/project';
import { revisionNumber } from './changes.ts';
import { z } from 'zod';

/** `into`: the surface that the file's points belong to, where they are a design: one that is there, or a new one. */
export const intakeRequestSchema = z.object({
  revision: revisionNumber,
  intake: intakeSchema,
  into: z
    .union([
      z.object({ id: surfaceSchema.shape.id }),
      z.object({ surface: surfaceSchema.pick({ id: true, name: true }) }),
    ])
    .optional(),
});

export const saveLayoutSchema = z.object({
  name: z.string().trim().min(1).max(80),
  layout: z.union([layoutSchema, bookLayoutSchema]),
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
  /** Of points, or of a field book’s rows. */
  layout: z.infer<typeof layoutSchema> | z.infer<typeof bookLayoutSchema>;
  signature: string;
  team: string | null;
}

/** Rows of text under a heading, cells parted by tabs, that become a sheet; which columns are numbers. */
export const spreadsheetSchema = z.object({
  name: z
    .string()
    .min(1)
    .max(31)
    .regex(/^[^:\\/?*[\]]+$/, 'A sheet’s name has none of : \\ / ? * [ ].'),
  text: z.string().min(1).max(8_000_000),
  numeric: z.array(z.boolean()).min(1).max(200),
});
