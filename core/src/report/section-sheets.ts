import { sinCos } from '#core/kernel';
import { formatArea, formatChainage, formatFixed } from '#core/measure';
import type { Comparison, ProjectDocument } from '#core/project';
import { elevationOn, volumeOfSections, type CrossSection, type OffsetRun } from '#core/quantities';
import { comparedText } from './compared-text.ts';
import { formsOf, type Forms } from './forms.ts';
import { column, row, type Report, type ReportTable } from './table.ts';
import { inkOf, type Ink } from './ink.ts';

/** How sections are laid out on paper. */
export interface SheetScale {
  /** One to so many, across and, divided by `times`, up. */
  scale: number;
  /** Elevations are drawn so many times as large. */
  times: number;
}

const POINTS_IN_METRE = 72 / 0.0254;
/** What a section may be wide on a sheet that lies, pt. */
const WIDEST = 750;
/** Scales that a draughter uses. */
const SCALES = [20, 50, 100, 200, 250, 500, 1000, 2000, 5000];

/** What a section may be high on it, pt. */
const TALLEST = 380;

/** The largest usual scale at which sections so wide and high, m, go on a sheet. */
export const usualScale = (wide: number, high: number, room = { wide: WIDEST, high: TALLEST }): number => SCALES.find((s) => (wide / s) * POINTS_IN_METRE <= room.wide && (high / s) * POINTS_IN_METRE <= room.high) ?? SCALES.at(-1)!; // prettier-ignore

/** What a section that stands among the tables of an upright sheet may be, pt. */
const AMONG_TABLES = { wide: 480, high: 140 };

/** Sections drawn at one true scale between the tables of a report, each as wide as its surfaces are. */
export function drawnSections(doc: ProjectDocument, sections: readonly CrossSection[], forms: Forms): ReportTable[] {
  const { wide, high } = sizeOfSections(sections);
  const scale = { scale: usualScale(wide, high, AMONG_TABLES), times: 1 };
  return sections.map((s) => {
    const sheet = sheetOf(doc, s, scale, forms);
    return { ...sheet, title: `${sheet.title}, 1 : ${scale.scale}` };
  });
}

/** How wide and high the largest of sections are, m. */
export function sizeOfSections(sections: readonly CrossSection[]): { wide: number; high: number } {
  const size = { wide: 0, high: 0 };
  for (const { surfaces } of sections) {
    const runs = surfaces.flatMap((s) => s.runs);
    if (runs.length === 0) continue;
    const z = runs.flatMap((r) => r.z);
    size.wide = Math.max(size.wide, Math.max(...runs.map((r) => r.offset.at(-1)!)) - Math.min(...runs.map((r) => r.offset[0]))); // prettier-ignore
    size.high = Math.max(size.high, Math.max(...z) - Math.min(...z) + 2 * RULE);
  }
  return size;
}

/** Sheets of sections: their areas and volumes, then each at true scale with the offsets and elevations of its bends. */
export function sectionSheets(
  doc: ProjectDocument,
  comparison: Comparison,
  sections: readonly CrossSection[],
  { scale, times }: SheetScale,
  of: { name: string; revision: number; date: string },
): Report {
  const forms = formsOf(doc);
  return {
    title: `Sections: ${comparison.name}`,
    about: [
      `${comparedText(comparison, doc)}. ${of.name}, revision ${of.revision}, ${of.date}.`,
      `Scale 1 : ${scale}${times === 1 ? '' : ` across, 1 : ${scale / times} up`}. Offsets to the right of the line are positive. ${sections[0]?.surfaces.map((s, i) => `${s.name} ${LINE_NAME[i % LINE_NAME.length]}`).join(', ')}.`, // prettier-ignore
    ],
    wide: true,
    tables: [areasTable(doc, sections, forms), ...sections.map((s) => sheetOf(doc, s, { scale, times }, forms))],
  };
}

const LINE_NAME = ['solid', 'dashed', 'dotted'];
const DASHES = ['', '5 3', '1 2'];

export function areasTable(doc: ProjectDocument, sections: readonly CrossSection[], forms: Forms): ReportTable {
  const { settings } = doc;
  const chainage = (m: number): string => formatChainage(m, settings.unit, settings.chainage, 2);
  const area = (m2: number | null): string => (m2 === null ? '' : formatArea(m2, settings.areaUnit, settings.unit));
  // What a skewed section cuts is wider than what lies square to the line.
  const skew = sections[0]?.skew ?? 0;
  const [, square] = sinCos(skew);
  const given = sections.map((s, i) => ({ chainage: s.chainage, cut: square * (s.cut ?? 0), fill: square * (s.fill ?? 0), row: i + 1 })); // prettier-ignore
  const sum = volumeOfSections(given);
  const between = sum.ok ? sum.volumes.between : [];
  const cubic = (v: number | undefined): string => (v === undefined ? '' : formatFixed(v, 1));
  return {
    kind: 'areas',
    title: 'Areas, and volumes between them by average end area',
    about: [`V = L (A1 + A2) / 2 along the line (common practice)${skew ? `, times the cosine of the skew of ${formatFixed((skew / Math.PI) * 180, 1)}°: areas lie along their sections` : ''}; where the line bends, nothing is taken off for it.`], // prettier-ignore
    marked: false,
    columns: [
      column('Section', 'words', 16, forms.sign),
      column('Cut area', 'number', 14),
      column('Fill area', 'number', 14),
      column('Cut to here', 'number', 14, 'm³'),
      column('Fill to here', 'number', 14, 'm³'),
    ],
    rows: [
      ...sections.map((s, i) => row([chainage(s.chainage), area(s.cut), area(s.fill), cubic(between[i - 1]?.cut), cubic(between[i - 1]?.fill)])), // prettier-ignore
      ...(sum.ok ? [row(['Together', '', '', cubic(sum.volumes.averageEndArea.cut), cubic(sum.volumes.averageEndArea.fill)])] : []), // prettier-ignore
    ],
  };
}

