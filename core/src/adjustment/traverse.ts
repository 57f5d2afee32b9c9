import { atan2, cos, difference, distance as length, sin, turned } from '#core/kernel';
import type { Known, Reduction, Sight } from '#core/reduction';

/** Stations from one that is given to one that is given, each sighted from the one before and sighting it back. */
export interface Traverse {
  kind: 'link' | 'closed';
  /** Numbers of the stations, the given ones at both ends. */
  stations: string[];
  legs: TraverseLeg[];
  length: number;
  /** Radians, carried less given; NaN where nothing closes the angles. */
  angular: number;
  /** How many angles it is shared between. */
  angles: number;
  /** What centring of instrument and targets leaves in their sum, one standard deviation, radians. */
  centring: number;
  /** Carried less given after the angles are shared out, m; dz NaN without heights. */
  dx: number;
  dy: number;
  dz: number;
  linear: number;
  /** Length over linear misclosure. */
  ratio: number;
  /** What alone would explain the misclosure; several where geometry cannot tell them apart. */
  suspects: TraverseSuspect[];
  /** The same in words, null where nothing alone explains it. */
  suspect: string | null;
  /** Whether one of its setups waits to be decided: its misclosure may come from there. */
  waits: boolean;
  /** Stations between the ends as each rule has them. */
  compass: TraversePlace[];
  transit: TraversePlace[];
}

export type TraverseSuspect = { what: 'angle'; at: string } | { what: 'distance'; from: string; to: string };

export interface TraverseLeg {
  from: string;
  to: string;
  /** After the angles are shared out. */
  bearing: number;
  distance: number;
  rise: number;
}

export interface TraversePlace {
  number: string;
  x: number;
  y: number;
  z: number;
}

const PI = 3.141592653589793;
const GIVEN = new Set<Known['from']>(['control', 'gnss', 'typed']);

/** What setups see of each other: mean circles, distances and rises by setup and number. */
interface Seen {
  circle: number;
  horizontal: number;
  rise: number;
}

