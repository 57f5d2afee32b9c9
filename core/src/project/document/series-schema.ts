import { z } from 'zod';
import { elevation, shortText } from './fields.ts';
import { ringSchema } from './surface-schema.ts';

const id = z.string().min(1).max(40);

/** A heap or pit that is measured again and again: its surfaces with their dates, above one base, inside one boundary. */
export const seriesSchema = z.object({
  id,
  name: shortText,
  within: ringSchema.nullable(),
  /** A level, a surface, or the first of its own. */
  base: z.union([z.object({ level: elevation }), z.object({ surface: id }), z.literal('first')]),
  surfaces: z
    .array(z.object({ surface: id, date: z.iso.date() }))
    .min(1)
    .max(200),
});
export type Series = z.infer<typeof seriesSchema>;

/** Surfaces that a series needs, by id, each once. */
export const surfacesInSeries = ({ base, surfaces }: Pick<Series, 'base' | 'surfaces'>): string[] => [
  ...new Set([...surfaces.map((s) => s.surface), ...(typeof base === 'object' && 'surface' in base ? [base.surface] : [])]), // prettier-ignore
];
