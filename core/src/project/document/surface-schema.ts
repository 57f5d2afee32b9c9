import { z } from 'zod';
import { KEEP_RULES, MEETING_RULES } from '#core/terrain';
import { LEAST_SLOPE, LEAST_STEP, MOST_SLOPE } from '#core/quantities';
import { coordinate, elevation, shortText } from './fields.ts';
import { pointRuleSchema } from './point-set-schema.ts';

export const ringSchema = z
  .array(coordinate)
  .min(6)
  .max(20_000)
  .refine((r) => r.length % 2 === 0, 'A boundary is pairs of coordinates.');

/** What a surface is for: ground is contoured, cut and sent; a design is what it is compared with. */
export const SURFACE_ROLES = ['ground', 'design', 'other'] as const;
export const surfaceRoleSchema = z.enum(SURFACE_ROLES);
export type SurfaceRole = z.infer<typeof surfaceRoleSchema>;

/** What is traced over a picture as lines. */
export const TRACED_AS = ['contour', 'breakline'] as const;

const id = z.string().min(1).max(40);
const row = { id, on: z.boolean() };
const lineKey = z.string().max(200);
const place = z.object({ x: coordinate, y: coordinate, z: z.number().min(-1e5).max(1e5) });

const pointKeys = z.array(z.string().min(1).max(120)).min(1).max(10_000);
const shift = z.number().min(-1e4).max(1e4);
const slope = z.number().min(LEAST_SLOPE).max(MOST_SLOPE);
/** Slopes from a proposed area to the ground, horizontal to 1 vertical; with level steps, m. */
const batters = {
  cutSlope: slope,
  fillSlope: slope,
  corners: z.enum(['mitred', 'rounded']),
  sagitta: z.number().min(1e-4).max(1),
  benches: z.object({ every: z.number().min(LEAST_STEP).max(1000), width: z.number().min(0).max(1000) }).nullable().optional(), // prettier-ignore
};

