import { z } from 'zod';
import { coordinate, sha256 } from './fields.ts';

const degrees = z.number().min(-360).max(360);

export const systemSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('local') }),
  z.object({
    kind: z.enum(['projected', 'geographic']),
    name: z.string().trim().min(1).max(160),
    code: z
      .string()
      .regex(/^EPSG:\d{3,6}$/)
      .nullable(),
    definition: z.string().min(5).max(800),
    unit: z.enum(['m', 'ft', 'usft', 'degree']),
    area: z.object({ west: degrees, south: degrees, east: degrees, north: degrees }).nullable(),
    extent: z.tuple([coordinate, coordinate, coordinate, coordinate]).nullable(),
  }),
]);

/** A grid of datum shifts or geoid heights among the originals. */
export const gridRefSchema = z.object({
  fileId: z.string().min(1).max(40),
  name: z.string().min(1).max(255),
  sha256,
  format: z.enum(['gtx', 'geotiff', 'ntv2']),
});
export type GridRef = z.infer<typeof gridRefSchema>;

export const SCALE_FACTOR = z
  .number()
  .min(0.9, 'A survey’s scale factor is never below 0.9; most lie within 0.999 and 1.001.')
  .max(1.1, 'A survey’s scale factor is never above 1.1; most lie within 0.999 and 1.001.');

export const basisSchema = z.object({
  system: systemSchema,
  /** Length on the grid over length on the ground, as stated with the control. */
  factor: SCALE_FACTOR,
  /** Who states the factor, or where it stands. */
  factorSource: z.string().trim().max(200),
  /** About which grid coordinates turn into ground coordinates. */
  base: z.object({ x: coordinate, y: coordinate }).nullable(),
  /** What the project's elevations are. */
  heights: z.enum(['orthometric', 'ellipsoidal']),
  geoid: gridRefSchema.nullable(),
  interpolation: z.enum(['bilinear', 'biquadratic']),
  datumGrids: z.array(gridRefSchema).max(20),
  /** Year to which coordinates on a moving datum belong, or null. */
  epoch: z.number().min(1900).max(2200).nullable(),
});
export type Basis = z.infer<typeof basisSchema>;

export const LOCAL_BASIS: Basis = {
  system: { kind: 'local' },
  factor: 1,
  factorSource: '',
  base: null,
  heights: 'orthometric',
  geoid: null,
  interpolation: 'bilinear',
  datumGrids: [],
  epoch: null,
};

/** Grid files that a basis names. */
export const gridsOfBasis = (basis: Basis): GridRef[] => [...(basis.geoid ? [basis.geoid] : []), ...basis.datumGrids];
