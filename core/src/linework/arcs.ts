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
