import { PDFDocument, StandardFonts, rgb, type PDFFont, type PDFPage } from 'pdf-lib';
import { type BookRecord, recordsOfSetup } from '#core/book';
import type { ChainSummary } from '#core/chain';
import type { ProjectDocument } from '#core/project';
import {
  bookReport,
  reportCsv,
  reportPoints,
  type BookReport,
  type ReportLevel,
  type ReportRow,
  type ToldChange,
} from '#core/report';
import { unpackRead } from '#core/sources';
import { editedRecords, unpackPoints, unpackReduction } from '#core/stages';
import { printable } from './printed-text.ts';

// The report of the books, put together and drawn on a thread of its own: a long book gives thousands of sheets.

export interface ReportTask {
  project: { name: string; revision: number };
  document: ProjectDocument;
  level: ReportLevel;
  /** The history, newest first. */
  changes: readonly ToldChange[];
  form: 'pdf' | 'csv';
  points: Uint8Array;
  reduction: Uint8Array;
  summary: Uint8Array;
  /** Packed reads of the books by intake; none where readings are not asked for. */
  reads: Record<string, Uint8Array>;
}

/** The report as a file; null when the project has no field book. */
export async function makeReport(task: ReportTask): Promise<Uint8Array | null> {
  const { document, project, level } = task;
  const reduction = unpackReduction(task.reduction);
  if (reduction.setups.length === 0 && reduction.row.length === 0) return null;
  const points = unpackPoints(task.points);
  const summary = JSON.parse(new TextDecoder().decode(task.summary)) as ChainSummary;
  const text = { number: (row: number) => points.number[row], code: (row: number) => points.description[row] };
  const books = new Map<string, BookRecord[]>();
  for (const [id, block] of Object.entries(task.reads)) {
    const { book } = unpackRead(block);
    if (book) books.set(id, editedRecords(document, id, book.records));
  }
  const report = bookReport(
    document,
    reduction,
    reportPoints(document, points, reduction, text),
    summary.queries,
    project,
    level,
    {
      readingsOf: (book, setup) => recordsOfSetup(books.get(book) ?? [], setup),
      changes: task.changes,
      files: summary.files,
    },
  );
  return task.form === 'csv' ? new TextEncoder().encode(reportCsv(report)) : draw(report);
}

const A4: [number, number] = [595.28, 841.89];
const MARGIN = 44;
const INK = rgb(0.106, 0.169, 0.204);
const SLATE = rgb(0.333, 0.396, 0.439);
const POLE = rgb(0.72, 0.208, 0.141);
const STARTS = [0, 70, 190, 275, 352, 423];
/** Columns of numbers: they stand to the right. */
const NUMBERS = new Set([2, 3, 4]);
const WIDTH = A4[0] - 2 * MARGIN;
const LINE = 11;
const APART = new Set<ReportRow['kind']>(['traverse', 'level', 'edit', 'query', 'file']);
/** Where the sentence of a row begins that is no more than a name and a sentence. */
const SENTENCE: Partial<Record<ReportRow['kind'], number>> = { query: 40, file: 150 };

async function draw(report: BookReport): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setTitle(report.title);
  pdf.setCreator('Dunrik');
  const [text, bold, mono] = await Promise.all(
    [StandardFonts.Helvetica, StandardFonts.HelveticaBold, StandardFonts.Courier].map((f) => pdf.embedFont(f)),
  );
  let page: PDFPage = pdf.addPage(A4);
  let y = A4[1] - MARGIN;
  /** Writes words in as many lines as they need, nothing cut; gives how many. */
  const put: Put = (font, size, x, words, width, colour = INK) => {
    const lines = wrapped(printable(words), font, size, width);
    lines.forEach((line, i) => page.drawText(line, { x: MARGIN + x, y: y - i * LINE, size, font, color: colour }));
    return lines.length;
  };
  const room = (lines: number): void => {
    if (y - lines * 12 > MARGIN + 16) return;
    page = pdf.addPage(A4);
    y = A4[1] - MARGIN;
  };
  put(bold, 15, 0, report.title, WIDTH);
  y -= 17;
  for (const line of report.about) {
    put(text, 9, 0, line, WIDTH, SLATE);
    y -= 12;
  }
  y -= 6;
  let before: ReportRow['kind'] | null = null;
  for (const row of report.rows) {
    // What follows the setups stands apart from them, and the queries from that.
    if (before && row.kind !== before && APART.has(row.kind)) y -= 6;
    before = row.kind;
    const sentence = SENTENCE[row.kind];
    if (sentence !== undefined) {
      const [name, words] = row.cells;
      const lines = (t: string, width: number): number => wrapped(printable(t), text, 8.5, width).length;
      room(Math.max(lines(name, sentence - 4), lines(words, WIDTH - sentence)));
      const colour = row.marked && row.kind === 'query' ? POLE : row.kind === 'query' ? SLATE : INK;
      const head = put(bold, 8.5, 0, name, sentence - 4, colour);
      y -= LINE * Math.max(head, put(text, 8.5, sentence, words, WIDTH - sentence));
      continue;
    }
    room(row.kind === 'setup' ? 4 : 3);
    if (row.kind === 'setup') y -= 5;
    y -= LINE * cells(row, put, { text, bold, mono }) + (row.kind === 'setup' ? 2 : 0);
  }
  pdf
    .getPages()
    .forEach((p, i, all) =>
      p.drawText(`sheet ${i + 1} of ${all.length}`, { x: MARGIN, y: MARGIN - 18, size: 8, font: text, color: SLATE }),
    );
  return pdf.save();
}

type Put = (
  font: PDFFont,
  size: number,
  x: number,
  words: string,
  width: number,
  colour?: ReturnType<typeof rgb>,
) => number;

/** One row of the report; gives how many lines it takes. */
function cells(row: ReportRow, put: Put, { text, bold, mono }: Record<'text' | 'bold' | 'mono', PDFFont>): number {
  const colour = row.kind === 'reading' ? SLATE : row.marked ? POLE : INK;
  if (row.kind === 'setup')
    return Math.max(
      put(bold, 9, 0, row.cells[0], 66),
      put(text, 8, 70, row.cells[1], 150, SLATE),
      put(text, 8, 225, row.cells[2], 120),
      put(text, 8, 350, row.cells[3], WIDTH - 350, colour),
    );
  const lines = row.cells.map((cell, i) => {
    const end = i + 1 < STARTS.length ? STARTS[i + 1] : WIDTH;
    const font = i >= 2 ? mono : text;
    const width = end - STARTS[i] - 4;
    const wide = font.widthOfTextAtSize(printable(cell), 8);
    const start = NUMBERS.has(i) && wide < width - 8 ? end - 12 - wide : STARTS[i];
    return put(font, 8, start, cell, width, colour);
  });
  return Math.max(...lines);
}

/** Words in lines no wider than a width, in PDF points; a word that is wider by itself is parted. */
function wrapped(words: string, font: PDFFont, size: number, width: number): string[] {
  const lines: string[] = [];
  let line = '';
  const fits = (part: string): boolean => font.widthOfTextAtSize(part, size) <= width;
  for (let word of words.split(' ')) {
    while (!fits(word) && word.length > 1) {
      let most = word.length - 1;
      while (most > 1 && !fits(word.slice(0, most))) most--;
      if (line) lines.push(line);
      lines.push(word.slice(0, most));
      [line, word] = ['', word.slice(most)];
    }
    const next = line ? `${line} ${word}` : word;
    if (!fits(next) && line) {
      lines.push(line);
      line = word;
    } else line = next;
  }
  return [...lines, line];
}
