import { recordsOfSetup, type BookRecord } from '#core/book';
import type { ChainSummary } from '#core/chain';
import type { ProjectDocument } from '#core/project';
import {
  bookReport,
  reportCsv,
  reportPoints,
  setupFacts,
  surfaceFitness,
  surfaceReport,
  type Report,
  type ReportLevel,
  type SetupFacts,
  type ToldChange,
} from '#core/report';
import { unpackRead } from '#core/sources';
import { editedRecords, unpackLineColumns, unpackPoints, unpackReduction, unpackSurface } from '#core/stages';
import { pagedPdf, type PaperMade } from './paged.ts';

// Reports are put together and laid out on a thread of their own: a long book gives thousands of sheets.

/** A report on paper: what stands in the head of its sheets, and whether letters that no font has may be boxes. */
export interface PaperTask {
  report: Report;
  mark: string;
  boxes: boolean;
}

export const makePaper = ({ report, mark, boxes }: PaperTask): Promise<PaperMade> => pagedPdf(report, mark, boxes);

export interface ReportTask {
  project: { name: string; revision: number };
  document: ProjectDocument;
  level: ReportLevel;
  /** The history, newest first. */
  changes: readonly ToldChange[];
  form: 'pdf' | 'csv';
  mark: string;
  boxes: boolean;
  points: Uint8Array;
  lines: Uint8Array;
  reduction: Uint8Array;
  summary: Uint8Array;
  /** Packed reads of the books by intake. */
  reads: Record<string, Uint8Array>;
}

/** The report of the books as a file; null when the project has none. */
export async function makeReport(task: ReportTask): Promise<PaperMade | null> {
  const { document, project, level } = task;
  const reduction = unpackReduction(task.reduction);
  if (reduction.setups.length === 0 && reduction.row.length === 0) return null;
  const points = unpackPoints(task.points);
  const summary = JSON.parse(new TextDecoder().decode(task.summary)) as ChainSummary;
  const text = { number: (row: number) => points.number[row], code: (row: number) => points.description[row] };
  const books = new Map<string, BookRecord[]>();
  const setups = new Map<string, ReadonlyMap<number, SetupFacts>>();
  for (const [id, block] of Object.entries(task.reads)) {
    const { book } = unpackRead(block);
    if (!book) continue;
    const records = editedRecords(document, id, book.records);
    books.set(id, records);
    setups.set(
      id,
      setupFacts(records.length, (i) => records[i]),
    );
  }
  const report = bookReport(
    document,
    reduction,
    reportPoints(document, points, reduction, text, unpackLineColumns(task.lines).lines),
    summary.queries,
    project,
    level,
    {
      readingsOf: (book, setup) => recordsOfSetup(books.get(book) ?? [], setup),
      factsOf: ({ book, row }) => setups.get(book)?.get(row),
      changes: task.changes,
      files: summary.files,
    },
  );
  if (task.form === 'pdf') return pagedPdf(report, task.mark, task.boxes);
  const angleUnit = document.settings.angle === 'gon' ? 'gon' : 'deg';
  return { bytes: new TextEncoder().encode(reportCsv(report, angleUnit)), lacking: null };
}

export interface SurfaceReportTask {
  document: ProjectDocument;
  /** The surface, by its id. */
  surface: string;
  mark: string;
  boxes: boolean;
  points: Uint8Array;
  summary: Uint8Array;
  triangles: Uint8Array;
}

/** Whether a surface is fit to use, on paper. */
export function makeSurfaceReport(task: SurfaceReportTask): Promise<PaperMade> {
  const points = unpackPoints(task.points);
  const { surfaces, queries } = JSON.parse(new TextDecoder().decode(task.summary)) as ChainSummary;
  const built = surfaces.find((s) => s.id === task.surface)!;
  const places = { ...points, number: (row: number) => points.number[row] };
  const fitness = surfaceFitness(unpackSurface(task.triangles));
  return pagedPdf(surfaceReport(task.document, built, fitness, queries, places), task.mark, task.boxes);
}
