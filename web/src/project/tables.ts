import Flatbush from 'flatbush';
import { transfer } from 'comlink';
import { GROUND } from '#core/project';
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
import type { Settled, Summary } from '#contract';
import { api } from '../api.ts';
import { bookColumnsOf, type BookColumns } from '../work/book-columns.ts';
import { pointColumns, type PointColumns } from '../work/columns.ts';
import { sheetWork } from '../work/workers.ts';

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
  surfaces: Map<string, Surface>;
  contours: Contour[];
  pieces: Map<string, Float64Array>;
  summary: Summary;
  /** Rows near a place; null while there are no points. */
  pointIndex: Flatbush | null;
  ground: GroundFinder;
  /** Sides of the ground's triangles, each once, as pairs of its vertices. */
  sides: Uint32Array;
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

/** Fetches what the page lacks of a settled revision. */
export async function loadTables(
  project: string,
  { revision, stages }: Settled,
  bookIntakes: readonly string[],
): Promise<Omit<Tables, 'intakes'>> {
  const get = <T>(hash: string, unpack: (block: Uint8Array) => T): Promise<T> =>
    once(hash, async () => unpack(await api.result(project, hash)));
  const surfaces = Object.entries(stages.surfaces);
  const pieces = Object.entries(stages.pieces);
  const [points, reduction, bookList, linework, contours, summary, surfaceList, pieceList] = await Promise.all([
    get(stages.points, pointColumns),
    get(stages.reduction, (block) => reducedOf(unpackReduction(block))),
    Promise.all(
      bookIntakes
        .filter((i) => stages.reads[i])
        .map(async (i) => [i, await get(stages.reads[i], bookColumnsOf)] as const),
    ),
    get(stages.lines, unpackLineColumns),
    get(stages.contours, unpackContours),
    get(stages.summary, (block) => JSON.parse(new TextDecoder().decode(block)) as Summary),
    Promise.all(surfaces.map(([, hash]) => get(hash, unpackSurface))),
    Promise.all(pieces.map(([, hash]) => get(hash, unpackPieces))),
  ]);
  const surfaceMap = new Map(surfaces.map(([name], i) => [name, surfaceList[i]]));
  // By what it is: a store gives names back in an order of its own, and a design may come first.
  const ground = surfaceMap.get(GROUND) ?? surfaceList[0];
  const [pointIndex, drawn] = await Promise.all([
    once(`points:${stages.points}`, async () => {
      const [x, y] = [points.x.slice(), points.y.slice()];
      const data = await sheetWork().pointIndex(transfer(x, [x.buffer]), transfer(y, [y.buffer]));
      return data ? Flatbush.from(data) : null;
    }),
    once(`ground:${stages.surfaces[GROUND] ?? surfaces[0][1]}`, async () => {
      const { index, sides } = await sheetWork().surface(ground);
      return { finder: groundFinder(ground, index ? Flatbush.from(index) : null), sides };
    }),
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
    contours,
    summary,
    surfaces: surfaceMap,
    pieces: new Map(pieces.map(([id], i) => [id, pieceList[i]])),
    pointIndex,
    ground: drawn.finder,
    sides: drawn.sides,
  };
}
