import { codeListSchema } from '#core/codes';
import { z } from 'zod';

export const keepCodeListSchema = z.object({
  /** A kept list to which this is the next revision; null for a new one. */
  id: z.uuid().nullable().default(null),
  /** The revision that it began from. */
  base: z.int().min(0).default(0),
  name: z.string().trim().min(1).max(80),
  client: z.string().trim().max(80).default(''),
  team: z.uuid().nullable().default(null),
  list: codeListSchema,
});

/** A code list that is kept: its newest revision. */
export interface KeptCodeListCard {
  id: string;
  name: string;
  client: string;
  team: string | null;
  revision: number;
  codes: number;
  savedAt: string;
  savedBy: string;
}

export interface KeptCodeList {
  id: string;
  name: string;
  client: string;
  revision: number;
  list: z.infer<typeof codeListSchema>;
}
