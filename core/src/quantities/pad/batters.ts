import { acos, distance, sinCos } from '#core/kernel';
import { baseFromToe } from '../heap/heap.ts';
import { common, cutBy, minus, type Convex } from './convex.ts';
import type { PadCorners, PadShape } from './pad-shape.ts';

/** A plane batter: where it lies in plan, and its elevation z + gx x + gy y, about the pad's origin. */
export interface BatterTile {
  area: Convex;
  z: number;
  gx: number;
  gy: number;
}

/** West, south, east, north, about the pad's origin, m. */
export type PlanBox = [number, number, number, number];

export type Batters = { ok: true; tiles: BatterTile[]; box: PlanBox } | { ok: false; reason: string };

interface Side {
  x: number;
  y: number;
  z: number;
  /** Unit vectors along it and outwards. */
  tx: number;
  ty: number;
  nx: number;
  ny: number;
  /** Gradient of its batter. */
  gx: number;
  gy: number;
  /** Unit vector along which the batter falls at its slope from a corner. */
  rx: number;
  ry: number;
}

/** m² by which planes that are one may differ. */
const SAME = 1e-9;
/** Parts of a cone at the most. */
const MOST_PARTS = 64;

/**
 * Batters that fall outwards from every side of a pad, as planes that do not lie over each other: at a corner that points outwards
 * they meet in an arris or a cone lies between them, at one that points inwards and wherever else they would lie over each other
 * the higher one counts. What rises is got by turning elevations over.
 * @param extents of the ground
 * @param lowest elevation of the ground: no batter goes on below it
 */
export function fallingBatters(
  pad: PadCorners,
  slope: number,
  { corners, sagitta, batter }: Pick<PadShape, 'corners' | 'sagitta' | 'batter'>,
  extents: Readonly<PlanBox>,
  lowest: number,
): Batters {
  const n = pad.x.length;
  const sides: Side[] = [];
  for (let i = 0; i < n; i++) {
    const side = sideOf(pad, i, slope, batter);
    if (!side) return { ok: false, reason: `A side of the pad slopes more than 1 : ${slope}: a batter of that slope cannot begin there. Make the pad flatter or the batter steeper.` }; // prettier-ignore
    sides.push(side);
  }
  const lines = sides.map((side, i) => cornerLines(sides[(i + n - 1) % n], side, corners));
  const box = reachOf(pad, sides, lines, slope, extents, lowest);
  const farthest = slope * Math.max(0, Math.max(...pad.z) - lowest);
  const [w, s, e, north] = box;
  const all: Convex = [w, s, e, s, e, north, w, north];
  const tiles: BatterTile[] = [];
  const add = (of: { x: number; y: number; z: number; gx: number; gy: number }, area: number[]): void => {
    if (area.length) tiles.push({ area, z: of.z - of.gx * of.x - of.gy * of.y, gx: of.gx, gy: of.gy });
  };
  /** What lies to the left of a line from a place; `way` −1: to its right. */
  const beside = (area: Convex, x: number, y: number, dx: number, dy: number, way: 1 | -1): number[] =>
    cutBy(area, way * (dy * x - dx * y), -way * dy, way * dx);
  sides.forEach((side, i) => {
    const next = sides[(i + 1) % n];
    let area = beside(all, side.x, side.y, side.tx, side.ty, -1);
    const [begins, ends] = [lines[i].after, lines[(i + 1) % n].before];
    area = beside(area, side.x, side.y, begins[0], begins[1], 1);
    area = beside(area, next.x, next.y, ends[0], ends[1], -1);
    add(side, area);
    const { before, after, isRound } = lines[(i + 1) % n];
    if (!isRound) return;
    // The cone at the end of this side.
    const angle = acos(Math.min(1, Math.max(-1, before[0] * after[0] + before[1] * after[1])));
    const step = 2 * acos(Math.max(0.5, 1 - sagitta / Math.max(farthest, sagitta)));
    const parts = Math.min(MOST_PARTS, Math.max(1, Math.ceil(angle / step)));
    const ray = (k: number): [number, number] => {
      if (k === 0) return before;
      if (k === parts) return after;
      const [sin, cos] = sinCos((angle * k) / parts);
      return [before[0] * cos - before[1] * sin, before[0] * sin + before[1] * cos];
    };
    for (let k = 0; k < parts; k++) {
      const [u, v] = [ray(k), ray(k + 1)];
      const rate = -1 / (slope * (1 + u[0] * v[0] + u[1] * v[1]));
      const [gx, gy] = [rate * (u[0] + v[0]), rate * (u[1] + v[1])];
      const wedge = beside(beside(all, next.x, next.y, u[0], u[1], 1), next.x, next.y, v[0], v[1], -1);
      add({ x: next.x, y: next.y, z: next.z, gx, gy }, wedge);
    }
  });
  return { ok: true, tiles: upperParts(tiles, pad), box };
}

function sideOf({ x, y, z }: PadCorners, i: number, slope: number, batter: PadShape['batter']): Side | null {
  const j = (i + 1) % x.length;
  const [dx, dy] = [x[j] - x[i], y[j] - y[i]];
  const length = distance(dx, dy);
  const [tx, ty] = [dx / length, dy / length];
  const [nx, ny] = [ty, -tx];
  const along = (z[j] - z[i]) / length;
  const fall = 1 / slope;
  if (batter === 'steepest' && Math.abs(along) >= fall) return null;
  const across = batter === 'steepest' ? Math.sqrt(fall * fall - along * along) : fall;
  const [gx, gy] = [along * tx - across * nx, along * ty - across * ny];
  // Square to the side, or where the batter is steepest.
  const [rx, ry] = batter === 'steepest' ? [-gx / fall, -gy / fall] : [nx, ny];
  return { x: x[i], y: y[i], z: z[i], tx, ty, nx, ny, gx, gy, rx, ry };
}

