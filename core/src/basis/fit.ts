import { solveNormal } from './normal.ts';

/** A point known in both systems: from (local), to (grid), metres. An elevation that is unknown is NaN. */
export interface FitPair {
  name: string;
  from: { x: number; y: number; z: number };
  to: { x: number; y: number; z: number };
  /** Whether it takes part in plan, in height. */
  plan: boolean;
  height: boolean;
}

export interface FitSettings {
  kind: 'plan' | 'space';
  /** In plan and in space: the scale is solved for, or held at 1. */
  scale: 'free' | 'fixed';
  height: 'none' | 'shift' | 'plane';
}

export interface PairResidual {
  name: string;
  /** Fitted minus given, m; also of pairs that take no part. NaN where there is nothing to compare. */
  x: number;
  y: number;
  z: number;
  /** Residual over its own standard deviation (Baarda's w), the larger of both directions; NaN when it takes no part or nothing controls it. */
  standardised: number;
  standardisedHeight: number;
}

export interface Fit {
  /** x' = m0 x + m1 y + m2 z + m3, y' = m4 …, z' = m8 … m11; 12 numbers. */
  matrix: number[];
  scale: number;
  /** Radians, counter-clockwise turn that carries local directions to grid directions. */
  rotation: number;
  /** m. */
  shift: { x: number; y: number; z: number };
  /** Tilt of the plane, rise per metre east and north. */
  tilt: { east: number; north: number };
  residuals: PairResidual[];
  /** Standard deviation of one coordinate, m; NaN without redundancy. */
  sigmaPlan: number;
  sigmaHeight: number;
  redundancyPlan: number;
  redundancyHeight: number;
}

export type Fitted = { ok: true; fit: Fit } | { ok: false; reason: string };

const IDENTITY_TILT = { east: 0, north: 0 };

/** Fits local to grid by the pairs that take part; least squares with equal weights. */
export function fitPairs(pairs: readonly FitPair[], settings: FitSettings): Fitted {
  return settings.kind === 'space' ? fitSpace(pairs, settings) : fitPlanAndHeight(pairs, settings);
}

function fitPlanAndHeight(pairs: readonly FitPair[], settings: FitSettings): Fitted {
  const used = pairs.filter((p) => p.plan);
  const need = 2;
  if (used.length < need)
    return { ok: false, reason: `A rotation and a shift in plan need two common points; ${used.length} take part.` };
  const plan = settings.scale === 'free' ? similarity(used) : rigid(used);
  if (!plan) return { ok: false, reason: 'The common points lie in one place: no rotation can be computed from them.' };
  const { a, b, tx, ty } = plan;
  const heights = pairs.filter((p) => p.height && !Number.isNaN(p.from.z) && !Number.isNaN(p.to.z));
  const lift = fitHeight(heights, settings.height);
  if (!lift.ok) return lift;
  const { dz, tilt, middle } = lift;
  // The plane is given over local coordinates, about the middle of the points.
  const matrix = [
    a, -b, 0, tx,
    b, a, 0, ty,
    tilt.east, tilt.north, 1, dz - tilt.east * middle.x - tilt.north * middle.y,
  ]; // prettier-ignore
  const planStatistics = statisticsOfPlan(used, matrix, settings.scale);
  const residuals = pairs.map((p): PairResidual => {
    const at = applyMatrix(matrix, p.from.x, p.from.y, Number.isNaN(p.from.z) ? 0 : p.from.z);
    const dzOf = settings.height === 'none' ? NaN : at.z - p.to.z;
    return {
      name: p.name,
      x: at.x - p.to.x,
      y: at.y - p.to.y,
      z: Number.isNaN(p.from.z) ? NaN : dzOf,
      standardised: p.plan ? (planStatistics.standardised.get(p) ?? NaN) : NaN,
      standardisedHeight: p.height ? (lift.standardised.get(p) ?? NaN) : NaN,
    };
  });
  return {
    ok: true,
    fit: {
      matrix,
      scale: Math.sqrt(a * a + b * b),
      rotation: Math.atan2(b, a),
      shift: { x: tx, y: ty, z: matrix[11] },
      tilt,
      residuals,
      sigmaPlan: planStatistics.sigma,
      sigmaHeight: lift.sigma,
      redundancyPlan: planStatistics.redundancy,
      redundancyHeight: lift.redundancy,
    },
  };
}

