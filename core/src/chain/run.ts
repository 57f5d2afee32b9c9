import { hashValue, isThere } from '#core/kernel';
import { buildLines, type Linework } from '#core/linework';
import { measureSurface, type SurfaceMeasures } from '#core/terrain';
import type { Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';
import type { Reduction } from '#core/reduction';
import { groundOf, type Basis, type Intake, type ProjectDocument, type SurfaceRole } from '#core/project';
import {
  compare,
  type ComparisonResult,
  buildSurface,
  layOutSurface,
  contourSettings,
  drawContours,
  type BuiltSurface,
  type DrawnContours,
  type SurfaceAccount,
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
import { ChainMemory, samePoints, sameSurface } from './memory.ts';
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
  queryRecipes,
  shotHeightRemedies,
  queryPlacesTwice,
  queryHeightRuns,
  queryPoints,
  type Query,
  type Remedy,
} from '#core/queries';
import { planKey, readingPlan } from '#core/sources';

/** Goes into every key: results of another version of the computation are not taken for this one's. */
export const CHAIN_VERSION = 15;

export interface ChainResult {
  /** How books became points; null where there are none. */
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
}

/** The key under which each stage's result is kept: a hash of the inputs and settings that it depends on. */
export interface ChainKeys {
  reads: Record<string, string>;
  /** What codes mean, and in whose words. */
  codes: string;
  points: string;
  lines: string;
  surfaces: Record<string, string>;
  contours: Record<string, string>;
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
      i.purpose,
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
  const surfaces = Object.fromEntries(
    doc.surfaces.map((recipe) => [
      recipe.id,
      hashValue(['surface', lines, recipe, s.coincidence, s.longestSide, s.sagitta]),
    ]),
  );
  const contours = Object.fromEntries(
    doc.surfaces.map((recipe) => [
      recipe.id,
      hashValue(['contours', surfaces[recipe.id], contourSettings(doc, recipe)]),
    ]),
  );
  const comparisons = Object.fromEntries(
    doc.comparisons.map((c) => [
      c.id,
      hashValue(['comparison', surfaces[c.surface], c.against, 'surface' in c.against ? surfaces[c.against.surface] : null, c.within]), // prettier-ignore
    ]),
  );
  const all = hashValue([
    'all',
    lines,
    surfaces,
    contours,
    comparisons,
    doc.settings,
    doc.accepted,
    doc.intakes,
    doc.comparisons,
  ]);
  return { reads, codes, points, lines, surfaces, contours, comparisons, all };
}

/** What lines hang on besides their points: codes and words, and which files are control. */
const groupsOf = (doc: ProjectDocument, { codes }: ChainKeys): string =>
  JSON.stringify([codes, doc.settings.lineOrder, doc.intakes.map((i) => [i.id, i.purpose])]);

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
    // Which points wait is only known behind the queries.
    const table = memory.columns('points', makePoints(doc, readOf, books?.reads), 'state');
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
          off: (row) => points.state[row] !== STATE.used || doc.intakes[points.intake[row]].purpose === 'control',
          group: (row) => points.intake[row],
        },
        doc.codeList,
        memory.shapes,
      ),
    ),
  );
  // What hangs on places in plan, codes and numbers; a point without an elevation is another one than with it.
  const plan = [points.x, points.y, points.state, points.intake, points.fileRow, points.number, points.description];
  const inPlan = plan.map((column) => memory.id(column));
  const linework = memory.once('lines', hashValue(['lines', memory.id(coded), inPlan, keys.codes, doc.handLines]), () =>
    layHandLines(doc, points, coded),
  );
  const there = memory.id(memory.keep('with elevation', [isThere(points.z)], () => ({})));
  const { coincidence, longestSide, sagitta } = doc.settings;
  const files = doc.intakes.map((i) => [i.id, i.purpose, i.on, i.words ?? null]);
  const made = [memory.id(points), memory.id(linework), coincidence, longestSide, sagitta, keys.codes, files];
  const surfaces = doc.surfaces.map((recipe) =>
    memory.once('surface', hashValue([made, recipe]), () => {
      const from = [memory.id(linework), inPlan, there, coincidence, longestSide, sagitta, keys.codes, files, recipe];
      const layout = memory.once('layout', hashValue(from), () => layOutSurface(doc, recipe, points, linework.lines));
      const built = buildSurface(doc, recipe, points, linework.lines, memory.keepPlan, layout);
      return { ...built, surface: memory.same(`surface ${recipe.id}`, built.surface, sameSurface) };
    }),
  );
  const contours = new Map(
    doc.surfaces.map((recipe, i) => [
      recipe.id,
      memory.once('contours', hashValue([memory.id(surfaces[i].surface), contourSettings(doc, recipe)]), () =>
        drawContours(contourSettings(doc, recipe), (how) => memory.contours(recipe.id, surfaces[i].surface, how)),
      ),
    ]),
  );
  const { id: groundId } = groundOf(doc);
  const ground = surfaces.find((g) => g.id === groundId)!;
  const comparisons = doc.comparisons.map((c) => {
    const of = (id: string) => surfaces.find((s) => s.id === id);
    const compared = [of(c.surface), 'surface' in c.against ? of(c.against.surface) : undefined];
    const on = compared.map((s) => [memory.id(s?.surface), s?.name ?? null]);
    return memory.once('comparison', hashValue([c.id, on, c.against, c.within]), () => compare(c, surfaces));
  });
  const asked = [memory.id(linework), inPlan, keys.codes, doc.accepted, doc.settings.unit, doc.handLines, files];
  const inTheirPlaces = memory.once('line queries', hashValue(['line queries', asked, memory.id(points.light)]), () => [
    ...queryAttributes(doc, points, memory.keep),
    ...queryCourses(doc, points, linework),
    ...queryMissingCodes(doc, points, linework),
  ]);
  const queries = [
    ...pointQueries,
    ...querySlips(doc, points, linework, memory.keep),
    ...queryHandLines(doc, points, coded),
    ...queryPairs(doc, points, memory.keep),
    ...inTheirPlaces,
    ...queryRecipes(doc, surfaces),
    ...memory.once(
      'ground-queries',
      hashValue(['gq', keys.points, keys.surfaces[groundId], doc.settings.spike, doc.settings.unit, doc.accepted]),
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
    surfaces,
    contours,
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
  surfaces: (SurfaceMeasures & {
    id: string;
    name: string;
    role: SurfaceRole;
    account: SurfaceAccount;
    contours: number;
    contourProblem: string | null;
  })[];
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
    if (doc.intakes[result.points.intake[row]].purpose === 'control') control++;
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
    surfaces: result.surfaces.map(({ id, name, role, surface, account }) => {
      const contours = result.contours.get(id);
      return {
        id,
        name,
        role,
        ...measureSurface(surface),
        account,
        contours: contours?.list.length ?? 0,
        contourProblem: contours?.problem ?? null,
      };
    }),
    comparisons: result.comparisons.map((c) => {
      if (!c.ok) return c;
      const { cut, fill, cutArea, fillArea, area } = c.volume;
      return { id: c.id, ok: true as const, cut, fill, cutArea, fillArea, area };
    }),
    queries: result.queries,
  };
}
