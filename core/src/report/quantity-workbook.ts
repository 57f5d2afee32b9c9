import type { ChainSummary } from '#core/chain';
import { CUBIC_METRES_IN_CUBIC_YARD, METRES_IN, UNIT_SIGN } from '#core/measure';
import type { Comparison, ProjectDocument } from '#core/project';
import { cornersAt, eachTriangle, partWhere, sectionsOf, together, WITHIN_95, type CutAndFill, type DifferencePieces, type MaterialVolumes } from '#core/quantities'; // prettier-ignore
import { comparedText } from './compared-text.ts';
import { looseMaterials } from './loose-materials.ts';
import type { ReportedOn } from './quantity-report.ts';

/** A value, or one that calculates, with what it comes to. */
export type WorkbookCell =
  string | number | null | { value: string | number; formula?: string; format?: string; bold?: boolean };

export interface WorkbookSheet {
  name: string;
  /** Of the columns, in characters. */
  widths: number[];
  rows: WorkbookCell[][];
}

type Figures = Extract<ChainSummary['comparisons'][number], { ok: true }>;

/** Parts of prisms that are written one by one; a comparison of more gives its sums alone. */
const MOST_PARTS = 20_000;
const VOLUME = '#,##0.0';
const LENGTH = '0.000';

const bold = (value: string): WorkbookCell => ({ value, bold: true });
const calculated = (formula: string, value: number, format = VOLUME): WorkbookCell => ({ formula, value, format });
const number = (value: number, format: string): WorkbookCell => ({ value, format });

/**
 * A comparison as sheets that calculate: cut and fill are summed from the prisms between the two surfaces, sections by the mean
 * of their ends, zones and boundary from what stands in their rows; whoever changes a cell sees what follows. Lengths and
 * coordinates are in the project's unit, volumes in m³.
 */
export function quantityWorkbook(
  doc: ProjectDocument,
  comparison: Comparison,
  figures: Figures,
  pieces: DifferencePieces,
  of: ReportedOn,
): WorkbookSheet[] {
  const metre = METRES_IN[doc.settings.unit];
  // Cells to look at would add up to another volume.
  const prisms = figures.cells ? null : prismSheet(pieces, metre, doc);
  const sections = figures.byHand.ok ? sectionSheet(comparison, figures.byHand.sizes.spacing, pieces, metre, doc) : null; // prettier-ignore
  return [
    volumeSheet(doc, comparison, figures, of, prisms ? prisms.rows.length : 0),
    ...(sections ? [sections] : []),
    ...(comparison.within ? [boundarySheet(comparison.within, metre, doc)] : []),
    ...(prisms ? [prisms] : []),
  ];
}

