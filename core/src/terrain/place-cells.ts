/** Points by square cells, in typed arrays: found again within a distance that is small beside a cell. */
export class PlaceCells {
  private readonly cell: number;
  private readonly mask: number;
  private readonly head: Int32Array;
  private readonly next: Int32Array;

  constructor(
    private readonly x: Float64Array,
    private readonly y: Float64Array,
    private readonly distance: number,
  ) {
    const n = x.length;
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < n; i++) {
      if (x[i] < minX) minX = x[i];
      if (x[i] > maxX) maxX = x[i];
      if (y[i] < minY) minY = y[i];
      if (y[i] > maxY) maxY = y[i];
    }
    // About one point a cell, so that most points look into their own alone.
    const even = Math.sqrt(((maxX - minX) * (maxY - minY)) / Math.max(1, n));
    this.cell = Math.max(even, 4 * distance, 1e-6);
    let size = 16;
    while (size < n) size *= 2;
    this.mask = size - 1;
    this.head = new Int32Array(size).fill(-1);
    this.next = new Int32Array(n).fill(-1);
  }

  private slot(column: number, row: number): number {
    return (Math.imul(column, 73856093) ^ Math.imul(row, 19349663)) & this.mask;
  }

  add(i: number): void {
    const at = this.slot(Math.floor(this.x[i] / this.cell), Math.floor(this.y[i] / this.cell));
    this.next[i] = this.head[at];
    this.head[at] = i;
  }

  /** The nearest point within the distance whose square is `limit`, the western one of two; −1 where there is none. */
  near(px: number, py: number, limit: number): number {
    const { cell, distance, x, y } = this;
    const [left, right] = [Math.floor((px - distance) / cell), Math.floor((px + distance) / cell)];
    const [low, high] = [Math.floor((py - distance) / cell), Math.floor((py + distance) / cell)];
    let best = -1;
    let nearest = Infinity;
    for (let column = left; column <= right; column++)
      for (let row = low; row <= high; row++)
        for (let i = this.head[this.slot(column, row)]; i >= 0; i = this.next[i]) {
          const square = (x[i] - px) ** 2 + (y[i] - py) ** 2;
          if (square > limit || i === best) continue;
          if (square < nearest || (square === nearest && (x[i] < x[best] || (x[i] === x[best] && y[i] < y[best])))) {
            best = i;
            nearest = square;
          }
        }
    return best;
  }
}
