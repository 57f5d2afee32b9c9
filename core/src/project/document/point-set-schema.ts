import { z } from 'zod';
import { INKS } from '#core/codes';

const coordinate = z.number().min(-1e8).max(1e8);
const key = z.string().max(80);

/** Which points are meant: those that meet every part that is given. */
export const pointRuleSchema = z.object({
  /** Intakes; absent: any. */
  files: z.array(z.string().max(40)).max(500).optional(),
  /** Codes, * for any letters. */
  codes: z.array(z.string().trim().max(30)).max(200).optional(),
  /** Plain numbers from … to. */
  numbers: z.tuple([z.number(), z.number()]).optional(),
  /** x, y, x, y …, m. */
  area: z.array(coordinate).min(6).max(2000).optional(),
  /** m. */
  elevations: z.tuple([z.number(), z.number()]).optional(),
  /** ISO dates of the observation, both included. */
  dates: z.tuple([z.string().max(10), z.string().max(10)]).optional(),
});
export type PointRule = z.infer<typeof pointRuleSchema>;

/** A named choice of points: those that meet every part of the rule, with more by hand and without some by hand. */
export const pointSetSchema = z.object({
  id: z.string().min(1).max(40),
  name: z.string().trim().min(1).max(60),
  rule: pointRuleSchema,
  /** No rule: only what was put in by hand. */
  byHandOnly: z.boolean(),
  more: z.array(key).max(100_000),
  without: z.array(key).max(100_000),
  ink: z.enum(INKS).nullable(),
  hidden: z.boolean(),
});
export type PointSet = z.infer<typeof pointSetSchema>;
