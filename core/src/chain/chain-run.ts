import { hashOnce, hashValue, isThere } from '#core/kernel';
import { buildLines, type Linework } from '#core/linework';
import type { Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';
import type { Reduction } from '#core/reduction';
import { groundOf, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import {
  buildSurface,
  compare,
  contourSettings,
  drawContours,
  layHandLines,
  layOutSurface,
  makePoints,
  orderOfBuilding,
  reduceBooks,
  STATE,
  type BookAt,
  type BuiltSurface,
  type ComparisonResult,
  type DrawnContours,
  type PointTable,
  type ReadOf,
} from '#core/stages';
import {
  queryAttributes,
  queryBasis,
  queryBooks,
  queryCourses,
  queryGround,
  queryHandLines,
  queryHeightRuns,
  queryMissingCodes,
  queryPairs,
  queryPlacesTwice,
  queryPoints,
  queryRecipes,
  querySlips,
  shotHeightRemedies,
  type Query,
  type Remedy,
} from '#core/queries';
import { ChainMemory, samePoints, sameSurface } from './memory.ts';
import { codesKey, pointSettings, readKey, surfaceSettings } from './stage-settings.ts';

/** How books became points; null and empty where there are none. */
export interface Reduced {
  reduction: Reduction | null;
  network: Adjustment | null;
  outliers: NetworkOutlier[];
  traverses: Traverse[];
}

export interface ChainResult extends Reduced {
  points: PointTable;
  linework: Linework;
  /** Every surface of the document, in its order. */
  surfaces: BuiltSurface[];
  /** Their contours, by the surface. */
  contours: ReadonlyMap<string, DrawnContours>;
  comparisons: ComparisonResult[];
  queries: Query[];
}

interface MadePoints extends Reduced {
  points: PointTable;
  queries: Query[];
  /** Setups whose own heights are asked about. */
  doubted: ReadonlySet<number>;
  explains: (book: string, row: number) => boolean;
  books: ReadonlyMap<string, BookAt>;
}

/** The chain over one document: each result is computed when it is first asked for, or found in the memory. */
export class ChainRun {
  private madeKept: MadePoints | null = null;
  private codedKept: Linework | null = null;
  private lineworkKept: Linework | null = null;
  private readonly codes: string;
  private readonly pointsKey: string;

  constructor(
    readonly doc: ProjectDocument,
    private readonly readOf: ReadOf,
    private readonly memory = new ChainMemory(),
  ) {
    this.codes = codesKey(doc);
    const reads = doc.intakes.map((i) => readKey(doc.basis, i));
    this.pointsKey = hashValue(['points', reads, pointSettings(doc), this.codes, doc.settings.unit]);
  }

  /** Points, how they were reduced, and what is asked about them, which says which of them wait. */
  get made(): MadePoints {
    return (this.madeKept ??= this.memory.once('points', this.pointsKey, () => this.makePoints()));
  }

  get points(): PointTable {
    return this.made.points;
  }

  private makePoints(): MadePoints {
    const { doc, readOf, memory } = this;
    const books = reduceBooks(doc, readOf, memory.reduction);
    // Which points wait is only known behind the queries.
    const table = memory.columns('points', makePoints(doc, readOf, books?.reads, memory.keep), 'state');
    const basis = queryBasis(doc, table, readOf, memory.keep);
    const booked = books ? queryBooks(doc, table, books, memory.keep) : null;
    const queries = [...basis, ...(booked?.queries ?? []), ...queryPoints(doc, table, memory.keep)];
    return {
      points: memory.same('points', memory.columns('points', table), samePoints),
      queries,
      doubted: booked?.doubted ?? new Set<number>(),
      explains: booked?.explains ?? (() => false),
      reduction: books?.reduction ?? null,
      network: books?.network ?? null,
      outliers: books?.outliers ?? [],
      traverses: books?.traverses ?? [],
      books: books?.books ?? new Map<string, BookAt>(),
    };
  }

  /** The columns that say places in plan, codes and numbers: keys of what uses no more than these. */
  private get inPlan(): number[] {
    const { x, y, state, intake, fileRow, number, description } = this.points;
    return [x, y, state, intake, fileRow, number, description].map((column) => this.memory.id(column));
  }

  private get files(): unknown {
    return this.doc.intakes.map((i) => [i.id, i.purpose, i.on, i.words ?? null]);
  }

  /** Lines by codes alone. */
  private get coded(): Linework {
    const { doc, memory, codes } = this;
    const { points, books } = this.made;
    const groups = JSON.stringify([codes, doc.settings.lineOrder, doc.intakes.map((i) => [i.id, i.purpose])]);
    return (this.codedKept ??= memory.once('lines by codes', hashValue(['coded', this.pointsKey, groups]), () =>
      memory.lines(points, groups, () =>
        buildLines(
          {
            x: points.x,
            y: points.y,
            number: points.number,
            description: points.description,
            words: (intake) => doc.intakes[intake].words,
            order: orderOfBuilding(doc, points, books),
            off: (row) => points.state[row] !== STATE.used || doc.intakes[points.intake[row]].purpose === 'control',
            group: (row) => points.intake[row],
          },
          doc.codeList,
          memory.shapes,
        ),
      ),
    ));
  }

  get linework(): Linework {
    const { doc, memory, points, coded } = this;
    const key = ['lines', memory.id(coded), this.inPlan, this.codes, hashOnce(doc.handLines)];
    return (this.lineworkKept ??= memory.once('lines', hashValue(key), () => layHandLines(doc, points, coded)));
  }

  private recipe(id: string): SurfaceRecipe {
    return this.doc.surfaces.find((s) => s.id === id)!;
  }

  surface(id: string): BuiltSurface {
    const { doc, memory, points, linework } = this;
    const settings = surfaceSettings(doc, id);
    const key = hashValue(['surface', memory.id(points), memory.id(linework), settings]);
    return memory.once('surface', key, () => {
      const recipe = this.recipe(id);
      // A point without an elevation is another one than with it; how large it is moves no triangle.
      const there = memory.keep('with elevation', [isThere(points.z)], () => ({}));
      const from = hashValue(['layout', memory.id(linework), this.inPlan, memory.id(there), settings]);
      const layout = memory.once('layout', from, () => layOutSurface(doc, recipe, points, linework.lines));
      const built = buildSurface(doc, recipe, points, linework.lines, memory.keepPlan, layout);
      return { ...built, surface: memory.same(`surface ${id}`, built.surface, sameSurface) };
    });
  }

  contours(id: string): DrawnContours {
    const { surface } = this.surface(id);
    const settings = contourSettings(this.doc, this.recipe(id));
    return this.memory.once('contours', hashValue([this.memory.id(surface), settings]), () =>
      drawContours(settings, (how) => this.memory.contours(id, surface, how)),
    );
  }

  comparison(id: string): ComparisonResult {
    const c = this.doc.comparisons.find((one) => one.id === id)!;
    const named = [c.surface, ...('surface' in c.against ? [c.against.surface] : [])];
    const compared = this.doc.surfaces.filter((s) => named.includes(s.id)).map((s) => this.surface(s.id));
    const on = compared.map((s) => [s.id, this.memory.id(s.surface), s.name]);
    return this.memory.once('comparison', hashValue([c.id, on, c.surface, c.against, c.within]), () => compare(c, compared)); // prettier-ignore
  }

  queries(): Query[] {
    const { doc, memory, points, linework, coded } = this;
    const asked = ['line queries', memory.id(linework), this.inPlan, memory.id(points.light), this.codes, hashOnce(doc.accepted), doc.settings.unit, hashOnce(doc.handLines), this.files]; // prettier-ignore
    const inTheirPlaces = memory.once('line queries', hashValue(asked), () => [
      ...queryAttributes(doc, points, memory.keep),
      ...queryCourses(doc, points, linework),
      ...queryMissingCodes(doc, points, linework),
    ]);
    return [
      ...this.made.queries,
      ...querySlips(doc, points, linework, memory.keep),
      ...queryHandLines(doc, points, coded),
      ...queryPairs(doc, points, memory.keep),
      ...inTheirPlaces,
      ...queryRecipes(doc, doc.surfaces.map((s) => this.surface(s.id))), // prettier-ignore
      ...this.groundQueries(),
    ];
  }

  private groundQueries(): Query[] {
    const { doc, memory, points, linework } = this;
    const { books, reduction, doubted, explains } = this.made;
    const ground = this.surface(groundOf(doc).id);
    const key = ['gq', this.pointsKey, memory.id(linework), memory.id(ground.surface), ground.id, ground.name, doc.settings.spike]; // prettier-ignore
    return memory.once('ground-queries', hashValue(key), () => {
      const runs = queryHeightRuns(doc, points, linework, ground, books, reduction, doubted, memory.keep);
      const heightsOf = (row: number, off: number): Remedy[] => shotHeightRemedies(doc, points, row, off, books);
      const setups = { setups: doubted, explains };
      const twice = queryPlacesTwice(doc, points, books, reduction, runs.rows, setups, memory.keep);
      return [
        ...runs.queries,
        ...twice,
        ...queryGround(doc, points, linework, ground, heightsOf, runs.rows, memory.keep),
      ];
    });
  }

  /** Everything. */
  all(): ChainResult {
    const { reduction, network, outliers, traverses } = this.made;
    const ids = this.doc.surfaces.map((s) => s.id);
    return {
      reduction,
      network,
      outliers,
      traverses,
      points: this.points,
      linework: this.linework,
      surfaces: ids.map((id) => this.surface(id)),
      contours: new Map(ids.map((id) => [id, this.contours(id)])),
      comparisons: this.doc.comparisons.map((c) => this.comparison(c.id)),
      queries: this.queries(),
    };
  }
}

/** Runs the whole chain for a document: points, lines, surfaces, contours, comparisons, and the queries of all. */
export const runChain = (doc: ProjectDocument, readOf: ReadOf, memory = new ChainMemory()): ChainResult =>
  new ChainRun(doc, readOf, memory).all();