function volumeSheet(
  doc: ProjectDocument,
  comparison: Comparison,
  { cut, fill, sd: measured, spacing, zones, materials, cutArea, fillArea, byHand }: Figures,
  { name, revision, date }: ReportedOn,
  prismRows: number,
): WorkbookSheet {
  const sd = measured && together(measured, spacing?.sd ?? null);
  const range = `Prisms!H2:H${prismRows}`;
  const sum = (sign: '<' | '>', value: number): WorkbookCell =>
    prismRows ? calculated(`${sign === '<' ? '-' : ''}SUMIF(${range},"${sign}0")`, value) : number(value, VOLUME);
  const yards = (row: number, m3: number): WorkbookCell => calculated(`B${row}/0.9144^3`, m3 / CUBIC_METRES_IN_CUBIC_YARD); // prettier-ignore
  const plusMinus = (s: number | undefined): WorkbookCell => (s === undefined ? null : number(WITHIN_95 * s, VOLUME));
  const { cut: looser, fill: more } = comparison.factors ?? { cut: 1, fill: 1 };
  const rows: WorkbookCell[][] = [
    [bold(comparison.name)],
    [`${comparedText(comparison, doc)}. ${name}, revision ${revision}, ${date}.`],
    [],
    [bold(''), bold('m³'), bold('± 95 %, m³'), bold('yd³'), bold('area, m²'), bold('mean depth, m'), bold('factor'), bold('m³ with it')], // prettier-ignore
    ['Cut', sum('<', cut), plusMinus(sd?.cut), yards(5, cut), number(cutArea, VOLUME), calculated('IF(E5>0,B5/E5,0)', cutArea > 0 ? cut / cutArea : 0, LENGTH), looser, calculated('B5*G5', cut * looser)], // prettier-ignore
    ['Fill', sum('>', fill), plusMinus(sd?.fill), yards(6, fill), number(fillArea, VOLUME), calculated('IF(E6>0,B6/E6,0)', fillArea > 0 ? fill / fillArea : 0, LENGTH), more, calculated('B6*G6', fill * more)], // prettier-ignore
    ['Cut − fill', calculated('B5-B6', cut - fill), plusMinus(sd?.net), yards(7, cut - fill), null, null, null, calculated('H5-H6', cut * looser - fill * more)], // prettier-ignore
  ];
  if (!prismRows)
    rows.push([`The volumes are the program’s: more than ${MOST_PARTS} prisms would have to be written to sum them here.`]); // prettier-ignore
  if (byHand.ok) {
    rows.push([], [bold('Every method'), bold('cut, m³'), bold('fill, m³'), bold('cut − fill, m³'), bold('off, % of cut + fill')]); // prettier-ignore
    for (const m of byHand.methods) {
      const r = rows.length + 1;
      const off = cut + fill > 0 ? (100 * (Math.abs(m.cut - cut) + Math.abs(m.fill - fill))) / (cut + fill) : 0;
      rows.push([m.method, number(m.cut, VOLUME), number(m.fill, VOLUME), calculated(`B${r}-C${r}`, m.cut - m.fill), calculated(`IF($B$5+$B$6>0,100*(ABS(B${r}-$B$5)+ABS(C${r}-$B$6))/($B$5+$B$6),0)`, off, '0.00')]); // prettier-ignore
    }
  }
  if (zones) {
    rows.push([], [bold('By zone'), bold('cut, m³'), bold('fill, m³'), bold('cut − fill, m³'), bold('area, m²')]);
    const first = rows.length + 1;
    const all = [...zones.zones, { name: 'in no zone', ...zones.outside }];
    for (const z of all) {
      const r = rows.length + 1;
      rows.push([z.name, number(z.cut, VOLUME), number(z.fill, VOLUME), calculated(`B${r}-C${r}`, z.cut - z.fill), number(z.area, VOLUME)]); // prettier-ignore
    }
    const last = rows.length;
    const total = (column: string, value: number): WorkbookCell => calculated(`SUM(${column}${first}:${column}${last})`, value); // prettier-ignore
    const sumOf = (pick: (z: CutAndFill & { area: number }) => number): number => all.reduce((s, z) => s + pick(z), 0);
    rows.push([bold('sum'), total('B', sumOf((z) => z.cut)), total('C', sumOf((z) => z.fill)), total('D', sumOf((z) => z.cut - z.fill)), total('E', sumOf((z) => z.area))]); // prettier-ignore
  }
  if (materials && !('reason' in materials)) rows.push(...materialRows(comparison, materials, rows.length));
  return { name: 'Volumes', widths: [26, 14, 14, 14, 14, 14, 10, 14], rows };
}

/** The cut by what is dug, each with its factor, below so many rows. */
function materialRows(comparison: Comparison, told: MaterialVolumes, below: number): WorkbookCell[][] {
  const { above, materials, loose } = looseMaterials(comparison, told);
  const all = [above, ...materials];
  // An empty row and the headings stand before them.
  const first = below + 3;
  const last = first + all.length - 1;
  const sum = (column: string, value: number): WorkbookCell => calculated(`SUM(${column}${first}:${column}${last})`, value); // prettier-ignore
  return [
    [],
    [bold('The cut by material'), bold('cut, m³'), bold('area that reaches it, m²'), bold('factor'), bold('loose, m³')],
    ...all.map((m, i): WorkbookCell[] => [m.name, number(m.cut, VOLUME), m.area === null ? null : number(m.area, VOLUME), m.factor, calculated(`B${first + i}*D${first + i}`, m.loose)]), // prettier-ignore
    [
      bold('sum'),
      sum(
        'B',
        all.reduce((s, m) => s + m.cut, 0),
      ),
      null,
      null,
      sum('E', loose),
    ],
  ];
}

