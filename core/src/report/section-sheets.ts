import { sinCos } from '#core/kernel';
import { formatArea, formatChainage, formatFixed } from '#core/measure';
import type { Comparison, ProjectDocument } from '#core/project';
import { elevationOn, volumeOfSections, type CrossSection, type NearSection, type OffsetRun } from '#core/quantities';
import { comparedText } from './compared-text.ts';
import { formsOf, type Forms } from './forms.ts';
import { column, row, type Report, type ReportTable } from './table.ts';
import { POINTS_IN_METRE, RULE, sectionFigure, type SheetScale } from './section-figure.ts';

/** What a section may be wide on a sheet that lies, pt. */
const WIDEST = 750;
/** Scales that a draughter uses. */
const SCALES = [20, 50, 100, 200, 250, 500, 1000, 2000, 5000];

/** What a section may be high on it, pt. */
const TALLEST = 380;

/** The largest usual scale at which sections so wide and high, m, go on a sheet. */
export const usualScale = (wide: number, high: number, room = { wide: WIDEST, high: TALLEST }): number => SCALES.find((s) => (wide / s) * POINTS_IN_METRE <= room.wide && (high / s) * POINTS_IN_METRE <= room.high) ?? SCALES.at(-1)!; // prettier-ignore

/** m that go on a sheet beside each other at a scale. */
export const widthOnSheet = (scale: number): number => (WIDEST / POINTS_IN_METRE) * scale;

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

export const LINE_NAME = ['solid', 'dashed', 'dotted', 'dash-dotted'];

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

/** m by which a rounded offset may lie off the end of a run. */
const OFF_END = 1e-3;

/** Elevation of a cut at an offset or chainage; nothing where it has none there. */
export function elevationText(runs: readonly OffsetRun[], at: number, forms: Forms): string {
  const run = runs.find((r) => r.offset[0] - OFF_END <= at && at <= r.offset.at(-1)! + OFF_END);
  return run ? forms.elevation(elevationOn(run, Math.min(Math.max(at, run.offset[0]), run.offset.at(-1)!))) : '';
}

/** Columns of values under a section; more bends than that are told every so many. */
const MOST_VALUES = 14;

function sheetOf(doc: ProjectDocument, section: CrossSection, scale: SheetScale, forms: Forms): ReportTable {
  const { settings } = doc;
  const offsets = [...new Set(section.surfaces.flatMap((s) => s.runs.flatMap((r) => r.offset)).map((o) => Math.round(o * 1000) / 1000))].sort((a, b) => a - b); // prettier-ignore
  const step = Math.ceil(offsets.length / MOST_VALUES);
  const shown = offsets.filter((_, i) => i % step === 0 || i === offsets.length - 1);
  const areas = section.cut === null ? '' : `; cut ${formatArea(section.cut, settings.areaUnit, settings.unit)}, fill ${formatArea(section.fill!, settings.areaUnit, settings.unit)}`; // prettier-ignore
  const { svg, datum } = sectionFigure(section, scale);
  const name = formatChainage(section.chainage, settings.unit, settings.chainage, 2);
  const near = nearText(section.near ?? [], forms);
  return {
    kind: 'section',
    title: `Section at ${name} ${forms.sign}${areas}`,
    about: svg ? [...near, `The lowest rule is at elevation ${forms.length(datum, 2)} ${forms.sign}; rules are ${forms.length(RULE / scale.times, 2)} ${forms.sign} apart.${step > 1 ? ` Of ${offsets.length} bends one in ${step} is shown.` : ''}`] : ['Nothing of the surfaces lies there.'], // prettier-ignore
    marked: false,
    columns: [column('', 'words', 18), ...shown.map((o) => column(forms.length(o, 2), 'number', 8))],
    drawing: svg ?? undefined,
    rows: section.surfaces.map((s) => row([s.name, ...shown.map((o) => elevationText(s.runs, o, forms))])),
  };
}

/** Names that are told under a section; the table of all sections has the rest. */
const MOST_NEAR = 12;

function nearText(near: readonly NearSection[], forms: Forms): string[] {
  if (near.length === 0) return [];
  const told = near.slice(0, MOST_NEAR).map((o) => `${o.name} ${forms.length(o.offset, 2)}`);
  const more = near.length - told.length;
  return [
    `Near it, by offset in ${forms.sign}: ${told.join('; ')}${more > 0 ? `; and ${more} more, in the table of the sections` : ''}.`,
  ];
}
