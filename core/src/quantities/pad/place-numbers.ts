/** Places nearer than this are one, m. */
export const TOGETHER = 1e-5;

/** Numbers places in the order in which they come; those that are together have the same. */
export class PlaceNumbers {
  private readonly cells = new Map<string, number>();
  readonly x: number[] = [];
  readonly y: number[] = [];

  of(x: number, y: number): number {
    const [i, j] = [Math.round(x / TOGETHER), Math.round(y / TOGETHER)];
    for (let a = i - 1; a <= i + 1; a++)
      for (let b = j - 1; b <= j + 1; b++) {
        const known = this.cells.get(`${a} ${b}`);
        if (known !== undefined && Math.abs(this.x[known] - x) <= TOGETHER && Math.abs(this.y[known] - y) <= TOGETHER) return known; // prettier-ignore
      }
    const number = this.x.length;
    this.x.push(x);
    this.y.push(y);
    this.cells.set(`${i} ${j}`, number);
    return number;
  }
}
