import { differenceBetween, differenceToLevel, measured, type Volume } from '#core/quantities';
import type { SurfaceRow } from '#core/project';
import { buildSurface, clipToRing, contours, evenOut, liveSurface, nextEdge, NO_POINT, ofTriangles, raiseArea, tiltOnto, type Contour, type ContourSettings, type LivePatch, type LiveSurface, type Surface, type SurfaceInput } from '#core/terrain'; // prettier-ignore

/** A comparison that the surface under the hand has part in. */
export interface Compared {
  name: string;
  /** Whether it is the surface that is compared, not what it is compared with. */
  ground: boolean;
  against: { level: number } | { surface: Surface };
  within: number[] | null;
}

/** What an edit under the hand changes of the surface as it was taken. */
export interface LiveChange {
  /** Triangles that are others now: x, y, z of three corners each, m. */
  made: Float64Array;
  contours: Contour[];
  /** By how much there is more under the surface, m³. */
  volume: number;
  compared: { name: string; cut: number; fill: number }[];
}

/** How a surface is made from its vertices and breaklines; one whose triangles were cut or edited since cannot be made so. */
export type MadeFrom = Pick<SurfaceInput, 'longestSide' | 'coincidence' | 'rounding'>;

/** Of surfaces up to here the whole is made anew while the hand moves, where its rim goes along. */
const MOST_MADE_ANEW = 20_000;

/** Of larger surfaces it takes too long to compare while the hand moves. */
const MOST_COMPARED = 60_000;

type Without<R> = R extends SurfaceRow ? Omit<R, 'id' | 'on'> : never;
/** What is done to a surface under the hand: vertices by their numbers go elsewhere, or an area gets other elevations. */
export type HeldEdit =
  | { kind: 'move'; vertices: readonly number[]; by: { x: number; y: number; z: number } }
  | Without<Extract<SurfaceRow, { kind: 'raise' | 'tilt' | 'even-out' }>>;

/** A surface while something of it is under the hand. */
export class LiveEdit {
  /** The surface with one vertex elsewhere, from where the hand had it last. */
  private live: { surface: LiveSurface; vertex: number } | null = null;

  constructor(
    private readonly surface: Surface,
    private readonly settings: ContourSettings | null,
    private readonly compared: readonly Compared[],
    private readonly madeFrom: MadeFrom | null = null,
  ) {}

  /** What an edit changes; null where that cannot be shown before it is computed. */
  change(edit: HeldEdit): LiveChange | null {
    const patch = edit.kind === 'move' ? this.moved(edit) : this.raised(edit);
    if (!patch) return null;
    const { gone, made } = patch;
    const [before, after] = [ofTriangles(gone), ofTriangles(made)];
    return {
      made,
      contours: this.settings ? contours(after, this.settings) : [],
      volume: volumeUnder(made) - volumeUnder(gone),
      compared: this.compared.flatMap((c) => {
        if ('surface' in c.against && c.against.surface.triangles.length / 3 > MOST_COMPARED) return [];
        const [was, is] = [quantities(before, c), quantities(after, c)];
        const { cut, fill } = { cut: is.cut - was.cut, fill: is.fill - was.fill };
        return [{ name: c.name, cut: c.ground ? cut : fill, fill: c.ground ? fill : cut }];
      }),
    };
  }

  private moved({ vertices, by }: Extract<HeldEdit, { kind: 'move' }>): LivePatch | null {
    const s = this.surface;
    if (by.x === 0 && by.y === 0) {
      const z = s.z.slice();
      for (const v of vertices) z[v] += by.z;
      return otherHeights(s, z);
    }
    if (vertices.length > 1) return allMoved(s, vertices, by) ?? this.madeAnew(vertices, by);
    const [v] = vertices;
    if (this.live?.vertex !== v) this.live = { surface: liveSurface(s), vertex: v };
    const { surface } = this.live;
    if (surface.move(v, s.x[v] + by.x, s.y[v] + by.y, s.z[v] + by.z)) return surface.patch();
    this.live = null;
    return this.madeAnew(vertices, by);
  }

  /** Where the rim goes along, the whole is made anew, as it will be. */
  private madeAnew(vertices: readonly number[], by: { x: number; y: number; z: number }): LivePatch | null {
    const { surface: s, madeFrom } = this;
    if (!madeFrom || s.x.length > MOST_MADE_ANEW) return null;
    const [x, y, z] = [s.x.slice(), s.y.slice(), s.z.slice()];
    for (const v of vertices) {
      x[v] += by.x;
      y[v] += by.y;
      z[v] += by.z;
    }
    const segments: number[] = [];
    for (let e = 0; e < s.triangles.length; e++)
      if (s.breakSides[e] && s.neighbours[e] < e) segments.push(s.triangles[e], s.triangles[nextEdge(e)]);
    const { surface } = buildSurface({ ...madeFrom, x, y, z, segments: Uint32Array.from(segments) });
    return surface.triangles.length ? betweenSurfaces(s, surface, new Set(vertices)) : null;
  }

