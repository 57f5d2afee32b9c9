import { distance } from '#core/kernel';
import { circleOf, type Place } from './arcs.ts';
import { sideCount, vertex, type Line } from './line.ts';

/** A place where two sides meet. */
export interface Meeting extends Place {
  /** Side of the first line. */
  side: number;
  /** Side of the other. */
  otherSide: number;
}

type Sides = Pick<Line, 'x' | 'y' | 'bulges' | 'closed'>;
interface Side {
  a: Place;
  b: Place;
  bulge: number;
}

const sideOf = (line: Sides, i: number): Side => ({
  a: vertex(line, i),
  b: vertex(line, (i + 1) % line.x.length),
  bulge: line.bulges[i],
});

/** All places where two lines meet; arcs are met as arcs. */
export function meetingsOf(line: Sides, other: Sides): Meeting[] {
  const out: Meeting[] = [];
  for (let i = 0; i < sideCount(line); i++)
    for (let k = 0; k < sideCount(other); k++)
      for (const p of meet(sideOf(line, i), sideOf(other, k))) out.push({ ...p, side: i, otherSide: k });
  return out;
}

/** Where a straight from a through b, beyond b, first meets a line; null where it never does. */
export function meetingBeyond(a: Place, b: Place, other: Sides): Place | null {
  let best: Place | null = null;
  let nearest = Infinity;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const square = dx * dx + dy * dy;
  if (square === 0) return null;
  for (let k = 0; k < sideCount(other); k++)
    for (const p of straightMeets(a, b, sideOf(other, k))) {
      const t = ((p.x - a.x) * dx + (p.y - a.y) * dy) / square;
      if (t > 1 + 1e-9 && t < nearest) [best, nearest] = [p, t];
    }
  return best;
}

function meet(s: Side, t: Side): Place[] {
  if (s.bulge === 0) return straightMeets(s.a, s.b, t).filter((p) => within(p, s));
  if (t.bulge === 0) return straightMeets(t.a, t.b, s).filter((p) => within(p, t));
  return circlesMeet(s, t).filter((p) => onArc(p, s) && onArc(p, t));
}

/** Places of the endless straight through a and b on a side. */
function straightMeets(a: Place, b: Place, t: Side): Place[] {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const square = dx * dx + dy * dy;
  if (square === 0) return [];
  if (t.bulge === 0) {
    const [ex, ey] = [t.b.x - t.a.x, t.b.y - t.a.y];
    const cross = dx * ey - dy * ex;
    if (Math.abs(cross) < 1e-12 * Math.sqrt(square * (ex * ex + ey * ey))) return [];
    const u = ((t.a.x - a.x) * dy - (t.a.y - a.y) * dx) / cross;
    return u >= -1e-9 && u <= 1 + 1e-9 ? [{ x: t.a.x + u * ex, y: t.a.y + u * ey }] : [];
  }
  const circle = circleOf(t.a, t.b, t.bulge);
  const along = ((circle.x - a.x) * dx + (circle.y - a.y) * dy) / square;
  const foot = { x: a.x + along * dx, y: a.y + along * dy };
  const off = distance(circle.x - foot.x, circle.y - foot.y);
  if (off > circle.radius) return [];
  const half = Math.sqrt((circle.radius * circle.radius - off * off) / square);
  return [-half, half].map((h) => ({ x: foot.x + h * dx, y: foot.y + h * dy })).filter((p) => onArc(p, t));
}

function circlesMeet(s: Side, t: Side): Place[] {
  const [c, d] = [circleOf(s.a, s.b, s.bulge), circleOf(t.a, t.b, t.bulge)];
  const apart = distance(d.x - c.x, d.y - c.y);
  if (apart === 0 || apart > c.radius + d.radius || apart < Math.abs(c.radius - d.radius)) return [];
  const along = (apart * apart + c.radius * c.radius - d.radius * d.radius) / (2 * apart);
  const h = Math.sqrt(Math.max(0, c.radius * c.radius - along * along));
  const [ux, uy] = [(d.x - c.x) / apart, (d.y - c.y) / apart];
  return [-h, h].map((v) => ({ x: c.x + along * ux - v * uy, y: c.y + along * uy + v * ux }));
}

function within(p: Place, s: Side): boolean {
  const [dx, dy] = [s.b.x - s.a.x, s.b.y - s.a.y];
  const t = ((p.x - s.a.x) * dx + (p.y - s.a.y) * dy) / (dx * dx + dy * dy);
  return t >= -1e-9 && t <= 1 + 1e-9;
}

/** A place of the circle is on the arc where it lies on the arc's side of the chord: a positive bulge bends to the right. */
function onArc(p: Place, s: Side): boolean {
  const cross = (s.b.x - s.a.x) * (p.y - s.a.y) - (s.b.y - s.a.y) * (p.x - s.a.x);
  const slack = 1e-9 * distance(s.b.x - s.a.x, s.b.y - s.a.y);
  return s.bulge > 0 ? cross <= slack : cross >= -slack;
}
