/** Something of a file that was not read, or read and not used. */
export interface NotRead {
  file: string;
  where: string;
  why: string;
}

/** What was not taken from the files of one command, so that every verb says it in one way. */
export class Account {
  readonly list: NotRead[] = [];
  /** Of each file; more than are listed. */
  private readonly counts = new Map<string, number>();

  add(file: string, where: string, why: string, count = 1): void {
    this.list.push({ file, where, why });
    this.more(file, count);
  }

  /** That were counted, and are not listed one by one. */
  more(file: string, count: number): void {
    this.counts.set(file, (this.counts.get(file) ?? 0) + count);
  }

  get count(): number {
    return [...this.counts.values()].reduce((a, b) => a + b, 0);
  }

  /** In words, the first of them. */
  lines(): string[] {
    const shown = this.list.slice(0, MOST_SHOWN).map((n) => `  not taken from ${n.file}: ${n.where}: ${n.why}`);
    const rest = this.count - shown.length;
    return rest > 0 && this.list.length > MOST_SHOWN ? [...shown, `  and ${rest} more, all in --json`] : shown;
  }
}

const MOST_SHOWN = 20;
