import { nthSmallest } from '#core/kernel';
import { planeFits } from './plane-fits.ts';
import { NO_POINT, type Surface } from './surface.ts';

// Vertices that follow each other in some order and all stand too high, or too low, by the same: what is inside such a
// run fits together, and only its edge shows. Each inner vertex has a residual against the plane of its ring; a shift
// of a run changes residuals in proportion (they are linear in the heights), so that the shift that explains them best
// is a plain least-squares estimate, and a run grows by one vertex at a handful of operations.

/** Residuals of a surface, and in which of them each vertex has a part, as rows of a sparse matrix by its columns. */
export interface PlaneResiduals {
  /** Elevation less the plane of the ring, m; 0 where there is none. */
  residual: Float64Array;
  /** Parts of vertex v stand from start[v] to start[v + 1]. */
  start: Uint32Array;
  row: Uint32Array;
  part: Float64Array;
  /**
   * Usual size of a residual, m, 5 mm at least: from the quarter of them that is smallest (0.3186 σ in a normal
   * distribution), since a long run spoils more than half of those of a small surface.
   */
  scatter: number;
}

/** @param about vertices that are asked about: residuals in which none of them has a part are left out */
export function planeResiduals(s: Surface, about: Iterable<number>): PlaneResiduals {
  const fits = planeFits(s);
  const wanted = besideVertices(s, about);
  const n = s.x.length;
  const residual = new Float64Array(n);
  // Every vertex has one residual at most, of which it has a part beside its ring.
  const most = n + fits.ring.length;
  const of = new Uint32Array(most);
  const row = new Uint32Array(most);
  const part = new Float64Array(most);
  const sizes: number[] = [];
  let count = 0;
  for (let v = 0; v < n; v++) {
    if (fits.start[v] === fits.start[v + 1] || !wanted[v]) continue;
    for (let k = fits.start[v]; k < fits.start[v + 1]; k++, count++) {
      of[count] = fits.ring[k];
      row[count] = v;
      part[count] = -fits.weight[k];
    }
    of[count] = row[count] = v;
    part[count] = 1;
    count++;
    residual[v] = s.z[v] - fits.expected[v];
    sizes.push(Math.abs(residual[v]));
  }
  return { residual, scatter: usualPlane(sizes), ...byVertex(n, count, of, row, part) };
}

/** The smallest quarter of normal deviations is below so many standard deviations: slips spoil more than half of few. */
export const SMALLEST_QUARTER = 0.3186;

/** Usual size of residuals against planes, m: see PlaneResiduals.scatter. */
export function usualPlane(residuals: ArrayLike<number>): number {
  const sizes = new Float64Array(residuals.length);
  for (let i = 0; i < sizes.length; i++) sizes[i] = Math.abs(residuals[i]);
  return Math.max(0.005, (nthSmallest(sizes, sizes.length >> 2) || 0) / SMALLEST_QUARTER);
}

/** 1 for vertices of triangles that have one of some vertices as a corner. */
export function besideVertices({ x, triangles }: Surface, vertices: Iterable<number>): Uint8Array {
  const chosen = new Uint8Array(x.length);
  for (const v of vertices) chosen[v] = 1;
  const out = new Uint8Array(x.length);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    if (chosen[a] || chosen[b] || chosen[c]) out[a] = out[b] = out[c] = 1;
  }
  return out;
}

function byVertex(
  n: number,
  count: number,
  of: ArrayLike<number>,
  row: ArrayLike<number>,
  part: ArrayLike<number>,
): Pick<PlaneResiduals, 'start' | 'row' | 'part'> {
  const start = new Uint32Array(n + 1);
  for (let k = 0; k < count; k++) start[of[k] + 1]++;
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const next = start.slice();
  const rows = new Uint32Array(count);
  const parts = new Float64Array(count);
  for (let k = 0; k < count; k++) {
    const at = next[of[k]]++;
    [rows[at], parts[at]] = [row[k], part[k]];
  }
  return { start, row: rows, part: parts };
}

/** What a residual is against: the plane of its ring, the course of its line, the same place from another setup. */
export const AGAINST = { plane: 0, line: 1, twice: 2 } as const;

/** Residuals of any kind, linear in the heights of points, as rows of a sparse matrix by the points' columns. */
export interface HeightResiduals {
  /** m, by residual, with what is usual for it, and one of AGAINST. */
  residual: Float64Array;
  scatter: Float64Array;
  against: Uint8Array;
  /** Parts of column c stand from start[c] to start[c + 1]. */
  start: Uint32Array;
  row: Uint32Array;
  part: Float64Array;
}

