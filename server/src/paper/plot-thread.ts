import { PDFDocument, type PDFFont } from 'pdf-lib';
import type { Plot, ProjectDocument } from '#core/project';
import { setPointsOf, unpackContours, unpackLineColumns, unpackPoints, unpackSurface } from '#core/stages';
import { layOutPlot, type Mark, type PlotFacts } from '#core/drawing';
import fontkit from '@pdf-lib/fontkit';
import { putMarks } from './content-stream.ts';
import { lettersLacking, runsOf } from './faces.ts';
import type { PaperMade } from './paged.ts';

export interface PlotTask {
  document: ProjectDocument;
  /** One sheet each, with the packed contours of its surface, and that itself where a look tints it. */
  sheets: { plot: Plot; contours: Uint8Array; surface: Uint8Array | null }[];
  facts: PlotFacts;
  points: Uint8Array;
  lines: Uint8Array;
  /** Letters that no font has may be boxes. */
  boxes: boolean;
}

const POINTS_PER_MM = 72 / 25.4;

/** Plots as a PDF at true scale, a sheet each. Runs in a thread of its own. */
export async function drawPlots(task: PlotTask): Promise<PaperMade> {
  const points = setPointsOf(unpackPoints(task.points));
  const { lines } = unpackLineColumns(task.lines);
  const pages = task.sheets.map(
    ({ plot, contours, surface }) =>
    layOutPlot(task.document, plot, { points, lines, contours: unpackContours(contours), ...(surface ? { surface: unpackSurface(surface) } : {}) }, task.facts), // prettier-ignore
  );
  const marks = pages.flatMap((p) => p.marks);
  const lacking = [...lettersLacking(marks.flatMap((m) => (m.kind === 'text' ? [m.text] : [])))];
  if (lacking.length && !task.boxes) return { bytes: null, lacking };
  const pdf = await PDFDocument.create();
  pdf.registerFontkit(fontkit);
  pdf.setTitle(`${task.sheets[0].plot.title}, ${task.facts.project}`);
  pdf.setCreator('Dunrik');
  const fonts = await fontsOf(pdf, marks);
  for (const page of pages) {
    const sheet = pdf.addPage([page.width * POINTS_PER_MM, page.height * POINTS_PER_MM]);
    putMarks(pdf, sheet, page.marks, fonts);
  }
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
