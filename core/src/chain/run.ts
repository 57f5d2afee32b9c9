import { hashValue } from '#core/kernel';
import { buildLines, type Linework } from '#core/linework';
import { measureSurface, type Contour, type SurfaceMeasures } from '#core/terrain';
import type { Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';
import type { Reduction } from '#core/reduction';
import { CONTROL, GROUND, type Basis, type Intake, type ProjectDocument } from '#core/project';
import {
  compare,
  type ComparisonResult,
  makeGround,
  surfaceNames,
  type Ground,
  reduceBooks,
  type BookAt,
  orderOfBuilding,
  layHandLines,
  isSurvey,
  makePoints,
  STATE,
  type PointTable,
  type ReadOf,
} from '#core/stages';
import { ChainMemory } from './memory.ts';
import {
  queryBasis,
  queryBooks,
  queryGround,
  querySlips,
  queryHandLines,
  queryAttributes,
  queryPairs,
  queryCourses,
  queryMissingCodes,
  shotHeightRemedies,
  queryPlacesTwice,
  queryHeightRuns,
  queryPoints,
  type Query,
  type Remedy,
} from '#core/queries';
import { planKey, readingPlan } from '#core/sources';

/** Goes into every key: results of another version of the computation are not taken for this one's. */
export const CHAIN_VERSION = 14;

export interface ChainResult {
  /** How books became points; null where there are none. */
  reduction: Reduction | null;
  network: Adjustment | null;
  outliers: NetworkOutlier[];
  traverses: Traverse[];
  points: PointTable;
  linework: Linework;
  grounds: Ground[];
  contours: Contour[];
  contourProblem: string | null;
  comparisons: ComparisonResult[];
  queries: Query[];
}

/** The key under which each stage's result is kept: a hash of the inputs and settings that it depends on. */
export interface ChainKeys {
  reads: Record<string, string>;
  /** What codes mean, and in whose words. */
  codes: string;
  points: string;
  lines: string;
  grounds: Record<string, string>;
  contours: string;
  comparisons: Record<string, string>;
  /** Of the whole: queries, summary. */
  all: string;
}

export const readKey = (basis: Basis, intake: Intake): string =>
  hashValue(['read', CHAIN_VERSION, intake.sha256, planKey(readingPlan(basis, intake))]);

export function chainKeys(doc: ProjectDocument): ChainKeys {
  const s = doc.settings;
  const reads = Object.fromEntries(doc.intakes.map((i) => [i.id, readKey(doc.basis, i)]));
  const points = hashValue([
    'points',
    CHAIN_VERSION,
    doc.intakes.map((i) => [
      i.id,
      reads[i.id],
      i.target,
      i.form ?? null,
      i.on,
      i.prefix ?? null,
      i.light ?? false,
      i.numbers,
      i.placement?.matrix ?? null,
      i.system ?? null,
      i.heights ?? null,
      i.claims ?? null,
      i.given ?? null,
    ]),
    doc.edits,
    doc.decisions,
    doc.register,
    doc.accepted,
    doc.basis,
    s.checkPlan,
    s.checkHeight,
    s.angleSpread,
    s.refraction,
    s.backsightRule,
    [s.gnssPlan, s.gnssHeight, s.gnssPdop, s.gnssSatellites, s.gnssTilt, s.gnssMean],
    [s.levelClosure, s.traverseRatio, s.resectionScale, s.networkDatum, s.traverse],
    [s.centring, s.distanceParts, s.orientationWeights, s.typedOrGnss, s.levelDeviation, s.earth, s.seaLevel, s.flatDistances], // prettier-ignore
    s.network,
  ]);
  const codes = hashValue(['codes', doc.codeList, doc.intakes.map((i) => i.words ?? null)]);
  const lines = hashValue(['lines', points, codes, s.lineOrder, doc.handLines]);
  const grounds = Object.fromEntries(
    surfaceNames(doc).map((name) => [
      name,
      hashValue([
        'ground',
        name,
        lines,
        s.coincidence,
        s.longestSide,
        s.sagitta,
        doc.linesOutOfGround,
        name === GROUND ? doc.boundary : null,
      ]),
    ]),
  );
  const contourKey = hashValue(['contours', grounds[GROUND], s.contourInterval, s.indexEvery]);
  const comparisons = Object.fromEntries(
    doc.comparisons.map((c) => [
      c.id,
      hashValue([
        'comparison',
        grounds[c.ground],
        c.against,
        'surface' in c.against ? grounds[c.against.surface] : null,
        c.within,
      ]),
    ]),
  );
  const all = hashValue([
    'all',
    lines,
    grounds,
    contourKey,
    comparisons,
    doc.settings,
    doc.accepted,
    doc.intakes,
    doc.comparisons,
  ]);
  return { reads, codes, points, lines, grounds, contours: contourKey, comparisons, all };
}

/** What lines hang on besides their points: codes and words, and which files are control. */
const groupsOf = (doc: ProjectDocument, { codes }: ChainKeys): string =>
  JSON.stringify([codes, doc.settings.lineOrder, doc.intakes.map((i) => [i.id, i.target])]);

/** Runs the whole chain for a document: points, lines, surfaces, contours, comparisons, and the queries of all. */
export function runChain(doc: ProjectDocument, readOf: ReadOf, memory = new ChainMemory()): ChainResult {
  const keys = chainKeys(doc);
  const {
    points,
    queries: pointQueries,
    reduction,
    network,
    outliers,
    traverses,
    books,
    doubted,
    explains,
  } = memory.once('points', hashValue([keys.points, keys.codes, doc.settings.unit]), () => {
    const books = reduceBooks(doc, readOf, memory.reduction);
    const table = makePoints(doc, readOf, books?.reads);
    const basis = queryBasis(doc, table, readOf, memory.keep);
    const booked = books ? queryBooks(doc, table, books, memory.keep) : null;
    return {
      points: table,
      queries: [...basis, ...(booked?.queries ?? []), ...queryPoints(doc, table, memory.keep)],
      doubted: booked?.doubted ?? new Set<number>(),
      explains: booked?.explains ?? (() => false),
      reduction: books?.reduction ?? null,
      network: books?.network ?? null,
      outliers: books?.outliers ?? [],
      traverses: books?.traverses ?? [],
      books: books?.books ?? new Map<string, BookAt>(),
    };
  });
  const coded = memory.once('lines by codes', `coded ${keys.lines}`, () =>
    memory.lines(points, groupsOf(doc, keys), () =>
      buildLines(
        {
          x: points.x,
          y: points.y,
          number: points.number,
          description: points.description,
          words: (intake) => doc.intakes[intake].words,
          order: orderOfBuilding(doc, points, books),
          off: (row) => points.state[row] !== STATE.used || doc.intakes[points.intake[row]].target === CONTROL,
          group: (row) => points.intake[row],
        },
        doc.codeList,
        memory.shapes,
      ),
    ),
  );
  const linework = memory.once('lines', keys.lines, () => layHandLines(doc, points, coded));
  const grounds = surfaceNames(doc).map((name) =>
    memory.once('ground', keys.grounds[name], () => makeGround(doc, name, points, linework.lines, memory.keepPlan)),
  );
  const ground = grounds[0];
  let contourProblem: string | null = null;
  let lines: Contour[] = [];
  try {
    lines = memory.once('contours', keys.contours, () =>
      memory.contours(ground.surface, {
        interval: doc.settings.contourInterval,
        indexEvery: doc.settings.indexEvery,
      }),
    );
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    contourProblem = error.message;
  }
  const comparisons = doc.comparisons.map((c) =>
    memory.once('comparison', `${keys.comparisons[c.id]}:${c.id}`, () => compare(c, grounds)),
  );
  const queries = [
    ...pointQueries,
    ...querySlips(doc, points, linework, memory.keep),
    ...queryHandLines(doc, points, coded),
    ...queryPairs(doc, points, memory.keep),
    ...queryAttributes(doc, points, memory.keep),
    ...queryCourses(doc, points, linework),
    ...queryMissingCodes(doc, points, linework),
    ...memory.once(
      'ground-queries',
      hashValue(['gq', keys.points, keys.grounds[GROUND], doc.settings.spike, doc.settings.unit, doc.accepted]),
      () => {
        const runs = queryHeightRuns(doc, points, linework, ground, books, reduction, doubted, memory.keep);
        const heightsOf = (row: number, off: number): Remedy[] => shotHeightRemedies(doc, points, row, off, books);
        const twice = queryPlacesTwice(
          doc,
          points,
          books,
          reduction,
          runs.rows,
          { setups: doubted, explains },
          memory.keep,
        );
        return [...runs.queries, ...twice, ...queryGround(doc, points, linework, ground, heightsOf, runs.rows)];
      },
    ),
  ];
  return {
    reduction,
    network,
    outliers,
    traverses,
    points,
    linework,
    grounds,
    contours: lines,
    contourProblem,
    comparisons,
    queries,
  };
}

/** Figures of a revision for the run and the project list: small, whatever the size of the survey. */
export interface ChainSummary {
  control: number;
  /** Setups of books, and those that wait or could not be reduced. */
  setups: { all: number; waiting: number; failed: number };
  points: number;
  waiting: number;
  lines: number;
  linePoints: number;
  surfaces: (SurfaceMeasures & { name: string; account: Ground['account'] })[];
  contours: number;
  contourProblem: string | null;
  comparisons: ({ id: string } & (
    | { ok: true; cut: number; fill: number; cutArea: number; fillArea: number; area: number }
    | { ok: false; reason: string }
  ))[];
  queries: Query[];
}

export function summarise(doc: ProjectDocument, result: ChainResult): ChainSummary {
  let control = 0;
  let waiting = 0;
  let used = 0;
  for (let row = 0; row < result.points.x.length; row++) {
    if (doc.intakes[result.points.intake[row]].target === CONTROL) control++;
    else if (result.points.state[row] === STATE.waits) waiting++;
    else if (result.points.state[row] === STATE.used && isSurvey(doc, result.points, row)) used++;
  }
  return {
    control,
    setups: {
      all: result.reduction?.setups.length ?? 0,
      waiting: result.reduction?.setups.filter((s) => s.waits).length ?? 0,
      failed: result.reduction?.setups.filter((s) => s.failed).length ?? 0,
    },
    points: used,
    waiting,
    lines: result.linework.lines.length,
    linePoints: new Set(result.linework.lines.flatMap((l) => l.rows.filter((r) => r >= 0))).size,
    surfaces: result.grounds.map((g) => ({ name: g.name, ...measureSurface(g.surface), account: g.account })),
    contours: result.contours.length,
    contourProblem: result.contourProblem,
    comparisons: result.comparisons.map((c) => {
      if (!c.ok) return c;
      const { cut, fill, cutArea, fillArea, area } = c.volume;
      return { id: c.id, ok: true as const, cut, fill, cutArea, fillArea, area };
    }),
    queries: result.queries,
  };
}