/** One row of a recipe: what comes in, what is excluded, where it ends. A row that is off does nothing. */
export const surfaceRowSchema = z.discriminatedUnion('kind', [
  /** The points of every survey file, those that come later as well. */
  z.object({ ...row, kind: z.literal('survey') }),
  /** The points of one file, whatever it is. */
  z.object({ ...row, kind: z.literal('file'), intake: id }),
  /** The triangles of one file that is a ready-made surface, as received: the surface is these, whatever other rows bring. */
  z.object({ ...row, kind: z.literal('triangles'), intake: id }),
  /** Lines of the files that come in, as breaklines, or their vertices alone; null: those that the code list says are breaklines. */
  z.object({ ...row, kind: z.literal('lines'), codes: z.array(z.string().trim().min(1).max(16)).max(500).nullable(), pointsOnly: z.boolean().optional() }), // prettier-ignore
  /** Lines of these codes that are level, as contours: breaklines at their one elevation. */
  z.object({ ...row, kind: z.literal('contours'), codes: z.array(z.string().trim().min(1).max(16)).min(1).max(500) }),
  /** Points whose codes do not belong in the ground, and those whose height is not used. */
  z.object({ ...row, kind: z.literal('exclude-codes') }),
  /** Lines that are no breaklines here, by their keys. */
  z.object({ ...row, kind: z.literal('exclude-lines'), lines: z.array(lineKey).max(10_000) }),
  /** Points that meet a rule, of whatever file that is switched on. */
  z.object({ ...row, kind: z.literal('points'), rule: pointRuleSchema }),
  /** Points that meet a rule are excluded, whatever brings them in. */
  z.object({ ...row, kind: z.literal('exclude-points'), rule: pointRuleSchema }),
  /** Points that meet a rule are kept out of the surface and tell how good it is; `within`: 95 % are wanted within so many metres. */
  z.object({ ...row, kind: z.literal('checks'), rule: pointRuleSchema, within: z.number().min(0.001).max(100).nullable() }), // prettier-ignore
  z.object({ ...row, kind: z.literal('boundary'), ring: ringSchema }),
  /** The boundary by closed lines of these codes, of these files or of any: the largest is the rim, those inside it are voids. */
  z.object({
    ...row,
    kind: z.literal('line-boundary'),
    codes: z.array(z.string().trim().min(1).max(16)).min(1).max(500),
    files: z.array(id).max(500).optional(),
  }),
  /** No surface inside; an island is surface within a void. */
  z.object({ ...row, kind: z.literal('void'), ring: ringSchema }),
  z.object({ ...row, kind: z.literal('island'), ring: ringSchema }),
  /** Points left out while the surface stays within so many metres of them in height. */
  z.object({ ...row, kind: z.literal('thin'), error: z.number().min(0.001).max(100) }),
  /** Points along the middle of level parts, between contours; summits and hollows go on by a share of the step outside. */
  z.object({ ...row, kind: z.literal('fill-level'), summit: z.number().min(0).max(0.99) }),
  /** What a person does to the surface, held by places: a spot height, an area raised, tilted onto three heights or evened out. */
  z.object({ ...row, kind: z.literal('spot'), x: coordinate, y: coordinate, z: z.number().min(-1e5).max(1e5) }),
  z.object({ ...row, kind: z.literal('raise'), ring: ringSchema, by: z.number().min(-1000).max(1000) }),
  z.object({ ...row, kind: z.literal('tilt'), ring: ringSchema, onto: z.array(place).length(3) }),
  z.object({
    ...row,
    kind: z.literal('even-out'),
    ring: ringSchema,
    strength: z.number().min(0).max(1),
    rounds: z.int().min(1).max(50),
  }),
  /** Points of the surface, by their keys, that stand elsewhere in it, or not at all; their records stay as they are. */
  z.object({ ...row, kind: z.literal('move'), points: pointKeys, by: z.object({ x: shift, y: shift, z: shift }) }),
  z.object({ ...row, kind: z.literal('omit'), points: pointKeys }),
  /** A breakline drawn on this surface alone, with elevations. */
  z.object({ ...row, kind: z.literal('breakline'), course: z.array(place).min(2).max(5000) }),
  /**
   * Traced over a picture: a contour, level at its elevation, or a breakline whose elevations that are not known (null) are
   * solved along it.
   */
  z.object({
    ...row,
    kind: z.literal('traced'),
    as: z.enum(TRACED_AS),
    picture: id.nullable(),
    course: z
      .array(place.extend({ z: elevation.nullable() }))
      .min(2)
      .max(5000)
      .refine((c) => c.some(({ z: known }) => known !== null), 'One elevation at least has to be known.'),
    closed: z.boolean(),
  }),
  /** Lines higher or lower in this surface, with all their points. */
  z.object({ ...row, kind: z.literal('raise-lines'), lines: z.array(lineKey).min(1).max(1000), by: shift }),
  /** Points and breaklines of another surface, of all of it or inside a ring, triangulated with what else comes in. */
  z.object({ ...row, kind: z.literal('surface'), surface: id, ring: ringSchema.nullable() }),
  /** Another surface takes the place of this one, inside a ring or over all that it covers. */
  z.object({ ...row, kind: z.literal('lay-in'), surface: id, ring: ringSchema.nullable() }),
  /**
   * A pad with batters in another surface, m and radians; the surface is all pads, strips and offsets of its recipe, each laid
   * into the ground as the ones before leave it, whatever other rows bring.
   */
  z.object({
    ...row,
    kind: z.literal('pad'),
    surface: id,
    ring: ringSchema,
    level: elevation,
    levelAt: z.enum(['centre', 'first']),
    gradient: z.number().min(0).max(10),
    direction: z.number().min(-7).max(7),
    ...batters,
    batter: z.enum(['square', 'steepest']),
    /** Points, by their keys, that its plane is fitted to: level and gradient are theirs, and follow them. */
    through: z.array(z.string().min(1).max(120)).min(3).max(200).nullable().optional(),
  }),
  /** A template carried along a line, with batters, in another surface: a bank, a ditch, a road bed. Offsets are to the right, m. */
  z.object({
    ...row,
    kind: z.literal('strip'),
    surface: id,
    course: z.array(place).min(2).max(2000),
    template: z
      .array(z.object({ offset: shift, height: shift }))
      .min(2)
      .max(50),
    ...batters,
  }),
  /** Another surface so much higher, or lower, all of it or inside a ring, as part of proposed ground. */
  z.object({ ...row, kind: z.literal('offset'), surface: id, ring: ringSchema.nullable(), by: shift }),
  /**
   * Triangles with a side at the rim that is longer, m, from outside inwards; breaklines stay. `auto`: along the closed
   * breaklines that hold all of the surface, else by a length worked out from what it is made from.
   */
  z.object({ ...row, kind: z.literal('found-boundary'), longest: z.union([z.number().min(0.01).max(1e6), z.literal('auto')]) }), // prettier-ignore
  /** The side between two places swapped for the other diagonal; triangles at places deleted. */
  z.object({ ...row, kind: z.literal('swap'), ends: z.array(coordinate).length(4) }),
  z.object({ ...row, kind: z.literal('delete-triangles'), places: z.array(coordinate).min(2).max(2000) }),
  /** Which elevation counts where lines meet: that of a line, of the point that stands there, or one made of all. */
  z.object({
    ...row,
    kind: z.literal('meeting'),
    x: coordinate,
    y: coordinate,
    lines: z.array(lineKey).max(20),
    use: z.union([z.enum(['point', 'mean', 'highest', 'lowest']), z.object({ line: lineKey })]),
  }),
]);
export type SurfaceRow = z.infer<typeof surfaceRowSchema>;
export type PadRow = Extract<SurfaceRow, { kind: 'pad' }>;
export type StripRow = Extract<SurfaceRow, { kind: 'strip' }>;
/** What proposed ground is made of. */
export type ProposedRow = Extract<SurfaceRow, { kind: 'pad' | 'strip' | 'offset' }>;

