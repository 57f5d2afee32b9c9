import { extentOfVertices, type Surface } from '#core/terrain';

/** Triangles of both surfaces together in a cell, about. */
const TRIANGLES_A_CELL = 16;

/** Cells that a box may meet before it is asked which of them its triangle does. */
const FEW_CELLS = 4;

/** Cells along a side of a block that shares a plane: so many that enough vertices tell it. */
const BLOCK = 4;

/** Extremes of a surface in each cell, above the plane of its block, m. */
interface Extremes {
  low: Float64Array;
  high: Float64Array;
}

/**
 * Square cells over two surfaces, and in which of them the second lies above the first all over, or below: told from the vertices of
 * the triangles that meet a cell, above a plane that is laid through its block, so that slopes do not blur it.
 */
export class SideCells {
  /** 1 where the second lies above all over, −1 where below; 0 where neither is sure, or a rim may be. */
  readonly side: Int8Array;
  private readonly west: number;
  private readonly south: number;
  private readonly east: number;
  private readonly north: number;
  private readonly size: number;
  private readonly across: number;
  private readonly up: number;
  /** Elevation in the middle, gradient east and north of each block’s plane. */
  private readonly plane: Float64Array;
  private readonly blocks: number;
  /** Cells that have to be looked at piece by piece. */
  private readonly closely: Uint8Array;
  /** Those in which the greatest fill or cut may lie. */
  private readonly deep: Uint8Array;
  /** A triangle of the second whose box meets a cell, −1 for none. */
  private readonly over: Int32Array;
  /** Least that the greatest fill and the greatest cut can be, m. */
  readonly leastDeepest = { fill: 0, cut: 0 };
  private covered = 0;
  private readonly span = new Int32Array(4);

  /** @param every of so many blocks in either direction one is looked at: 1 for all, more for a sample */
  constructor(
    a: Surface,
    b: Surface,
    private readonly every = 1,
  ) {
    const [boxA, boxB] = [extentOfVertices(a), extentOfVertices(b)];
    this.west = Math.max(boxA[0], boxB[0]);
    this.south = Math.max(boxA[1], boxB[1]);
    this.east = Math.min(boxA[2], boxB[2]);
    this.north = Math.min(boxA[3], boxB[3]);
    const [width, height] = [Math.max(0, this.east - this.west), Math.max(0, this.north - this.south)];
    const count = Math.max(1, (a.triangles.length + b.triangles.length) / 3 / TRIANGLES_A_CELL);
    this.size = Math.max(Math.sqrt((width * height) / count), width / count, height / count) || 1;
    this.across = Math.floor(width / this.size) + 1;
    this.up = Math.floor(height / this.size) + 1;
    this.blocks = Math.ceil(this.across / BLOCK);
    const cells = this.across * this.up;
    this.side = new Int8Array(cells);
    this.closely = new Uint8Array(cells);
    this.deep = new Uint8Array(cells);
    this.over = new Int32Array(cells).fill(-1);
    this.plane = this.planesOf(a);
    const [under, above] = [this.extremesOf(a, false), this.extremesOf(b, true)];
    this.compare(under, above);
  }

  /** By triangles of either surface: on which side of the first the second lies all over them, 0 where that is not sure. */
  sidesOf(s: Surface): Int8Array {
    const sides = new Int8Array(s.triangles.length / 3);
    for (let t = 0; t < sides.length; t++) sides[t] = this.sideOf(s, t);
    return sides;
  }

  private sideOf(s: Surface, t: number): number {
    if (!this.lies(s, t)) return 0;
    const { span, across, side, closely } = this;
    const first = side[span[1] * across + span[0]];
    for (let j = span[1]; j <= span[3]; j++)
      for (let i = span[0]; i <= span[2]; i++) {
        const cell = j * across + i;
        if (side[cell] !== first || closely[cell]) return 0;
      }
    return first;
  }

  /**
   * From now on cells are looked at piece by piece where the second surface may be deepest, and all that a triangle of it without a
   * side may lie in: whatever of the first lies under such a triangle has no side either.
   */
  lookClosely(s: Surface, sides: Int8Array): void {
    const { span, across, closely } = this;
    closely.set(this.deep);
    for (let t = 0; t < sides.length; t++) {
      if (sides[t] !== 0) continue;
      this.lies(s, t);
      for (let j = span[1]; j <= span[3]; j++) closely.fill(1, j * across + span[0], j * across + span[2] + 1);
    }
  }

