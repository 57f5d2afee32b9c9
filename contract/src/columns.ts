import { z } from 'zod';

const id = z.string().min(1).max(40);
const most = <T extends z.ZodType>(value: T, count: number) =>
  z.record(id, value).refine((r) => Object.keys(r).length <= count, `At most ${count}.`);

/** What a person chose of one table's columns: only what differs from the columns' own wishes. */
export const columnChoiceSchema = z.object({
  /** Ids in order. */
  order: z.array(id).max(100).optional(),
  shown: most(z.boolean(), 100).optional(),
  pinned: most(z.boolean(), 100).optional(),
  /** px. */
  widths: most(z.number().min(8).max(4000), 100).optional(),
});
export type ColumnChoice = z.infer<typeof columnChoiceSchema>;

/** By table. */
export const columnChoicesSchema = most(columnChoiceSchema, 60);
export type ColumnChoices = z.infer<typeof columnChoicesSchema>;