/** Traverses among the setups of a reduction, each with its misclosures and its stations by compass and transit rule. */
export function findTraverses(reduction: Reduction, centring: number): Traverse[] {
  const seen = seenFrom(reduction);
  const { setups, known } = reduction;
  const out: Traverse[] = [];
  const taken = new Set<number>();
  const isGiven = (number: string): boolean => GIVEN.has(known.get(number)?.from ?? 'carried');
  setups.forEach((start, first) => {
    if (!start.station || start.failed || !isGiven(start.number)) return;
    const path = [first];
    for (;;) {
      const here = path.at(-1)!;
      const next = setups.findIndex(
        (s, k) =>
          !path.includes(k) &&
          !taken.has(k) &&
          s.station !== null &&
          !isGiven(s.number) &&
          seen[here].has(s.number) &&
          seen[k].has(setups[here].number) &&
          !path.some((p) => setups[p].number === s.number),
      );
      if (next < 0) break;
      path.push(next);
    }
    if (path.length < 2) return;
    const end = endOf(path);
    if (!end) return;
    for (const k of path.slice(1)) taken.add(k);
    out.push(traverseOf(path, end.number, end.setup));
  });
  return out;

  /** A given point that the last station sights, where one stood there if possible; back at the start it closes. */
  function endOf(path: number[]): { number: string; setup: number } | null {
    const last = path.at(-1)!;
    const start = setups[path[0]].number;
    const ends = [...seen[last].keys()].filter(
      (n) => isGiven(n) && (n !== start || path.length > 2) && !Number.isNaN(seen[last].get(n)!.horizontal),
    );
    const stoodOn = (n: string): number =>
      setups.findIndex((s, k) => s.number === n && s.station !== null && seen[k].has(setups[last].number));
    const best = ends.find((n) => stoodOn(n) >= 0) ?? ends[0];
    return best === undefined ? null : { number: best, setup: stoodOn(best) };
  }

  /** Orientation from given points alone, so that what the traverse carried does not close it on itself. */
  function orientationOf(setup: number): number {
    const station = known.get(setups[setup].number)!;
    const turns = [...seen[setup]].flatMap(([number, s]) => {
      const target = known.get(number);
      if (!target || !isGiven(number) || number === station.number || Number.isNaN(s.circle)) return [];
      return [difference(atan2(target.x - station.x, target.y - station.y) - s.circle)];
    });
    if (turns.length === 0) return NaN;
    return turns[0] + turns.reduce((sum, t) => sum + difference(t - turns[0]), 0) / turns.length;
  }

  function traverseOf(path: number[], end: string, endSetup: number): Traverse {
    const numbers = [...path.map((k) => setups[k].number), end];
    const start = known.get(numbers[0])!;
    const target = known.get(end)!;
    const begun = orientationOf(path[0]);
    const orientation = Number.isNaN(begun) ? setups[path[0]].orientation : begun;
    const legs = path.map((k, i): TraverseLeg => {
      const ahead = seen[k].get(numbers[i + 1])!;
      const from = i + 1 < path.length ? path[i + 1] : endSetup;
      const back = from >= 0 ? seen[from].get(numbers[i]) : undefined;
      return {
        from: numbers[i],
        to: numbers[i + 1],
        bearing: NaN,
        distance: meanOf(ahead.horizontal, back?.horizontal ?? NaN),
        rise: meanOf(ahead.rise, -(back?.rise ?? NaN)),
      };
    });
    let bearing = turned(seen[path[0]].get(numbers[1])!.circle + orientation);
    legs[0].bearing = bearing;
    for (let i = 1; i < path.length; i++) {
      const here = seen[path[i]];
      bearing = turned(bearing + PI + here.get(numbers[i + 1])!.circle - here.get(numbers[i - 1])!.circle);
      legs[i].bearing = bearing;
    }
    const closing = endSetup < 0 ? NaN : orientationOf(endSetup);
    const angles = path.length + 1;
    const angular = Number.isNaN(closing)
      ? NaN
      : difference(bearing + PI - seen[endSetup].get(numbers.at(-2)!)!.circle - closing);
    // What the angles themselves say, before any of their misclosure is distributed.
    const raw = { forward: carried(start, legs), backward: carriedBack(target, legs, angular) };
    if (!Number.isNaN(angular))
      legs.forEach((leg, i) => (leg.bearing = turned(leg.bearing - (angular * (i + 1)) / angles)));
    const places = carried(start, legs);
    const last = places.at(-1)!;
    const [dx, dy, dz] = [last.x - target.x, last.y - target.y, last.z - target.z];
    const total = legs.reduce((s, l) => s + l.distance, 0);
    const linear = length(dx, dy);
    const suspects = Number.isNaN(angular)
      ? withoutClosingAngle(places, legs, start, target, dx, dy)
      : suspectsOf(raw.forward, raw.backward, legs, start, target, angular, centringOf(legs, centring), angles, {
          x: dx,
          y: dy,
        });
    return {
      kind: end === numbers[0] ? 'closed' : 'link',
      stations: numbers,
      legs,
      length: total,
      angular,
      angles,
      centring: centringOf(legs, centring),
      dx,
      dy,
      dz,
      linear,
      ratio: linear > 0 ? total / linear : Infinity,
      suspects,
      suspect: suspectText(suspects),
      waits: path.some((k) => setups[k].waits !== null),
      compass: shared(places, legs, dx, dy, dz, 'compass').slice(0, -1),
      transit: shared(places, legs, dx, dy, dz, 'transit').slice(0, -1),
    };
  }
}

/** Each end of a leg enters two angles, but for the first and the last. */
const centringOf = (legs: readonly TraverseLeg[], centring: number): number =>
  Math.sqrt(legs.reduce((sum, { distance }) => sum + (4 * centring * centring) / (distance * distance), 0));

const meanOf = (a: number, b: number): number => (Number.isNaN(a) ? b : Number.isNaN(b) ? a : (a + b) / 2);

