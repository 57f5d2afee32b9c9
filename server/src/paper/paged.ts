import { createRequire } from 'node:module';
import fontkit from '@pdf-lib/fontkit';
import { PDFDocument, rgb, type PDFFont } from 'pdf-lib';
import type pdfmakeType from 'pdfmake';
import type { Content, ContentText, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces.d.ts';
import { INK_ON_PAPER } from '#core/codes';
import { headOf, type Report, type ReportColumn, type ReportRow, type ReportTable } from '#core/report';
import { lettersLacking, runsOf, type Face } from './faces.ts';
import { outlined } from './outlined.ts';

// Reports on sheets of A4: each table with its heading on every sheet that it goes over, long ones laid out in parts so that
// memory does not grow with them.

const pdfmake = createRequire(import.meta.url)('pdfmake') as typeof pdfmakeType & {
  setLocalAccessPolicy: (allow: (path: string) => boolean) => void;
  virtualfs: { existsSync: (name: string) => boolean; writeFileSync: (name: string, bytes: Buffer) => void };
};
// What it may read is what is handed to it: fonts, by their name.
pdfmake.setUrlAccessPolicy(() => false);
pdfmake.setLocalAccessPolicy(() => false);

const hex = (c: readonly [number, number, number]): string => `#${c.map((v) => Math.round(v * 255).toString(16).padStart(2, '0')).join('')}`; // prettier-ignore
const INK = hex(INK_ON_PAPER.ink);
const SLATE = hex(INK_ON_PAPER.slate);
const POLE = hex(INK_ON_PAPER.pole);
const MARGIN = 40;
const SHEET = [595.28, 841.89] as const;
/** Rows that are laid out at once: a part of them takes some 200 MB while it is. */
const ROWS_AT_ONCE = 10_000;

/** A paper, or the letters that no face has with the words they stand in. */
export type PaperMade = { bytes: Uint8Array; lacking: null } | { bytes: null; lacking: [string, string][] };

/** A report as a PDF; `mark` stands in the head of every sheet. With `boxes`, letters that no face has are boxes. */
export async function pagedPdf(report: Report, mark: string, boxes: boolean): Promise<PaperMade> {
  const lacking = [...lettersLacking(wordsOf(report, mark))];
  if (lacking.length && !boxes) return { bytes: null, lacking };
  const parts = partsOf(report.tables);
  const made: Uint8Array[] = [];
  for (const [i, tables] of parts.entries()) made.push(await laidOut(report, tables, mark, i === 0));
  return { bytes: await numbered(made, report.title), lacking: null };
}

function* wordsOf({ title, about, tables }: Report, mark: string): Iterable<string> {
  yield* [mark, title, ...about];
  for (const t of tables) {
    yield* [t.title, ...t.about];
    for (const r of t.rows) for (const c of r.cells) yield c.text;
  }
}

/** Tables in parts of no more rows than are laid out at once; a longer table goes on in the next part. */
function partsOf(tables: readonly ReportTable[]): ReportTable[][] {
  const parts: ReportTable[][] = [[]];
  let rows = 0;
  for (const table of tables)
    for (let from = 0; from === 0 || from < table.rows.length; from += ROWS_AT_ONCE) {
      const piece = { ...table, rows: table.rows.slice(from, from + ROWS_AT_ONCE), about: from ? [] : table.about };
      if (rows > 0 && rows + piece.rows.length > ROWS_AT_ONCE) {
        parts.push([]);
        rows = 0;
      }
      parts.at(-1)!.push(piece);
      rows += piece.rows.length;
    }
  return parts;
}

async function laidOut(
  report: Report,
  tables: readonly ReportTable[],
  mark: string,
  first: boolean,
): Promise<Uint8Array> {
  // prettier-ignore
  const fonts: Record<string, { normal: string }> = {};
  const write = (text: string, face: Face, style: Partial<ContentText> = {}): ContentText => {
    const runs = runsOf(text, face);
    for (const { file } of runs) {
      fonts[file.id] ??= { normal: file.id };
      if (!pdfmake.virtualfs.existsSync(file.id)) pdfmake.virtualfs.writeFileSync(file.id, Buffer.from(file.bytes));
    }
    if (runs.length === 1) return { text: runs[0].text, font: runs[0].file.id, ...style } as ContentText;
    return { text: runs.map((r) => ({ text: r.text, font: r.file.id })), ...style } as ContentText;
  };
  const width = (report.wide ? SHEET[1] : SHEET[0]) - 2 * MARGIN;
  const content: Content[] = first
    ? [
        write(report.title, 'bold', { fontSize: 15, margin: [0, 0, 0, 4] }),
        ...report.about.map((a) => write(a, 'text', { fontSize: 9, color: SLATE })),
      ]
    : [];
  for (const table of tables) content.push(tableContent(table, width, write));
  const head = write(`${report.title} · ${mark}`, 'text', { fontSize: 7.5, color: SLATE, margin: [MARGIN, 20, MARGIN, 0] }); // prettier-ignore
  const definition: TDocumentDefinitions = {
    pageSize: 'A4',
    pageOrientation: report.wide ? 'landscape' : 'portrait',
    pageMargins: [MARGIN, 42, MARGIN, 44],
    info: { title: report.title, creator: 'Dunrik' },
    defaultStyle: { font: runsOf('x', 'text')[0].file.id, fontSize: 8, color: INK },
    header: head,
    content,
  };
  write('x', 'text');
  pdfmake.setFonts(fonts);
  return new Uint8Array(await pdfmake.createPdf(definition).getBuffer());
}

type Write = (text: string, face: Face, style?: Partial<ContentText>) => ContentText;

const PAD = 3;

/** A table whose title and headings stand again on every sheet; what is said of it stands once below them. */
function tableContent(table: ReportTable, width: number, write: Write): Content {
  const { rows } = table;
  const colour = table.marked ? POLE : INK;
  const title = write(table.title, 'bold', { fontSize: 9.5, color: colour, margin: [0, 6, 0, 1] });
  const head = [title, ...table.about.map((a) => write(a, 'text', { color: SLATE }))];
  if (table.drawing) return { stack: [...head, { svg: outlined(table.drawing), margin: [0, 4, 0, 2] }, rowsContent({ ...table, title: '' }, [], width, write)], unbreakable: true, margin: [0, 0, 0, 10] }; // prettier-ignore
  if (rows.length === 0) return { stack: head, unbreakable: true };
  return rowsContent(table, head, width, write);
}

/** The columns of a table with their headings, below what is said of it. */
function rowsContent({ columns, rows }: ReportTable, head: Content[], width: number, write: Write): Content {
  const shares = columns.reduce((sum, c) => sum + c.share, 0);
  const room = width - columns.length * 2 * PAD;
  const body: TableCell[][] = [
    [{ stack: head, colSpan: columns.length }, ...columns.slice(1).map(() => ({}))],
    columns.map((c) => write(headOf(c), 'bold', { fontSize: 7.5, color: SLATE, alignment: alignmentOf(c) })),
    ...rows.map((r) => rowCells(r, columns, write)),
  ];
  return {
    layout: {
      hLineWidth: (i: number) => (i === 2 ? 0.8 : i > 2 && i < body.length ? 0.15 : 0),
      vLineWidth: () => 0,
      hLineColor: (i: number) => (i === 2 ? INK : SLATE),
      paddingLeft: () => PAD,
      paddingRight: () => PAD,
      paddingTop: () => 1.5,
      paddingBottom: () => 1.5,
    },
    margin: [0, 0, 0, 4],
    table: {
      headerRows: 2,
      keepWithHeaderRows: Math.min(2, body.length - 2),
      dontBreakRows: true,
      widths: columns.map((c) => (c.share / shares) * room),
      body,
    },
  };
}

const alignmentOf = ({ kind }: ReportColumn): 'left' | 'right' => (kind === 'number' || kind === 'angle' ? 'right' : 'left'); // prettier-ignore

const rowCells = (row: ReportRow, columns: readonly ReportColumn[], write: Write): TableCell[] =>
  row.cells.map((cell, i): TableCell => {
    if (cell.drawing) return { svg: outlined(cell.drawing) };
    const { kind } = columns[i];
    const face = kind === 'words' ? 'text' : 'mono';
    return write(cell.text, face, {
      alignment: alignmentOf(columns[i]),
      ...(face === 'mono' ? { fontSize: 7.5 } : {}),
      ...(row.marked ? { color: POLE } : {}),
    });
  });

/** Parts one after the other, every sheet with its number and how many there are. */
async function numbered(parts: readonly Uint8Array[], title: string): Promise<Uint8Array> {
  const pdf = await PDFDocument.load(parts[0]);
  for (const part of parts.slice(1)) {
    const more = await PDFDocument.load(part);
    for (const page of await pdf.copyPages(more, more.getPageIndices())) pdf.addPage(page);
  }
  pdf.registerFontkit(fontkit);
  const [{ file }] = runsOf('x', 'text');
  const font: PDFFont = await pdf.embedFont(file.bytes);
  const pages = pdf.getPages();
  pages.forEach(
    (page, i) =>
    page.drawText(`sheet ${i + 1} of ${pages.length}`, { x: MARGIN, y: 22, size: 7.5, font, color: rgb(...INK_ON_PAPER.slate) }), // prettier-ignore
  );
  pdf.setTitle(title);
  pdf.setCreator('Dunrik');
  return pdf.save();
}