/** x' = a x − b y + tx, y' = b x + a y + ty: the closed form about the points' middles (any textbook on coordinate transformation). */
export function similarity(pairs: readonly Pick<FitPair, 'from' | 'to'>[]): Plan | null {
  const c = centred(pairs);
  if (!(c.square > 0)) return null;
  const a = c.dot / c.square;
  const b = c.cross / c.square;
  return back(c, a, b);
}

/** The same with the scale held at 1. */
export function rigid(pairs: readonly Pick<FitPair, 'from' | 'to'>[]): Plan | null {
  const c = centred(pairs);
  const length = Math.sqrt(c.dot * c.dot + c.cross * c.cross);
  if (!(length > 0)) return null;
  return back(c, c.dot / length, c.cross / length);
}

export interface Plan {
  a: number;
  b: number;
  tx: number;
  ty: number;
}

function centred(pairs: readonly Pick<FitPair, 'from' | 'to'>[]) {
  const n = pairs.length;
  let [fx, fy, gx, gy] = [0, 0, 0, 0];
  for (const { from, to } of pairs) {
    fx += from.x / n;
    fy += from.y / n;
    gx += to.x / n;
    gy += to.y / n;
  }
  let [dot, cross, square] = [0, 0, 0];
  for (const { from, to } of pairs) {
    const [x, y, u, v] = [from.x - fx, from.y - fy, to.x - gx, to.y - gy];
    dot += x * u + y * v;
    cross += x * v - y * u;
    square += x * x + y * y;
  }
  return { fx, fy, gx, gy, dot, cross, square };
}

const back = (c: ReturnType<typeof centred>, a: number, b: number): Plan => ({
  a,
  b,
  tx: c.gx - a * c.fx + b * c.fy,
  ty: c.gy - b * c.fx - a * c.fy,
});

function statisticsOfPlan(used: readonly FitPair[], matrix: number[], scale: 'free' | 'fixed') {
  const unknowns = scale === 'free' ? 4 : 3;
  const redundancy = 2 * used.length - unknowns;
  let mx = 0;
  let my = 0;
  for (const p of used) {
    mx += p.from.x / used.length;
    my += p.from.y / used.length;
  }
  const square = used.reduce((s, p) => s + (p.from.x - mx) ** 2 + (p.from.y - my) ** 2, 0);
  let sum = 0;
  const off = used.map((p) => {
    const at = applyMatrix(matrix, p.from.x, p.from.y, 0);
    const v = { x: at.x - p.to.x, y: at.y - p.to.y };
    sum += v.x * v.x + v.y * v.y;
    return v;
  });
  const sigma = redundancy > 0 ? Math.sqrt(sum / redundancy) : NaN;
  const standardised = new Map<FitPair, number>();
  used.forEach((p, i) => {
    // Diagonal of the hat matrix: 1/n for the shift; scale and turn share the distance from the middle.
    const [x, y] = [p.from.x - mx, p.from.y - my];
    const both = (x * x + y * y) / square;
    const hat = (along: number): number => 1 / used.length + (scale === 'free' ? both : (along * along) / square);
    const freeX = 1 - hat(y);
    const freeY = 1 - hat(x);
    const one = (v: number, free: number): number =>
      free > 1e-9 && sigma > 0 ? Math.abs(v) / (sigma * Math.sqrt(free)) : NaN;
    const [wx, wy] = [one(off[i].x, freeX), one(off[i].y, freeY)];
    standardised.set(p, Number.isNaN(wx) ? wy : Number.isNaN(wy) ? wx : Math.max(wx, wy));
  });
  return { sigma, redundancy, standardised };
}

type Height =
  | { ok: false; reason: string }
  | {
      ok: true;
      dz: number;
      tilt: { east: number; north: number };
      middle: { x: number; y: number };
      sigma: number;
      redundancy: number;
      standardised: Map<FitPair, number>;
    };