/** Gathers residuals of several kinds over the same points, without their sizes; parts of NO_POINT are nobody's. */
export class ResidualBuilder {
  private readonly kinds: number[] = [];
  private readonly of: number[] = [];
  private readonly rows: number[] = [];
  private readonly parts: number[] = [];

  constructor(private readonly columns: number) {}

  add(against: number, columns: ArrayLike<number>, parts: readonly number[]): void {
    const row = this.kinds.length;
    this.kinds.push(against);
    for (let i = 0; i < columns.length; i++) {
      if (columns[i] === NO_POINT) continue;
      this.of.push(columns[i]);
      this.rows.push(row);
      this.parts.push(parts[i]);
    }
  }

  build(): Omit<HeightResiduals, 'residual' | 'scatter'> {
    return {
      against: Uint8Array.from(this.kinds),
      ...byVertex(this.columns, this.of.length, this.of, this.rows, this.parts),
    };
  }
}

/** The residuals of a surface alone, its vertices the columns. */
export const residualsOfPlanes = (r: PlaneResiduals): HeightResiduals => ({
  residual: r.residual,
  scatter: new Float64Array(r.residual.length).fill(r.scatter),
  against: new Uint8Array(r.residual.length),
  start: r.start,
  row: r.row,
  part: r.part,
});

export interface ShiftedRun {
  /** First and last place in the sequence. */
  from: number;
  to: number;
  /** How far its points stand too high, m; one of the shifts asked for, unless any was allowed. */
  shift: number;
}

/** Whether a vertex has a residual of its own: those on breaklines and on the rim have none. */
export function hasResidual({ start, row }: PlaneResiduals, vertex: number): boolean {
  for (let k = start[vertex]; k < start[vertex + 1]; k++) if (row[k] === vertex) return true;
  return false;
}

/** Looks through sequences of points that have parts in the same residuals. */
export class ShiftedRuns {
  private readonly search: RunSearch;

  constructor(r: HeightResiduals) {
    this.search = new RunSearch(r);
  }

  /**
   * The run of a sequence, `most` points at most, that one of some shifts explains best, or null: without the shift
   * a quarter or less of the squares is left (a sixteenth, where few residuals speak), and what is left is as large as
   * is usual there, and a fifth of the shift at most. With `least`, any other shift from that size on counts too, where
   * lines or places measured twice show it.
   */
  find(sequence: ArrayLike<number>, shifts: readonly number[], most: number, least = Infinity): ShiftedRun | null {
    const smallest = Math.min(least, ...shifts.map(Math.abs));
    if (!Number.isFinite(smallest)) return null;
    const { search } = this;
    let best: ShiftedRun | null = null;
    let bestGain = 0;
    for (let from = 0; from < sequence.length; from++) {
      if (!search.standsOff(sequence[from], smallest / 4)) continue;
      for (let to = from; to < Math.min(sequence.length, from + most); to++) {
        search.add(sequence[to]);
        // No shift explains more than the estimate itself does.
        if (search.best <= Math.max(bestGain, LEAST_GAIN)) continue;
        const shift = search.shift(shifts) ?? search.anyShift(least);
        if (shift === null) continue;
        const gain = search.gain(shift);
        if (gain > bestGain) [best, bestGain] = [{ from, to, shift }, gain];
      }
      search.clear();
    }
    if (!best) return null;
    for (let i = best.from; i <= best.to; i++) search.add(sequence[i]);
    const good = search.explains(best.shift);
    search.clear();
    return good ? best : null;
  }

  /**
   * Whether points that something else sets apart (a height that is written for them alone) stand off by a shift: no
   * search is behind it, so that less evidence will do.
   */
  standOff(points: ArrayLike<number>, shift: number): boolean {
    for (let i = 0; i < points.length; i++) this.search.add(points[i]);
    const good = this.search.agrees(shift);
    this.search.clear();
    return good;
  }

  /** Takes a shift off points: what else stands off is looked for in what is left. */
  mend(points: ArrayLike<number>, shift: number): void {
    for (let i = 0; i < points.length; i++) this.search.add(points[i]);
    this.search.take(shift);
    this.search.clear();
  }
}

const FEW = 6;

/** So many runs are tried that chance would find three or four sigmas every day. */
const STANDS_OUT = 5.5;
/** Where the size of the shift is not known beforehand, it has to stand out by more. */
const STANDS_OUT_ANY = 14;
/** What a run that stands out explains at least: its shift is an eighth off the estimate at most. */
const LEAST_GAIN = (STANDS_OUT * 0.875) ** 2 - 1e-6;

