import type { ChainSummary } from '#core/chain';
import type { Comparison, ProjectDocument } from '#core/project';
import type { DepthSlice, MaterialVolumes, ZoneVolumes } from '#core/quantities';
import type { Forms } from './forms.ts';
import { column, row, type ReportTable } from './table.ts';
import { areaOf, cubic, VOLUME } from './volume-forms.ts';

type Figures = Extract<ChainSummary['comparisons'][number], { ok: true }>;

/** A comparison by its parts: zones, materials and depths, whichever somebody asked for. */
export const partTables = (
  doc: ProjectDocument,
  comparison: Comparison,
  { zones, materials, slices }: Figures,
  forms: Forms,
): ReportTable[] => [
  ...(zones ? [zoneTable(doc, comparison, zones)] : []),
  ...(materials && !('reason' in materials) ? [materialTable(doc, comparison, materials, forms)] : []),
  ...(slices && !('reason' in slices) ? [sliceTable(doc, slices, forms)] : []),
];

/** m² in plan that rounding may leave. */
const LEAST_UNKNOWN = 0.01;

function materialTable(
  doc: ProjectDocument,
  { materials = [], factors }: Comparison,
  { above, materials: volumes }: MaterialVolumes,
  forms: Forms,
): ReportTable {
  const area = areaOf(doc);
  const topText = (i: number): string => {
    const top = materials[i]?.top;
    if (!top) return '';
    if ('depth' in top) return `${forms.length(top.depth, 2)} ${forms.sign} under the ground`;
    return `“${doc.surfaces.find((s) => s.id === top.surface)?.name ?? 'a surface that is gone'}”`;
  };
  const line = (name: string, top: string, cut: number, on: string, factor: number) => row([name, top, cubic(cut), on, String(factor), cubic(cut * factor)]); // prettier-ignore
  const general = factors?.cut ?? 1;
  const factorOf = (i: number): number => materials[i]?.factors?.cut ?? general;
  const loose = volumes.reduce((sum, m, i) => sum + m.cut * factorOf(i), above * general);
  return {
    kind: 'materials',
    title: 'The cut by material',
    about: [
      'Each lies from its top down to the next; a top that is above the one before it begins where that one does.',
      ...volumes.filter((m) => m.unknown > LEAST_UNKNOWN).map((m) => `Nobody knows the top of “${m.name}” on ${area(m.unknown)} of the cut: what is cut there counts to the material above.`), // prettier-ignore
    ],
    marked: volumes.some((m) => m.unknown > LEAST_UNKNOWN),
    columns: [column('Material', 'words', 22), column('Top', 'words', 28), VOLUME('Cut', 13), column('Area that reaches it', 'words', 16), column('Factor', 'number', 8), VOLUME('Loose', 13)], // prettier-ignore
    rows: [
      ...(above > 0.05 ? [line('Above the first', '', above, '', general)] : []),
      ...volumes.map((m, i) => line(m.name, topText(i), m.cut, area(m.area), factorOf(i))),
      row(['Sum', '', cubic(volumes.reduce((sum, m) => sum + m.cut, above)), '', '', cubic(loose)]),
    ],
  };
}

function zoneTable(doc: ProjectDocument, comparison: Comparison, { zones, outside }: ZoneVolumes): ReportTable {
  const area = areaOf(doc);
  const line = (name: string, v: { cut: number; fill: number; area: number }, factors: Comparison['factors']) =>
    row([name, cubic(v.cut), cubic(v.fill), cubic(v.cut - v.fill), area(v.area), factors ? cubic(v.cut * factors.cut) : '', factors ? cubic(v.fill * factors.fill) : '']); // prettier-ignore
  return {
    kind: 'zones',
    title: 'By zone',
    about: [],
    marked: false,
    columns: [column('Zone', 'words', 24), VOLUME('Cut', 12), VOLUME('Fill', 12), VOLUME('Cut − fill', 12), column('Area', 'words', 16), VOLUME('Cut, loose', 12), VOLUME('Fill, to bring', 12)], // prettier-ignore
    rows: [
      ...zones.map((z, i) => line(z.name, z, comparison.zones?.[i]?.factors ?? comparison.factors)),
      line('In no zone', outside, comparison.factors),
    ],
  };
}

const sliceTable = (doc: ProjectDocument, slices: readonly DepthSlice[], forms: Forms): ReportTable => ({
  kind: 'slices',
  title: 'By depth',
  about: ['A slice holds what is deeper than its first depth, down to its second; areas are what is deeper than the first.'], // prettier-ignore
  marked: false,
  columns: [forms.lengthColumn('From', 12), forms.lengthColumn('To', 12), VOLUME('Cut', 16), column('Area of cut', 'words', 20), VOLUME('Fill', 16), column('Area of fill', 'words', 20)], // prettier-ignore
  rows: slices.map((s) => row([forms.length(s.from, 2), forms.length(s.to, 2), cubic(s.cut), areaOf(doc)(s.cutArea), cubic(s.fill), areaOf(doc)(s.fillArea)])), // prettier-ignore
});
