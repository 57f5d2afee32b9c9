import { meanOf } from '#core/kernel';
import { coincidentPlaces } from './coincident.ts';
import { planSurface } from './plan.ts';
import {
  FIRST_COUNTS,
  NO_POINT,
  type Meeting,
  type MeetingChoice,
  type Surface,
  type SurfaceAccount,
  type SurfaceInput,
  type SurfacePlan,
} from './surface.ts';

/** Builds a surface: coincident points reduced, breaklines met, constrained Delaunay, rim by longest side. */
export const buildSurface = (
  input: SurfaceInput,
  choice: MeetingChoice = FIRST_COUNTS,
): { surface: Surface; account: SurfaceAccount } => raiseSurface(planSurface(input), input.z, choice);

/** A plan with the elevations of the points it was made from, settled where several are given. */
export function raiseSurface(
  plan: SurfacePlan,
  z: Float64Array,
  choice: MeetingChoice = FIRST_COUNTS,
): { surface: Surface; account: SurfaceAccount } {
  const { x, y, triangles, neighbours, breakSides, point, coincident, tooLong, thin } = plan;
  const elevations = elevationsOf(plan, z);
  const apart = placesApart(plan, z, elevations, choice);
  const { meetings, joined } = settleMeetings(plan, z, elevations, choice);
  const surface: Surface = { x, y, z: elevations, triangles, neighbours, breakSides, point };
  return { surface, account: { coincident, tooLong, thin, meetings: [...apart, ...meetings], joined } };
}

/** Elevations of the vertices that are points; NaN for those that meetings made. */
function elevationsOf({ point, coincident, mean }: SurfacePlan, z: Float64Array): Float64Array {
  const out = new Float64Array(point.length);
  for (let v = 0; v < point.length; v++) out[v] = point[v] === NO_POINT ? NaN : z[point[v]];
  if (!mean || coincident.length === 0) return out;
  const vertexOf = new Map<number, number>();
  for (let v = 0; v < point.length; v++) vertexOf.set(point[v], v);
  for (const [kept, all] of coincidentPlaces(coincident)) out[vertexOf.get(kept)!] = meanOf(all.map((i) => z[i]));
  return out;
}

/** Points in one place whose elevations do not agree. */
function placesApart(plan: SurfacePlan, z: Float64Array, stays: Float64Array, { tolerance }: MeetingChoice): Meeting[] {
  const { coincident, point } = plan;
  const out: Meeting[] = [];
  let vertexOf: Map<number, number> | null = null;
  for (let i = 0; i < coincident.length; i += 2) {
    const [kept, other] = [coincident[i], coincident[i + 1]];
    if (!(Math.abs(z[kept] - z[other]) > tolerance)) continue;
    vertexOf ??= new Map(Array.from(point, (p, v) => [p, v]));
    const vertex = vertexOf.get(kept)!;
    out.push({ x: plan.x[vertex], y: plan.y[vertex], kind: 'place', elevations: [z[kept], z[other]], points: [kept, other], segments: [], kept: stays[vertex], decided: false, vertex }); // prettier-ignore
  }
  return out;
}

/** Gives vertices where breaklines meet their elevation, and says where those of the lines disagree. */
function settleMeetings(plan: SurfacePlan, z: Float64Array, into: Float64Array, choice: MeetingChoice) {
  const meetings: Meeting[] = [];
  let joined = 0;
  for (const { vertex, kind, at } of plan.meetings) {
    const own = into[vertex];
    const passing = at.map(({ segment, west, share }) => {
      const [a, b] = [z[plan.segments[2 * segment + west]], z[plan.segments[2 * segment + 1 - west]]];
      return a + share * (b - a);
    });
    const elevations = Number.isNaN(own) ? passing : [own, ...passing];
    const [low, high] = [Math.min(...elevations), Math.max(...elevations)];
    const mean = meanOf(elevations);
    if (high - low <= choice.tolerance) {
      joined++;
      into[vertex] = Number.isNaN(own) ? mean : own;
      continue;
    }
    const points = Number.isNaN(own) ? [] : [plan.point[vertex]];
    const meeting = { x: plan.x[vertex], y: plan.y[vertex], kind, elevations, points, segments: at.map((m) => m.segment), vertex }; // prettier-ignore
    const decided = choice.decided?.(meeting) ?? null;
    const kept = decided ?? { first: elevations[0], mean, highest: high, lowest: low }[choice.rule];
    into[vertex] = kept;
    meetings.push({ ...meeting, kept, decided: decided !== null });
  }
  return { meetings, joined };
}
