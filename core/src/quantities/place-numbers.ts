/** Places nearer than this are one, m. */
export const TOGETHER = 1e-5;

/** Side of a cell, m: places that are together lie in one, or close to the line between two. */
const CELL = 1e-3;
/** Cells across: places lie within 30 km of the origin. */
const ROW = 2 ** 26;

/** Numbers places about an origin in the order in which they come; those that are together have the same. */
export class PlaceNumbers {
  /** The first place of each cell, and the next one of the same cell after each. */
  private readonly first = new Map<number, number>();
  private readonly next: number[] = [];
  readonly x: number[] = [];
  readonly y: number[] = [];

  of(x: number, y: number): number {
    const [i, j] = [Math.floor(x / CELL), Math.floor(y / CELL)];
    const [west, east] = [Math.floor((x - TOGETHER) / CELL), Math.floor((x + TOGETHER) / CELL)];
    const [south, north] = [Math.floor((y - TOGETHER) / CELL), Math.floor((y + TOGETHER) / CELL)];
    for (let a = west; a <= east; a++)
      for (let b = south; b <= north; b++)
        for (let at = this.first.get(a * ROW + b) ?? -1; at >= 0; at = this.next[at])
          if (Math.abs(this.x[at] - x) <= TOGETHER && Math.abs(this.y[at] - y) <= TOGETHER) return at;
    const number = this.x.length;
    this.x.push(x);
    this.y.push(y);
    this.next.push(this.first.get(i * ROW + j) ?? -1);
    this.first.set(i * ROW + j, number);
    return number;
  }
}
