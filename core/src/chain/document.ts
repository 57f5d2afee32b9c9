import { z } from 'zod';
import { LAYOUT_KINDS, LAYOUT_ROLES } from '#core/book';
import { DEFAULT_CODE_LIST, DEFAULT_WORDS, MEANINGS, type CodeList } from '#core/codes';
import { codeListSchema, wordsSchema } from './code-list-schema.ts';
import { pointSetSchema } from './point-set-schema.ts';
import { drawingSchema, START_DRAWING, type DrawingSettings } from './drawing-schema.ts';

/** Coordinates in metres that are places on earth. */
const coordinate = z.number().min(-1e8).max(1e8);
const elevation = z.number().min(-1e5).max(1e5);
const shortText = z.string().trim().min(1).max(120);
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);

export const unitSchema = z.enum(['m', 'ft', 'usft']);

export const layoutSchema = z.object({
  separator: z.enum([',', ';', '\t', '|', ' ']),
  decimal: z.enum(['.', ',']),
  skipRows: z.int().min(0).max(100_000),
  roles: z
    .array(z.enum(['P', 'N', 'E', 'Z', 'D', 'L', 'W', '_']))
    .min(2)
    .max(200),
  unit: z.enum(['m', 'ft', 'usft', 'mm', 'in']),
  /** Plan columns hold longitude (E) and latitude (N) instead of lengths. */
  degrees: z.boolean().optional(),
});

const fieldPlace = z.union([
  z.object({ column: z.int().min(0).max(199) }),
  z.object({ key: z.string().trim().min(1).max(40) }),
  z
    .object({ from: z.int().min(0).max(3999), to: z.int().min(1).max(4000) })
    .refine((p) => p.to > p.from, 'A field of a fixed column ends behind its beginning.'),
]);

/** How a table or tagged text becomes records of a book. */
export const bookLayoutSchema = z.object({
  split: z.enum(['separator', 'fixed']),
  separator: z.enum([',', ';', '\t', '|', ' ']),
  decimal: z.enum(['.', ',']),
  skipRows: z.int().min(0).max(100_000),
  unit: z.enum(['m', 'ft', 'usft', 'mm', 'in']),
  angle: z.enum(['dms', 'deg', 'gon', 'packed']),
  vertical: z.enum(['zenith', 'elevation']),
  order: z.enum(['EN', 'NE']),
  tag: fieldPlace.nullable(),
  rows: z
    .array(
      z.object({
        tag: z.string().trim().max(30),
        kind: z.enum(LAYOUT_KINDS),
        fields: z.array(z.object({ role: z.enum(LAYOUT_ROLES), at: fieldPlace })).max(60),
      }),
    )
    .max(100),
  backsight: z.enum(['said', 'first']),
});

/** What is done with a point whose number exists already. */
export const numberDecisionSchema = z.enum(['both', 'merge', 'renumber', 'leave-out']);
export type NumberDecision = z.infer<typeof numberDecisionSchema>;

export const GROUND = 'Ground';
export const CONTROL = 'Control';

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
  .min(0.9, 'A scale factor below 0.9 is none that a survey has; most lie within 0.999 and 1.001.')
  .max(1.1, 'A scale factor above 1.1 is none that a survey has; most lie within 0.999 and 1.001.');

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

export const standingSchema = z.enum(['fixed', 'weighted', 'check']);
export type Standing = z.infer<typeof standingSchema>;
export const STANDING_NAME: Record<Standing, string> = { fixed: 'fixed', weighted: 'weighted', check: 'check only' };

/** Where a file's numbers come from: who gave them, when, from what; for control, how good they are. */
export const givenSchema = z.object({
  by: z.string().trim().max(120),
  /** ISO date. */
  date: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}$/, 'A date is written 2026-05-31.')
    .nullable(),
  source: z.string().trim().max(200),
  standing: standingSchema,
  /** Standard deviations, m. */
  plan: z.number().positive().max(100).nullable(),
  height: z.number().positive().max(100).nullable(),
});
export type Given = z.infer<typeof givenSchema>;

/** What a file itself says of its numbers. */
export const claimsSchema = z.object({
  unit: unitSchema.nullable(),
  system: z.string().max(200).nullable(),
  geoid: z.string().max(200).nullable(),
});
export type Claims = z.infer<typeof claimsSchema>;

