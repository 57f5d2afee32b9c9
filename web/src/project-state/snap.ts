import Flatbush from 'flatbush';
import { chordPlaces, meetingsOf, nearestSide, sideCount, vertex, type Line } from '#core/linework';
import { STATE } from '#core/stages';
import type { Tables } from './tables.ts';

/** A place under the hand, and what it is held by. */
export interface Snapped {
  x: number;
  y: number;
  by: 'point' | 'end' | 'crossing' | 'middle' | 'nearest' | 'free';
  /** Row of the point that it is. */
  row: number;
}

interface SideIndex {
  tree: Flatbush | null;
  line: Int32Array;
  side: Int32Array;
}

const indexes = new WeakMap<readonly Line[], SideIndex>();

/** Sides of all lines by where they lie; made once for a revision. */
export function sideIndex(lines: readonly Line[]): SideIndex {
  let index = indexes.get(lines);
  if (index) return index;
  const total = lines.reduce((n, l) => n + sideCount(l), 0);
  const tree = total ? new Flatbush(total) : null;
  const [lineOf, sideOf] = [new Int32Array(total), new Int32Array(total)];
  let at = 0;
  lines.forEach((l, k) => {
    for (let i = 0; i < sideCount(l); i++) {
      const j = (i + 1) % l.x.length;
      // An arc stands off its chord by bulge × chord / 2.
      const off = l.bulges[i] === 0 ? 0 : (Math.abs(l.bulges[i]) * Math.hypot(l.x[j] - l.x[i], l.y[j] - l.y[i])) / 2;
      tree!.add(
        Math.min(l.x[i], l.x[j]) - off,
        Math.min(l.y[i], l.y[j]) - off,
        Math.max(l.x[i], l.x[j]) + off,
        Math.max(l.y[i], l.y[j]) + off,
      );
      [lineOf[at], sideOf[at]] = [k, i];
      at++;
    }
  });
  tree?.finish();
  index = { tree, line: lineOf, side: sideOf };
  indexes.set(lines, index);
  return index;
}

const MOST_SIDES = 60;

/** The point, end, crossing, middle or nearest place of a line within reach, in that order; else the place itself. */
export function snapAt(tables: Tables, x: number, y: number, reach: number): Snapped {
  const { points, linework } = tables;
  const near = tables.pointIndex?.neighbors(x, y, 1, reach, (i) => points.state[i] === STATE.used)[0];
  if (near !== undefined) return { x: points.x[near], y: points.y[near], by: 'point', row: near };
  const { tree, line, side } = sideIndex(linework.lines);
  const hits = tree?.search(x - reach, y - reach, x + reach, y + reach).slice(0, MOST_SIDES) ?? [];
  const candidates: Snapped[] = [];
  const put = (px: number, py: number, by: Snapped['by']): void => {
    if (Math.hypot(px - x, py - y) <= reach) candidates.push({ x: px, y: py, by, row: -1 });
  };
  const sides = hits.map((h) => oneSide(linework.lines[line[h]], side[h]));
  for (const s of sides) {
    put(s.x[0], s.y[0], 'end');
    put(s.x[1], s.y[1], 'end');
    const middle = s.bulges[0] === 0 ? null : chordPlaces(vertex(s, 0), vertex(s, 1), s.bulges[0], 0).find((p) => p.along === 0.5); // prettier-ignore
    if (middle) put(middle.x, middle.y, 'middle');
    else put((s.x[0] + s.x[1]) / 2, (s.y[0] + s.y[1]) / 2, 'middle');
    const { place } = nearestSide(s, { x, y });
    put(place.x, place.y, 'nearest');
  }
  for (let i = 0; i < sides.length && i < 12; i++)
    for (let k = i + 1; k < sides.length && k < 12; k++)
      for (const m of meetingsOf(sides[i], sides[k])) put(m.x, m.y, 'crossing');
  const order = ['end', 'crossing', 'middle', 'nearest'];
  candidates.sort(
    (a, b) => order.indexOf(a.by) - order.indexOf(b.by) || Math.hypot(a.x - x, a.y - y) - Math.hypot(b.x - x, b.y - y),
  );
  return candidates[0] ?? { x, y, by: 'free', row: -1 };
}

/** What a course that is drawn is held by: its own first place where it closes, what else it says, points and lines unless it is free. */
export function heldAt(
  { free, also, closes }: { free?: boolean; also?: () => readonly number[]; closes?: boolean },
  places: readonly Snapped[],
  tables: Tables,
  at: { x: number; y: number },
  reach: number,
): Snapped {
  const { x, y } = at;
  const near = (px: number, py: number): boolean => Math.hypot(px - x, py - y) <= reach;
  if (closes && places.length > 2 && near(places[0].x, places[0].y)) return { ...places[0], by: 'end' };
  let best: Snapped | null = null;
  const others = also?.() ?? [];
  for (let i = 0; i < others.length; i += 2) {
    const [px, py] = [others[i], others[i + 1]];
    if (near(px, py) && (!best || Math.hypot(px - x, py - y) < Math.hypot(best.x - x, best.y - y)))
      best = { x: px, y: py, by: 'end', row: -1 };
  }
  return best ?? (free ? { x, y, by: 'free', row: -1 } : snapAt(tables, x, y, reach));
}

const oneSide = (l: Line, i: number) => {
  const j = (i + 1) % l.x.length;
  return { x: [l.x[i], l.x[j]], y: [l.y[i], l.y[j]], bulges: [l.bulges[i], 0], closed: false };
};

/** The line nearest to a place within reach, other than one. */
export function lineNear(
  tables: Tables,
  x: number,
  y: number,
  reach: number,
  except = '',
  untouched: (line: Line) => boolean = () => false,
): Line | null {
  const { tree, line, side } = sideIndex(tables.linework.lines);
  let best: Line | null = null;
  let nearest = reach;
  for (const h of tree?.search(x - reach, y - reach, x + reach, y + reach) ?? []) {
    const l = tables.linework.lines[line[h]];
    if (l.key === except || untouched(l)) continue;
    const { off } = nearestSide(oneSide(l, side[h]), { x, y });
    if (off < nearest) [best, nearest] = [l, off];
  }
  return best;
}
