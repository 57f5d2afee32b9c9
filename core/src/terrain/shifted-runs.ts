import { innerVertices, planeWeights, ringOf } from './rings.ts';
import type { Surface } from './surface.ts';

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
  const edges = innerVertices(s);
  const wanted = around(s, about);
  const n = s.x.length;
  const residual = new Float64Array(n);
  // Every corner of a triangle is in one ring at most, and every vertex has one residual at most.
  const most = n + s.triangles.length;
  const of = new Uint32Array(most);
  const row = new Uint32Array(most);
  const part = new Float64Array(most);
  const sizes: number[] = [];
  let count = 0;
  for (let v = 0; v < n; v++) {
    if (edges[v] < 0 || !wanted[v]) continue;
    const ring = ringOf(s, edges[v]);
    const weights = planeWeights(s, ring, v);
    if (!weights) continue;
    let off = s.z[v];
    for (let i = 0; i < ring.length; i++) {
      off -= weights[i] * s.z[ring[i]];
      [of[count], row[count], part[count]] = [ring[i], v, -weights[i]];
      count++;
    }
    [of[count], row[count], part[count]] = [v, v, 1];
    count++;
    residual[v] = off;
    sizes.push(Math.abs(off));
  }
  const sorted = Float64Array.from(sizes).sort();
  const scatter = Math.max(0.005, (sorted[sorted.length >> 2] ?? 0) / 0.3186);
  return { residual, scatter, ...byVertex(n, count, of, row, part) };
}

/** 1 for vertices of triangles that have one of some vertices as a corner. */
function around({ x, triangles }: Surface, vertices: Iterable<number>): Uint8Array {
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
  of: Uint32Array,
  row: Uint32Array,
  part: Float64Array,
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

export interface ShiftedRun {
  /** First and last place in the sequence. */
  from: number;
  to: number;
  /** How far its vertices stand too high, m; one of the shifts asked for. */
  shift: number;
}

/** Whether a vertex has a residual of its own: those on breaklines and on the rim have none. */
export function hasResidual({ start, row }: PlaneResiduals, vertex: number): boolean {
  for (let k = start[vertex]; k < start[vertex + 1]; k++) if (row[k] === vertex) return true;
  return false;
}

/** Looks through sequences of vertices of one surface. */
export class ShiftedRuns {
  private readonly search: RunSearch;

  constructor(r: PlaneResiduals) {
    this.search = new RunSearch(r);
  }

  /**
   * The run of a sequence, `most` vertices at most, that one of some shifts explains best, or null: without the shift
   * a quarter or less of the squares is left (a sixteenth, where few residuals speak), and what is left is as large as
   * is usual on this surface, and a fifth of the shift at most.
   */
  find(sequence: readonly number[], shifts: readonly number[], most: number): ShiftedRun | null {
    if (shifts.length === 0) return null;
    const smallest = Math.min(...shifts.map(Math.abs));
    const { search } = this;
    let best: ShiftedRun | null = null;
    let bestGain = 0;
    for (let from = 0; from < sequence.length; from++) {
      if (!search.standsOff(sequence[from], smallest / 4)) continue;
      for (let to = from; to < Math.min(sequence.length, from + most); to++) {
        search.add(sequence[to]);
        const shift = search.shift(shifts);
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
}

const FEW = 6;

/** A run that grows: how the residuals would answer to a shift of all its vertices by one. */
class RunSearch {
  private readonly answer: Float64Array;
  private touched: number[] = [];
  /** Residual times answer, and answer squared, summed. */
  private mixed = 0;
  private square = 0;

  constructor(private readonly r: PlaneResiduals) {
    this.answer = new Float64Array(r.residual.length);
  }

  /** Whether a vertex has a part in a residual of at least a size: the first of a shifted run has. */
  standsOff(vertex: number, size: number): boolean {
    const { start, row, residual } = this.r;
    for (let k = start[vertex]; k < start[vertex + 1]; k++) if (Math.abs(residual[row[k]]) >= size) return true;
    return false;
  }

  add(vertex: number): void {
    const { start, row, part, residual } = this.r;
    for (let k = start[vertex]; k < start[vertex + 1]; k++) {
      const v = row[k];
      const before = this.answer[v];
      this.mixed += residual[v] * part[k];
      this.square += 2 * before * part[k] + part[k] * part[k];
      this.answer[v] = before + part[k];
      this.touched.push(v);
    }
  }

  /**
   * The shift asked for that lies where the residuals say, within their own precision, and that stands out of what is
   * usual by far: so many runs are tried that chance would find three or four sigmas every day. Null when none does.
   */
  shift(shifts: readonly number[]): number | null {
    if (this.square < 0.2) return null;
    const estimate = this.mixed / this.square;
    const within = Math.max(0.02, (4 * this.r.scatter) / Math.sqrt(this.square));
    let best: number | null = null;
    for (const s of shifts) {
      if (Math.abs(s) * Math.sqrt(this.square) < 8 * this.r.scatter) continue;
      const off = Math.abs(s - estimate);
      if (off <= Math.min(within, Math.abs(s) / 8) && (best === null || off < Math.abs(best - estimate))) best = s;
    }
    return best;
  }

  /** By how much a shift lessens the sum of squared residuals. */
  gain(shift: number): number {
    return 2 * shift * this.mixed - shift * shift * this.square;
  }

  explains(shift: number): boolean {
    let [before, after, count] = [0, 0, 0];
    for (const v of new Set(this.touched)) {
      if (Math.abs(this.answer[v]) < 0.05) continue;
      const left = this.r.residual[v] - shift * this.answer[v];
      before += this.r.residual[v] ** 2;
      after += left * left;
      count++;
    }
    const usual = Math.min(Math.abs(shift) / 5, Math.max(2.5 * this.r.scatter, 0.05));
    return count >= 2 && after <= before / (count < FEW ? 16 : 4) && Math.sqrt(after / count) <= usual;
  }

  clear(): void {
    for (const v of this.touched) this.answer[v] = 0;
    this.touched = [];
    this.mixed = this.square = 0;
  }
}
