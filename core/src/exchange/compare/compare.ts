import { distance } from '#core/kernel';
import { keyOfPlace, keyOfShape, keysOfVertices } from './keys.ts';
import { ByPlace, Left } from './left.ts';
import type { Thing } from './things.ts';
import { angleOf, centreOf, commonTurn, fits, turned, type Turn } from './turned.ts';

/** Something of a drawing, and where: of what is in both, where it is now. */
export interface Told {
  kind: string;
  layer: string;
  text: string;
  x: number;
  y: number;
  /** Which of the things of each drawing it is; absent where it is not in it. */
  before?: number;
  after?: number;
}
export interface MovedThing extends Told {
  dx: number;
  dy: number;
  distance: number;
}
export interface ChangedThing extends Told {
  /** What of it, in words. */
  what: string;
}
export interface RelayeredThing extends Told {
  from: string;
  to: string;
}
export interface TurnedGroup {
  /** Counter-clockwise, radians. */
  angle: number;
  /** About this place. */
  x: number;
  y: number;
  /** What turned, where it is now. */
  things: Told[];
}

export interface Compared {
  unchanged: number;
  added: Told[];
  removed: Told[];
  moved: MovedThing[];
  changed: ChangedThing[];
  relayered: RelayeredThing[];
  groups: TurnedGroup[];
}

export interface CompareSettings {
  /** m; what is nearer is in the same place. */
  tolerance: number;
  /** m; what lies further apart is not the same thing moved. */
  reach: number;
}

/** Groups that turned, one after another, at the most. */
const MOST_GROUPS = 20;
/** Of more things of one shape, the nearest is taken for the same only where they shift together. */
const MOST_ALIKE = 60;
/** m, beside the tolerance: shifts and vertices within this are the same; what follows a turn lies within that of where it puts it. */
const [ALIKE, FOLLOWS] = [1e-3, 1e-2];
/** Pairs that vote on shifts: enough to find those that many share. */
const MOST_PAIRS = 300_000;
/** Shifts that are tried on what is left, the commonest first. */
const MOST_SHIFTS = 50;

/**
 * What became of one drawing in another: things are found again by place, then by a turn about one place, by what they say
 * that they are to us, by a shape that is the only one of its kind, by a shift that others share, by the nearest of the same shape, and lines by
 * the vertices that they kept.
 */
export function compareThings(before: readonly Thing[], after: readonly Thing[], settings: CompareSettings): Compared {
  return new Comparing(before, after, settings).run();
}

class Comparing {
  private readonly a: Left;
  private readonly b: Left;
  private readonly saysOwn: boolean;
  private readonly out: Compared = { unchanged: 0, added: [], removed: [], moved: [], changed: [], relayered: [], groups: [] }; // prettier-ignore

  constructor(
    before: readonly Thing[],
    after: readonly Thing[],
    private readonly settings: CompareSettings,
  ) {
    this.a = new Left(before);
    this.b = new Left(after);
    this.saysOwn = after.some((t) => t.own !== undefined);
  }

  run(): Compared {
    const { tolerance } = this.settings;
    if (this.a.things.some((t) => t.own !== undefined))
      this.samePlace((t) => (t.own === undefined ? null : `${keyOfPlace(t, tolerance)} ${t.own}`));
    this.samePlace((t) => `${keyOfPlace(t, tolerance)} ${JSON.stringify([t.layer, t.text])}`);
    this.samePlace((t) => keyOfPlace(t, tolerance));
    this.beside();
    // Before single things are paired by their shape: a text that turned along would be told as moved.
    for (let n = 0; n < MOST_GROUPS && this.turnedGroup(); n++);
    this.sameOwn();
    this.onlyOnes();
    this.shifted();
    this.nearest();
    this.partly();
    for (const i of this.a.indices()) this.out.removed.push({ ...told(this.a.things[i]), before: i });
    for (const j of this.b.indices()) this.out.added.push({ ...told(this.b.things[j]), after: j });
    return this.out;
  }

  /** Pairs of one key, in the order of the files: they are the same but for what the key does not say. */
  private samePlace(keyOf: (t: Thing) => string | null): void {
    const there = this.b.by(keyOf);
    for (const [key, ours] of this.a.by(keyOf)) {
      const theirs = there.get(key) ?? [];
      // Of several in one place, those on one layer belong together.
      const rank = (of: Left) => (i: number, j: number): number => inOrder(wordsOf(of.things[i]), wordsOf(of.things[j])) || i - j; // prettier-ignore
      const [x, y] = [[...ours].sort(rank(this.a)), [...theirs].sort(rank(this.b))];
      for (let k = 0; k < Math.min(x.length, y.length); k++) if (this.canBe(x[k], y[k])) this.pair(x[k], y[k]);
    }
  }

  /** Things on the rim of a cell, found by their place. */
  private beside(): void {
    const { tolerance } = this.settings;
    const index = new ByPlace(this.b, tolerance);
    for (const i of this.a.indices()) {
      const t = this.a.things[i];
      const j = index.nearest(t.at[0], t.at[1], (o) => alike(t, o) && fits(STILL, t, o, tolerance) && sameHeights(t, o, tolerance)); // prettier-ignore
      if (j !== null) this.pair(i, j);
    }
  }