/** How an intake's points are carried over as a whole: a matrix, and what it was found from. */
export const placementSchema = z.object({
  kind: z.enum(['plan', 'space', 'shift', 'mirror']),
  scale: z.enum(['free', 'fixed']),
  height: z.enum(['none', 'shift', 'plane']),
  /** x' = m0 x + m1 y + m2 z + m3, y' = m4 …, z' = m8 … m11. */
  matrix: z.array(z.number().min(-1e12).max(1e12)).length(12),
  pairs: z
    .array(z.object({ from: z.string().max(200), to: z.string().max(200), plan: z.boolean(), height: z.boolean() }))
    .max(1000),
  /** Standard deviation of a coordinate, m; null without redundancy. */
  sigmaPlan: z.number().min(0).nullable(),
  sigmaHeight: z.number().min(0).nullable(),
});
export type Placement = z.infer<typeof placementSchema>;

export const intakeSchema = z.object({
  id: z.string().min(1).max(40),
  fileId: z.string().min(1).max(40),
  fileName: z.string().min(1).max(255),
  sha256,
  layout: layoutSchema,
  /** The surface that its points belong to: Ground, Control for given coordinates, or a design's name. */
  target: shortText,
  /** A file of points, or a field book; absent: points. */
  form: z.enum(['points', 'book']).optional(),
  /** How its rows become records, where a book is neither in the open text form nor LandXML. */
  bookLayout: bookLayoutSchema.optional(),
  on: z.boolean(),
  /** Its points are heights of the ground that nobody needs a number for. */
  light: z.boolean().optional(),
  /** Its crew’s line words, where they are not those of the project’s list. */
  words: wordsSchema.optional(),
  /** Stands before the number of each of its points, to tell files apart. */
  prefix: z.string().trim().max(12).optional(),
  numbers: z.object({
    all: numberDecisionSchema,
    each: z.record(z.string().max(200), numberDecisionSchema),
  }),
  /** The system of the file's numbers; absent: the project's. */
  system: systemSchema.optional(),
  /** What the file's elevations are; absent: as the project's. */
  heights: z.enum(['orthometric', 'ellipsoidal']).optional(),
  given: givenSchema.optional(),
  claims: claimsSchema.optional(),
  placement: placementSchema.optional(),
});
export type Intake = z.infer<typeof intakeSchema>;

/** A person's edit of one point; a field that is absent stands as received, an elevation of null is none. */
export const pointEditSchema = z.object({
  number: z.string().max(200).optional(),
  description: z.string().max(2000).optional(),
  x: coordinate.optional(),
  y: coordinate.optional(),
  z: elevation.nullable().optional(),
  off: z.boolean().optional(),
  /** A light point that is a full one, with number and label. */
  full: z.boolean().optional(),
  /** Of a control point. */
  standing: standingSchema.optional(),
  /** Of a record of a book: instrument, target or antenna height m; readings radians and m; face; role. */
  height: z.number().min(-100).max(1000).optional(),
  circle: z.number().min(0).max(6.2832).optional(),
  zenith: z.number().min(0).max(6.2832).optional(),
  distance: z.number().min(0).max(1e5).optional(),
  face: z.int().min(0).max(2).optional(),
  role: z.enum(['back', 'shot', 'check']).optional(),
});

/** What a person decided on a backsight, or on a setup that waits. */
export const decisionSchema = z.enum(['used', 'aside', 'undecided']);
export type PointEdit = z.infer<typeof pointEditSchema>;

export const ringSchema = z
  .array(coordinate)
  .min(6)
  .max(20_000)
  .refine((r) => r.length % 2 === 0, 'A boundary is pairs of coordinates.');

export const comparisonSchema = z.object({
  id: z.string().min(1).max(40),
  name: shortText,
  ground: shortText,
  against: z.union([z.object({ level: elevation }), z.object({ surface: shortText })]),
  within: ringSchema.nullable(),
});
export type Comparison = z.infer<typeof comparisonSchema>;