/** Columns of values under a section; more bends than that are told every so many. */
const MOST_VALUES = 14;

function sheetOf(doc: ProjectDocument, section: CrossSection, scale: SheetScale, forms: Forms): ReportTable {
  const { settings } = doc;
  const offsets = [...new Set(section.surfaces.flatMap((s) => s.runs.flatMap((r) => r.offset)).map((o) => Math.round(o * 1000) / 1000))].sort((a, b) => a - b); // prettier-ignore
  const step = Math.ceil(offsets.length / MOST_VALUES);
  const shown = offsets.filter((_, i) => i % step === 0 || i === offsets.length - 1);
  const value = (runs: readonly OffsetRun[], at: number): string => {
    const run = runs.find((r) => r.offset[0] - 1e-3 <= at && at <= r.offset.at(-1)! + 1e-3);
    return run ? forms.elevation(elevationOn(run, Math.min(Math.max(at, run.offset[0]), run.offset.at(-1)!))) : '';
  };
  const areas = section.cut === null ? '' : `; cut ${formatArea(section.cut, settings.areaUnit, settings.unit)}, fill ${formatArea(section.fill!, settings.areaUnit, settings.unit)}`; // prettier-ignore
  const { svg, datum } = sectionFigure(section, scale);
  const name = formatChainage(section.chainage, settings.unit, settings.chainage, 2);
  return {
    kind: 'section',
    title: `Section at ${name} ${forms.sign}${areas}`,
    about: svg ? [`The lowest rule is at elevation ${forms.length(datum, 2)} ${forms.sign}; rules are ${forms.length(RULE / scale.times, 2)} ${forms.sign} apart.${step > 1 ? ` Of ${offsets.length} bends one in ${step} is shown.` : ''}`] : ['Nothing of the surfaces lies there.'], // prettier-ignore
    marked: false,
    columns: [column('', 'words', 18), ...shown.map((o) => column(forms.length(o, 2), 'number', 8))],
    drawing: svg ?? undefined,
    rows: section.surfaces.map((s) => row([s.name, ...shown.map((o) => value(s.runs, o))])),
  };
}

/** m of elevation from rule to rule, at true scale. */
const RULE = 1;
/** Share of the way from rule to rule that rounding may leave. */
const ROUNDING = 1e-9;
/** pt above and below what is drawn. */
const AIR = 8;

/** A section at true scale as an SVG in points, and the elevation of its lowest rule; no picture where nothing is cut. */
export function sectionFigure(
  section: CrossSection,
  { scale, times }: SheetScale,
): { svg: string | null; datum: number } {
  const runs = section.surfaces.flatMap((s) => s.runs);
  if (runs.length === 0) return { svg: null, datum: 0 };
  const [left, right] = [Math.min(...runs.map((r) => r.offset[0])), Math.max(...runs.map((r) => r.offset.at(-1)!))];
  const [low, high] = [Math.min(...runs.flatMap((r) => r.z)), Math.max(...runs.flatMap((r) => r.z))];
  const rule = RULE / times;
  const datum = Math.floor(low / rule + ROUNDING) * rule;
  const top = Math.max(Math.ceil(high / rule - ROUNDING) * rule, datum + rule);
  const [across, up] = [POINTS_IN_METRE / scale, (POINTS_IN_METRE / scale) * times];
  const [width, height] = [(right - left) * across, (top - datum) * up + 2 * AIR];
  const at = (o: number, z: number): string => `${((o - left) * across).toFixed(2)} ${(height - AIR - (z - datum) * up).toFixed(2)}`; // prettier-ignore
  const stroke = (of: Ink, wide: number, dash = ''): string => `fill="none" stroke="${inkOf(of)}" stroke-width="${wide}"${dash ? ` stroke-dasharray="${dash}"` : ''}`; // prettier-ignore
  const rules: string[] = [];
  const count = Math.round((top - datum) / rule);
  // No more rules than can be told apart.
  const every = Math.ceil(count / 60);
  for (let k = 0; k <= count; k += every) rules.push(`M${at(left, datum + k * rule)}L${at(right, datum + k * rule)}`);
  const lines = section.surfaces.map((s, i) => {
    const d = s.runs.map((r) => `M${r.offset.map((o, k) => at(o, r.z[k])).join('L')}`).join('');
    return `<path d="${d}" ${stroke(i === 0 ? 'ink' : 'pole', 0.9, DASHES[i % DASHES.length])}/>`;
  });
  const middle = left < 0 && right > 0 ? `<path d="M${at(0, datum)}L${at(0, top)}" ${stroke('slate', 0.4, '6 2 1 2')}/>` : ''; // prettier-ignore
  return {
    datum,
    svg: [
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width.toFixed(2)}" height="${height.toFixed(2)}" viewBox="0 0 ${width.toFixed(2)} ${height.toFixed(2)}">`,
      `<path d="${rules.join('')}" ${stroke('slate', 0.2)}/>`,
      middle,
      ...lines,
      '</svg>',
    ].join(''),
  };
}
