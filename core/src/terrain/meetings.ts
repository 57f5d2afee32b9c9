import Flatbush from 'flatbush';
import { orientation } from '#core/kernel';
import { flushed } from './delaunay.ts';
import { PlaceCells } from './place-cells.ts';

/** How breaklines meet: they cross, one ends on the side of another, or they run over each other for a stretch. */
export type MeetingKind = 'cross' | 'end' | 'overlap';

/** A vertex that segments go through away from their ends. */
export interface MeetingPlan {
  vertex: number;
  kind: MeetingKind;
  /** Segments through it, in the order given, and at what share of the way from their western end (0 their first, 1 their second). */
  at: { segment: number; west: 0 | 1; share: number }[];
}

/** Breaklines that meet nowhere but at vertices. */
export interface Arrangement {
  /** The vertices given, then those that meetings made. */
  x: Float64Array;
  y: Float64Array;
  /** Pairs of vertices, each once. */
  pieces: Uint32Array;
  meetings: MeetingPlan[];
}

/** A side between two vertices, the western one first, and the distinct segments that run over it. */
interface Piece {
  a: number;
  b: number;
  of: number[];
}

/** Rounds of meeting and snapping; each leaves fewer meetings, and two or three do for any survey. */
const MOST_ROUNDS = 60;

/**
 * Lets segments meet at vertices. A vertex of a breakline within `snap` of a segment becomes a vertex of it; where two
 * segments cross, a vertex is made, or taken where one lies within `snap` already; and again for the pieces, until none
 * meet elsewhere. All of it goes by coordinates, so that the order in which segments come decides nothing.
 *
 * @param segments pairs of vertices; those of no length are passed over
 * @param snap m; vertices are farther than this from each other
 */
export function arrange(x: Float64Array, y: Float64Array, segments: Uint32Array, snap: number): Arrangement {
  const work = new Arranging(x.map(flushed), y.map(flushed), segments, Math.max(snap, snapOf(x, y)));
  for (let round = 0; round < MOST_ROUNDS; round++) if (!work.meetAtVertices() && !work.cross()) break;
  return work.result();
}

/** The least that can be snapped by: what 64 bits hold apart at the farthest of places, with room for a crossing, m. */
export function snapOf(x: Float64Array, y: Float64Array): number {
  let largest = 1;
  for (let i = 0; i < x.length; i++) largest = Math.max(largest, Math.abs(x[i]), Math.abs(y[i]));
  return largest * 2 ** -49;
}

class Arranging {
  private readonly x: number[];
  private readonly y: number[];
  private pieces: Piece[] = [];
  /** Distinct segments by their two ends, and which of those given each is. */
  private readonly ends: [number, number][] = [];
  private readonly given: number[][] = [];
  /** Distinct segments through each vertex, away from their ends. */
  private readonly through = new Map<number, Set<number>>();
  private places: SnapPlaces | null = null;
  private readonly onLines: Set<number>;

  constructor(
    x: Float64Array,
    y: Float64Array,
    private readonly segments: Uint32Array,
    private readonly snap: number,
  ) {
    this.x = Array.from(x);
    this.y = Array.from(y);
    const seen = new Map<string, number>();
    for (let s = 0; 2 * s + 1 < segments.length; s++) {
      const [a, b] = this.westFirst(segments[2 * s], segments[2 * s + 1]);
      if (a === b) continue;
      const key = `${a} ${b}`;
      let at = seen.get(key);
      if (at === undefined) {
        at = this.ends.push([a, b]) - 1;
        seen.set(key, at);
        this.given.push([]);
        this.pieces.push({ a, b, of: [at] });
      }
      this.given[at].push(s);
    }
    this.onLines = new Set(this.ends.flat());
  }

  private isWest(a: number, b: number): boolean {
    return this.x[a] < this.x[b] || (this.x[a] === this.x[b] && this.y[a] < this.y[b]);
  }

  private westFirst(a: number, b: number): [number, number] {
    return this.isWest(b, a) ? [b, a] : [a, b];
  }

