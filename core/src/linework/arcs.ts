import { distance } from '#core/kernel';

export interface Place {
  x: number;
  y: number;
}

// Only sums, products, quotients and square roots here: these are the same to the last bit in every
// engine, which sines and arc tangents are not. See docs/decisions/001-same-bits.md.

/** Below it an arc is a straight side: an angle at the centre of 0.0002 rad. */
const STRAIGHTEST = 5e-5;
/** Above it (three quarters of a circle) three shots do not make an arc that anybody measured. */
const ROUNDEST = 2.414213562373095;

/**
 * The bulge, tan(θ/4), of the arc from a to c that passes through b; θ is the angle at the centre,
 * positive counter-clockwise. 0 (a straight side) where the three are in line or nearly so, coincide,
 * or would make an arc of more than three quarters of a circle.
 * By the inscribed angle β at b, θ/2 = π − β, and tan((π − β)/2) = (1 + cos β) / sin β.
 */
export function bulgeThrough(a: Place, b: Place, c: Place): number {
  const ux = a.x - b.x;
  const uy = a.y - b.y;
  const vx = c.x - b.x;
  const vy = c.y - b.y;
  const cross = ux * vy - uy * vx;
  const dot = ux * vx + uy * vy;
  const product = Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
  if (product === 0 || cross === 0) return 0;
  const bulge = (product + dot) / Math.abs(cross);
  if (!(bulge > STRAIGHTEST) || bulge > ROUNDEST) return 0;
  // Turning left at b (cross < 0 seen from b) runs counter-clockwise.
  return cross < 0 ? bulge : -bulge;
}

/** Bulges of the two parts of an arc split at b: for sides a–b and b–c of the arc through all three. */
export function bulgesOfParts(a: Place, b: Place, c: Place): [number, number] {
  const whole = bulgeThrough(a, b, c);
  if (whole === 0) return [0, 0];
  const circle = circleOf(a, c, whole);
  const part = (p: Place, q: Place): number => {
    // tan(θ/4) from sin(θ/2) = chord / 2r, by the half-angle formula.
    const sine = Math.min(1, distance(q.x - p.x, q.y - p.y) / (2 * circle.radius));
    const small = sine / (1 + Math.sqrt(1 - sine * sine));
    const centreLeft = (q.x - p.x) * (circle.y - p.y) - (q.y - p.y) * (circle.x - p.x) > 0;
    // With the centre on the inner side the part is less than half a circle.
    return (centreLeft === whole > 0 ? small : 1 / small) * Math.sign(whole);
  };
  return [part(a, b), part(b, c)];
}

export interface Circle extends Place {
  radius: number;
}

/** Centre and radius of the arc a → c with a bulge. */
export function circleOf(a: Place, c: Place, bulge: number): Circle {
  const chord = distance(c.x - a.x, c.y - a.y);
  const radius = (chord * (1 + bulge * bulge)) / (4 * Math.abs(bulge));
  // Signed distance from the chord's middle to the centre, to the left of a → c.
  const h = (chord * (1 - bulge * bulge)) / (4 * bulge);
  return {
    x: (a.x + c.x) / 2 - (h * (c.y - a.y)) / chord,
    y: (a.y + c.y) / 2 + (h * (c.x - a.x)) / chord,
    radius,
  };
}

/** No arc is halved more often: 1,024 chords. */
const MOST_HALVINGS = 10;

/**
 * Places between a and c along the arc, ends not included, such that no chord stands off the arc by
 * more than `sagitta` metres. The arc is halved as often as that takes; `along` is the share of it, 0 … 1.
 */
export function chordPlaces(a: Place, c: Place, bulge: number, sagitta: number): (Place & { along: number })[] {
  const out: (Place & { along: number })[] = [];
  if (bulge !== 0) halve(a, c, bulge, 0, 1, 0);
  return out;

  function halve(p: Place, q: Place, b: number, from: number, to: number, depth: number): void {
    const dx = q.x - p.x;
    const dy = q.y - p.y;
    if ((Math.abs(b) * distance(dx, dy)) / 2 <= sagitta || depth === MOST_HALVINGS) return;
    // The arc's middle stands off the chord's middle by bulge × chord / 2, to the right of p → q for a positive bulge.
    const middle = { x: (p.x + q.x + b * dy) / 2, y: (p.y + q.y - b * dx) / 2 };
    // tan(θ/8) from tan(θ/4).
    const half = b / (1 + Math.sqrt(1 + b * b));
    const along = (from + to) / 2;
    halve(p, middle, half, from, along, depth + 1);
    out.push({ ...middle, along });
    halve(middle, q, half, along, to, depth + 1);
  }
}

