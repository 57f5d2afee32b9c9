import { z } from 'zod';
import { ATTRIBUTE_TYPES, INKS, LINE_STYLES, SYMBOLS } from './code.ts';
import { MEANINGS } from './words.ts';

const WORD = /^[^\s/"=]+$/;
const code = z
  .string()
  .trim()
  .min(1)
  .max(16)
  .regex(WORD, 'A code is one word without spaces, slashes, quotes or equals signs.');
const layer = z.string().trim().min(1).max(31);

const inSquare = z.number().min(-2).max(2);
/** A stroke of a symbol of one's own, in a square from −1 to 1, y up. */
const strokeSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('course'),
    places: z
      .array(inSquare)
      .min(4)
      .max(6000)
      .refine((p) => p.length % 2 === 0, 'Places come in pairs.')
      .readonly(),
    closed: z.boolean().optional(),
    filled: z.boolean().optional(),
  }),
  z.object({
    kind: z.literal('circle'),
    x: inSquare,
    y: inSquare,
    radius: z.number().positive().max(2),
    filled: z.boolean().optional(),
  }),
]);

export const codeSchema = z.object({
  code,
  name: z.string().trim().max(80),
  kind: z.enum(['point', 'line']),
  group: z.string().trim().max(40).optional(),
  layer,
  pointLayer: layer.optional(),
  ink: z.enum(INKS),
  symbol: z.enum(SYMBOLS),
  strokes: z.array(strokeSchema).min(1).max(60).optional(),
  scale: z.number().min(0.1).max(20).optional(),
  rotation: z.number().min(-7).max(7).optional(),
  style: z.enum(LINE_STYLES),
  breakline: z.boolean(),
  ground: z.boolean(),
  attributes: z
    .array(
      z.object({
        name: z.string().trim().toLowerCase().min(1).max(30).regex(WORD, 'An attribute’s name is one word.'),
        type: z.enum(ATTRIBUTE_TYPES),
        choices: z.array(z.string().trim().min(1).max(40)).max(100).optional(),
        required: z.boolean().optional(),
      }),
    )
    .max(40)
    .optional(),
  label: z.array(z.string().trim().min(1).max(30)).max(6).optional(),
  offsets: z
    .array(
      z.object({
        code,
        across: z.number().min(-100).max(100),
        height: z.number().min(-100).max(100),
      }),
    )
    .max(12)
    .optional(),
  lower: code.optional(),
  pipe: z.boolean().optional(),
});

const word = z.string().trim().min(1).max(16).regex(WORD, 'A line word is one word without spaces, slashes, quotes or equals signs.'); // prettier-ignore

export const wordsSchema = z
  .object({
    ...(Object.fromEntries(MEANINGS.map((m) => [m, word.optional()])) as Record<
      (typeof MEANINGS)[number],
      z.ZodOptional<typeof word>
    >),
    form: z
      .object({
        place: z.enum(['after', 'before']),
        number: z.enum(['attached', 'apart', 'none']),
        joint: z.string().max(3).regex(/^[^\sA-Za-z0-9"=/]*$/, 'What joins words to codes is a sign, or nothing.').nullable(), // prettier-ignore
        separators: z
          .string()
          .max(6)
          .regex(/^[^\sA-Za-z0-9"=]*$/, 'Codes are separated by signs.'),
        unit: z.enum(['m', 'ft', 'usft']),
      })
      .optional(),
    also: z.record(word, z.enum(MEANINGS)).optional(),
  })
  .superRefine((words, context) => {
    const seen = new Set<string>();
    for (const text of spellings(words)) {
      if (seen.has(text)) context.addIssue({ code: 'custom', message: `“${text}” stands for two line words.` });
      seen.add(text);
    }
  });

/** Every word that a list of line words knows, in capitals. */
export function spellings(words: Record<string, unknown> & { also?: Record<string, string> }): string[] {
  return [
    ...MEANINGS.flatMap((m) => (typeof words[m] === 'string' ? [words[m].toUpperCase()] : [])),
    ...Object.keys(words.also ?? {}).map((w) => w.toUpperCase()),
  ];
}

export const codeListSchema = z
  .object({
    codes: z.array(codeSchema).max(2000),
    words: wordsSchema,
    from: z.object({ id: z.string().max(60), name: z.string().max(80), revision: z.int().min(1) }).optional(),
  })
  .superRefine((list, context) => {
    const seen = new Set<string>();
    for (const text of [...list.codes.map((c) => c.code.toUpperCase()), ...new Set(spellings(list.words))]) {
      if (seen.has(text))
        context.addIssue({ code: 'custom', message: `“${text}” stands twice among codes and line words.` });
      seen.add(text);
    }
  });
