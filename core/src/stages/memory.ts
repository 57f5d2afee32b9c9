import { keepAlike, sameColumn, type Column, type Keep } from '#core/kernel';

/** Results of earlier runs, so that an edit recomputes only what uses it. */
export class StageMemory {
  private readonly kept = new Map<string, unknown>();
  private readonly results = new Map<string, object[]>();
  private readonly owned = new Map<string, unknown>();
  private readonly ids = new WeakMap<object, number>();
  private nextId = 0;
  /** What depends on some columns alone. */
  readonly keep: Keep = keepAlike();
  /** The same for what is kept line by line: a survey has thousands of lines, and they push nothing else out. */
  readonly keepEach: Keep = keepAlike(MOST_LINES);
  /** How often a stage was really computed, by stage; and what stages count of their own: triangles made, lines built … */
  readonly computed: Record<string, number> = {};

  constructor(private readonly most = 60) {}

  count(what: string, n = 1): void {
    this.computed[what] = (this.computed[what] ?? 0) + n;
  }

  once<T>(stage: string, key: string, compute: () => T): T {
    if (this.kept.has(key)) {
      const hit = this.kept.get(key) as T;
      this.kept.delete(key);
      this.kept.set(key, hit);
      return hit;
    }
    this.count(stage);
    const made = compute();
    this.kept.set(key, made);
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value!);
    return made;
  }

  /** A memory that a stage has for itself. */
  own<T>(what: string, make: () => T): T {
    if (!this.owned.has(what)) this.owned.set(what, make());
    return this.owned.get(what) as T;
  }

  /**
   * A result that equals an earlier one is that one, so that nothing is computed again that uses it: keys of what
   * follows go by the object (`id`), not by what it was computed from.
   */
  same<T extends object>(what: string, made: T, alike: (a: T, b: T) => boolean): T {
    const before = (this.results.get(what) ?? []) as T[];
    const found = before.find((b) => b === made || alike(b, made)) ?? made;
    this.results.set(what, [found, ...before.filter((b) => b !== found)].slice(0, MOST_RESULTS));
    return found;
  }

  /**
   * A table whose columns are those of the table before wherever they hold the same, so that what asks afterwards
   * whether a column has changed finds the same object and need not read it. Columns still being written are `open`.
   */
  columns<T extends object>(what: string, made: T, open?: keyof T): T {
    const [before] = (this.results.get(what) ?? []) as T[];
    if (!before) return made;
    const shared = { ...made };
    for (const name of Object.keys(made) as (keyof T)[])
      if (name !== open && sameColumn(made[name] as Column, before[name] as Column)) shared[name] = before[name];
    return shared;
  }

  /** A number for an object, the same as long as it lives. */
  id(object: object | undefined): number {
    if (!object) return -1;
    let id = this.ids.get(object);
    if (id === undefined) this.ids.set(object, (id = this.nextId++));
    return id;
  }
}

/** Results kept line by line, three a line. */
const MOST_LINES = 100_000;

/** So many results of one kind are looked at: before and after of a preview, and what an undo brings back. */
const MOST_RESULTS = 4;
