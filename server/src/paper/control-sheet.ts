import { PDFDocument, StandardFonts, rgb, type PDFFont, type PDFPage } from 'pdf-lib';
import { editOf, STANDING_NAME, type ProjectDocument } from '#core/project';
import { STATE, type PointTable } from '#core/stages';
import { systemLine } from '#core/basis';
import { formatLength, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import { Refusal } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject } from '../projects/settled-project.ts';
import { printable, fitted } from './printed-text.ts';

const A4: [number, number] = [595.28, 841.89];
const MARGIN = 48;
const ROW = 15;
const INK = rgb(0.106, 0.169, 0.204);
const SLATE = rgb(0.333, 0.396, 0.439);

/** The project's control on paper: every point with its standing, accuracy, source and date, and what its numbers mean. */
export async function controlSheet(
  services: ProjectServices,
  project: string,
): Promise<{ bytes: Uint8Array; name: string }> {
  const settled = await settledProject(services, project);
  const rows = controlRows(settled.document, settled.points);
  if (rows.length === 0) throw new Refusal(409, 'The project has no control to put on a sheet.');
  const bytes = await drawSheet(settled.name, settled.revision, settled.document, rows);
  return { bytes, name: paperName(settled, 'control') };
}

interface SheetRow {
  cells: string[];
}

function controlRows(doc: ProjectDocument, points: PointTable): SheetRow[] {
  const { unit, decimals, elevationDecimals, order } = doc.settings;
  const rows: SheetRow[] = [];
  for (let i = 0; i < points.x.length; i++) {
    const intake = doc.intakes[points.intake[i]];
    if (intake.purpose !== 'control' || points.state[i] !== STATE.used) continue;
    const standing = editOf(doc, intake.id, points.fileRow[i])?.standing ?? intake.given?.standing ?? 'fixed';
    const east = formatLength(points.x[i], unit, decimals);
    const north = formatLength(points.y[i], unit, decimals);
    const sd = (metres: number | null | undefined): string => (metres ? formatLength(metres, unit, 3) : '');
    rows.push({
      cells: [
        points.number[i],
        ...(order === 'EN' ? [east, north] : [north, east]),
        formatLength(points.z[i], unit, elevationDecimals),
        STANDING_NAME[standing],
        [sd(intake.given?.plan), sd(intake.given?.height)].filter(Boolean).join(' / '),
        [intake.given?.by, intake.given?.date].filter(Boolean).join(', '),
        intake.fileName,
      ],
    });
  }
  return rows;
}

const WIDTHS = [58, 82, 82, 58, 54, 56, 72, 40];

async function drawSheet(name: string, revision: number, doc: ProjectDocument, rows: SheetRow[]): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setTitle(`Control of ${name}`);
  pdf.setCreator('Dunrik');
  const [text, bold, mono] = await Promise.all(
    [StandardFonts.Helvetica, StandardFonts.HelveticaBold, StandardFonts.Courier].map((f) => pdf.embedFont(f)),
  );
  const { settings: s, basis } = doc;
  const sign = UNIT_SIGN[s.unit];
  const heads = [
    'Point',
    ...(s.order === 'EN' ? [`East ${sign}`, `North ${sign}`] : [`North ${sign}`, `East ${sign}`]),
    `Elev ${sign}`,
    'Standing',
    `s plan/h ${sign}`,
    'Given by, date',
    'From',
  ];
  const about = [
    `${systemLine(basis.system)}; ${UNIT_NAME[s.unit]}; ${s.order === 'EN' ? 'east before north' : 'north before east'}`,
    `project scale factor ${basis.factor.toFixed(8)}${basis.factorSource ? ` (${basis.factorSource})` : ''}, length on the grid over length on the ground`,
    `elevations ${basis.heights}${basis.geoid ? `, geoid ${basis.geoid.name}` : ', no geoid'}${basis.epoch ? `, epoch ${basis.epoch}` : ''}`,
  ];
  let page: PDFPage | null = null;
  let y = 0;
  let sheets = 0;
  const put = (font: PDFFont, size: number, x: number, at: number, words: string, right = 0, colour = INK): void => {
    const shown = fitted(font, size, printable(words), right || 400);
    page!.drawText(shown, {
      x: right ? x + right - font.widthOfTextAtSize(shown, size) : x,
      y: at,
      size,
      font,
      color: colour,
    });
  };
  const begin = (): void => {
    page = pdf.addPage(A4);
    sheets++;
    y = A4[1] - MARGIN;
    put(bold, 15, MARGIN, y, `Control of ${name}`);
    y -= 18;
    for (const line of about) {
      put(text, 9, MARGIN, y, line, 0, SLATE);
      y -= 12;
    }
    y -= 10;
    let x = MARGIN;
    heads.forEach((h, i) => {
      const numeric = i >= 1 && i <= 3;
      put(bold, 8, x, y, h, numeric ? WIDTHS[i] - 6 : 0);
      x += WIDTHS[i];
    });
    y -= 4;
    page.drawLine({ start: { x: MARGIN, y }, end: { x: A4[0] - MARGIN, y }, thickness: 0.8, color: INK });
    y -= ROW - 3;
  };
  for (const row of rows) {
    if (!page || y < MARGIN + 20) begin();
    let x = MARGIN;
    row.cells.forEach((cell, i) => {
      const numeric = i >= 1 && i <= 3;
      const font = numeric || i === 5 ? mono : text;
      const shown = fitted(font, 8, printable(cell), WIDTHS[i] - 6);
      put(font, 8, x, y, shown, numeric ? WIDTHS[i] - 6 : 0);
      x += WIDTHS[i];
    });
    y -= ROW;
  }
  pdf.getPages().forEach((p, i) => {
    p.drawText(printable(`revision ${revision} · sheet ${i + 1} of ${sheets} · ${rows.length} points`), {
      x: MARGIN,
      y: MARGIN - 18,
      size: 8,
      font: text,
      color: SLATE,
    });
  });
  return pdf.save();
}