/** How a surface is made: its rows in order; null stands for what the project's settings say. */
export const surfaceSchema = z.object({
  id,
  name: shortText,
  role: surfaceRoleSchema,
  /** m; points nearer than this in plan are one. */
  coincidence: z.number().min(0).max(10).nullable(),
  /** Which of points that are one stays; null: the first. */
  keep: z.enum(KEEP_RULES).nullable(),
  /** Which elevation counts where breaklines meet at different ones, unless a row says it of the place; null: the first. */
  meeting: z.enum([...MEETING_RULES, 'code']).nullable(),
  /** m; no triangle has a longer side, breaklines apart. */
  longestSide: z.union([z.number().positive().max(1e6), z.literal('none')]).nullable(),
  /** m between contours. */
  interval: z.union([z.number().min(0.001).max(1e4), z.literal('none')]).nullable(),
  indexEvery: z.int().min(0).max(100).nullable(),
  /** Contours with their corners cut; null as they run over the triangles. */
  smooth: z.boolean().nullable(),
  rows: z.array(surfaceRowSchema).max(10_000),
});
export type SurfaceRecipe = z.infer<typeof surfaceSchema>;

/** Other surfaces that a recipe is made from, each once, rows that are off included. */
export const surfacesIn = ({ rows }: Pick<SurfaceRecipe, 'rows'>): string[] => [
  ...new Set(rows.flatMap((r) => ('surface' in r ? [r.surface] : []))),
];

const isProposed = (r: SurfaceRow): r is ProposedRow => r.kind === 'pad' || r.kind === 'strip' || r.kind === 'offset';

export type TracedRow = Extract<SurfaceRow, { kind: 'traced' }>;

/** What a surface proposes, in order; nothing of one that is no proposed ground. */
export const proposedRows = ({ rows }: Pick<SurfaceRecipe, 'rows'>): ProposedRow[] => rows.filter((r): r is ProposedRow => isProposed(r) && r.on); // prettier-ignore

/** The surface that every project begins with. */
export const FIRST_SURFACE = 'ground';

/** The ground of a survey: every survey file, its breaklines, without what its codes keep out. */
export const groundRecipe = (surface: Pick<SurfaceRecipe, 'id' | 'name'>): SurfaceRecipe => ({
  ...surface,
  role: 'ground',
  coincidence: null,
  keep: null,
  meeting: null,
  longestSide: null,
  interval: null,
  indexEvery: null,
  smooth: null,
  rows: [
    { id: 'survey', on: true, kind: 'survey' },
    { id: 'codes', on: true, kind: 'exclude-codes' },
    { id: 'lines', on: true, kind: 'lines', codes: null },
  ],
});

/** A surface made of files of its own: all their points, and their breaklines, with sides of any length. */
export const designRecipe = (
  surface: Pick<SurfaceRecipe, 'id' | 'name'>,
  intakes: readonly string[],
): SurfaceRecipe => ({
  ...surface,
  role: 'design',
  coincidence: null,
  keep: null,
  meeting: null,
  longestSide: 'none',
  interval: null,
  indexEvery: null,
  smooth: null,
  rows: [
    ...intakes.map((intake) => ({ id: `file-${intake}`.slice(0, 40), on: true, kind: 'file' as const, intake })),
    { id: 'lines', on: true, kind: 'lines' as const, codes: null },
  ],
});

type WithoutRow<R> = R extends unknown ? Omit<R, 'id' | 'on'> : never;

/** Proposed ground: what is laid into another surface, a pad to begin with. */
export const proposedRecipe = (
  surface: Pick<SurfaceRecipe, 'id' | 'name'>,
  first: WithoutRow<ProposedRow>,
): SurfaceRecipe => ({
  ...designRecipe(surface, []),
  rows: [{ id: first.kind, on: true, ...first }],
});

/** A surface that came ready-made, kept as received. */
export const receivedRecipe = (surface: Pick<SurfaceRecipe, 'id' | 'name'>, intake: string): SurfaceRecipe => ({
  ...designRecipe(surface, []),
  rows: [{ id: `file-${intake}`.slice(0, 40), on: true, kind: 'triangles', intake }],
});

/** A surface that will be made of what is traced alone, its rim found by itself. */
export const tracedRecipe = (surface: Pick<SurfaceRecipe, 'id' | 'name'>): SurfaceRecipe => ({
  ...designRecipe(surface, []),
  role: 'other',
  rows: [{ id: 'rim', on: true, kind: 'found-boundary', longest: 'auto' }],
});
