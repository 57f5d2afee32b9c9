import { distance } from '#core/kernel';
import type { Thing } from './things.ts';

/** Things of one of two drawings for which none of the other was found yet. */
export class Left {
  private readonly isLeft: Uint8Array;
  count: number;

  constructor(readonly things: readonly Thing[]) {
    this.isLeft = new Uint8Array(things.length).fill(1);
    this.count = things.length;
  }

  has(i: number): boolean {
    return this.isLeft[i] === 1;
  }

  take(i: number): void {
    this.isLeft[i] = 0;
    this.count--;
  }

  /** What is left, in the order of the file. */
  indices(): number[] {
    const out: number[] = [];
    for (let i = 0; i < this.isLeft.length; i++) if (this.isLeft[i]) out.push(i);
    return out;
  }

  /** What is left by a text of each; things without one are in no group. */
  by(keyOf: (t: Thing) => string | null): Map<string, number[]> {
    const out = new Map<string, number[]>();
    for (const i of this.indices()) {
      const key = keyOf(this.things[i]);
      if (key === null) continue;
      const group = out.get(key);
      if (group) group.push(i);
      else out.set(key, [i]);
    }
    return out;
  }
}

/** Finds what is left of a drawing by its place. */
export class ByPlace {
  private readonly cells = new Map<string, number[]>();

  constructor(
    private readonly left: Left,
    private readonly reach: number,
  ) {
    for (const i of left.indices()) {
      const key = this.keyAt(left.things[i].at[0], left.things[i].at[1]);
      const cell = this.cells.get(key);
      if (cell) cell.push(i);
      else this.cells.set(key, [i]);
    }
  }

  /** The nearest that is left within reach of a place and is what is asked for; of two as near, the first of the file. */
  nearest(x: number, y: number, is: (t: Thing) => boolean): number | null {
    let best: number | null = null;
    let least = this.reach;
    const [cx, cy] = [Math.floor(x / this.reach), Math.floor(y / this.reach)];
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (const i of this.cells.get(`${cx + dx} ${cy + dy}`) ?? []) {
          if (!this.left.has(i)) continue;
          const t = this.left.things[i];
          const away = distance(t.at[0] - x, t.at[1] - y);
          if ((away < least || (best === null && away === least)) && is(t)) [best, least] = [i, away];
        }
    return best;
  }

  private keyAt(x: number, y: number): string {
    return `${Math.floor(x / this.reach)} ${Math.floor(y / this.reach)}`;
  }
}
