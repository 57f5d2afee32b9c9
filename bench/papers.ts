import { spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';
import fontkit from '@pdf-lib/fontkit';
import { PDFDocument } from 'pdf-lib';
import type pdfmakeType from 'pdfmake';
import { EM, layOutPlot, type Mark, type PlotContent } from '#core/drawing';
import { plainIntake, newDocument, type Plot, type ProjectDocument } from '#core/project';
import { column, headOf, row, type Report } from '#core/report';
import { packContours, packLines, packPoints, setPointsOf, type PointTable } from '#core/stages';
import { runsOf } from '../server/src/paper/faces.ts';
import { pagedPdf } from '../server/src/paper/paged.ts';
import { drawPlots } from '../server/src/paper/plot-thread.ts';

// Papers beside the packages that write them, putting the same words on paper bare. Each in a process of its own: time of
// making it, and the most memory that the process had.

const MM = 72 / 25.4;
const plot: Plot = { id: 'p', title: 'A0', paper: 'A0', upright: false, scale: 1000, x: 500, y: 400, turn: 0, grid: null, contours: false, legend: true, client: '', drawnBy: '', checkedBy: '', number: '1', note: '' }; // prettier-ignore

/** A survey whose every point has a label that finds its place. */
function labelled(): { doc: ProjectDocument; points: PointTable } {
  const [across, up] = [90, 224];
  const n = across * up;
  const f64 = (of: (i: number) => number): Float64Array => Float64Array.from({ length: n }, (_, i) => of(i));
  const points: PointTable = {
    intake: new Uint32Array(n),
    fileRow: Uint32Array.from({ length: n }, (_, i) => i + 1),
    number: Array.from({ length: n }, (_, i) => String(i + 1)),
    x: f64((i) => -42 + (i % across) * 12),
    y: f64((i) => -6 + Math.floor(i / across) * 3.6),
    z: f64((i) => 50 + (i % 977) / 100),
    description: new Array<string>(n).fill('GR'),
    state: new Uint8Array(n),
    edited: new Uint8Array(n),
    light: new Uint8Array(n),
    sdPlan: new Float32Array(n).fill(NaN),
    sdHeight: new Float32Array(n).fill(NaN),
    date: new Uint32Array(n),
  } as PointTable;
  return { doc: { ...newDocument(), intakes: [plainIntake('g')] }, points };
}

function marksOf({ doc, points }: ReturnType<typeof labelled>): Mark[] {
  const content: PlotContent = { points: setPointsOf(points), lines: [], contours: [] };
  const page = layOutPlot(doc, plot, content, { project: 'P', revision: 1, date: '2026-11-28' });
  return page.marks;
}
const textsOf = (marks: readonly Mark[]) => marks.filter((m) => m.kind === 'text');

const reportOf = (rows: number): Report => ({
  title: 'Points of a long book',
  about: [],
  wide: false,
  tables: [
    {
      kind: 'points',
      title: 'Points',
      about: [],
      marked: false,
      columns: [column('Point', 'sign'), column('Code', 'sign'), column('East', 'number', 12, 'm'), column('North', 'number', 12, 'm'), column('Elevation', 'number', 11, 'm'), column('± plan', 'number', 8, 'm')], // prettier-ignore
      rows: Array.from({ length: rows }, (_, i) => row([`P${i}`, 'GR', `2 ${100 + (i % 900)}.123`, `5 ${100 + (i % 700)}.456`, `${(50 + (i % 977) / 100).toFixed(3)}`, '0.004'])), // prettier-ignore
    },
  ],
});

/** The same cells by pdfmake alone, one font, no heads said again, no numbers of sheets. */
async function bareReport({ tables: [table] }: Report): Promise<Uint8Array> {
  const pdfmake = createRequire(import.meta.url)('pdfmake') as typeof pdfmakeType & {
    setLocalAccessPolicy: (allow: () => boolean) => void;
    virtualfs: { writeFileSync: (name: string, bytes: Buffer) => void };
  };
  const [{ file }] = runsOf('x', 'mono');
  pdfmake.setUrlAccessPolicy(() => false);
  pdfmake.setLocalAccessPolicy(() => false);
  pdfmake.virtualfs.writeFileSync(file.id, Buffer.from(file.bytes));
  pdfmake.setFonts({ mono: { normal: file.id } });
  const body = [table.columns.map(headOf), ...table.rows.map((r) => r.cells.map((c) => c.text))];
  const widths = table.columns.map(() => 78);
  return new Uint8Array(
    await pdfmake
      .createPdf({
        pageSize: 'A4',
        defaultStyle: { font: 'mono', fontSize: 7.5 },
        content: [{ layout: 'noBorders', table: { widths, body } }],
      }) // prettier-ignore
      .getBuffer(),
  );
}

/** The words of a plot by the package’s own calls, nothing else. */
async function barePlot(texts: ReturnType<typeof textsOf>): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.registerFontkit(fontkit);
  const font = await pdf.embedFont(runsOf('x', 'mono')[0].file.bytes);
  const sheet = pdf.addPage([1189 * MM, 841 * MM]);
  for (const t of texts) sheet.drawText(t.text, { x: t.x * MM, y: t.y * MM, size: t.size * MM * EM.mono, font });
  return pdf.save();
}