/** Sections with their areas; volumes between them follow from the areas where the line is straight. */
function sectionSheet(
  { along }: Comparison,
  spacing: number,
  pieces: DifferencePieces,
  metre: number,
  doc: ProjectDocument,
): WorkbookSheet | null {
  if (along && along.length > 4) return null;
  const { sections } = sectionsOf(pieces, spacing, along ?? null);
  const sign = UNIT_SIGN[doc.settings.unit];
  const cubic = metre ** 3;
  const rows: WorkbookCell[][] = [[`chainage, ${sign}`, `cut area, ${sign}²`, `fill area, ${sign}²`, `length, ${sign}`, 'cut, m³', 'fill, m³'].map(bold)]; // prettier-ignore
  let [cut, fill] = [0, 0];
  sections.forEach((s, i) => {
    const r = rows.length + 1;
    const before = sections[i - 1] as (typeof sections)[number] | undefined;
    const cells: WorkbookCell[] = [number(s.chainage / metre, LENGTH), number(s.cut / metre ** 2, LENGTH), number(s.fill / metre ** 2, LENGTH)]; // prettier-ignore
    if (before) {
      const length = s.chainage - before.chainage;
      const [c, f] = [(length * (before.cut + s.cut)) / 2, (length * (before.fill + s.fill)) / 2];
      cut += c;
      fill += f;
      const mean = (column: string): string => `D${r}*(${column}${r - 1}+${column}${r})/2*${cubic}`;
      cells.push(calculated(`A${r}-A${r - 1}`, length / metre, LENGTH), calculated(mean('B'), c), calculated(mean('C'), f)); // prettier-ignore
    }
    rows.push(cells);
  });
  const last = rows.length;
  rows.push([bold('sum'), null, null, null, calculated(`SUM(E3:E${last})`, cut), calculated(`SUM(F3:F${last})`, fill)]);
  return { name: 'Sections', widths: [14, 14, 14, 12, 14, 14], rows };
}

function boundarySheet(within: readonly number[], metre: number, doc: ProjectDocument): WorkbookSheet {
  const sign = UNIT_SIGN[doc.settings.unit];
  const isEast = doc.settings.order === 'EN';
  const head = ['corner', ...(isEast ? ['east', 'north'] : ['north', 'east']).map((c) => `${c}, ${sign}`), `cross product about corner 1, ${sign}²`]; // prettier-ignore
  const rows: WorkbookCell[][] = [head.map(bold)];
  const n = within.length / 2;
  const [e, m] = isEast ? ['B', 'C'] : ['C', 'B'];
  let twice = 0;
  for (let i = 0; i < n; i++) {
    const [x, y] = [within[2 * i], within[2 * i + 1]];
    const [nx, ny] = [within[(2 * i + 2) % (2 * n)], within[(2 * i + 3) % (2 * n)]];
    const cross = (x - within[0]) * (ny - within[1]) - (nx - within[0]) * (y - within[1]);
    twice += cross;
    const [r, next] = [i + 2, ((i + 1) % n) + 2];
    const about = (column: string, row: number): string => `(${column}${row}-${column}$2)`;
    rows.push([i + 1, ...(isEast ? [x, y] : [y, x]).map((v) => number(v / metre, LENGTH)), calculated(`${about(e, r)}*${about(m, next)}-${about(e, next)}*${about(m, r)}`, cross / metre ** 2, LENGTH)]); // prettier-ignore
  }
  rows.push([bold('area, m²'), calculated(`ABS(SUM(D2:D${n + 1}))/2*${metre ** 2}`, Math.abs(twice) / 2)]);
  return { name: 'Boundary', widths: [12, 16, 16, 24], rows };
}

/** Each prism between the two surfaces, parted where it passes through zero: corners, depths, area and volume. */
function prismSheet(pieces: DifferencePieces, metre: number, doc: ProjectDocument): WorkbookSheet | null {
  if (pieces.length === 0 || pieces.length / 9 > MOST_PARTS) return null;
  const sign = UNIT_SIGN[doc.settings.unit];
  const [ox, oy] = pieces;
  const head = ['x1', 'y1', 'd1', 'x2', 'y2', 'd2', 'x3', 'y3', 'd3'].map((c) => `${c}, ${sign}`);
  // Volume stands before the corners' last columns so that sums name one column whatever follows.
  const rows: WorkbookCell[][] = [[...head.slice(0, 6), 'area, m²', 'fill (+) or cut (−), m³', ...head.slice(6)].map(bold)]; // prettier-ignore
  for (let i = 0; i < pieces.length; i += 9)
    for (const way of [1, -1])
      eachTriangle(
        partWhere(cornersAt(pieces, i), (c) => way * c[2]),
        (plan, a, b, c) => {
          if (a[2] === 0 && b[2] === 0 && c[2] === 0) return;
          const r = rows.length + 1;
          const corner = ([x, y, d]: readonly number[]): number[] => [(x - ox) / metre, (y - oy) / metre, d / metre];
          const [p, q, s] = [a, b, c].map(corner);
          const area = `((D${r}-A${r})*(J${r}-B${r})-(I${r}-A${r})*(E${r}-B${r}))/2*${metre ** 2}`;
          const volume = (plan * (a[2] + b[2] + c[2])) / 3;
          rows.push([...p, ...q, calculated(area, plan, LENGTH), calculated(`G${r}*(C${r}+F${r}+K${r})/3*${metre}`, volume, LENGTH), ...s]); // prettier-ignore
        },
      );
  if (rows.length - 1 > 2 * MOST_PARTS) return null;
  return { name: 'Prisms', widths: Array.from({ length: 11 }, () => 12), rows };
}