/** A direction in plan, of length 1. */
export interface Direction {
  x: number;
  y: number;
}

/** The direction a → b; null where they coincide. */
export function directionOf(a: Place, b: Place): Direction | null {
  const length = distance(b.x - a.x, b.y - a.y);
  return length > 0 ? { x: (b.x - a.x) / length, y: (b.y - a.y) / length } : null;
}

/** The direction in which a circle that is left along `d` at one end of a chord reaches its other end: mirrored at the chord. */
export function mirrored(d: Direction, chord: Direction): Direction {
  const along = 2 * (d.x * chord.x + d.y * chord.y);
  return { x: along * chord.x - d.x, y: along * chord.y - d.y };
}

/**
 * The bulge of the arc a → c that leaves a in the direction `d`: θ/2 is the angle between `d` and the chord, and
 * tan(θ/4) = sin(θ/2) / (1 + cos(θ/2)). 0 where it is straight, `null` where it would be more than three quarters of a circle.
 */
export function bulgeLeaving(a: Place, c: Place, d: Direction): number | null {
  const chord = directionOf(a, c);
  if (!chord) return 0;
  const sine = d.x * chord.y - d.y * chord.x;
  const cosine = d.x * chord.x + d.y * chord.y;
  const bulge = cosine <= -1 ? Infinity : sine / (1 + cosine);
  if (!(Math.abs(bulge) <= ROUNDEST)) return null;
  return Math.abs(bulge) > STRAIGHTEST ? bulge : 0;
}

/** The direction at the end of the side a → c with a bulge: the chord turned by θ/2, tan(θ/4) being the bulge. */
export function directionAt(a: Place, c: Place, bulge: number, end: 'start' | 'end'): Direction | null {
  const chord = directionOf(a, c);
  if (!chord || bulge === 0) return chord;
  const squared = bulge * bulge;
  const cosine = (1 - squared) / (1 + squared);
  const sine = ((end === 'end' ? 2 : -2) * bulge) / (1 + squared);
  return { x: chord.x * cosine - chord.y * sine, y: chord.y * cosine + chord.x * sine };
}

/** Direction at b of the circle through a, b and c; the straight on where they are in line. Null where two coincide. */
export function directionThrough(a: Place, b: Place, c: Place): Direction | null {
  const ux = b.x - a.x;
  const uy = b.y - a.y;
  const vx = c.x - b.x;
  const vy = c.y - b.y;
  const uu = ux * ux + uy * uy;
  const vv = vx * vx + vy * vy;
  if (uu === 0 || vv === 0) return null;
  // u/|u|² + v/|v|² lies along the tangent of the circle.
  return directionOf({ x: 0, y: 0 }, { x: ux * vv + vx * uu, y: uy * vv + vy * uu });
}

/**
 * Two arcs from a to c that leave a along `d`, reach c along `e` and meet smoothly: the joint, and a bulge for each.
 * The joint lies so that both ends have tangents of the same length. Null where there are none that anybody would draw.
 */
export function twoArcs(
  a: Place,
  c: Place,
  d: Direction,
  e: Direction,
): { joint: Place; bulges: [number, number] } | null {
  const v = { x: c.x - a.x, y: c.y - a.y };
  const vv = v.x * v.x + v.y * v.y;
  if (vv === 0) return null;
  const vt = v.x * (d.x + e.x) + v.y * (d.y + e.y);
  const open = 2 * (1 - (d.x * e.x + d.y * e.y));
  // Tangents of length s at both ends: |v|² − 2 s v·(d + e) = 2 s² (1 − d·e), solved for s.
  // Where both directions are the same the joint lies in the middle, however long the tangents.
  const same = open <= 1e-12;
  const s = same ? 0 : (-vt + Math.sqrt(vt * vt + open * vv)) / open;
  if (same ? vt < 0 : !(s > 0) || s * s > 100 * vv) return null;
  const joint = { x: (a.x + c.x + s * (d.x - e.x)) / 2, y: (a.y + c.y + s * (d.y - e.y)) / 2 };
  // At one of the ends an arc of no length would have to turn: a kink.
  const nearest = Math.min((joint.x - a.x) ** 2 + (joint.y - a.y) ** 2, (joint.x - c.x) ** 2 + (joint.y - c.y) ** 2);
  if (nearest < 1e-6 * vv) return null;
  const first = bulgeLeaving(a, joint, d);
  const back = bulgeLeaving(c, joint, { x: -e.x, y: -e.y });
  if (first === null || back === null) return null;
  return { joint, bulges: [first, back === 0 ? 0 : -back] };
}