/** The lines that part two batters at the corner between them: unit vectors, of the side before and of the one after it. */
interface CornerLines {
  before: [number, number];
  after: [number, number];
  isRound: boolean;
}

function cornerLines(a: Side, b: Side, corners: PadShape['corners']): CornerLines {
  const pointsOut = a.tx * b.ty - a.ty * b.tx > SAME;
  const opens = a.rx * b.ry - a.ry * b.rx > SAME;
  if (corners === 'rounded' && pointsOut && opens) return { before: [a.rx, a.ry], after: [b.rx, b.ry], isRound: true };
  // Where two planes through the corner meet, their gradients agree along the line.
  let [dx, dy] = [-(a.gy - b.gy), a.gx - b.gx];
  const size = distance(dx, dy);
  if (size < SAME) [dx, dy] = [a.nx, a.ny];
  else [dx, dy] = [dx / size, dy / size];
  if (dx * (a.nx + b.nx) + dy * (a.ny + b.ny) < 0) [dx, dy] = [-dx, -dy];
  return { before: [dx, dy], after: [dx, dy], isRound: false };
}

/** Every tile without what lies under another one, and without the pad itself. */
export function upperParts(tiles: readonly BatterTile[], pad: PadCorners): BatterTile[] {
  const inside = trianglesOf(pad);
  const boxes = tiles.map(({ area }) => boxOf(area));
  return tiles.flatMap((tile, i) => {
    let parts: number[][] = [[...tile.area]];
    const takeOff = (other: Convex): void => {
      if (other.length) parts = parts.flatMap((part) => (common(part, other).length ? minus(part, other) : [part]));
    };
    for (const triangle of inside) if (meet(boxes[i], boxOf(triangle))) takeOff(triangle);
    tiles.forEach((other, j) => {
      if (j === i || parts.length === 0 || !meet(boxes[i], boxes[j])) return;
      const [dz, dx, dy] = [other.z - tile.z, other.gx - tile.gx, other.gy - tile.gy];
      const isSame = Math.abs(dz) < SAME && Math.abs(dx) < SAME && Math.abs(dy) < SAME;
      takeOff(isSame ? (j < i ? other.area : []) : cutBy(other.area, dz, dx, dy));
    });
    return parts.map((area) => ({ ...tile, area }));
  });
}

/** The box round an area. */
export function boxOf(area: Convex): PlanBox {
  const box: PlanBox = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < area.length; i += 2) {
    box[0] = Math.min(box[0], area[i]);
    box[1] = Math.min(box[1], area[i + 1]);
    box[2] = Math.max(box[2], area[i]);
    box[3] = Math.max(box[3], area[i + 1]);
  }
  return box;
}

const meet = (a: Readonly<PlanBox>, b: Readonly<PlanBox>): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]; // prettier-ignore

function trianglesOf({ x, y }: PadCorners): Convex[] {
  const flat = baseFromToe(x.map((v, i) => [v, y[i], 0]));
  const out: Convex[] = [];
  for (let t = 0; t < flat.triangles.length; t += 3)
    out.push([0, 1, 2].flatMap((k) => [flat.x[flat.triangles[t + k]], flat.y[flat.triangles[t + k]]]));
  return out;
}

/** Falls slower than this go on as far as the ground does. */
const LEVEL = 1e-6;

/** As far as batters can go before they are below all of the ground, and no farther than the ground. */
function reachOf(
  { x, y, z }: PadCorners,
  sides: readonly Side[],
  lines: readonly CornerLines[],
  slope: number,
  extents: Readonly<PlanBox>,
  lowest: number,
): PlanBox {
  const reach: PlanBox = [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)];
  const take = (px: number, py: number): void => {
    reach[0] = Math.min(reach[0], px);
    reach[1] = Math.min(reach[1], py);
    reach[2] = Math.max(reach[2], px);
    reach[3] = Math.max(reach[3], py);
  };
  for (let i = 0; i < x.length; i++) {
    const height = Math.max(0, z[i] - lowest);
    const { before, after, isRound } = lines[i];
    const [a, b] = [sides[(i + x.length - 1) % x.length], sides[i]];
    for (const [[dx, dy], { gx, gy }] of [
      [before, a],
      [after, b],
    ] as const) {
      // prettier-ignore
      const fall = -(gx * dx + gy * dy);
      if (fall < LEVEL) return around(extents, reach);
      take(x[i] + (dx * height) / fall, y[i] + (dy * height) / fall);
    }
    if (!isRound) continue;
    // A chorded cone reaches a little farther than the cone.
    take(x[i] - 1.2 * height * slope, y[i] - 1.2 * height * slope);
    take(x[i] + 1.2 * height * slope, y[i] + 1.2 * height * slope);
  }
  const outer = around(extents, [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)]);
  return [Math.max(reach[0] - 1, outer[0]), Math.max(reach[1] - 1, outer[1]), Math.min(reach[2] + 1, outer[2]), Math.min(reach[3] + 1, outer[3])]; // prettier-ignore
}

/** The box round two. */
export const around = (a: Readonly<PlanBox>, b: Readonly<PlanBox>): PlanBox => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])]; // prettier-ignore
