import Flatbush from 'flatbush';
import { readBookText } from '#core/book';
import { runChain } from '#core/chain';
import { newDocument, plainIntake, type Intake, type ProjectDocument } from '#core/project';
import { packRead } from '#core/sources';
import { packLines, packPoints, packReduction, unpackLineColumns, unpackReduction, type ReadOf } from '#core/stages';
import { failedRead, type ReadPoints } from '#core/exchange';
import { groundFinder } from '#core/terrain';
import { reducedOf, type Tables } from '../src/project-state/tables.ts';
import { bookColumnsOf } from '../src/work/book-columns.ts';
import { pointColumns } from '../src/work/columns.ts';

// What a page holds of a project, made by the chain itself without a server between.

export interface Project {
  doc: ProjectDocument;
  readOf: ReadOf;
  tables: Tables;
}

type Row = [number: string, x: number, y: number, z: number, code?: string];

function pointsRead(rows: readonly Row[]): ReadPoints {
  return {
    ...failedRead(''),
    failure: undefined,
    rows: rows.length,
    number: rows.map((r) => r[0]),
    x: Float64Array.from(rows, (r) => r[1]),
    y: Float64Array.from(rows, (r) => r[2]),
    z: Float64Array.from(rows, (r) => r[3]),
    description: rows.map((r) => r[4] ?? ''),
    row: Uint32Array.from(rows, (_, i) => i + 1),
  };
}

/** A project of coded points, of control, and of a book where there is one. */
export function projectOf(given: { points?: Row[]; control?: Row[]; book?: string[] }): Project {
  const reads = new Map<string, ReadPoints>();
  const intakes: Intake[] = [];
  const put = (id: string, purpose: Intake['purpose'], form: Intake['form'], read: ReadPoints): void => {
    intakes.push(plainIntake(id, { purpose, form }));
    reads.set(id, read);
  };
  if (given.control) put('control', 'control', 'points', pointsRead(given.control));
  if (given.points) put('day', 'survey', 'points', pointsRead(given.points));
  if (given.book) {
    const book = readBookText(['book 1', 'unit m', 'angle deg', ...given.book, 'end'].join('\n'))!;
    put('book', 'survey', 'book', { ...failedRead(''), failure: undefined, rows: book.rows, book });
  }
  const doc = { ...newDocument(), intakes };
  const readOf: ReadOf = (intake) => reads.get(intake.id)!;
  return { doc, readOf, tables: tablesOf(doc, readOf) };
}

export function tablesOf(doc: ProjectDocument, readOf: ReadOf): Tables {
  const result = runChain(doc, readOf);
  const points = pointColumns(packPoints(result.points));
  const index = points.x.length ? new Flatbush(points.x.length) : null;
  points.x.forEach((x, i) => index?.add(x, points.y[i]));
  index?.finish();
  const surfaces = new Map(result.surfaces.map((g) => [g.id, g.surface]));
  const tables: Partial<Tables> = {
    revision: 1,
    intakes: doc.intakes.map((i) => i.id),
    stages: { points: '', reduction: '', lines: '', summary: '', reads: {}, surfaces: {}, contours: {}, pieces: {} },
    points,
    reduction: reducedOf(unpackReduction(packReduction(result))),
    books: new Map(
      doc.intakes.filter((i) => i.form === 'book').map((i) => [i.id, bookColumnsOf(packRead(readOf(i)))!]),
    ),
    linework: unpackLineColumns(packLines(result.linework)),
    surfaces,
    underlays: new Map(doc.intakes.flatMap((i) => (i.on && readOf(i).underlay ? [[i.id, readOf(i).underlay!] as const] : []))), // prettier-ignore
    contours: new Map([...result.contours].map(([id, { list }]) => [id, list])),
    pieces: new Map(),
    summary: result.summary,
    pointIndex: index,
    groundId: 'ground',
    ground: groundFinder(surfaces.get('ground')!, null),
    finders: new Map([...surfaces].map(([id, s]) => [id, groundFinder(s)] as const)),
  };
  return tables as Tables;
}
