import { CompensatedSum } from '#core/kernel';
import type { Surface } from '#core/terrain';
import { DeepestFinder } from '../deepest.ts';
import { Tally } from '../tally.ts';
import { eachPieceBetween } from './difference.ts';
import { MOST_KEPT, type DifferenceFigures } from './figures.ts';
import { fanArea } from './gathered.ts';
import { Plane } from './plane.ts';
import { SideCells } from './side-cells.ts';

/** Share of the area that two ways of adding it up may differ by for rounding. */
const ROUNDED = 1e-12;

/** Of so many blocks of cells in either direction one is looked at to see whether this is worth its while. */
const SAMPLE = 8;

/** Share of the site that has to be without pieces for this to be faster. */
const WORTHWHILE = 0.75;

/** m */
const SAME_DEPTH = 1e-9;

/**
 * Figures of the difference between two surfaces so large that no piece of it would be kept. Where one lies above the other all
 * over a triangle and all that overlaps it, no pieces are needed: the volume between is that under the one less that under the
 * other. The rest (along the zero line, at rims, where it may be deepest) is taken piece by piece. Exact like the pieces.
 * @param worthwhile share of the site that has to be without pieces
 * @returns null where all has to be taken piece by piece: that is faster, or pieces may be few enough to keep, or the areas of
 * both do not agree (triangles that lie over each other)
 */
export function figuresBySides(
  ground: Surface,
  design: Surface,
  most = MOST_KEPT,
  worthwhile = WORTHWHILE,
): DifferenceFigures | null {
  if (Math.max(ground.triangles.length, design.triangles.length) / 3 <= most) return null;
  if (new SideCells(ground, design, SAMPLE).clearShare() < worthwhile) return null;
  const cells = new SideCells(ground, design);
  const above = cells.sidesOf(design);
  cells.lookClosely(design, above);
  const under = cells.sidesOf(ground);
  const middle = ground.z[ground.triangles[0]];
  const [bodies, tally, deepest] = [new Bodies(middle), new Tally(), new DeepestFinder()];
  bodies.takeGround(ground, under);
  bodies.takeDesign(design, above);
  const without = new Uint8Array(under.length);
  let count = 0;
  for (let t = 0; t < under.length; t++) {
    if (under[t] === 0) continue;
    without[t] = 1;
    count++;
  }
  const part = { without, near: (x: number, y: number) => cells.near(x, y) };
  const take: Parameters<typeof eachPieceBetween>[2] = (piece, corners, steep, ox, oy, u, over) => {
    count++;
    tally.addPiece(piece, corners, steep);
    deepest.see(piece, corners, ox, oy);
    if (above[u] !== 0) bodies.withoutPiece(piece, corners, over, above[u]);
  };
  eachPieceBetween(ground, design, take, part);
  const { cut, fill } = deepest.result();
  const { leastDeepest } = cells;
  const isDeep = (fill?.depth ?? 0) >= leastDeepest.fill - SAME_DEPTH && (cut?.depth ?? 0) >= leastDeepest.cut - SAME_DEPTH; // prettier-ignore
  const byPieces = tally.result();
  if (count <= most || !isDeep || !bodies.agree(byPieces.area)) return null;
  const volume = {
    cut: byPieces.cut + bodies.volume(-1),
    fill: byPieces.fill + bodies.volume(1),
    cutArea: byPieces.cutArea + bodies.area(-1),
    fillArea: byPieces.fillArea + bodies.area(1),
    area: byPieces.area + bodies.area(-1) + bodies.area(1),
  };
  const slope = { cut: tally.cutSlope.value() + bodies.slope(-1), fill: tally.fillSlope.value() + bodies.slope(1) };
  return { volume, deepest: { cut, fill }, slope, zones: null, slices: null, pieces: null };
}

/** What lies under either surface where the design is on one side, above an elevation in the middle so that sums stay small. */
class Bodies {
  // By side: −1, 0 (none), 1.
  private readonly groundArea = threeSums();
  private readonly groundSlope = threeSums();
  private readonly groundVolume = threeSums();
  private readonly designArea = threeSums();
  private readonly designVolume = threeSums();

  constructor(private readonly middle: number) {}

  /** Triangles of the ground that have a side. */
  takeGround({ x, y, z, triangles }: Surface, sides: Int8Array): void {
    const { middle } = this;
    for (let t = 0; t < sides.length; t++) {
      if (sides[t] === 0) continue;
      const a = triangles[3 * t];
      const b = triangles[3 * t + 1];
      const c = triangles[3 * t + 2];
      const ux = x[b] - x[a];
      const uy = y[b] - y[a];
      const uz = z[b] - z[a];
      const vx = x[c] - x[a];
      const vy = y[c] - y[a];
      const vz = z[c] - z[a];
      const twice = ux * vy - uy * vx;
      const gx = uz * vy - uy * vz;
      const gy = ux * vz - uz * vx;
      const i = sides[t] + 1;
      this.groundArea[i].add(twice / 2);
      // As long as the product of two of its sides in space.
      this.groundSlope[i].add(Math.sqrt(twice * twice + gx * gx + gy * gy) / 2);
      this.groundVolume[i].add((twice * (z[a] + z[b] + z[c] - 3 * middle)) / 6);
    }
  }

  /** Triangles of the design that have a side. */
  takeDesign({ x, y, z, triangles }: Surface, sides: Int8Array): void {
    const { middle } = this;
    for (let t = 0; t < sides.length; t++) {
      if (sides[t] === 0) continue;
      const a = triangles[3 * t];
      const b = triangles[3 * t + 1];
      const c = triangles[3 * t + 2];
      const twice = (x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a]);
      const i = sides[t] + 1;
      this.designArea[i].add(twice / 2);
      this.designVolume[i].add((twice * (z[a] + z[b] + z[c] - 3 * middle)) / 6);
    }
  }

  /** A piece that is added up with its ground: it is none of what lies under the design alone. */
  withoutPiece(piece: Float64Array, corners: number, over: Plane, side: number): void {
    let area = 0;
    let volume = 0;
    // Elevation above the middle at the piece’s origin, then the sum of three corners.
    const base = over.z - this.middle;
    for (let i = 3; i + 3 < 3 * corners; i += 3) {
      const part = fanArea(piece, i);
      const x = piece[0] + piece[i] + piece[i + 3];
      const y = piece[1] + piece[i + 1] + piece[i + 4];
      area += part;
      volume += part * (base + (over.gx * x + over.gy * y) / 3);
    }
    this.designArea[side + 1].add(-area);
    this.designVolume[side + 1].add(-volume);
  }

  /** Whether both surfaces have the same area on each side. */
  agree(areaOfPieces: number): boolean {
    const all = areaOfPieces + this.area(-1) + this.area(1);
    return [0, 2].every((i) => Math.abs(this.designArea[i].value() - this.groundArea[i].value()) <= ROUNDED * all);
  }

  area = (side: number): number => this.groundArea[side + 1].value();

  slope = (side: number): number => this.groundSlope[side + 1].value();

  /** m³ between the two on a side. */
  volume = (side: number): number => side * (this.designVolume[side + 1].value() - this.groundVolume[side + 1].value());
}

const threeSums = (): CompensatedSum[] => [new CompensatedSum(), new CompensatedSum(), new CompensatedSum()];