  private raised(edit: Exclude<HeldEdit, { kind: 'move' }>): LivePatch | null {
    const s = this.surface;
    const ring = Float64Array.from(edit.ring);
    const by = edit.kind === 'raise' ? () => edit.by : edit.kind === 'tilt' ? tiltOnto(s, edit.onto) : null;
    const done = edit.kind === 'even-out' ? evenOut(s, ring, edit.strength, edit.rounds) : by && raiseArea(s, ring, by); // prettier-ignore
    return done && otherHeights(s, done.surface.z);
  }
}

/** Triangles of which a corner stands higher or lower than it did. */
function otherHeights(s: Surface, z: Float64Array): LivePatch {
  const [gone, made]: [number[], number[]] = [[], []];
  for (let e = 0; e < s.triangles.length; e += 3) {
    const corners = s.triangles.subarray(e, e + 3);
    if (corners.every((v) => s.z[v] === z[v])) continue;
    for (const v of corners) {
      gone.push(s.x[v], s.y[v], s.z[v]);
      made.push(s.x[v], s.y[v], z[v]);
    }
  }
  return { gone: Float64Array.from(gone), made: Float64Array.from(made) };
}

/** Triangles of one surface that another, made from its vertices, does not have, and the other way round. */
function betweenSurfaces(s: Surface, now: Surface, moved: ReadonlySet<number>): LivePatch {
  const corners = (of: Surface, name: (v: number) => number): Map<string, [number, number, number]> => {
    const out = new Map<string, [number, number, number]>();
    for (let e = 0; e < of.triangles.length; e += 3) {
      const [a, b, c] = of.triangles.subarray(e, e + 3);
      const [p, q, r] = [name(a), name(b), name(c)];
      // What a moved vertex has, or one that breaklines made where they meet now, is never as it was.
      const key = [p, q, r].some((v) => moved.has(v) || v === NO_POINT) ? `${of === now ? 'now' : 'was'} ${e}` : p < q && p < r ? `${p} ${q} ${r}` : q < r ? `${q} ${r} ${p}` : `${r} ${p} ${q}`; // prettier-ignore
      out.set(key, [a, b, c]);
    }
    return out;
  };
  const [before, after] = [corners(s, (v) => v), corners(now, (v) => now.point[v])];
  const only = (one: typeof before, other: typeof before, of: Surface): Float64Array =>
    Float64Array.from([...one].flatMap(([key, t]) => (other.has(key) ? [] : t.flatMap((v) => [of.x[v], of.y[v], of.z[v]])))); // prettier-ignore
  return { gone: only(before, after, s), made: only(after, before, now) };
}

/** Several vertices by the same shift, their breaklines with them: all are taken out before any is put in again. */
function allMoved(s: Surface, vertices: readonly number[], by: { x: number; y: number; z: number }): LivePatch | null {
  const live = liveSurface(s);
  const now = new Map(vertices.map((v) => [v, v]));
  const sides: [number, number][] = [];
  for (let e = 0; e < s.triangles.length; e++) {
    if (!s.breakSides[e] || s.neighbours[e] > e) continue;
    const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
    if (now.has(a) || now.has(b)) sides.push([a, b]);
  }
  if (!vertices.every((v) => live.remove(v))) return null;
  for (const v of vertices) {
    const put = live.insert(s.x[v] + by.x, s.y[v] + by.y, s.z[v] + by.z);
    if (put === null) return null;
    now.set(v, put);
  }
  return sides.every(([a, b]) => live.putBreakline(now.get(a) ?? a, now.get(b) ?? b)) ? live.patch() : null;
}

/** Quantities over a part of the surface under the hand, as if it were what is compared. */
function quantities(part: Surface, { against, within }: Compared): Volume {
  const inside = within ? clipToRing(part, Float64Array.from(within)) : part;
  return measured(
    'level' in against ? differenceToLevel(inside, against.level) : differenceBetween(inside, against.surface),
  );
}

/** Volume between triangles and elevation zero, m³. */
function volumeUnder(p: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < p.length; i += 9) {
    const area = ((p[i + 3] - p[i]) * (p[i + 7] - p[i + 1]) - (p[i + 6] - p[i]) * (p[i + 4] - p[i + 1])) / 2;
    sum += (area * (p[i + 2] + p[i + 5] + p[i + 8])) / 3;
  }
  return sum;
}
