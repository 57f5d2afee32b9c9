export interface Place {
  x: number;
  y: number;
}

/**
 * The bulge, tan(θ/4), of the arc from a to c that passes through b; θ is the angle at the centre,
 * positive counter-clockwise. 0 (a straight side) where the three are in line or nearly so, coincide,
 * or would make an arc of more than three quarters of a circle, which nobody measures with three shots.
 * By the inscribed angle: θ/2 = π − ∠abc.
 */
export function bulgeThrough(a: Place, b: Place, c: Place): number {
  const ux = a.x - b.x;
  const uy = a.y - b.y;
  const vx = c.x - b.x;
  const vy = c.y - b.y;
  const cross = ux * vy - uy * vx;
  const dot = ux * vx + uy * vy;
  if ((ux === 0 && uy === 0) || (vx === 0 && vy === 0)) return 0;
  const inscribed = Math.atan2(Math.abs(cross), dot);
  const half = Math.PI - inscribed;
  if (half < 1e-4 || half > 0.75 * Math.PI) return 0;
  // Turning left at b (cross < 0 seen from b) runs counter-clockwise.
  return Math.tan(half / 2) * (cross < 0 ? 1 : -1);
}

/** Bulges of the two parts of an arc split at b: for sides a–b and b–c of the arc through all three. */
export function bulgesOfParts(a: Place, b: Place, c: Place): [number, number] {
  const whole = bulgeThrough(a, b, c);
  if (whole === 0) return [0, 0];
  const circle = circleOf(a, c, whole);
  const part = (p: Place, q: Place): number => {
    const chord = Math.hypot(q.x - p.x, q.y - p.y);
    const angle = 2 * Math.asin(Math.min(1, chord / (2 * circle.radius)));
    const straightLeft = (q.x - p.x) * (circle.y - p.y) - (q.y - p.y) * (circle.x - p.x) > 0;
    // Centre on the inner side means less than half a circle.
    const small = straightLeft === whole > 0;
    return Math.tan((small ? angle : 2 * Math.PI - angle) / 4) * Math.sign(whole);
  };
  return [part(a, b), part(b, c)];
}

export interface Circle extends Place {
  radius: number;
}

/** Centre and radius of the arc a → c with a bulge. */
export function circleOf(a: Place, c: Place, bulge: number): Circle {
  const chord = Math.hypot(c.x - a.x, c.y - a.y);
  const radius = (chord * (1 + bulge * bulge)) / (4 * Math.abs(bulge));
  // Signed distance from the chord's middle to the centre, to the left of a → c.
  const h = (chord * (1 - bulge * bulge)) / (4 * bulge);
  return {
    x: (a.x + c.x) / 2 - (h * (c.y - a.y)) / chord,
    y: (a.y + c.y) / 2 + (h * (c.x - a.x)) / chord,
    radius,
  };
}

/**
 * Places between a and c along the arc, ends not included, such that no chord stands off the arc by
 * more than `sagitta` metres. `along` is the share of the arc, 0 … 1.
 */
export function chordPlaces(a: Place, c: Place, bulge: number, sagitta: number): (Place & { along: number })[] {
  if (bulge === 0) return [];
  const circle = circleOf(a, c, bulge);
  const sweep = 4 * Math.atan(bulge);
  const step = 2 * Math.acos(Math.max(-1, 1 - Math.min(sagitta / circle.radius, 1)));
  const parts = Math.min(720, Math.max(1, Math.ceil(Math.abs(sweep) / Math.max(step, 1e-3))));
  const start = Math.atan2(a.y - circle.y, a.x - circle.x);
  const out: (Place & { along: number })[] = [];
  for (let i = 1; i < parts; i++) {
    const angle = start + (sweep * i) / parts;
    out.push({
      x: circle.x + circle.radius * Math.cos(angle),
      y: circle.y + circle.radius * Math.sin(angle),
      along: i / parts,
    });
  }
  return out;
}