export const settingsSchema = z.object({
  unit: unitSchema,
  order: z.enum(['EN', 'NE']),
  /** Decimals of coordinates on screen. */
  decimals: z.int().min(0).max(6),
  elevationDecimals: z.int().min(0).max(6),
  angle: z.enum(['dms', 'deg', 'gon']),
  /** Decimals of a second, or as many more of degrees and gon as resolve the same. */
  angleDecimals: z.int().min(0).max(3),
  /** Vertical angles as shown and typed: from the zenith, or from the horizon. */
  vertical: z.enum(['zenith', 'elevation']),
  areaUnit: z.enum(['m2ha', 'm2', 'ha', 'ft2', 'ac']),
  volumeUnit: z.enum(['m3', 'yd3']),
  volumeDecimals: z.int().min(0).max(3),
  chainage: z.enum(['plain', 'thousands', 'hundreds']),
  /** In which order lines go from shot to shot: as observed, by number, or by time. */
  lineOrder: z.enum(['observed', 'number', 'time']),
  /** 1 : plotScale. */
  plotScale: z.int().min(10).max(100_000),
  /** m; a point that has the number of control may stand off it by so much, in plan and in height. */
  checkPlan: z.number().positive().max(10),
  checkHeight: z.number().positive().max(10),
  /** Radians; by how much repeated readings of one target may differ. */
  angleSpread: z.number().positive().max(0.1),
  /** Coefficient of refraction. */
  refraction: z.number().min(-2).max(2),
  /** What a position by satellite must promise: standard deviations m, dilution, satellites, tilt of the pole radians. */
  gnssPlan: z.number().positive().max(10),
  gnssHeight: z.number().positive().max(10),
  gnssPdop: z.number().min(1).max(100),
  gnssSatellites: z.int().min(0).max(60),
  gnssTilt: z.number().min(0).max(1.6),
  /** Misclosure of levelling allowed: m on one kilometre, growing with the root of the length. */
  levelClosure: z.number().positive().max(1),
  /** A traverse's linear misclosure may be one part in so many. */
  traverseRatio: z.number().min(100).max(1e6),
  /** How stations of a traverse follow its misclosure, where stations are not adjusted together. */
  traverse: z.enum(['carried', 'compass', 'transit']),
  /** Whether resections hold distances as measured, or find a scale for them. */
  resectionScale: z.enum(['fixed', 'free']),
  /** Control of the network as it stands, or the network free in itself, laid onto control as a whole. */
  networkDatum: z.enum(['standing', 'free']),
  /** What lies within tolerance is used by itself, or every backsight waits to be decided. */
  backsightRule: z.enum(['within', 'ask']),
  /** Whether stations of books are adjusted together and points follow. */
  network: z.boolean(),
  /** A residual of a fit over its standard deviation that is asked about. */
  fitOutlier: z.number().min(1).max(10),
  /** m; points nearer than this in plan are one in a surface. */
  coincidence: z.number().min(0).max(10),
  /** m; null for no limit. */
  longestSide: z.number().positive().max(1e6).nullable(),
  contourInterval: z.number().min(0.001).max(1e4),
  indexEvery: z.int().min(0).max(100),
  /** m; a point that stands off its neighbours by more is asked about. */
  spike: z.number().positive().max(1e4),
  /** m; two levels of one place lie no farther apart in plan. */
  pairReach: z.number().positive().max(10),
  /** m; no chord of an arc stands off it by more in the ground. */
  sagitta: z.number().min(0.001).max(10),
});
export type Settings = z.infer<typeof settingsSchema>;

export const acceptedSchema = z.object({
  evidence: z.string().max(80),
  reason: shortText.max(500),
  by: z.string().max(200),
  at: z.string().max(40),
});

const registerName = z.string().trim().min(1).max(40);
const constant = z.number().min(-1).max(1);

/** Instruments and targets that books refer to by name; what stands here comes before what a book says of them. */
export const registerSchema = z.object({
  instruments: z
    .array(
      z.object({
        name: registerName,
        /** Standard deviations of a direction and a zenith angle in one face, radians. */
        direction: z.number().positive().max(0.01),
        zenith: z.number().positive().max(0.01),
        /** Of a distance: constant part m, and parts per million. */
        distance: z.number().positive().max(1),
        ppm: z.number().min(0).max(1000),
        /** Added to every distance, m. */
        constant,
        /** Micrometres. */
        wavelength: z.number().min(0.3).max(2),
      }),
    )
    .max(200),
  targets: z.array(z.object({ name: registerName, constant })).max(200),
});
export type Register = z.infer<typeof registerSchema>;

/** A line that a person drew or changed: it follows points by their keys, or goes through places. */
export const handLineSchema = z.object({
  code: z.string().trim().toUpperCase().min(1).max(16),
  lineNumber: z.string().max(9),
  closed: z.boolean(),
  /** None where a person took the line out. */
  vertices: z
    .array(
      z.object({
        point: z.string().max(80).nullable(),
        x: coordinate,
        y: coordinate,
        z: elevation.nullable(),
        bulge: z.number().min(-2.5).max(2.5),
        side: z.int().min(0).max(2),
      }),
    )
    .max(20_000),
  /** The line by codes in whose place it stands, and what that went through when it was changed. */
  replaces: z.object({ key: z.string().max(200), course: z.string().max(80) }).nullable(),
});
export type HandLine = z.infer<typeof handLineSchema>;