function seenFrom({ setups, sights }: Reduction): Map<string, Seen>[] {
  const groups = setups.map(() => new Map<string, Sight[]>());
  for (const s of sights) groups[s.setup].set(s.number, [...(groups[s.setup].get(s.number) ?? []), s]);
  return groups.map((m) => new Map([...m].map(([number, list]) => [number, meanSight(list)])));
}

function meanSight(list: readonly Sight[]): Seen {
  const [first] = list;
  const turn = list.reduce((s, v) => s + difference(v.circle - first.circle), 0) / list.length;
  const mean = (values: number[]): number => {
    const said = values.filter((v) => !Number.isNaN(v));
    return said.length ? said.reduce((s, v) => s + v, 0) / said.length : NaN;
  };
  return {
    circle: turned(first.circle + turn),
    horizontal: mean(list.map((s) => s.horizontal)),
    rise: mean(list.map((s) => s.rise)),
  };
}

function carried(start: Known, legs: readonly TraverseLeg[]): TraversePlace[] {
  let { x, y, z } = start;
  return legs.map(({ to, bearing, distance, rise }) => {
    x += distance * sin(bearing);
    y += distance * cos(bearing);
    z += rise;
    return { number: to, x, y, z };
  });
}

/**
 * The misclosure shared out. Compass rule: in proportion to the length so far. Transit rule: in east in proportion
 * to differences in east, in north to those in north (both: any surveying textbook). Heights by length.
 */
function shared(
  places: readonly TraversePlace[],
  legs: readonly TraverseLeg[],
  dx: number,
  dy: number,
  dz: number,
  rule: 'compass' | 'transit',
): TraversePlace[] {
  const sum = (of: (l: TraverseLeg) => number): number => legs.reduce((s, l) => s + of(l), 0);
  const east = (l: TraverseLeg): number => Math.abs(l.distance * sin(l.bearing));
  const north = (l: TraverseLeg): number => Math.abs(l.distance * cos(l.bearing));
  const along = (l: TraverseLeg): number => l.distance;
  const [ofX, ofY] = rule === 'compass' ? [along, along] : [east, north];
  const [allX, allY, all] = [sum(ofX), sum(ofY), sum(along)];
  let [sx, sy, s] = [0, 0, 0];
  return places.map((p, i) => {
    sx += ofX(legs[i]);
    sy += ofY(legs[i]);
    s += along(legs[i]);
    return {
      number: p.number,
      x: p.x - (allX > 0 ? (dx * sx) / allX : 0),
      y: p.y - (allY > 0 ? (dy * sy) / allY : 0),
      z: p.z - (all > 0 ? (dz * s) / all : 0),
    };
  });
}

/** Places carried back from the end with the same angles: every bearing is turned by what the angles miss. */
function carriedBack(target: Known, legs: readonly TraverseLeg[], angular: number): TraversePlace[] {
  let { x, y, z } = target;
  const out: TraversePlace[] = [];
  for (let i = legs.length - 1; i >= 0; i--) {
    const { from, bearing, distance, rise } = legs[i];
    x -= distance * sin(bearing - angular);
    y -= distance * cos(bearing - angular);
    z -= rise;
    out.unshift({ number: from, x, y, z });
  }
  return out;
}

/** m; what is left over beside a slip is no more than this, or a ten-thousandth of the length. */
const LEFT = 0.02;

/**
 * One wrong angle: carried from the start, everything up to its station is right; carried from the end, everything
 * behind it is; so the two ways meet at that station, and differ elsewhere by the misclosure times the distance
 * from it (any surveying textbook). Searched in the angles as they were read. One wrong distance: the angles close, and
 * the misclosure runs along its leg. Where the misclosure is too small for the distance between two stations, both are named.
 */