  /** Share of the cells looked at, as far as both surfaces cover them, that have a side and are not where it may be deepest. */
  clearShare(): number {
    let clear = 0;
    for (let cell = 0; cell < this.side.length; cell++) if (this.side[cell] !== 0 && !this.deep[cell]) clear++;
    return this.covered === 0 ? 0 : clear / this.covered;
  }

  /** A triangle of the second near a place, −1 where none is known. */
  near(x: number, y: number): number {
    const { west, south, size, across, up } = this;
    const [i, j] = [Math.floor((x - west) / size), Math.floor((y - south) / size)];
    return i < 0 || j < 0 || i >= across || j >= up ? -1 : this.over[j * across + i];
  }

  /** Finds the cells that the box of a triangle meets; whether it lies between them altogether. */
  private lies({ x, y, triangles }: Surface, t: number): boolean {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    const west = Math.min(x[a], x[b], x[c]);
    const south = Math.min(y[a], y[b], y[c]);
    const east = Math.max(x[a], x[b], x[c]);
    const north = Math.max(y[a], y[b], y[c]);
    const { span } = this;
    span[0] = Math.max(0, Math.floor((west - this.west) / this.size));
    span[1] = Math.max(0, Math.floor((south - this.south) / this.size));
    span[2] = Math.min(this.across - 1, Math.floor((east - this.west) / this.size));
    span[3] = Math.min(this.up - 1, Math.floor((north - this.south) / this.size));
    return west >= this.west && south >= this.south && east <= this.east && north <= this.north;
  }

  /** Whether a triangle meets a cell, and not its box alone: no side has all of the cell outside. */
  private meets({ x, y, triangles }: Surface, t: number, i: number, j: number): boolean {
    const half = this.size / 2;
    const cx = this.west + i * this.size + half;
    const cy = this.south + j * this.size + half;
    for (let k = 0; k < 3; k++) {
      const v = triangles[3 * t + k];
      const w = triangles[3 * t + (k === 2 ? 0 : k + 1)];
      const dx = x[w] - x[v];
      const dy = y[w] - y[v];
      if (dx * (cy - y[v]) - dy * (cx - x[v]) + half * (Math.abs(dx) + Math.abs(dy)) < 0) return false;
    }
    return true;
  }

  /** The plane that fits the first surface’s vertices in a block best; level where they do not tell one. */
  private planesOf({ x, y, z }: Surface): Float64Array {
    const { west, south, blocks } = this;
    const size = BLOCK * this.size;
    const count = blocks * Math.ceil(this.up / BLOCK);
    // n, Σx, Σy, Σz, Σxx, Σxy, Σyy, Σxz, Σyz about the middle of the block.
    const sums = new Float64Array(9 * count);
    for (let v = 0; v < x.length; v++) {
      const i = Math.floor((x[v] - west) / size);
      const j = Math.floor((y[v] - south) / size);
      const block = j * blocks + i;
      if (i < 0 || j < 0 || i >= blocks || block >= count) continue;
      const px = x[v] - west - (i + 0.5) * size;
      const py = y[v] - south - (j + 0.5) * size;
      const at = 9 * block;
      sums[at] += 1;
      sums[at + 1] += px;
      sums[at + 2] += py;
      sums[at + 3] += z[v];
      sums[at + 4] += px * px;
      sums[at + 5] += px * py;
      sums[at + 6] += py * py;
      sums[at + 7] += px * z[v];
      sums[at + 8] += py * z[v];
    }
    const plane = new Float64Array(3 * count);
    for (let block = 0; block < count; block++) {
      const [n, sx, sy, sz, sxx, sxy, syy, sxz, syz] = sums.subarray(9 * block, 9 * block + 9);
      if (n === 0) continue;
      const [xx, xy, yy] = [sxx - (sx * sx) / n, sxy - (sx * sy) / n, syy - (sy * sy) / n];
      const [xz, yz] = [sxz - (sx * sz) / n, syz - (sy * sz) / n];
      const det = xx * yy - xy * xy;
      const isPlane = n > 3 && det > 1e-3 * xx * yy;
      const gx = isPlane ? (xz * yy - yz * xy) / det : 0;
      const gy = isPlane ? (yz * xx - xz * xy) / det : 0;
      plane.set([(sz - gx * sx - gy * sy) / n, gx, gy], 3 * block);
    }
    return plane;
  }

