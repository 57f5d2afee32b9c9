import { meanOf } from '#core/kernel';
import { coincidentPlaces, keepersOf } from './coincident.ts';
import { constrain } from './constraints.ts';
import { delaunay } from './delaunay.ts';
import { arrange, snapOf, type MeetingPlan } from './meetings.ts';
import { keptTriangles } from './rim.ts';
import { NO_POINT, type SurfaceInput, type SurfacePlan } from './surface.ts';

/** The triangles of a surface, from places in plan and breaklines alone. */
export function planSurface(input: Omit<SurfaceInput, 'z'>): SurfacePlan {
  const { x, y, longestSide, rounding = 0, mean = false } = input;
  // Rounding moves a point by half of its last decimal, in both coordinates; vertices nearer than that cannot be told apart.
  const snap = input.segments.length ? Math.max(rounding * Math.SQRT1_2, snapOf(x, y)) : 0;
  const keeper = keepersOf(x, y, Math.max(input.coincidence, snap), input.claim ?? null);
  const { given, pairs, slot } = reduced(keeper);
  const segments = input.segments.map((i) => slot[i]);
  const [gx, gy] = [x, y].map((v) => (mean ? meansOf(v, given, pairs, slot) : gather(v, given)));
  const met = segments.length ? arrange(gx, gy, segments, snap) : null;
  const mesh = met ? delaunay(met.x, met.y) : delaunay(gx, gy);
  const constraints = constrain(mesh, met?.pieces ?? segments);
  const extracted = keptTriangles(mesh, constraints, longestSide, rounding);
  // Vertices stay in the order of the mesh, by place: what walks over the surface finds them near each other.
  const point = mesh.source.map((i) => (i < given.length ? given[i] : NO_POINT));
  const meetings = met ? byVertex(met.meetings, mesh.source) : [];
  return { x: mesh.x, y: mesh.y, ...extracted, point, coincident: pairs, mean, meetings, segments: input.segments };
}

/** Meetings by the vertices of the mesh, in the order in which they were made. */
function byVertex(meetings: readonly MeetingPlan[], source: Uint32Array): MeetingPlan[] {
  const at = new Uint32Array(source.length);
  for (let v = 0; v < source.length; v++) at[source[v]] = v;
  return meetings.map((m) => ({ ...m, vertex: at[m.vertex] }));
}

/** The points that stay, those that another stands for as pairs [kept, left out], and where each point stands in what is given. */
function reduced(keeper: Uint32Array): { given: Uint32Array; pairs: Uint32Array; slot: Uint32Array } {
  const n = keeper.length;
  let stay = 0;
  for (let i = 0; i < n; i++) if (keeper[i] === i) stay++;
  const given = new Uint32Array(stay);
  const pairs = new Uint32Array(2 * (n - stay));
  const slot = new Uint32Array(n);
  for (let i = 0, at = 0; i < n; i++) {
    if (keeper[i] !== i) continue;
    given[at] = i;
    slot[i] = at++;
  }
  for (let i = 0, at = 0; i < n; i++) {
    if (keeper[i] === i) continue;
    slot[i] = slot[keeper[i]];
    pairs[at++] = keeper[i];
    pairs[at++] = i;
  }
  return { given, pairs, slot };
}

/** Means over each point that stays and those it stands for. */
function meansOf(values: Float64Array, kept: Uint32Array, coincident: Uint32Array, slot: Uint32Array): Float64Array {
  const out = gather(values, kept);
  for (const [stays, all] of coincidentPlaces(coincident)) out[slot[stays]] = meanOf(all.map((i) => values[i]));
  return out;
}

function gather(values: Float64Array, index: Uint32Array): Float64Array {
  const out = new Float64Array(index.length);
  for (let i = 0; i < index.length; i++) out[i] = values[index[i]];
  return out;
}
