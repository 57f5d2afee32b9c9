import { z } from 'zod';
import { HEAP_BASES } from '#core/quantities';
import { coordinate, elevation, shortText } from './fields.ts';
import { ringSchema } from './surface-schema.ts';

/** m */
const methodLength = z.number().min(0.001).max(1e5);

const factorsSchema = z.object({ cut: z.number().min(0.1).max(10), fill: z.number().min(0.1).max(10) });

/** What is compared with what, and inside what. */
export const comparisonSchema = z.object({
  id: z.string().min(1).max(40),
  name: shortText,
  /** The surface that is compared, by its id. */
  surface: z.string().min(1).max(40),
  /** A level, another surface, or the base of the heap that the surface is. */
  against: z.union([
    z.object({ level: elevation }),
    /** With `heap`: the compared surface is one, above what another says was there before. */
    z.object({ surface: z.string().min(1).max(40), heap: z.literal(true).optional() }),
    z.object({ base: z.enum(HEAP_BASES) }),
  ]),
  /** Of a heap: the surface of what was there before it, told beside its bases. */
  earlier: z.string().min(1).max(40).optional(),
  /** What is compared; round a heap, its toe as drawn. */
  within: ringSchema.nullable(),
  /** What lies inside these is not compared. */
  voids: z.array(ringSchema).max(100).optional(),
  /** Parts that are told apart: areas, or where one material lies, with factors of their own where they have them. */
  zones: z
    .array(z.object({ name: shortText, ring: ringSchema, factors: factorsSchema.optional() }))
    .max(100)
    .optional(),
  /** What is cut by materials that lie one under the other, each from its top downwards: so many m under the ground, or a surface, by its id. */
  materials: z
    .array(
      z.object({
        name: shortText,
        top: z.union([
          z.object({ depth: z.number().min(0).max(1000) }),
          z.object({ surface: z.string().min(1).max(40) }),
        ]),
        factors: factorsSchema.pick({ cut: true }).optional(),
      }),
    )
    .max(20)
    .optional(),
  /** m; cut and fill are told in slices of this depth too. */
  slice: methodLength.optional(),
  /** m of topsoil that go first, over all that is compared. */
  strip: z.number().min(0).max(10).optional(),
  /** m; where the difference is no deeper it counts as neither cut nor fill. */
  neither: z.number().min(0).max(10).optional(),
  /** What a cubic metre of cut becomes once it is loose, and how many of it a cubic metre of fill takes. */
  factors: factorsSchema.optional(),
  /** How the hand methods go, m; what is not said is chosen by the size of what is compared. */
  methods: z.object({ cell: methodLength, spacing: methodLength, interval: methodLength }).partial().optional(),
  /** Line square to which sections stand, x, y …, m; otherwise they run north. */
  along: z.array(coordinate).min(4).max(20_000).refine((c) => c.length % 2 === 0, 'A line is pairs of coordinates.').optional(), // prettier-ignore
  /** Another party's measurement of the same: their surface inside our boundary, one of their own or none, their level or figure. */
  theirs: z
    .object({
      surface: z.string().min(1).max(40),
      within: z.union([ringSchema, z.literal('whole')]).optional(),
      level: elevation.optional(),
      /** What they say it is, cut − fill, m³. */
      net: z.number().min(-1e12).max(1e12).optional(),
    })
    .optional(),
  /** Standard deviations of the surface's points, m: of east and of north each, and of elevation. */
  sd: z
    .object({
      plan: z.number().min(0).max(100),
      height: z.number().min(0).max(100),
      /** Each point’s own, from its reduction or its file, where it has one; those typed are of the others. Both surfaces count. */
      own: z.boolean().optional(),
      /** Of the scale of the picture that they were traced over, as a share of it. */
      scale: z.number().min(0).max(0.5).optional(),
    })
    .optional(),
});
export type Comparison = z.infer<typeof comparisonSchema>;

/** Whether what is compared is a heap: above one of its bases, or above what was there before it. */
export const isHeap = ({ against }: Pick<Comparison, 'against'>): boolean => 'base' in against || ('surface' in against && against.heap === true); // prettier-ignore

/** Surfaces that a comparison needs, by id. */
export const surfacesCompared = ({
  surface,
  against,
  earlier,
  theirs,
  materials = [],
}: Pick<Comparison, 'surface' | 'against' | 'earlier' | 'theirs' | 'materials'>): string[] => [
  surface,
  ...('surface' in against ? [against.surface] : []),
  ...(earlier ? [earlier] : []),
  ...(theirs ? [theirs.surface] : []),
  ...materials.flatMap(({ top }) => ('surface' in top ? [top.surface] : [])),
];