export const documentSchema = z.object({
  settings: settingsSchema,
  basis: basisSchema,
  codeList: codeListSchema,
  intakes: z.array(intakeSchema).max(500),
  /** By point key, `intake:row`. */
  edits: z.record(z.string(), pointEditSchema),
  /** Decisions on backsights and setups, by record key, `intake:row`. */
  decisions: z.record(z.string(), decisionSchema),
  register: registerSchema,
  boundary: ringSchema.nullable(),
  comparisons: z.array(comparisonSchema).max(200),
  accepted: z.record(z.string(), acceptedSchema),
  /** Lines that a person took out of the ground, by line key. */
  linesOutOfGround: z.array(z.string().max(200)).max(10_000),
  /** Lines by hand, by their keys. */
  handLines: z.record(z.string().max(200), handLineSchema),
  pointSets: z.array(pointSetSchema).max(200),
  /** How all is drawn: layers, labels, plots. */
  drawing: drawingSchema,
});

/** Everything about a project that is not an original: settings, decisions, edits. All else is derived from it and the originals. */
export type ProjectDocument = z.infer<typeof documentSchema>;

export const START_SETTINGS: Settings = {
  unit: 'm',
  order: 'EN',
  decimals: 3,
  elevationDecimals: 3,
  angle: 'dms',
  angleDecimals: 0,
  vertical: 'zenith',
  areaUnit: 'm2ha',
  volumeUnit: 'm3',
  volumeDecimals: 1,
  chainage: 'plain',
  lineOrder: 'observed',
  plotScale: 500,
  coincidence: 0.01,
  longestSide: 30,
  contourInterval: 0.25,
  indexEvery: 4,
  spike: 0.5,
  sagitta: 0.02,
  pairReach: 0.3,
  checkPlan: 0.03,
  checkHeight: 0.05,
  fitOutlier: 3,
  // 5″: sights are short.
  angleSpread: 2.42406840554768e-5,
  refraction: 0.13,
  gnssPlan: 0.03,
  gnssHeight: 0.05,
  gnssPdop: 6,
  gnssSatellites: 5,
  // 15°: a pole held for a corner of a house.
  gnssTilt: 0.2618,
  levelClosure: 0.01,
  traverseRatio: 5000,
  traverse: 'carried',
  resectionScale: 'fixed',
  networkDatum: 'standing',
  backsightRule: 'within',
  network: false,
};

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

/** What a team's new projects begin with. */
export const startSchema = z.object({ settings: settingsSchema, basis: basisSchema, codeList: codeListSchema });
export type Start = z.infer<typeof startSchema>;

export const newStart = (settings: Partial<Settings> = {}): Start => ({
  settings: { ...START_SETTINGS, ...settings },
  basis: structuredClone(LOCAL_BASIS),
  codeList: structuredClone(DEFAULT_CODE_LIST),
});

export const newDocument = (settings: Partial<Settings> = {}, start: Start = newStart(settings)): ProjectDocument => ({
  ...structuredClone(start),
  intakes: [],
  edits: {},
  decisions: {},
  register: { instruments: [], targets: [] },
  boundary: null,
  comparisons: [],
  accepted: {},
  linesOutOfGround: [],
  handLines: {},
  pointSets: [],
  drawing: structuredClone(START_DRAWING),
});

/** A document kept by an earlier version, with what has been added since at its start value. */
export function upgradeDocument(kept: ProjectDocument): ProjectDocument {
  return {
    ...kept,
    decisions: (kept.decisions as ProjectDocument['decisions'] | undefined) ?? {},
    register: (kept.register as Register | undefined) ?? { instruments: [], targets: [] },
    pointSets: (kept.pointSets as ProjectDocument['pointSets'] | undefined) ?? [],
    drawing: { ...structuredClone(START_DRAWING), ...(kept.drawing as DrawingSettings | undefined) },
    handLines: (kept.handLines as ProjectDocument['handLines'] | undefined) ?? {},
    settings: { ...START_SETTINGS, ...kept.settings },
    codeList: withAllWords(kept.codeList),
    basis: { ...LOCAL_BASIS, ...(kept.basis as Basis | undefined) },
  };
}

/** Words that came with a later version are added, unless a code or another word is spelt like one. */
function withAllWords(list: CodeList): CodeList {
  if (list.words.form !== undefined || list.words.continue !== undefined) return list;
  const taken = new Set([...list.codes.map((c) => c.code), ...Object.values(list.words)].map((t) => String(t).toUpperCase())); // prettier-ignore
  const words = { ...list.words };
  for (const m of MEANINGS) if (!words[m] && !taken.has(DEFAULT_WORDS[m])) words[m] = DEFAULT_WORDS[m];
  return { ...list, words };
}

/** Grid files that a basis names. */
export const gridsOfBasis = (basis: Basis): GridRef[] => [...(basis.geoid ? [basis.geoid] : []), ...basis.datumGrids];
