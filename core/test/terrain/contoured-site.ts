import { buildSurface, contours, type ContourFault, type GivenContour } from '#core/terrain';
import { seeded } from '../../../demo/src/random.ts';

// Invented ground, contoured, with one slip of a draughtsman in it.

export const SLIPS = ['elevation', 'double', 'closing-side', 'gap', 'open', 'cross'] as const;
export type Slip = (typeof SLIPS)[number];

export interface ContouredSite {
  contours: GivenContour[];
  /** The contour with the slip; -1 where none could be planted. */
  planted: number;
  /** Its true elevation. */
  truth: number;
}

const [ACROSS, STEP] = [41, 6];

/** Contours a metre apart of a hill or two on a slope, on a grid that is jittered. */
function drawn(seed: number): GivenContour[] {
  const { next } = seeded(seed);
  const tilt = [0.06 * (next() - 0.3), 0.06 * (next() - 0.3)];
  const hills = Array.from({ length: 2 + Math.floor(3 * next()) }, () => ({ x: 240 * next(), y: 240 * next(), r: 30 + 50 * next(), h: (next() < 0.25 ? -1 : 1) * (3 + 8 * next()) })); // prettier-ignore
  const height = (x: number, y: number): number => 60 + tilt[0] * x + tilt[1] * y + hills.reduce((s, k) => s + k.h * Math.exp(-((x - k.x) ** 2 + (y - k.y) ** 2) / (2 * k.r * k.r)), 0); // prettier-ignore
  const n = ACROSS * ACROSS;
  const [x, y, z] = Array.from({ length: 3 }, () => new Float64Array(n));
  for (let i = 0; i < n; i++) {
    const jitter = (): number => 0.3 * STEP * (next() - 0.5);
    x[i] = (i % ACROSS) * STEP + jitter();
    y[i] = Math.floor(i / ACROSS) * STEP + jitter();
    // No vertex stands on a contour itself.
    z[i] = height(x[i], y[i]) + 1e-4 * next();
  }
  const { surface } = buildSurface({ x, y, z, segments: new Uint32Array(0), coincidence: 0.001, longestSide: null });
  return contours(surface, { interval: 1, indexEvery: 0 }).map(({ line, elevation, closed }) => {
    const end = closed ? line.length / 2 - 1 : line.length / 2;
    return { x: Array.from({ length: end }, (_, i) => line[2 * i]), y: Array.from({ length: end }, (_, i) => line[2 * i + 1]), elevation, closed }; // prettier-ignore
  });
}

type Course = { x: number[]; y: number[] };
const part = (c: GivenContour, from: number, to: number): Course => ({ x: Array.from(c.x).slice(from, to), y: Array.from(c.y).slice(from, to) }); // prettier-ignore

/** Whether a straight goes through a contour. */
function cuts(c: GivenContour, ax: number, ay: number, bx: number, by: number): boolean {
  const turn = (px: number, py: number, qx: number, qy: number, rx: number, ry: number): boolean => (qx - px) * (ry - py) - (qy - py) * (rx - px) > 0; // prettier-ignore
  for (let i = 0; i + 1 < c.x.length; i++) {
    const [px, py, qx, qy] = [c.x[i], c.y[i], c.x[i + 1], c.y[i + 1]];
    if (turn(ax, ay, bx, by, px, py) !== turn(ax, ay, bx, by, qx, qy) && turn(px, py, qx, qy, ax, ay) !== turn(px, py, qx, qy, bx, by)) return true; // prettier-ignore
  }
  return false;
}

/** A site of a number: always the same one. */
export function contouredSite(seed: number, slip: Slip | null): ContouredSite {
  const list = drawn(seed);
  const { next } = seeded(seed + 77_777);
  const pick = (of: (c: GivenContour, k: number) => boolean): number => {
    const fit = list.map((_, k) => k).filter((k) => of(list[k], k));
    return fit.length ? fit[Math.floor(next() * fit.length)] : -1;
  };
  const site = (planted: number): ContouredSite => ({ contours: list, planted, truth: planted < 0 ? NaN : list[planted].elevation }); // prettier-ignore
  if (slip === null) return site(-1);
  const long = (c: GivenContour): boolean => c.x.length >= 24;
  const k = pick(
    slip === 'closing-side'
      ? (c, own) => !c.closed && long(c) && list.some((o, i) => i !== own && cuts(o, c.x[0], c.y[0], c.x[c.x.length - 1], c.y[c.x.length - 1])) // prettier-ignore
      : slip === 'open'
        ? (c) => !c.closed && c.x.length >= 40
        : long,
  );
  const out = site(k);
  if (k < 0) return out;
  const c = list[k];
  const n = c.x.length;
  if (slip === 'elevation') list[k] = { ...c, elevation: c.elevation + [10, -9, 100, -20, 5][Math.floor(5 * next())] };
  else if (slip === 'double') list.push({ ...c, x: Array.from(c.x).reverse(), y: Array.from(c.y).reverse() });
  else if (slip === 'closing-side') list[k] = { ...c, closed: true };
  else if (slip === 'open') list[k] = { ...c, ...part(c, 0, Math.floor(n * (0.4 + 0.2 * next()))) };
  else if (slip === 'gap') {
    const at = Math.floor(n * (0.3 + 0.3 * next()));
    list[k] = { ...c, closed: false, ...part(c, 0, at) };
    // Of a ring the other part goes on to its beginning.
    const behind = part(c, at + 2, n);
    list.push({ ...c, closed: false, x: c.closed ? [...behind.x, c.x[0]] : behind.x, y: c.closed ? [...behind.y, c.y[0]] : behind.y }); // prettier-ignore
  } else {
    const at = Math.floor(n * (0.3 + 0.4 * next()));
    const [x, y] = [Array.from(c.x), Array.from(c.y)];
    const [dx, dy] = [x[at + 1] - x[at - 1], y[at + 1] - y[at - 1]];
    const size = Math.sqrt(dx * dx + dy * dy);
    // Digitised far off its course, across its neighbours.
    const far = 90 * (next() < 0.5 ? -1 : 1);
    [x[at], y[at]] = [x[at] - (far * dy) / size, y[at] + (far * dx) / size];
    list[k] = { ...c, x, y };
    if (!list.some((o, i) => i !== k && cuts(o, x[at - 1], y[at - 1], x[at], y[at]))) return { ...out, planted: -1 };
  }
  return out;
}

/** Whether a fault is the slip that was planted. */
export const isPlanted = (f: ContourFault, { planted, contours: list }: ContouredSite, slip: Slip): boolean => {
  if (f.kind !== slip) return false;
  const others = 'other' in f ? [f.other] : 'others' in f && f.others.length === 1 ? f.others : [];
  // A double, and the other part behind a gap, are the last of the list.
  return [f.contour, ...others].some((c) => c === planted || ((slip === 'double' || slip === 'gap') && c === list.length - 1)); // prettier-ignore
};
