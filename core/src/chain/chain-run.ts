import { hashValue } from '#core/kernel';
import type { Linework } from '#core/linework';
import type { Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';
import type { Reduction } from '#core/reduction';
import type { ProjectDocument } from '#core/project';
import { readKey } from '#core/sources';
import {
  comparisonStage,
  contoursStage,
  linesStage,
  pointsStage,
  reductionStage,
  StageCancelled,
  StageMemory,
  surfaceStage,
  type BuiltSurface,
  type ComparisonResult,
  type DrawnContours,
  type PointTable,
  type ReadOf,
  type ResultRef,
  type Stage,
} from '#core/stages';
import type { Query } from '#core/queries';
import { summaryStage, type ChainSummary } from './summary.ts';

export interface ChainResult {
  /** How books became points; null and empty where there are none. */
  reduction: Reduction | null;
  network: Adjustment | null;
  outliers: NetworkOutlier[];
  traverses: Traverse[];
  points: PointTable;
  linework: Linework;
  /** Every surface of the document, in its order. */
  surfaces: BuiltSurface[];
  /** Their contours, by the surface. */
  contours: ReadonlyMap<string, DrawnContours>;
  comparisons: ComparisonResult[];
  queries: Query[];
  summary: ChainSummary;
}

/** Who follows a run: what is being computed and how far it is, and whether anybody still wants it. */
export interface Watch {
  progress?: (stage: Stage<unknown>, subject: string, share: number) => void;
  cancelled?: () => boolean;
}

/** The chain over one document: each result is computed when it is first asked for, or found in the memory. */
export class ChainRun {
  private readonly results = new Map<string, unknown>();

  constructor(
    readonly doc: ProjectDocument,
    private readonly readOf: ReadOf,
    private readonly memory = new StageMemory(),
    private readonly watch: Watch = {},
  ) {}

  /** Throws StageCancelled where the run is no longer wanted. */
  result<R>(stage: Stage<R>, subject = ''): R {
    const at = `${stage.name} ${subject}`;
    if (!this.results.has(at)) this.results.set(at, this.find(stage, subject));
    return this.results.get(at) as R;
  }

  /** Keys go by the results that a stage is made from: one that comes out the same stops the recomputation there. */
  private find<R>(stage: Stage<R>, subject: string): R {
    const { doc, readOf, memory } = this;
    const inputs = stage.inputs(doc, subject).map((ref) => this.idOf(ref));
    const key = hashValue([stage.name, stage.version, subject, stage.settings(doc, subject), inputs]);
    return memory.once(stage.name, key, () => {
      const progress = (share: number): void => this.tell(stage, subject, share);
      progress(0);
      return stage.run({ doc, readOf, subject, memory, progress, result: (of, one) => this.result(of, one) });
    });
  }

  private tell(stage: Stage<unknown>, subject: string, share: number): void {
    if (this.watch.cancelled?.()) throw new StageCancelled();
    this.watch.progress?.(stage, subject, share);
  }

  private idOf({ stage, subject }: ResultRef): unknown {
    if (stage === 'reads')
      return readKey(
        this.doc.basis,
        this.doc.intakes.find((i) => i.id === subject)!,
      );
    const result = this.result(stage, subject);
    return this.memory.id(stage.identity?.(result) ?? (result as object));
  }

  /** Everything. */
  all(): ChainResult {
    const { doc } = this;
    const { reduction, network, outliers, traverses } = this.result(reductionStage) ?? NO_BOOKS;
    const summary = this.result(summaryStage);
    return {
      reduction,
      network,
      outliers,
      traverses,
      points: this.result(pointsStage).points,
      linework: this.result(linesStage),
      surfaces: doc.surfaces.map((s) => this.result(surfaceStage, s.id)),
      contours: new Map(doc.surfaces.map((s) => [s.id, this.result(contoursStage, s.id)])),
      comparisons: doc.comparisons.map((c) => this.result(comparisonStage, c.id)),
      queries: summary.queries,
      summary,
    };
  }
}
const NO_BOOKS = { reduction: null, network: null, outliers: [], traverses: [] };

/** Runs the whole chain for a document: points, lines, surfaces, contours, comparisons, and the queries of all. */
export const runChain = (doc: ProjectDocument, readOf: ReadOf, memory = new StageMemory()): ChainResult =>
  new ChainRun(doc, readOf, memory).all();
