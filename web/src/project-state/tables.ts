import Flatbush from 'flatbush';
import { transfer } from 'comlink';
import {
  unpackContours,
  unpackLineColumns,
  unpackPieces,
  unpackReduction,
  unpackSurface,
  type LineColumns,
  type ReductionColumns,
  RecordRows,
} from '#core/stages';
import type { SetupResult } from '#core/reduction';
import { groundFinder, type Contour, type GroundFinder, type Surface } from '#core/terrain';
import type { Underlay } from '#core/exchange';
import { unpackRead } from '#core/sources';
import type { Settled, Summary } from '#contract';
import { api } from '../frame/api.ts';
import { bookColumnsOf, type BookColumns } from '../work/book-columns.ts';
import { pointColumns, type PointColumns } from '../work/columns.ts';
import { sheetWork } from '../work/workers.ts';
import type { PlotSource } from '../work/plot.worker.ts';

/** Everything computed of one revision, as the page shows it. */
export interface Tables {
  revision: number;
  /** Intakes at this revision, in the order that points, books and edits speak of them. */
  intakes: string[];
  stages: Settled['stages'];
  points: PointColumns;
  /** How books became points, and the books' records by intake. */
  reduction: Reduced;
  books: Map<string, BookColumns>;
  linework: LineColumns;
  /** What of files lies under the drawing, as read, by intake. */
  underlays: ReadonlyMap<string, Underlay>;
  /** Surfaces and their contours, by the surface's id. */
  surfaces: Map<string, Surface>;
  contours: Map<string, Contour[]>;
  pieces: Map<string, Float64Array>;
  summary: Summary;
  /** Rows near a place; null while there are no points. */
  pointIndex: Flatbush | null;
  /** The surface that is meant where none is named, by its id. */
  groundId: string;
  ground: GroundFinder;
  /** What answers for each surface, by its id. */
  finders: ReadonlyMap<string, GroundFinder>;
  /** Sides of each surface's triangles, each once, as pairs of its vertices. */
  sides: Map<string, Uint32Array>;
}

/** A reduction with its points found by book and row. */
export interface Reduced extends ReductionColumns {
  setupAt: Map<string, SetupResult>;
  pointAt: RecordRows;
}

export function reducedOf(columns: ReductionColumns): Reduced {
  const pointAt = new RecordRows(columns.row, (i) => columns.books[columns.book[i]]);
  return { ...columns, pointAt, setupAt: new Map(columns.setups.map((s) => [`${s.book}:${s.row}`, s])) };
}

/** What was fetched before, by content hash: the same bytes are the same thing. */
const kept = new Map<string, Promise<unknown>>();
const MOST_KEPT = 60;

function once<T>(hash: string, load: () => Promise<T>): Promise<T> {
  let found = kept.get(hash) as Promise<T> | undefined;
  if (!found) {
    found = load();
    found.catch(() => kept.delete(hash));
  }
  kept.delete(hash);
  kept.set(hash, found);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return found;
}

/** Where what is worked out beside the page comes from: points, lines, and the contours of one surface, the ground unless said. */
export function plotSource(
  { stages, groundId }: Tables,
  project: string,
  surface = groundId,
  tinted = false,
): PlotSource {
  const { points, lines, contours } = stages;
  return { project, points, lines, contours: contours[surface] ?? contours[groundId], surface: tinted ? stages.surfaces[surface] : undefined }; // prettier-ignore
}

/** Fetches what the page lacks of a settled revision. */
export async function loadTables(
  project: string,
  { revision, stages }: Settled,
  bookIntakes: readonly string[],
  underIntakes: readonly string[],
): Promise<Omit<Tables, 'intakes'>> {
  const get = <T>(hash: string, unpack: (block: Uint8Array) => T): Promise<T> =>
    once(hash, async () => unpack(await api.result(project, hash)));
  const surfaces = Object.entries(stages.surfaces);
  const pieces = Object.entries(stages.pieces);
  const contourLists = Object.entries(stages.contours);
  const [points, reduction, bookList, underlays, linework, contours, summary, surfaceList, pieceList] =
    await Promise.all([
      get(stages.points, pointColumns),
      get(stages.reduction, (block) => reducedOf(unpackReduction(block))),
      Promise.all(
        bookIntakes
          .filter((i) => stages.reads[i])
          .map(async (i) => [i, await get(stages.reads[i], bookColumnsOf)] as const),
      ),
      Promise.all(
        underIntakes
        .filter((i) => stages.reads[i])
        .map(async (i) => [i, await once(`underlay:${stages.reads[i]}`, async () => unpackRead(await api.result(project, stages.reads[i])).underlay)] as const), // prettier-ignore
      ),
      get(stages.lines, unpackLineColumns),
      Promise.all(contourLists.map(async ([id, hash]) => [id, await get(hash, unpackContours)] as const)),
      get(stages.summary, (block) => JSON.parse(new TextDecoder().decode(block)) as Summary),
      Promise.all(surfaces.map(([, hash]) => get(hash, unpackSurface))),
      Promise.all(pieces.map(([, hash]) => get(hash, unpackPieces))),
    ]);
  const surfaceMap = new Map(surfaces.map(([name], i) => [name, surfaceList[i]]));
  // By what it is for: a store gives names back in an order of its own, and a design may come first.
  const groundId = (summary.surfaces.find((s) => s.role === 'ground') ?? summary.surfaces[0]).id;
  const [pointIndex, drawn] = await Promise.all([
    once(`points:${stages.points}`, async () => {
      const [x, y] = [points.x.slice(), points.y.slice()];
      const data = await sheetWork().pointIndex(transfer(x, [x.buffer]), transfer(y, [y.buffer]));
      return data ? Flatbush.from(data) : null;
    }),
    Promise.all(
      surfaces.map(([id, hash]) =>
        once(`surface:${hash}`, async () => {
          const surface = surfaceMap.get(id)!;
          const { index, sides } = await sheetWork().surface(surface);
          return { finder: groundFinder(surface, index ? Flatbush.from(index) : null), sides };
        }),
      ),
    ),
  ]);
  // A task of its own for what the page makes of them.
  await new Promise((r) => setTimeout(r));
  return {
    revision,
    stages,
    points,
    reduction,
    books: new Map(bookList.flatMap(([i, b]) => (b ? [[i, b] as const] : []))),
    linework,
    underlays: new Map(underlays.flatMap(([i, u]) => (u ? [[i, u] as const] : []))),
    contours: new Map(contours),
    summary,
    surfaces: surfaceMap,
    pieces: new Map(pieces.map(([id], i) => [id, pieceList[i]])),
    pointIndex,
    groundId,
    ground: drawn[surfaces.findIndex(([id]) => id === groundId)].finder,
    finders: new Map(drawn.map(({ finder }, i) => [surfaces[i][0], finder])),
    sides: new Map(drawn.map(({ sides }, i) => [surfaces[i][0], sides])),
  };
}
