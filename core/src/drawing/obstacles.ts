/** A box on paper, mm. */
export interface Box {
  left: number;
  bottom: number;
  right: number;
  top: number;
}

/** Things by the cells that they meet. */
class Cells<T> {
  private readonly cells = new Map<number, T[]>();
  constructor(private readonly size: number) {}

  /** Whether `meets` is true of something in the cells of a box. */
  some({ left, bottom, right, top }: Box, meets: (thing: T) => boolean): boolean {
    if (this.cells.size === 0) return false;
    const [i1, k1] = [this.at(right), this.at(top)];
    for (let i = this.at(left); i <= i1; i++)
      for (let k = this.at(bottom); k <= k1; k++) {
        const list = this.cells.get(key(i, k));
        if (list) for (const thing of list) if (meets(thing)) return true;
      }
    return false;
  }

  add({ left, bottom, right, top }: Box, thing: T): void {
    for (let i = this.at(left); i <= this.at(right); i++) for (let k = this.at(bottom); k <= this.at(top); k++) this.put(i, k, thing); // prettier-ignore
  }

  /** Along a segment only the cells that it goes through, or a sheet’s long lines would fill all of it. */
  addAlong(x1: number, y1: number, x2: number, y2: number, thing: T): void {
    const steps = Math.max(1, Math.ceil(Math.max(Math.abs(x2 - x1), Math.abs(y2 - y1)) / this.size));
    let before = NaN;
    for (let s = 0; s < steps; s++) {
      const [a, b] = [s / steps, (s + 1) / steps];
      const [ax, ay, bx, by] = [x1 + (x2 - x1) * a, y1 + (y2 - y1) * a, x1 + (x2 - x1) * b, y1 + (y2 - y1) * b];
      for (let i = this.at(Math.min(ax, bx)); i <= this.at(Math.max(ax, bx)); i++)
        for (let k = this.at(Math.min(ay, by)); k <= this.at(Math.max(ay, by)); k++) {
          if (key(i, k) === before) continue;
          before = key(i, k);
          this.put(i, k, thing);
        }
    }
  }

  private at = (v: number): number => Math.floor(v / this.size);

  private put(i: number, k: number, thing: T): void {
    const list = this.cells.get(key(i, k));
    if (list) list.push(thing);
    else this.cells.set(key(i, k), [thing]);
  }
}

const key = (i: number, k: number): number => i * 65_536 + k;

type Segment = readonly [number, number, number, number];

/** What is on a sheet already: boxes and lines that words keep clear of. */
export class Obstacles {
  private readonly boxes = new Cells<Box>(8);
  private readonly lines = new Cells<Segment>(4);

  addBox(box: Box): void {
    this.boxes.add(box, box);
  }

  addCourse(places: readonly number[], closed: boolean): void {
    const count = places.length / 2;
    for (let i = 0; i + (closed ? 0 : 1) < count; i++) {
      const k = ((i + 1) % count) * 2;
      const segment = [places[2 * i], places[2 * i + 1], places[k], places[k + 1]] as const;
      this.lines.addAlong(...segment, segment);
    }
  }

  isFree(box: Box): boolean {
    return !this.onBox(box) && !this.lines.some(box, (s) => shareOf(s, box) !== null);
  }

  onBox = (b: Box): boolean =>
    this.boxes.some(b, (o) => o.left < b.right && b.left < o.right && o.bottom < b.top && b.bottom < o.top);

  /** Pieces of a course outside all boxes: x, y, x, y … each. */
  outside(places: readonly number[], closed: boolean): number[][] {
    const out: number[][] = [];
    let piece: number[] = [];
    const end = (): void => {
      if (piece.length >= 4) out.push(piece);
      piece = [];
    };
    const count = places.length / 2;
    for (let i = 0; i + (closed ? 0 : 1) < count; i++) {
      const k = ((i + 1) % count) * 2;
      const s = [places[2 * i], places[2 * i + 1], places[k], places[k + 1]] as const;
      const at = (t: number): [number, number] => [s[0] + (s[2] - s[0]) * t, s[1] + (s[3] - s[1]) * t];
      let from = 0;
      for (const [enter, leave] of this.covered(s)) {
        if (enter > from) {
          if (piece.length === 0) piece.push(...at(from));
          piece.push(...at(enter));
        }
        end();
        from = Math.max(from, leave);
      }
      if (from >= 1) continue;
      if (piece.length === 0) piece.push(...at(from));
      piece.push(s[2], s[3]);
    }
    end();
    return out;
  }

  /** Parts of a segment, 0 to 1, that boxes cover, in order. */
  private covered(s: Segment): [number, number][] {
    const parts: [number, number][] = [];
    const seen = new Set<Box>();
    const reach = { left: Math.min(s[0], s[2]), right: Math.max(s[0], s[2]), bottom: Math.min(s[1], s[3]), top: Math.max(s[1], s[3]) }; // prettier-ignore
    this.boxes.some(reach, (box) => {
      if (seen.has(box)) return false;
      seen.add(box);
      const part = shareOf(s, box);
      if (part) parts.push(part);
      return false;
    });
    return parts.sort((a, b) => a[0] - b[0]);
  }
}

/** The part of a segment that lies in a box, from 0 to 1 along it (Liang and Barsky); null for none. */
export function shareOf([x1, y1, x2, y2]: Segment, b: Box): [number, number] | null {
  let [from, to] = [0, 1];
  const [dx, dy] = [x2 - x1, y2 - y1];
  for (const [step, room] of [
    [-dx, x1 - b.left],
    [dx, b.right - x1],
    [-dy, y1 - b.bottom],
    [dy, b.top - y1],
  ]) {
    // prettier-ignore
    if (step === 0) {
      if (room < 0) return null;
      continue;
    }
    const t = room / step;
    if (step < 0) from = Math.max(from, t);
    else to = Math.min(to, t);
    if (from > to) return null;
  }
  return [from, to];
}