function fitHeight(used: readonly FitPair[], kind: FitSettings['height']): Height {
  const nothing = { tilt: IDENTITY_TILT, middle: { x: 0, y: 0 }, sigma: NaN, redundancy: 0, standardised: new Map() };
  if (kind === 'none') return { ok: true, dz: 0, ...nothing };
  if (kind === 'shift' && used.length < 1)
    return { ok: false, reason: 'A shift in height needs a common point with both elevations.' };
  if (kind === 'plane' && used.length < 3)
    return {
      ok: false,
      reason: `A tilted plane needs three common points with both elevations; ${used.length} take part.`,
    };
  const n = used.length;
  const middle = { x: 0, y: 0 };
  for (const p of used) {
    middle.x += p.from.x / n;
    middle.y += p.from.y / n;
  }
  const rows = used.map((p) => (kind === 'plane' ? [1, p.from.x - middle.x, p.from.y - middle.y] : [1]));
  const solved = solveNormal(
    rows,
    used.map((p) => p.to.z - p.from.z),
  );
  if (!solved)
    return { ok: false, reason: 'The common points lie in one line: no tilted plane can be computed from them.' };
  const [dz, east = 0, north = 0] = solved.unknowns;
  const redundancy = n - rows[0].length;
  const sigma = redundancy > 0 ? Math.sqrt(solved.squares / redundancy) : NaN;
  const standardised = new Map<FitPair, number>();
  used.forEach((p, i) => {
    const free = 1 - solved.hat[i];
    standardised.set(p, free > 1e-9 && sigma > 0 ? Math.abs(solved.residuals[i]) / (sigma * Math.sqrt(free)) : NaN);
  });
  return { ok: true, dz, tilt: { east, north }, middle, sigma, redundancy, standardised };
}

/** Seven parameters in space: three shifts, three turns, a scale; by iterated least squares from the fit in plan. */
function fitSpace(pairs: readonly FitPair[], settings: FitSettings): Fitted {
  const used = pairs.filter((p) => p.plan && p.height && !Number.isNaN(p.from.z) && !Number.isNaN(p.to.z));
  if (used.length < 3)
    return {
      ok: false,
      reason: `Seven parameters need three common points with elevations; ${used.length} take part.`,
    };
  const start = settings.scale === 'free' ? similarity(used) : rigid(used);
  if (!start)
    return { ok: false, reason: 'The common points lie in one place: no rotation can be computed from them.' };
  const n = used.length;
  const mid = (of: (p: FitPair) => number): number => used.reduce((s, p) => s + of(p) / n, 0);
  const f = { x: mid((p) => p.from.x), y: mid((p) => p.from.y), z: mid((p) => p.from.z) };
  const g = { x: mid((p) => p.to.x), y: mid((p) => p.to.y), z: mid((p) => p.to.z) };
  let scale = settings.scale === 'free' ? Math.sqrt(start.a ** 2 + start.b ** 2) : 1;
  const size = Math.sqrt(start.a ** 2 + start.b ** 2);
  let r = [start.a / size, -start.b / size, 0, start.b / size, start.a / size, 0, 0, 0, 1];
  let hat: number[] = [];
  let residuals: number[] = [];
  for (let turn = 0; turn < 50; turn++) {
    const rows: number[][] = [];
    const off: number[] = [];
    for (const p of used) {
      const [x, y, z] = [p.from.x - f.x, p.from.y - f.y, p.from.z - f.z];
      const q = [r[0] * x + r[1] * y + r[2] * z, r[3] * x + r[4] * y + r[5] * z, r[6] * x + r[7] * y + r[8] * z];
      const s = q.map((v) => v * scale);
      const grow = settings.scale === 'free';
      // Small turns about each axis of what has been turned so far, and a growth.
      rows.push([1, 0, 0, 0, s[2], -s[1], ...(grow ? [q[0]] : [])]);
      rows.push([0, 1, 0, -s[2], 0, s[0], ...(grow ? [q[1]] : [])]);
      rows.push([0, 0, 1, s[1], -s[0], 0, ...(grow ? [q[2]] : [])]);
      off.push(p.to.x - g.x - s[0], p.to.y - g.y - s[1], p.to.z - g.z - s[2]);
    }
    const solved = solveNormal(rows, off);
    if (!solved)
      return {
        ok: false,
        reason: 'The common points lie in one line: rotations in space cannot be computed from them.',
      };
    const [, , , a, b, c, ds = 0] = solved.unknowns;
    r = turned(r, a, b, c);
    scale += ds;
    ({ hat, residuals } = solved);
    if (Math.abs(a) + Math.abs(b) + Math.abs(c) + Math.abs(ds) < 1e-14) break;
  }
  const m = r.map((v) => v * scale);
  const shift = {
    x: g.x - (m[0] * f.x + m[1] * f.y + m[2] * f.z),
    y: g.y - (m[3] * f.x + m[4] * f.y + m[5] * f.z),
    z: g.z - (m[6] * f.x + m[7] * f.y + m[8] * f.z),
  };
  const matrix = [m[0], m[1], m[2], shift.x, m[3], m[4], m[5], shift.y, m[6], m[7], m[8], shift.z];
  const redundancy = 3 * n - (settings.scale === 'free' ? 7 : 6);
  const sigma = redundancy > 0 ? Math.sqrt(residuals.reduce((s, v) => s + v * v, 0) / redundancy) : NaN;
  const w = (i: number): number => {
    const free = 1 - hat[i];
    return free > 1e-9 && sigma > 0 ? Math.abs(residuals[i]) / (sigma * Math.sqrt(free)) : NaN;
  };
  return {
    ok: true,
    fit: {
      matrix,
      scale,
      rotation: Math.atan2(r[3], r[0]),
      shift,
      tilt: { east: -m[6], north: -m[7] },
      residuals: pairs.map((p): PairResidual => {
        const at = applyMatrix(matrix, p.from.x, p.from.y, p.from.z);
        const i = used.indexOf(p);
        return {
          name: p.name,
          x: at.x - p.to.x,
          y: at.y - p.to.y,
          z: at.z - p.to.z,
          standardised: i < 0 ? NaN : Math.max(w(3 * i), w(3 * i + 1)),
          standardisedHeight: i < 0 ? NaN : w(3 * i + 2),
        };
      }),
      sigmaPlan: sigma,
      sigmaHeight: sigma,
      redundancyPlan: redundancy,
      redundancyHeight: redundancy,
    },
  };
}

