import { hashOnce, hashValue } from '#core/kernel';
import { groundOf } from '#core/project';
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
  querySurface,
  shotHeightRemedies,
  type Query,
  type Remedy,
} from '#core/queries';
import {
  codedLinesStage,
  codesKey,
  linesStage,
  planColumns,
  pointsStage,
  reductionStage,
  surfaceStage,
  type BookAt,
  type StageContext,
} from '#core/stages';

type Booked = ReturnType<typeof queryBooks>;
const NO_BOOKS: Booked = { queries: [], doubted: new Set(), explains: () => false };

/** All that is asked about a document and its results. */
export function askAll({ doc, readOf, result, memory }: StageContext): Query[] {
  const { keep, keepEach } = memory;
  const { points, doubts } = result(pointsStage);
  const books = result(reductionStage);
  const linework = result(linesStage);
  const coded = result(codedLinesStage);
  const surfaces = doc.surfaces.map((s) => result(surfaceStage, s.id));
  const booked = books ? queryBooks(doc, points, books, keep) : NO_BOOKS;
  return [
    ...queryBasis(doc, points, doubts, readOf, keep),
    ...booked.queries,
    ...queryPoints(doc, points, doubts, keep),
    ...querySlips(doc, points, linework, keepEach),
    ...queryHandLines(doc, points, coded),
    ...queryPairs(doc, points, keep),
    ...linesInPlan(),
    ...queryRecipes(doc, surfaces, points),
    ...aboutGround(),
  ];

  /** What is asked about lines in plan: no height changes it. */
  function linesInPlan(): Query[] {
    const { accepted, settings, handLines, intakes } = doc;
    const files = intakes.map((i) => [i.id, i.purpose, i.on, i.words ?? null]);
    const settled = [memory.id(linework), codesKey(doc), hashOnce(accepted), settings.unit, hashOnce(handLines), files];
    return keep('line queries', [...settled, points.light, ...planColumns(points)], () => [
      ...queryAttributes(doc, points, keep),
      ...queryCourses(doc, points, linework),
      ...queryMissingCodes(doc, points, linework),
    ]);
  }

  function aboutGround(): Query[] {
    const id = groundOf(doc).id;
    const ground = result(surfaceStage, id);
    const made = [points, linework, ground.surface, ground.account, books ?? NO_BOOKS].map((o) => memory.id(o));
    const { accepted, settings, intakes, decisions, basis } = doc;
    const said = [accepted, settings, intakes, decisions, basis, groundOf(doc)].map((part) => hashOnce(part));
    return memory.once('ground queries', hashValue([made, said, codesKey(doc), id, ground.name]), () => {
      const reduction = books?.reduction ?? null;
      const at: ReadonlyMap<string, BookAt> = books?.books ?? new Map<string, BookAt>();
      const { doubted, explains } = booked;
      const runs = queryHeightRuns(doc, points, linework, ground, at, reduction, doubted, keep);
      const heightsOf = (row: number, off: number): Remedy[] => shotHeightRemedies(doc, points, row, off, at);
      const twice = queryPlacesTwice(doc, points, at, reduction, runs.rows, { setups: doubted, explains }, keep);
      const asked = [
        ...runs.queries,
        ...twice,
        ...queryGround(doc, points, linework, ground, heightsOf, runs.rows, keepEach),
      ];
      const known = new Set([...runs.rows, ...asked.flatMap((q) => q.rows)]);
      return [...asked, ...querySurface(doc, points, ground, known)];
    });
  }
}
