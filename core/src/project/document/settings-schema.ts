import { z } from 'zod';
import { PLAIN_PRACTICE } from '#core/reduction';
import { unitSchema } from './fields.ts';

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
  /** m; centring of instrument and target over their marks. */
  centring: z.number().min(0).max(0.1),
  /** How the constant part of a distance's deviation and the part in proportion to it come together. */
  distanceParts: z.enum(['squares', 'sum']),
  /** How backsights count in an orientation. */
  orientationWeights: z.enum(['precision', 'length', 'equal']),
  /** Which coordinates stand where a number has typed ones and some by satellite. */
  typedOrGnss: z.enum(['typed', 'gnss']),
  /** m; standard deviation of levelling one kilometre once. */
  levelDeviation: z.number().positive().max(1),
  /** Whether curvature and refraction are applied, or the ground is taken as a plane. */
  earth: z.enum(['curved', 'plane']),
  /** Whether distances are brought down to the level of the sea before the project's factor. */
  seaLevel: z.boolean(),
  /** What level distances and rises are where their book does not say. */
  flatDistances: z.enum(['ask', 'geometric', 'reduced']),
  /** Coefficient of refraction. */
  refraction: z.number().min(-2).max(2),
  /** What a position by satellite must promise: standard deviations m, dilution, satellites, tilt of the pole radians. */
  gnssPlan: z.number().positive().max(10),
  gnssHeight: z.number().positive().max(10),
  gnssPdop: z.number().min(1).max(100),
  gnssSatellites: z.int().min(0).max(60),
  gnssTilt: z.number().min(0).max(1.6),
  /** Whether a fixed position beats one that is not, or all readings of a point are in its mean. */
  gnssMean: z.enum(['fixed', 'all']),
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
  ...PLAIN_PRACTICE,
  refraction: 0.13,
  gnssPlan: 0.03,
  gnssHeight: 0.05,
  gnssPdop: 6,
  gnssSatellites: 5,
  // 15°: a pole held for a corner of a house.
  gnssTilt: 0.2618,
  gnssMean: 'fixed',
  levelClosure: 0.01,
  traverseRatio: 5000,
  traverse: 'carried',
  resectionScale: 'fixed',
  networkDatum: 'standing',
  backsightRule: 'within',
  network: false,
};
