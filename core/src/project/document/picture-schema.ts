import { z } from 'zod';
import { PICTURE_FITS } from '#core/pictures';
import { coordinate, sha256 } from './fields.ts';

const pixel = z.number().min(-1e6).max(1e6);
const m = z.number().min(-1e15).max(1e15);

const markSchema = z.object({
  column: pixel,
  row: pixel,
  x: coordinate,
  y: coordinate,
  on: z.boolean(),
  /** The point that it was taken from, by key, and its number then. */
  point: z.object({ key: z.string().max(80), number: z.string().max(200) }).nullable(),
});

/** Where a picture's place comes from: from nowhere yet, from what came with it, from a length, from marks. */
const placedBySchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('view') }),
  z.object({ by: z.literal('file'), name: z.string().max(255) }),
  z.object({ by: z.literal('length'), from: z.tuple([pixel, pixel]), to: z.tuple([pixel, pixel]), length: z.number().positive().max(1e7) }), // prettier-ignore
  z.object({
    by: z.literal('marks'),
    kind: z.enum(PICTURE_FITS),
    marks: z.array(markSchema).max(200),
    /** Standard deviation of a coordinate, m; null without redundancy. */
    sigma: z.number().min(0).nullable(),
  }),
]);

/** A picture under the drawing: a scan, a photograph, a page. */
export const pictureSchema = z.object({
  id: z.string().min(1).max(40),
  name: z.string().trim().min(1).max(255),
  fileId: z.string().min(1).max(40),
  fileName: z.string().min(1).max(255),
  sha256,
  /** Pixels, as it is shown. */
  width: z.int().min(1).max(1e6),
  height: z.int().min(1).max(1e6),
  /** The page of a document, from 1 on. */
  page: z.int().min(1).max(10_000).optional(),
  /** Pixels from its upper left corner, right and down, to metres: nine numbers, row by row. */
  matrix: z.tuple([m, m, m, m, m, m, m, m, m]),
  placed: placedBySchema,
  /** 1: nothing shows through. */
  opacity: z.number().min(0).max(1),
  /** −1 black, 0 as it is, 1 white. */
  brightness: z.number().min(-1).max(1),
  hidden: z.boolean(),
});
export type Picture = z.infer<typeof pictureSchema>;
export type PictureMarkKept = z.infer<typeof markSchema>;