/** A rotation after small turns a, b, c about x, y, z, kept a rotation by the exact (Cayley) form. */
function turned(r: number[], a: number, b: number, c: number): number[] {
  const [p, q, s] = [a / 2, b / 2, c / 2];
  const d = 1 + p * p + q * q + s * s;
  const t = [
    (1 + p * p - q * q - s * s) / d, (2 * (p * q - s)) / d, (2 * (p * s + q)) / d,
    (2 * (p * q + s)) / d, (1 - p * p + q * q - s * s) / d, (2 * (q * s - p)) / d,
    (2 * (p * s - q)) / d, (2 * (q * s + p)) / d, (1 - p * p - q * q + s * s) / d,
  ]; // prettier-ignore
  const out: number[] = [];
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) out.push(t[3 * i] * r[j] + t[3 * i + 1] * r[3 + j] + t[3 * i + 2] * r[6 + j]);
  return out;
}

/** The matrix that takes another one back; null where it flattens space. */
export function invertMatrix(m: readonly number[]): number[] | null {
  const [a, b, c, d, e, f, g, h, i] = [m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10]];
  const [p, q, r] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const det = a * p + b * q + c * r;
  if (!(Math.abs(det) > 1e-18)) return null;
  const n = [
    p / det, (c * h - b * i) / det, (b * f - c * e) / det,
    q / det, (a * i - c * g) / det, (c * d - a * f) / det,
    r / det, (b * g - a * h) / det, (a * e - b * d) / det,
  ]; // prettier-ignore
  const back = (row: number): number => -(n[row] * m[3] + n[row + 1] * m[7] + n[row + 2] * m[11]);
  return [n[0], n[1], n[2], back(0), n[3], n[4], n[5], back(3), n[6], n[7], n[8], back(6)];
}

export const applyMatrix = (
  m: readonly number[],
  x: number,
  y: number,
  z: number,
): { x: number; y: number; z: number } => ({
  x: m[0] * x + m[1] * y + m[2] * z + m[3],
  y: m[4] * x + m[5] * y + m[6] * z + m[7],
  z: m[8] * x + m[9] * y + m[10] * z + m[11],
});