  private indexOf(pieces: readonly Piece[]): Flatbush {
    const { x, y, snap } = this;
    const index = new Flatbush(Math.max(1, pieces.length));
    for (const { a, b } of pieces)
      index.add(x[a] - snap, Math.min(y[a], y[b]) - snap, x[b] + snap, Math.max(y[a], y[b]) + snap);
    if (pieces.length === 0) index.add(0, 0, 0, 0);
    index.finish();
    return index;
  }

  /** Vertices of lines that lie on a piece become vertices of it. */
  meetAtVertices(): boolean {
    const { x, y, pieces } = this;
    const index = this.indexOf(pieces);
    const cuts = new Map<number, Set<number>>();
    for (const v of this.onLines)
      for (const i of index.search(x[v], y[v], x[v], y[v])) if (this.liesOn(v, pieces[i])) addTo(cuts, i, v);
    return this.cut(cuts);
  }

  private liesOn(v: number, { a, b }: Piece): boolean {
    if (v === a || v === b) return false;
    const { x, y, snap } = this;
    const [ux, uy] = [x[b] - x[a], y[b] - y[a]];
    const [vx, vy] = [x[v] - x[a], y[v] - y[a]];
    const square = ux * ux + uy * uy;
    const along = vx * ux + vy * uy;
    if (along <= 0 || along >= square) return false;
    if (orientation(x[a], y[a], x[b], y[b], x[v], y[v]) === 0) return true;
    return (ux * vy - uy * vx) ** 2 <= snap * snap * square;
  }

  /** A vertex wherever two pieces cross. */
  cross(): boolean {
    const { x, y, pieces } = this;
    const index = this.indexOf(pieces);
    const found: { px: number; py: number; i: number; j: number }[] = [];
    pieces.forEach(({ a, b }, i) => {
      const near = index.search(x[a], Math.min(y[a], y[b]), x[b], Math.max(y[a], y[b]));
      for (const j of near) if (j > i && this.crosses(pieces[i], pieces[j])) found.push({ ...this.crossing(pieces[i], pieces[j]), i, j }); // prettier-ignore
    });
    found.sort((p, q) => p.px - q.px || p.py - q.py);
    if (found.length > 0) this.places ??= new SnapPlaces(x, y, this.snap);
    const cuts = new Map<number, Set<number>>();
    for (const { px, py, i, j } of found) {
      const v = this.places!.at(px, py);
      this.onLines.add(v);
      for (const k of [i, j]) if (v !== pieces[k].a && v !== pieces[k].b) addTo(cuts, k, v);
    }
    return this.cut(cuts);
  }

  private crosses(p: Piece, q: Piece): boolean {
    if (p.a === q.a || p.a === q.b || p.b === q.a || p.b === q.b) return false;
    const turn = (a: number, b: number, c: number): number =>
      Math.sign(orientation(this.x[a], this.y[a], this.x[b], this.y[b], this.x[c], this.y[c]));
    return turn(p.a, p.b, q.a) * turn(p.a, p.b, q.b) < 0 && turn(q.a, q.b, p.a) * turn(q.a, q.b, p.b) < 0;
  }

  /** Computed from the western piece, so that it is the same place whichever of the two came first. */
  private crossing(one: Piece, other: Piece): { px: number; py: number } {
    const { x, y } = this;
    const first = one.a === other.a ? this.isWest(one.b, other.b) : this.isWest(one.a, other.a);
    const [p, q] = first ? [one, other] : [other, one];
    const [ux, uy] = [x[p.b] - x[p.a], y[p.b] - y[p.a]];
    const [wx, wy] = [x[q.b] - x[q.a], y[q.b] - y[q.a]];
    const t = ((x[q.a] - x[p.a]) * wy - (y[q.a] - y[p.a]) * wx) / (ux * wy - uy * wx);
    return { px: x[p.a] + t * ux, py: y[p.a] + t * uy };
  }