function suspectsOf(
  forward: readonly TraversePlace[],
  backward: readonly TraversePlace[],
  legs: readonly TraverseLeg[],
  start: Known,
  target: Known,
  angular: number,
  centring: number,
  angles: number,
  shared: { x: number; y: number },
): TraverseSuspect[] {
  const total = legs.reduce((s, l) => s + l.distance, 0);
  const left = Math.max(LEFT, total / 10_000);
  const last = forward[forward.length - 1];
  const [dx, dy] = [last.x - target.x, last.y - target.y];
  const gaps = [
    { number: legs[0].from, off: length(backward[0].x - start.x, backward[0].y - start.y) },
    ...forward.slice(0, -1).map((p, i) => ({ number: p.number, off: length(p.x - backward[i + 1].x, p.y - backward[i + 1].y) })), // prettier-ignore
    { number: last.number, off: length(dx, dy) },
  ];
  const usual = Math.sqrt(25 * SECOND * SECOND * angles + 4 * centring * centring);
  if (Math.abs(angular) > 2 * usual) {
    const nearest = Math.min(...gaps.map((g) => g.off));
    if (nearest > left) return [];
    return gaps.filter((g) => g.off <= Math.max(left / 2, 2 * nearest)).map((g) => ({ what: 'angle', at: g.number }));
  }
  // What is usual in angles is distributed, and leaves no more to a distance than remains then.
  const gap = length(shared.x, shared.y);
  if (!(gap > LEFT)) return [];
  return alongLegs(legs, shared.x, shared.y).map((l) => ({ what: 'distance', from: l.from, to: l.to }));
}
const SECOND = 4.84813681109536e-6;

/** Legs that a misclosure runs along. */
function alongLegs(legs: readonly TraverseLeg[], dx: number, dy: number): TraverseLeg[] {
  const gap = length(dx, dy);
  const way = atan2(dx, dy);
  return legs.filter((l) => {
    const turn = Math.abs(difference(l.bearing - way));
    return Math.min(turn, PI - turn) * gap < Math.max(0.01, gap / 8);
  });
}

/**
 * Without a closing angle one wrong angle turns all behind it about its station, so that carried and given end stand
 * equally far from it; one wrong distance pushes it along its leg.
 */
function withoutClosingAngle(
  places: readonly TraversePlace[],
  legs: readonly TraverseLeg[],
  start: Known,
  target: Known,
  dx: number,
  dy: number,
): TraverseSuspect[] {
  const gap = length(dx, dy);
  if (!(gap > LEFT)) return [];
  const last = places.at(-1)!;
  const stations = [{ ...start, number: start.number }, ...places.slice(0, -1)];
  const about = stations.filter((p) => {
    const [a, b] = [length(last.x - p.x, last.y - p.y), length(target.x - p.x, target.y - p.y)];
    return Math.abs(a - b) < Math.max(0.01, gap / 20);
  });
  return [
    ...alongLegs(legs, dx, dy).map((l): TraverseSuspect => ({ what: 'distance', from: l.from, to: l.to })),
    ...about.map((p): TraverseSuspect => ({ what: 'angle', at: p.number })),
  ];
}

/** More than this many explain nothing. */
const MOST_SUSPECTS = 3;

function suspectText(suspects: readonly TraverseSuspect[]): string | null {
  if (suspects.length === 0 || suspects.length > MOST_SUSPECTS) return null;
  const said = suspects.map((s) => (s.what === 'angle' ? `the angle at ${s.at}` : `the distance from ${s.from} to ${s.to}`)); // prettier-ignore
  return said.length === 1 ? said[0] : `${said.join(' or ')}, which its geometry cannot tell apart`;
}

/** Stations of traverses as a rule has them, for what depends on them to follow. */
export function traverseStations(
  traverses: readonly Traverse[],
  rule: 'compass' | 'transit',
  reduction: Reduction,
): Known[] {
  return traverses.flatMap((t) =>
    t[rule].map((p): Known => {
      const before = reduction.known.get(p.number);
      return {
        ...p,
        sdPlan: before?.sdPlan ?? 0.01,
        sdHeight: before?.sdHeight ?? 0.01,
        from: 'adjusted',
      };
    }),
  );
}
