import {
  clip,
  closePath,
  endPath,
  fill,
  fillAndStroke,
  lineTo,
  LineCapStyle,
  moveTo,
  PDFDocument,
  popGraphicsState,
  pushGraphicsState,
  rectangle,
  setDashPattern,
  setFillingRgbColor,
  setLineCap,
  setLineJoin,
  setLineWidth,
  setStrokingRgbColor,
  StandardFonts,
  appendBezierCurve,
  degrees,
  rgb,
  stroke,
  type PDFFont,
  type PDFPage,
} from 'pdf-lib';
import type { Plot, ProjectDocument } from '#core/project';
import { setPointsOf, unpackContours, unpackLineColumns, unpackPoints } from '#core/stages';
import { EM, layOutPlot, type Mark, type PlotFacts } from '#core/drawing';
import { printable } from './printed-text.ts';

export interface PlotTask {
  document: ProjectDocument;
  plot: Plot;
  facts: PlotFacts;
  points: Uint8Array;
  lines: Uint8Array;
  contours: Uint8Array;
}

const POINTS_PER_MM = 72 / 25.4;

/** A plot as a PDF at true scale. Runs in a thread of its own. */
export async function drawPlot(task: PlotTask): Promise<Uint8Array> {
  const points = unpackPoints(task.points);
  const page = layOutPlot(
    task.document,
    task.plot,
    {
      points: setPointsOf(points),
      lines: unpackLineColumns(task.lines).lines,
      contours: unpackContours(task.contours),
    },
    task.facts,
  );
  const pdf = await PDFDocument.create();
  pdf.setTitle(`${task.plot.title}, ${task.facts.project}`);
  pdf.setCreator('Dunrik');
  const [text, bold, mono] = await Promise.all(
    [StandardFonts.Helvetica, StandardFonts.HelveticaBold, StandardFonts.Courier].map((f) => pdf.embedFont(f)),
  );
  const sheet = pdf.addPage([page.width * POINTS_PER_MM, page.height * POINTS_PER_MM]);
  const faces = { text, bold, mono };
  for (const mark of page.marks) put(sheet, mark, faces);
  return pdf.save();
}

function put(page: PDFPage, mark: Mark, faces: Record<'text' | 'bold' | 'mono', PDFFont>): void {
  const mm = (v: number): number => v * POINTS_PER_MM;
  const [r, g, b] = mark.colour;
  page.pushOperators(pushGraphicsState());
  if (mark.inside) {
    const f = mark.inside;
    page.pushOperators(rectangle(mm(f.left), mm(f.bottom), mm(f.width), mm(f.height)), clip(), endPath());
  }
  if (mark.kind === 'text') {
    const font = faces[mark.face];
    const words = printable(mark.text);
    const width = font.widthOfTextAtSize(words, mm(mark.size) * EM[mark.face]);
    const shift = mark.align === 'left' ? 0 : mark.align === 'right' ? width : width / 2;
    page.drawText(words, { x: mm(mark.x) - shift, y: mm(mark.y), size: mm(mark.size) * EM[mark.face], font, color: rgb(r, g, b), rotate: degrees(((mark.turn ?? 0) / Math.PI) * 180) }); // prettier-ignore
  } else {
    const width = mm(mark.width);
    page.pushOperators(setStrokingRgbColor(r, g, b), setLineWidth(width), setLineJoin(1), setLineCap(LineCapStyle.Round)); // prettier-ignore
    if (mark.kind === 'course') course(page, mark, mm);
    else circle(page, mark, mm);
  }
  page.pushOperators(popGraphicsState());
}

function course(page: PDFPage, mark: Extract<Mark, { kind: 'course' }>, mm: (v: number) => number): void {
  const { places, closed } = mark;
  if (mark.dash) page.pushOperators(setDashPattern(mark.dash.map(mm), 0), setLineCap(LineCapStyle.Butt));
  page.pushOperators(moveTo(mm(places[0]), mm(places[1])));
  for (let i = 2; i < places.length; i += 2) page.pushOperators(lineTo(mm(places[i]), mm(places[i + 1])));
  if (closed) page.pushOperators(closePath());
  if (mark.fill) page.pushOperators(setFillingRgbColor(...(mark.fill as [number, number, number])), fillAndStroke());
  else page.pushOperators(stroke());
}

/** Four curves make a circle to a quarter of a thousandth of its radius. */
const ROUND = 0.5522847498;

function circle(page: PDFPage, mark: Extract<Mark, { kind: 'circle' }>, mm: (v: number) => number): void {
  const [x, y, r] = [mm(mark.x), mm(mark.y), mm(mark.radius)];
  const k = r * ROUND;
  page.pushOperators(
    moveTo(x + r, y),
    appendBezierCurve(x + r, y + k, x + k, y + r, x, y + r),
    appendBezierCurve(x - k, y + r, x - r, y + k, x - r, y),
    appendBezierCurve(x - r, y - k, x - k, y - r, x, y - r),
    appendBezierCurve(x + k, y - r, x + r, y - k, x + r, y),
    closePath(),
  );
  const [red, green, blue] = mark.colour;
  if (mark.filled) page.pushOperators(setFillingRgbColor(red, green, blue), fill());
  else page.pushOperators(stroke());
}