  /** Cuts pieces at vertices; pieces between the same two vertices become one. */
  private cut(cuts: ReadonlyMap<number, ReadonlySet<number>>): boolean {
    if (cuts.size === 0) return false;
    const byEnds = new Map<string, Piece>();
    const put = (a: number, b: number, of: readonly number[]): void => {
      const [west, east] = this.westFirst(a, b);
      if (west === east) return;
      const known = byEnds.get(`${west} ${east}`);
      if (known) known.of.push(...of.filter((s) => !known.of.includes(s)));
      else byEnds.set(`${west} ${east}`, { a: west, b: east, of: [...of] });
    };
    this.pieces.forEach((piece, i) => {
      const at = cuts.get(i);
      if (!at) return put(piece.a, piece.b, piece.of);
      const along = (v: number): number =>
        (this.x[v] - this.x[piece.a]) * (this.x[piece.b] - this.x[piece.a]) +
        (this.y[v] - this.y[piece.a]) * (this.y[piece.b] - this.y[piece.a]);
      let last = piece.a;
      for (const v of [...at].sort((u, w) => along(u) - along(w))) {
        for (const s of piece.of) if (!this.ends[s].includes(v)) addTo(this.through, v, s);
        put(last, v, piece.of);
        last = v;
      }
      put(last, piece.b, piece.of);
    });
    this.pieces = [...byEnds.values()];
    return true;
  }

  result(): Arrangement {
    const overlapping = new Set(this.pieces.flatMap(({ a, b, of }) => (of.length > 1 ? [a, b] : [])));
    const ending = new Set(this.ends.flat());
    const meetings = [...this.through]
      .filter(([v, segments]) => ending.has(v) || segments.size > 1)
      .map(([vertex, segments]): MeetingPlan => ({
        vertex,
        kind: overlapping.has(vertex) ? 'overlap' : ending.has(vertex) ? 'end' : 'cross',
        at: [...segments]
          .flatMap((s) => this.given[s])
          .sort((s, t) => s - t)
          .map((segment) => ({ segment, ...this.shareAt(vertex, segment) })),
      }))
      .sort((p, q) => this.x[p.vertex] - this.x[q.vertex] || this.y[p.vertex] - this.y[q.vertex]);
    return {
      x: Float64Array.from(this.x),
      y: Float64Array.from(this.y),
      pieces: Uint32Array.from(this.pieces.flatMap(({ a, b }) => [a, b])),
      meetings,
    };
  }

  private shareAt(v: number, segment: number): { west: 0 | 1; share: number } {
    const first = this.segments[2 * segment];
    const [a, b] = this.westFirst(first, this.segments[2 * segment + 1]);
    const [ux, uy] = [this.x[b] - this.x[a], this.y[b] - this.y[a]];
    const share = ((this.x[v] - this.x[a]) * ux + (this.y[v] - this.y[a]) * uy) / (ux * ux + uy * uy);
    return { west: a === first ? 0 : 1, share: Math.min(1, Math.max(0, share)) };
  }
}

/** Vertices by place: where a meeting falls on one that is there, that one is taken. */
class SnapPlaces {
  private readonly given: PlaceCells;
  private readonly made = new Map<string, number[]>();
  private readonly cell: number;

  constructor(
    private readonly x: number[],
    private readonly y: number[],
    private readonly snap: number,
  ) {
    this.cell = Math.max(4 * snap, 1e-6);
    this.given = new PlaceCells(Float64Array.from(x), Float64Array.from(y), snap);
    for (let v = 0; v < x.length; v++) this.given.add(v);
  }

  private key(px: number, py: number): string {
    return `${Math.floor(px / this.cell)} ${Math.floor(py / this.cell)}`;
  }

  /** The nearest vertex within the distance of snapping, a given one before those made, or a new one. */
  at(px: number, py: number): number {
    const { x, y, snap } = this;
    const known = this.given.near(px, py, snap * snap);
    if (known >= 0) return known;
    let best = -1;
    let nearest = Infinity;
    for (const key of new Set([-1, 1].flatMap((i) => [-1, 1].map((k) => this.key(px + i * snap, py + k * snap)))))
      for (const v of this.made.get(key) ?? []) {
        const square = (x[v] - px) ** 2 + (y[v] - py) ** 2;
        if (square <= snap * snap && square < nearest) [best, nearest] = [v, square];
      }
    if (best >= 0) return best;
    const v = x.push(px) - 1;
    y.push(py);
    const key = this.key(px, py);
    this.made.set(key, [...(this.made.get(key) ?? []), v]);
    return v;
  }
}

function addTo(sets: Map<number, Set<number>>, key: number, value: number): void {
  const set = sets.get(key);
  if (set) set.add(value);
  else sets.set(key, new Set([value]));
}
