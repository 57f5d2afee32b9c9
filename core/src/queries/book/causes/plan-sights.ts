import { difference, distance } from '#core/kernel';
import { bearingTo, type Compared, type Known, type Reduction, type SetupResult } from '#core/reduction';

/** A sighting of a known point from one setup, freed of the orientation that the setup was given. */
export interface PlanSight {
  compared: Compared;
  target: Known;
  role: 'back' | 'check';
  /** As read, radians; NaN of a typed azimuth's target. */
  circle: number;
  /** m; NaN where none was measured. */
  distance: number;
  rise: number;
  /** How far off is too far, m: the project's tolerance, or what instrument and coordinates leave, where that is more. */
  limit: number;
}

/** A project's tolerance, and what the instrument and the given coordinates leave where that is more. */
export interface PlanLimits {
  plan: number;
  height: number;
}

/** Of a normal deviate in plan one in some thousands is larger. */
const DEVIATIONS = 4;

export function planSights(setup: SetupResult, { known }: Reduction, plan: number): PlanSight[] {
  const of = (role: PlanSight['role']) => (compared: Compared): PlanSight[] => {
    const target = known.get(compared.number);
    // One set aside by a person takes no part, nor does one that goes to what it was carried from.
    if (!target || compared.state === 'aside' || !setup.station || target.number === setup.station.number) return [];
    const circle = compared.observed - setup.orientation;
    const rise = compared.heightDifference + target.z - setup.station.z;
    const apart = distance(target.x - setup.station.x, target.y - setup.station.y);
    const across = setup.sdOrientation * apart;
    const sd = Math.sqrt(target.sdPlan ** 2 + setup.station.sdPlan ** 2 + across * across + SIGHT * SIGHT);
    const limit = Math.max(plan, DEVIATIONS * sd);
    return [{ compared, target, role, circle, distance: compared.distance, rise, limit }];
  }; // prettier-ignore
  return [...setup.backsights.flatMap(of('back')), ...setup.checks.flatMap(of('check'))];
}

/** What is taken out of the comparison, or read as something else, by one hypothesis. */
export interface SightUse {
  target: Known;
  useDirection: boolean;
  useDistance: boolean;
}

export interface Fit {
  /** Whether all that is left agrees. */
  fits: boolean;
  /** How many readings agree beyond those that were needed. */
  spare: number;
  orientation: number;
  /** Sum of squared misfits over the limits: the smaller, the better. */
  score: number;
}

const FEW_METRES = 0.01;
/** m; what a distance and centring leave. */
const SIGHT = 0.003;

/** How sights of one setup fit a station and their targets, with the orientation that most of them agree on. */
export function fitSights(
  station: { x: number; y: number; z: number },
  sights: readonly PlanSight[],
  readingOf: (s: PlanSight) => SightUse,
): Fit {
  const rows = sights.map((s) => {
    const r = readingOf(s);
    const apart = distance(r.target.x - station.x, r.target.y - station.y);
    return { ...r, sight: s, apart, bearing: bearingTo(station, r.target) };
  });
  const directions = rows.filter((r) => r.useDirection && !Number.isNaN(r.sight.circle) && r.apart > FEW_METRES);
  const distances = rows.filter((r) => r.useDistance && !Number.isNaN(r.sight.distance));
  let best = { orientation: NaN, count: -1, sum: Infinity };
  for (const c of directions) {
    const orientation = difference(c.bearing - c.sight.circle);
    const offs = directions.map((r) => Math.abs(difference(r.sight.circle + orientation - r.bearing)) * r.apart);
    const count = offs.filter((off, i) => off <= directions[i].sight.limit).length;
    const sum = offs.reduce((s, off) => s + Math.min(off, 100), 0);
    if (count > best.count || (count === best.count && sum < best.sum)) best = { orientation, count, sum };
  }
  const ranges = distances.map((r) => Math.abs(r.sight.distance - r.apart) / r.sight.limit);
  const turns = directions.map((r) => (Math.abs(difference(r.sight.circle + best.orientation - r.bearing)) * r.apart) / r.sight.limit); // prettier-ignore
  const all = [...ranges, ...turns];
  return {
    fits: all.every((v) => v <= 1),
    spare: distances.length + Math.max(0, directions.length - 1),
    orientation: best.orientation,
    score: all.reduce((s, v) => s + v * v, 0),
  };
}

/** Where a sight of an oriented setup points to. */
export const placeSeen = (
  station: { x: number; y: number },
  s: PlanSight,
  orientation: number,
  sinCos: (a: number) => [number, number],
): { x: number; y: number } => {
  const [sin, cos] = sinCos(s.circle + orientation);
  return { x: station.x + s.distance * sin, y: station.y + s.distance * cos };
};