/** A run that grows: how the residuals would answer to a shift of all its points by one. */
class RunSearch {
  private readonly answer: Float64Array;
  /** One over its usual size squared, by residual. */
  private readonly weight: Float64Array;
  private touched: number[] = [];
  /** Residual times answer, and answer squared, summed, each over its usual size. */
  private mixed = 0;
  private square = 0;

  constructor(private readonly r: HeightResiduals) {
    this.answer = new Float64Array(r.residual.length);
    this.weight = new Float64Array(r.scatter.length);
    for (let i = 0; i < this.weight.length; i++) this.weight[i] = 1 / (r.scatter[i] * r.scatter[i]);
  }

  /** Whether a point has a part in a residual of at least a size: the first of a shifted run has. */
  standsOff(column: number, size: number): boolean {
    const { start, row, residual } = this.r;
    for (let k = start[column]; k < start[column + 1]; k++) if (Math.abs(residual[row[k]]) >= size) return true;
    return false;
  }

  add(column: number): void {
    const { start, row, part, residual } = this.r;
    const { answer, weight, touched } = this;
    for (let k = start[column]; k < start[column + 1]; k++) {
      const v = row[k];
      const before = answer[v];
      this.mixed += weight[v] * residual[v] * part[k];
      this.square += weight[v] * (2 * before * part[k] + part[k] * part[k]);
      answer[v] = before + part[k];
      touched.push(v);
    }
  }

  /**
   * The shift asked for that lies where the residuals say, within their own precision, and that stands out of what is
   * usual by far. Null when none does.
   */
  shift(shifts: readonly number[]): number | null {
    if (!(this.square > 0)) return null;
    const estimate = this.mixed / this.square;
    const within = Math.max(0.02, 4 / Math.sqrt(this.square));
    let best: number | null = null;
    for (const s of shifts) {
      if (Math.abs(s) * Math.sqrt(this.square) < STANDS_OUT) continue;
      const off = Math.abs(s - estimate);
      if (off <= Math.min(within, Math.abs(s) / 8) && (best === null || off < Math.abs(best - estimate))) best = s;
    }
    return best;
  }

  /** What the residuals say, where it is large enough and lines or places measured twice carry it. */
  anyShift(least: number): number | null {
    if (!Number.isFinite(least) || !(this.square > 0)) return null;
    const estimate = this.mixed / this.square;
    if (Math.abs(estimate) < least || Math.abs(estimate) * Math.sqrt(this.square) < STANDS_OUT_ANY) return null;
    let sure = 0;
    for (const v of new Set(this.touched))
      if (this.r.against[v] !== AGAINST.plane && Math.abs(this.answer[v]) > 0.3) sure++;
    return sure >= 2 ? estimate : null;
  }

  /** By how much any shift lessens it at most. */
  get best(): number {
    return this.square > 0 ? (this.mixed * this.mixed) / this.square : 0;
  }

  /** By how much a shift lessens the weighted sum of squared residuals. */
  gain(shift: number): number {
    return 2 * shift * this.mixed - shift * shift * this.square;
  }

  explains(shift: number): boolean {
    const { before, after, over, count } = this.squares(shift);
    return count >= 2 && after <= before / (count < FEW ? 16 : 4) && over <= count;
  }

  /** Whether the residuals say a shift, to within their precision, and are as usual without it. */
  agrees(shift: number): boolean {
    if (!(this.square > 0) || Math.abs(shift) * Math.sqrt(this.square) < 4.5) return false;
    if (Math.abs(this.mixed / this.square - shift) > 3 / Math.sqrt(this.square)) return false;
    const { before, after, count } = this.squares(shift);
    return count >= 1 && after <= before / 2 && after <= 6 * count;
  }

  private squares(shift: number): { before: number; after: number; over: number; count: number } {
    let [before, after, over, count] = [0, 0, 0, 0];
    for (const v of new Set(this.touched)) {
      if (Math.abs(this.answer[v]) < 0.05) continue;
      const sigma = this.r.scatter[v];
      const left = this.r.residual[v] - shift * this.answer[v];
      before += (this.r.residual[v] / sigma) ** 2;
      after += (left / sigma) ** 2;
      const usual = Math.min(Math.abs(shift) / 5, Math.max(2.5 * sigma, 0.05));
      over += (left / usual) ** 2;
      count++;
    }
    return { before, after, over, count };
  }

  take(shift: number): void {
    for (const v of new Set(this.touched)) this.r.residual[v] -= shift * this.answer[v];
  }

  clear(): void {
    for (const v of this.touched) this.answer[v] = 0;
    this.touched = [];
    this.mixed = this.square = 0;
  }
}
