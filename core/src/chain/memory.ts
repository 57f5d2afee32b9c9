import { ReductionMemory } from '#core/reduction';
import {
  contours,
  contoursAgain,
  type Contour,
  type ContourSettings,
  type Surface,
  type SurfacePlan,
} from '#core/terrain';
import { LineMemory, type Linework } from '#core/linework';
import { keepAlike, sameColumn, type Column, type Keep } from '#core/kernel';
import type { KeepPlan, PlanInput, PointTable } from '#core/stages';

/** Results of earlier runs, so that an edit recomputes only what hangs on it. */
export class ChainMemory {
  private readonly kept = new Map<string, unknown>();
  /** Setups as they were reduced. */
  readonly reduction = new ReductionMemory();
  private readonly plans = new Map<string, { input: PlanInput; plan: SurfacePlan }>();
  private readonly results = new Map<string, object[]>();
  private readonly ids = new WeakMap<object, number>();
  private nextId = 0;
  private readonly drawn = new Map<string, { surface: Surface; settings: ContourSettings; contours: Contour[] }>();
  /** Lines as they were shaped, each by itself. */
  readonly shapes = new LineMemory();
  private linework: { points: PointTable; groups: string; made: Linework } | null = null;
  /** What depends on some columns alone. */
  readonly keep: Keep = keepAlike();
  /** How often a stage was really computed, by stage; and triangles made, contour levels drawn, lines built. */
  readonly computed: Record<string, number> = {};

  constructor(private readonly most = 60) {}

  private count(what: string, n = 1): void {
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

  /**
   * A result that equals an earlier one is that one, so that nothing is computed again that hangs on it: keys of what
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

  /** Lines hang on places in plan, codes and what is used; not on heights. `groups` says what else they hang on. */
  lines(points: PointTable, groups: string, make: () => Linework): Linework {
    const before = this.linework;
    if (before && before.groups === groups && sameCourse(before.points, points)) return before.made;
    const made = make();
    this.count('lines built', this.shapes.shaped);
    this.linework = { points, groups, made };
    return made;
  }

  /** Triangles of a surface whose points and breaklines stand in plan as they stood before. */
  readonly keepPlan: KeepPlan = (name, input, make) => {
    const before = this.plans.get(name);
    if (before && samePlan(before.input, input)) return before.plan;
    const plan = make(input);
    this.count('triangles made', plan.triangles.length / 3);
    this.plans.set(name, { input, plan });
    return plan;
  };

  /** Contours, of which only levels are drawn again that pass where heights changed. */
  contours(id: string, surface: Surface, settings: ContourSettings): Contour[] {
    const before = this.drawn.get(id);
    const same =
      before !== undefined &&
      before.surface.triangles === surface.triangles &&
      before.settings.interval === settings.interval &&
      before.settings.indexEvery === settings.indexEvery;
    const again = same ? contoursAgain(before.surface, before.contours, surface, settings) : null;
    const made = again?.contours ?? contours(surface, settings);
    this.count('contour levels drawn', again ? again.levels : new Set(made.map((c) => c.elevation)).size);
    this.drawn.set(id, { surface, settings: { ...settings }, contours: made });
    return made;
  }
}

/** So many results of one kind are looked at: before and after of a preview, and what an undo brings back. */
const MOST_RESULTS = 4;

/** Whether two point tables hold the same, column by column; heights first, which differ most often. */
export const samePoints = (a: PointTable, b: PointTable): boolean =>
  sameColumn(a.z, b.z) && (Object.keys(a) as (keyof PointTable)[]).every((column) => sameColumn(a[column], b[column]));

/** Whether two surfaces are the same, whatever was computed anew. */
export const sameSurface = (a: Surface, b: Surface): boolean =>
  sameColumn(a.triangles, b.triangles) &&
  sameColumn(a.x, b.x) &&
  sameColumn(a.y, b.y) &&
  sameColumn(a.z, b.z) &&
  sameColumn(a.point, b.point) &&
  sameColumn(a.breakSides, b.breakSides);

const samePlan = (a: PlanInput, b: PlanInput): boolean =>
  a.coincidence === b.coincidence &&
  a.longestSide === b.longestSide &&
  sameColumn(a.segments, b.segments) &&
  sameColumn(a.x, b.x) &&
  sameColumn(a.y, b.y);

function sameCourse(a: PointTable, b: PointTable): boolean {
  if (a === b) return true;
  if (!sameColumn(a.x, b.x) || !sameColumn(a.y, b.y)) return false;
  if (!sameColumn(a.state, b.state) || !sameColumn(a.intake, b.intake)) return false;
  return sameColumn(a.description, b.description) && sameColumn(a.number, b.number);
}
