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
  appendBezierCurve,
  degrees,
  rgb,
  stroke,
  type PDFFont,
  type PDFPage,
} from 'pdf-lib';
import { cos, sin } from '#core/kernel';
import type { Plot, ProjectDocument } from '#core/project';
import { setPointsOf, unpackContours, unpackLineColumns, unpackPoints } from '#core/stages';
import { EM, layOutPlot, type Mark, type PlotFacts } from '#core/drawing';
import fontkit from '@pdf-lib/fontkit';
import { lettersLacking, runsOf } from './faces.ts';
import type { PaperMade } from './paged.ts';

export interface PlotTask {
  document: ProjectDocument;
  plot: Plot;
  facts: PlotFacts;
  points: Uint8Array;
  lines: Uint8Array;
  contours: Uint8Array;
  /** Letters that no font has may be boxes. */
  boxes: boolean;
}

const POINTS_PER_MM = 72 / 25.4;

/** A plot as a PDF at true scale. Runs in a thread of its own. */
export async function drawPlot(task: PlotTask): Promise<PaperMade> {
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
  const lacking = [...lettersLacking(page.marks.flatMap((m) => (m.kind === 'text' ? [m.text] : [])))];
  if (lacking.length && !task.boxes) return { bytes: null, lacking };
  const pdf = await PDFDocument.create();
  pdf.registerFontkit(fontkit);
  pdf.setTitle(`${task.plot.title}, ${task.facts.project}`);
  pdf.setCreator('Dunrik');
  const fonts = await fontsOf(pdf, page.marks);
  const sheet = pdf.addPage([page.width * POINTS_PER_MM, page.height * POINTS_PER_MM]);
  for (const mark of page.marks) put(sheet, mark, fonts);
  return { bytes: await pdf.save(), lacking: null };
}

/** A font above this size goes in with the letters that are used alone. */
const LARGE = 100_000;

/** The fonts that the words of a sheet need. */
async function fontsOf(pdf: PDFDocument, marks: readonly Mark[]): Promise<Map<string, PDFFont>> {
  const files = new Map<string, Uint8Array>();
  for (const m of marks)
    if (m.kind === 'text') for (const { file } of runsOf(m.text, m.face)) files.set(file.id, file.bytes);
  const fonts = new Map<string, PDFFont>();
  for (const [id, bytes] of files) fonts.set(id, await pdf.embedFont(bytes, { subset: bytes.length > LARGE }));
  return fonts;
}

function put(page: PDFPage, mark: Mark, fonts: ReadonlyMap<string, PDFFont>): void {
  const mm = (v: number): number => v * POINTS_PER_MM;
  const [r, g, b] = mark.colour;
  page.pushOperators(pushGraphicsState());
  if (mark.inside) {
    const f = mark.inside;
    page.pushOperators(rectangle(mm(f.left), mm(f.bottom), mm(f.width), mm(f.height)), clip(), endPath());
  }
  if (mark.kind === 'text') {
    const size = mm(mark.size) * EM[mark.face];
    const runs = runsOf(mark.text, mark.face).map(({ file, text }) => {
      const font = fonts.get(file.id)!;
      return { font, text, width: font.widthOfTextAtSize(text, size) };
    });
    const width = runs.reduce((sum, run) => sum + run.width, 0);
    const turn = mark.turn ?? 0;
    let along = mark.align === 'left' ? 0 : mark.align === 'right' ? -width : -width / 2;
    for (const run of runs) {
      const [x, y] = [mm(mark.x) + along * cos(turn), mm(mark.y) + along * sin(turn)];
      page.drawText(run.text, { x, y, size, font: run.font, color: rgb(r, g, b), rotate: degrees((turn / Math.PI) * 180) }); // prettier-ignore
      along += run.width;
    }
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