  /** What says that it is the same thing to us; of several that do, copies of it, the nearest. */
  private sameOwn(): void {
    const own = (t: Thing): string | null => t.own ?? null;
    const theirs = this.b.by(own);
    for (const [key, [i, more]] of this.a.by(own)) {
      if (more !== undefined) continue;
      const [j] = [...(theirs.get(key) ?? [])].sort((p, q) => this.apart(i, p) - this.apart(i, q) || p - q);
      if (j !== undefined) this.pair(i, j);
    }
  }

  /** Two that say that they are different things to us are no one thing. */
  private canBe(i: number, j: number): boolean {
    return canBe(this.a.things[i], this.b.things[j]);
  }

  /** Nor, elsewhere, something that says it and something that does not, where a drawing still says it: that is a new thing. */
  private mayBe(i: number, j: number): boolean {
    const [p, q] = [this.a.things[i].own, this.b.things[j].own];
    return this.canBe(i, j) && (!this.saysOwn || (p === undefined) === (q === undefined));
  }

  /** What is the only one of its shape in both. */
  private onlyOnes(): void {
    const [ours, theirs] = this.shapes();
    for (const [key, [i, more]] of ours) {
      const [j, others] = theirs.get(key) ?? [];
      if (j !== undefined && more === undefined && others === undefined && this.mayBe(i, j) && this.apart(i, j) <= this.settings.reach) this.pair(i, j); // prettier-ignore
    }
  }

  /** What shifts as others did. */
  private shifted(): void {
    const { tolerance } = this.settings;
    const votes = new Map<string, { dx: number; dy: number; count: number }>();
    for (const { dx, dy } of [...this.out.moved, ...this.possibleShifts()]) {
      const key = `${Math.round(dx / (tolerance + ALIKE))} ${Math.round(dy / (tolerance + ALIKE))}`;
      const vote = votes.get(key) ?? { dx, dy, count: 0 };
      vote.count++;
      votes.set(key, vote);
    }
    const common = [...votes.values()].filter((v) => v.count > 1).sort((x, y) => y.count - x.count || x.dx - y.dx || x.dy - y.dy); // prettier-ignore
    for (const { dx, dy } of common.slice(0, MOST_SHIFTS))
      for (const [i, j] of this.follow({ c: 1, s: 0, dx, dy })) this.pair(i, j);
  }

  /** Shifts between things of one shape that are left, of few of each shape. */
  private possibleShifts(): { dx: number; dy: number }[] {
    const [ours, theirs] = this.shapes();
    const out: { dx: number; dy: number }[] = [];
    for (const [key, list] of ours)
      for (const i of list.slice(0, MOST_ALIKE))
        for (const j of (theirs.get(key) ?? []).slice(0, MOST_ALIKE)) {
          if (out.length === MOST_PAIRS) return out;
          if (this.apart(i, j) > this.settings.reach) continue;
          const [p, q] = [this.a.things[i].at, this.b.things[j].at];
          out.push({ dx: q[0] - p[0], dy: q[1] - p[1] });
        }
    return out;
  }

  /** A group that turned about one place, taken along with its points and texts. */
  private turnedGroup(): boolean {
    if (this.a.count === 0 || this.b.count === 0) return false;
    const turn = commonTurn(this.a, this.b, this.settings.tolerance);
    const centre = turn && centreOf(turn);
    if (!turn || !centre) return false;
    const things = this.follow(turn);
    for (const [i, j] of things) this.pair(i, j, 'turned');
    if (things.length) this.out.groups.push({ angle: angleOf(turn), x: centre[0], y: centre[1], things: things.map(([i, j]) => ({ ...told(this.b.things[j]), before: i, after: j })) }); // prettier-ignore
    return things.length > 0;
  }

  /** All that a turn or a shift brings onto something of the same kind, layer and text. */
  private follow(turn: Turn): [i: number, j: number][] {
    // How exact a turn is depends on how long what it was found from is.
    const within = this.settings.tolerance + FOLLOWS;
    const index = new ByPlace(this.b, within);
    const out: [number, number][] = [];
    const found = new Set<number>();
    for (const i of this.a.indices()) {
      const t = this.a.things[i];
      const j = index.nearest(...turned(turn, t.at[0], t.at[1]), (o) => sameWords(t, o) && fits(turn, t, o, within));
      if (j === null || found.has(j)) continue;
      found.add(j);
      out.push([i, j]);
    }
    return out;
  }

