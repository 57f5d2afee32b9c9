import { type GeographicArea, type GridFactors } from '#core/basis';
import { FILE_UNITS } from '#core/measure';
import { type GridRef } from '#core/project';
import { name } from './fields.ts';
import { z } from 'zod';

export const factorsSchema = z.object({
  places: z
    .array(
      z.tuple([z.number().min(-1e8).max(1e8), z.number().min(-1e8).max(1e8), z.number().min(-1e5).max(1e5).nullable()]),
    )
    .min(1)
    .max(500),
});

const degreesSchema = z.number().min(-360).max(360);

const systemParametersSchema = z.object({
  name,
  method: z.enum(['tmerc', 'lcc1', 'lcc2', 'omerc', 'sterea', 'stere']),
  latitude: degreesSchema,
  longitude: degreesSchema,
  parallel1: degreesSchema.optional(),
  parallel2: degreesSchema.optional(),
  azimuth: degreesSchema.optional(),
  rectifiedAngle: degreesSchema.optional(),
  scale: z.number(),
  falseEast: z.number(),
  falseNorth: z.number(),
  ellipsoid: z.enum(['GRS80', 'WGS84', 'bessel', 'clrk66', 'clrk80ign', 'intl', 'airy', 'krass', 'evrst30']),
  datum: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('same') }),
    z.object({ kind: z.literal('parameters'), values: z.array(z.number()).max(7) }),
    z.object({ kind: z.literal('grid'), file: z.string().regex(/^[A-Za-z0-9_.-]{1,120}$/) }),
  ]),
});

/** A system by its parameters, or by a definition as PROJ writes it. */
export const systemRequestSchema = z.union([
  z.object({ parameters: systemParametersSchema }),
  z.object({ name, definition: z.string().min(5).max(800) }),
]);

/** m; a drawing in millimetres may be read in metres. */
const far = z.number().min(-1e12).max(1e12);
const extentSchema = z.tuple([far, far, far, far]);

/** A file that lies elsewhere than the project, as it is read now, m: in which published systems it would lie there. */
export const systemsThereRequestSchema = z.object({
  file: extentSchema,
  unit: z.enum(FILE_UNITS),
  project: extentSchema,
  /** The project's own system, as PROJ writes it. */
  definition: z.string().min(5).max(800),
});
export type SystemsThereRequest = z.infer<typeof systemsThereRequestSchema>;

export const gridRequestSchema = z.object({ fileId: z.string().min(1).max(40) });

export interface FactorsAnswer {
  /** One a place; null where the system says nothing there. */
  list: ({ factors: GridFactors; geoidHeight: number | null } | null)[];
}

export interface GridFacts {
  ref: GridRef;
  use: 'geoid' | 'datum';
  areas: GeographicArea[];
  rows: number;
  columns: number;
}

export type { FoundSystem } from '#core/basis';
