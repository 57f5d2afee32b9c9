import { PDFDocument, StandardFonts, rgb, type PDFFont, type PDFPage } from 'pdf-lib';
import type { Router } from 'express';
import {
  bookReport,
  reportPoints,
  unpackReduction,
  type BookReport,
  type ChainSummary,
  type ReportLevel,
  type ReportRow,
} from '#core/chain';
import { fitted, printable } from './control-sheet.ts';
import { allow, membershipOf } from './membership.ts';
import { Refusal } from './problems.ts';
import type { ProjectServices } from './projects.ts';
import { paperName, settledProject } from './settled-project.ts';

/** The report of the books on paper. */
export function bookReportRoutes(router: Router, services: ProjectServices): void {
  router.get('/book-report', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const level = String(request.query.level ?? 'known');
    if (level !== 'setups' && level !== 'known' && level !== 'all')
      throw new Refusal(400, 'The report is of setups, known or all.');
    const { report, name } = await reportOf(services, project, level);
    response
      .attachment(name)
      .type('application/pdf')
      .send(Buffer.from(await draw(report)));
  });
}

async function reportOf(services: ProjectServices, project: string, level: ReportLevel) {
  const settled = await settledProject(services, project);
  const { document, points, stages, block } = settled;
  const reduction = unpackReduction(await block(stages.reduction));
  if (reduction.setups.length === 0 && reduction.row.length === 0)
    throw new Refusal(409, 'The project has no field book to report on.');
  const summary = JSON.parse(new TextDecoder().decode(await block(stages.summary))) as ChainSummary;
  const report = bookReport(
    document,
    reduction,
    reportPoints(document, points, reduction, {
      number: (row) => points.number[row],
      code: (row) => points.description[row],
    }),
    summary.queries,
    settled,
    level,
  );
  return { report, name: paperName(settled, 'books') };
}

const A4: [number, number] = [595.28, 841.89];
const MARGIN = 44;
const INK = rgb(0.106, 0.169, 0.204);
const SLATE = rgb(0.333, 0.396, 0.439);
const POLE = rgb(0.72, 0.208, 0.141);
const STARTS = [0, 70, 190, 280, 365, 430];
const WIDTH = A4[0] - 2 * MARGIN;

async function draw(report: BookReport): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setTitle(report.title);
  pdf.setCreator('Dunrik');
  const [text, bold, mono] = await Promise.all(
    [StandardFonts.Helvetica, StandardFonts.HelveticaBold, StandardFonts.Courier].map((f) => pdf.embedFont(f)),
  );
  let page: PDFPage = pdf.addPage(A4);
  let y = A4[1] - MARGIN;
  const put = (font: PDFFont, size: number, x: number, words: string, width: number, colour = INK): void => {
    page.drawText(fitted(font, size, printable(words), width), { x: MARGIN + x, y, size, font, color: colour });
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
  for (const row of report.rows) {
    if (row.kind === 'query') {
      const lines = wrapped(printable(row.cells[1]), text, 8.5, WIDTH - 40);
      room(lines.length);
      put(bold, 8.5, 0, row.cells[0], 36, row.marked ? POLE : SLATE);
      for (const line of lines) {
        put(text, 8.5, 40, line, WIDTH - 40);
        y -= 11;
      }
      continue;
    }
    room(row.kind === 'setup' ? 3 : 1);
    if (row.kind === 'setup') y -= 5;
    cells(row, put, { text, bold, mono });
    y -= row.kind === 'setup' ? 13 : 11;
  }
  pdf
    .getPages()
    .forEach((p, i, all) =>
      p.drawText(`sheet ${i + 1} of ${all.length}`, { x: MARGIN, y: MARGIN - 18, size: 8, font: text, color: SLATE }),
    );
  return pdf.save();
}

function cells(
  row: ReportRow,
  put: (font: PDFFont, size: number, x: number, words: string, width: number, colour?: ReturnType<typeof rgb>) => void,
  { text, bold, mono }: Record<'text' | 'bold' | 'mono', PDFFont>,
): void {
  const colour = row.marked ? POLE : INK;
  if (row.kind === 'setup') {
    put(bold, 9, 0, row.cells[0], 66);
    put(text, 8, 70, row.cells[1], 150, SLATE);
    put(text, 8, 225, row.cells[2], 120);
    put(text, 8, 350, row.cells[3], WIDTH - 350, colour);
    return;
  }
  row.cells.forEach((cell, i) => {
    const end = i + 1 < STARTS.length ? STARTS[i + 1] : WIDTH;
    put(i >= 2 ? mono : text, 8, STARTS[i], cell, end - STARTS[i] - 4, colour);
  });
}

function wrapped(words: string, font: PDFFont, size: number, width: number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of words.split(' ')) {
    const next = line ? `${line} ${word}` : word;
    if (font.widthOfTextAtSize(next, size) > width && line) {
      lines.push(line);
      line = word;
    } else line = next;
  }
  return [...lines, line];
}