  /** The nearest of the same shape, layer and text. */
  private nearest(): void {
    const [ours, theirs] = this.shapes();
    for (const [key, list] of ours) {
      const others = theirs.get(key) ?? [];
      if (list.length > MOST_ALIKE || others.length > MOST_ALIKE) continue;
      const pairs = list.flatMap((i) => others.map((j) => ({ i, j, apart: this.apart(i, j) })));
      pairs.sort((x, y) => x.apart - y.apart || x.i - y.i || x.j - y.j);
      for (const { i, j, apart } of pairs)
        if (apart <= this.settings.reach && this.a.has(i) && this.b.has(j) && this.mayBe(i, j)) this.pair(i, j);
    }
  }

  /** What kept its place and some of its vertices: another text, another course, another elevation. */
  private partly(): void {
    const { tolerance } = this.settings;
    const there = new Map<string, number[]>();
    for (const j of this.b.indices())
      for (const key of keysOfVertices(this.b.things[j], tolerance)) {
        const list = there.get(key);
        if (!list) there.set(key, [j]);
        else if (list.length < MOST_ALIKE) list.push(j);
      }
    for (const i of this.a.indices()) {
      const keys = keysOfVertices(this.a.things[i], tolerance);
      const shared = new Map<number, number>();
      for (const key of keys)
        for (const j of there.get(key) ?? [])
          if (this.b.has(j) && this.mayBe(i, j)) shared.set(j, (shared.get(j) ?? 0) + 1);
      const [best] = [...shared].sort(([j, n], [k, m]) => m - n || j - k);
      // Half of what it was stayed.
      if (best && 2 * best[1] >= keys.size) this.pair(i, best[0]);
    }
  }

  private shapes(): [Map<string, number[]>, Map<string, number[]>] {
    const keyOf = (t: Thing): string => keyOfShape(t, this.settings.tolerance);
    return [this.a.by(keyOf), this.b.by(keyOf)];
  }

  private apart(i: number, j: number): number {
    const [p, q] = [this.a.things[i].at, this.b.things[j].at];
    return distance(q[0] - p[0], q[1] - p[1]);
  }

  /** One became the other: what of it is another, first what matters most. */
  private pair(i: number, j: number, how: 'moved' | 'turned' = 'moved'): void {
    const [was, is] = [this.a.things[i], this.b.things[j]];
    this.a.take(i);
    this.b.take(j);
    const { tolerance } = this.settings;
    const [dx, dy] = [is.at[0] - was.at[0], is.at[1] - was.at[1]];
    const what = differences(was, is, { dx, dy, how }, tolerance);
    const far = distance(dx, dy);
    const of = { ...told(is), before: i, after: j };
    if (was.layer !== is.layer) this.out.relayered.push({ ...of, from: was.layer, to: is.layer });
    if (what.length) this.out.changed.push({ ...of, what: what.join(', ') });
    else if (how === 'turned') return;
    else if (far > tolerance) this.out.moved.push({ ...of, dx, dy, distance: far });
    else if (was.layer === is.layer) this.out.unchanged++;
  }
}

const STILL: Turn = { c: 1, s: 0, dx: 0, dy: 0 };
const told = ({ kind, layer, text, at: [x, y] }: Thing): Told => ({ kind, layer, text, x, y });
const inOrder = (p: string, q: string): number => (p < q ? -1 : p > q ? 1 : 0);
const wordsOf = ({ layer, text }: Thing): string => JSON.stringify([layer, text]);
const alike = (a: Thing, b: Thing): boolean =>
  a.kind === b.kind && a.closed === b.closed && a.at.length === b.at.length && canBe(a, b);
const canBe = (a: Thing, b: Thing): boolean => a.own === undefined || b.own === undefined || a.own === b.own;
const sameWords = (a: Thing, b: Thing): boolean => alike(a, b) && a.layer === b.layer && a.text === b.text;

function sameHeights(a: Thing, b: Thing, within: number): boolean {
  for (let k = 2; k < a.at.length; k += 3) {
    const [p, q] = [a.at[k], b.at[k]];
    if (Number.isNaN(p) !== Number.isNaN(q) || Math.abs(p - q) > within) return false;
  }
  return true;
}

/** What is another besides place and layer; a group that turned is told as a group. */
function differences(
  was: Thing,
  is: Thing,
  { dx, dy, how }: { dx: number; dy: number; how: 'moved' | 'turned' },
  tolerance: number,
): string[] {
  const out: string[] = [];
  if (was.text !== is.text) out.push(`text “${was.text}” is “${is.text}”`);
  if (was.at.length !== is.at.length) out.push(`${was.at.length / 3} vertices are ${is.at.length / 3}`);
  else {
    if (!sameHeights(was, is, tolerance)) out.push('elevation');
    const isTurned = !fits({ ...STILL, dx, dy }, was, is, tolerance + FOLLOWS);
    if (how === 'moved' && isTurned && sharesVertex(was, is, tolerance)) out.push('course');
  }
  if (was.closed !== is.closed) out.push(is.closed ? 'closed now' : 'open now');
  return out;
}

function sharesVertex(a: Thing, b: Thing, within: number): boolean {
  for (let k = 0; k < a.at.length; k += 3)
    if (distance(a.at[k] - b.at[k], a.at[k + 1] - b.at[k + 1]) <= within) return true;
  return false;
}