  /** How far a surface goes above and below the planes; cells with a rim or a triangle without an area are open on both sides. */
  private extremesOf(s: Surface, isSecond: boolean): Extremes {
    const { across, up, west, south, size, blocks, every, plane, span, over } = this;
    const { x, y, z, triangles, neighbours } = s;
    const cells = across * up;
    const low = new Float64Array(cells).fill(Infinity);
    const high = new Float64Array(cells).fill(-Infinity);
    for (let t = 0; t < triangles.length / 3; t++) {
      const a = triangles[3 * t];
      if (every > 1 && !this.isNearSample(x[a], y[a])) continue;
      const b = triangles[3 * t + 1];
      const c = triangles[3 * t + 2];
      const isOpen = neighbours[3 * t] < 0 || neighbours[3 * t + 1] < 0 || neighbours[3 * t + 2] < 0 || !((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a]) > 0); // prettier-ignore
      this.lies(s, t);
      const isWide = (span[2] - span[0] + 1) * (span[3] - span[1] + 1) > FEW_CELLS;
      for (let j = span[1]; j <= span[3]; j++)
        for (let i = span[0]; i <= span[2]; i++) {
          const cell = j * across + i;
          if (isWide && !this.meets(s, t, i, j)) continue;
          const bi = (i / BLOCK) | 0;
          const bj = (j / BLOCK) | 0;
          const cx = west + (bi + 0.5) * BLOCK * size;
          const cy = south + (bj + 0.5) * BLOCK * size;
          if (bi % every !== 0 || bj % every !== 0) continue;
          const at = 3 * (bj * blocks + bi);
          const p = plane[at];
          const gx = plane[at + 1];
          const gy = plane[at + 2];
          const da = z[a] - p - gx * (x[a] - cx) - gy * (y[a] - cy);
          const db = z[b] - p - gx * (x[b] - cx) - gy * (y[b] - cy);
          const dc = z[c] - p - gx * (x[c] - cx) - gy * (y[c] - cy);
          const least = isOpen ? -Infinity : da < db ? (da < dc ? da : dc) : db < dc ? db : dc;
          const most = isOpen ? Infinity : da > db ? (da > dc ? da : dc) : db > dc ? db : dc;
          if (least < low[cell]) low[cell] = least;
          if (most > high[cell]) high[cell] = most;
          if (isSecond) over[cell] = t;
        }
    }
    return { low, high };
  }

  /** Whether a place lies in a block that is looked at, or beside one: enough for a sample. */
  private isNearSample(x: number, y: number): boolean {
    const side = BLOCK * this.size;
    const i = Math.floor((x - this.west) / side) + 1;
    const j = Math.floor((y - this.south) / side) + 1;
    return i % this.every < 3 && j % this.every < 3;
  }

  /** Decides the sides, and names the cells in which the greatest fill or cut may lie. */
  private compare(under: Extremes, above: Extremes): void {
    const { side, deep, leastDeepest } = this;
    const isKnown = (cell: number): boolean => [under, above].every(({ low, high }) => low[cell] <= high[cell] && high[cell] - low[cell] < Infinity); // prettier-ignore
    for (let cell = 0; cell < side.length; cell++) {
      if (!isKnown(cell)) continue;
      this.covered++;
      const [fill, cut] = [above.low[cell] - under.high[cell], under.low[cell] - above.high[cell]];
      side[cell] = fill > 0 ? 1 : cut > 0 ? -1 : 0;
      leastDeepest.fill = Math.max(leastDeepest.fill, fill);
      leastDeepest.cut = Math.max(leastDeepest.cut, cut);
    }
    for (let cell = 0; cell < side.length; cell++)
      if (above.high[cell] - under.low[cell] >= leastDeepest.fill || under.high[cell] - above.low[cell] >= leastDeepest.cut) deep[cell] = 1; // prettier-ignore
  }
}
