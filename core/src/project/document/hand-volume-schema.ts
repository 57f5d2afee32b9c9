import { z } from 'zod';
import { FILE_UNITS } from '#core/measure';
import { HAND_KINDS } from '#core/quantities';
import { elevation, shortText } from './fields.ts';

/** Characters of a typed table at the most. */
const MOST_TEXT = 500_000;

/** A volume worked out by hand, from a table that somebody typed or pasted; it is kept as it was typed. */
export const handVolumeSchema = z.object({
  id: z.string().min(1).max(40),
  name: shortText,
  kind: z.enum(HAND_KINDS),
  /** Of lengths, and squared of areas, unless a heading says another. */
  unit: z.enum(FILE_UNITS),
  text: z.string().max(MOST_TEXT),
  /** Of a grid of corners, m: the side of its cells, and the level. */
  cell: z.number().min(0.001).max(1e5),
  level: elevation,
});
export type KeptHandVolume = z.infer<typeof handVolumeSchema>;