const TASKS: Record<string, () => Promise<() => Promise<unknown>>> = {
  'plot ours': async () => {
    const { doc, points } = labelled();
    const sheets = [{ plot, contours: packContours([]), surface: null }];
    const [packed, lines] = [packPoints(points), packLines({ lines: [], pointCodes: [], slips: [] })];
    return () => drawPlots({ document: doc, sheets, facts: { project: 'P', revision: 1, date: '2026-11-28' }, points: packed, lines, boxes: false }); // prettier-ignore
  },
  'plot bare': async () => {
    const texts = textsOf(marksOf(labelled()));
    return () => barePlot(texts);
  },
  ...Object.fromEntries(
    [2000, 100_000].flatMap((rows) => [
      [`report ${rows} ours`, async () => { const report = reportOf(rows); return () => pagedPdf(report, 'revision 1', false); }], // prettier-ignore
      [`report ${rows} bare`, async () => { const report = reportOf(rows); return () => bareReport(report); }], // prettier-ignore
    ]),
  ),
};

/** One task by itself, the second time where that is soon: what it took, s, and the most memory of the process, MB. */
async function one(name: string): Promise<void> {
  const work = await TASKS[name]();
  const timed = async (): Promise<number> => {
    const start = performance.now();
    await work();
    return (performance.now() - start) / 1000;
  };
  const first = await timed();
  const s = first < 10 ? await timed() : first;
  console.log(JSON.stringify({ s, mb: process.resourceUsage().maxRSS / 1024 }));
}

export function papersFigure(): void {
  console.log(`Papers beside the packages alone (wanted: time and memory at most 1.5 times); labels: ${textsOf(marksOf(labelled())).length}`); // prettier-ignore
  const measured = (name: string): { s: number; mb: number } => {
    const { stdout, stderr, status } = spawnSync(process.execPath, ['--import', 'tsx', import.meta.filename, name], { encoding: 'utf8' }); // prettier-ignore
    if (status !== 0) throw new Error(stderr);
    return JSON.parse(stdout.trim().split('\n').at(-1)!) as { s: number; mb: number };
  };
  const middle = (key: 's' | 'mb', runs: { s: number; mb: number }[]): number => runs.map((r) => r[key]).sort((a, b) => a - b)[runs.length >> 1]; // prettier-ignore
  for (const what of ['plot', 'report 2000', 'report 100000']) {
    const runs: Record<string, { s: number; mb: number }[]> = { ours: [], bare: [] };
    for (let i = 0; i < 3; i++) for (const side of ['ours', 'bare']) runs[side].push(measured(`${what} ${side}`));
    const of = (side: string, key: 's' | 'mb'): number => middle(key, runs[side]);
    console.log(`  ${what}: ${of('ours', 's').toFixed(1)} s beside ${of('bare', 's').toFixed(1)} (${(of('ours', 's') / of('bare', 's')).toFixed(2)}), ${of('ours', 'mb').toFixed(0)} MB beside ${of('bare', 'mb').toFixed(0)} (${(of('ours', 'mb') / of('bare', 'mb')).toFixed(2)})`); // prettier-ignore
  }
}

if (process.argv[1] === import.meta.filename) await one(process.argv[2]);
