import { METRES_IN, type LengthUnit } from '#core/measure';

/** What reading a written file again has shown. */
export interface ReadBack {
  ok: boolean;
  /** Things compared, by kind. */
  counts: Record<string, number>;
  /** Largest distance in any coordinate between what was meant and what was read, m. */
  largestDeviation: number;
  /** Half a unit of the last decimal written, m: what rounding alone may do. */
  allowed: number;
  problems: string[];
  /** What the file cannot say as it was meant, and how it says it instead. */
  notes: string[];
}

export class Comparison {
  readonly counts: Record<string, number> = {};
  readonly problems: string[] = [];
  readonly notes: string[] = [];
  private words = 0;
  private largest = 0;

  constructor(
    private readonly factor: number,
    private readonly allowed: number,
  ) {}

  count(kind: string, meant: number, read: number): boolean {
    this.counts[kind] = read;
    if (meant !== read) this.problem(`${kind}: ${meant} were meant, ${read} were read`);
    return meant === read;
  }

  /** A value meant in metres against one read in the file's unit. */
  value(meant: number, read: number, what: () => string): void {
    const deviation = Math.abs(meant - read * this.factor);
    if (!(deviation <= this.largest)) {
      if (Number.isNaN(deviation)) this.problem(`${what()}: not a number`);
      else this.largest = deviation;
    }
    if (deviation > this.allowed) this.problem(`${what()}: off by ${deviation.toExponential(2)} m`);
  }

  /** Words as people read them: numbers, codes, labels, layers. */
  text(meant: string, read: string, what: () => string): void {
    this.words++;
    if (meant !== read) this.problem(`${what()}: “${meant}” came back as “${read}”`);
  }

  problem(text: string): void {
    if (this.problems.length < 20) this.problems.push(text);
  }

  result(): ReadBack {
    if (this.words) this.counts.words = this.words;
    return {
      ok: this.problems.length === 0,
      counts: this.counts,
      largestDeviation: this.largest,
      allowed: this.allowed,
      problems: this.problems,
      notes: this.notes,
    };
  }
}

/** Half of the last decimal, with room for the last bit of large coordinates. */
export const rounding = (decimals: number, unit: LengthUnit): number =>
  0.5000001 * 10 ** -decimals * METRES_IN[unit] + 2e-9;
