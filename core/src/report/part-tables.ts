import type { ChainSummary } from '#core/chain';
import type { Comparison, ProjectDocument } from '#core/project';
import type { DepthSlice, MaterialVolumes, ZoneVolumes } from '#core/quantities';
import type { Forms } from './forms.ts';
import { LEAST_UNKNOWN, looseMaterials, type LooseMaterial } from './loose-materials.ts';
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

function materialTable(doc: ProjectDocument, comparison: Comparison, told: MaterialVolumes, forms: Forms): ReportTable {
  const area = areaOf(doc);
  const topText = (i: number): string => {
    const top = comparison.materials?.[i]?.top;
    if (!top) return '';
    if ('depth' in top) return `${forms.length(top.depth, 2)} ${forms.sign} under the ground`;
    return `“${doc.surfaces.find((s) => s.id === top.surface)?.name ?? 'a surface that is gone'}”`;
  };
  const { above, materials, loose } = looseMaterials(comparison, told);
  const unknown = told.materials.filter((m) => m.unknown > LEAST_UNKNOWN);
  const line = (name: string, top: string, on: string, m: LooseMaterial) => row([name, top, cubic(m.cut), on, String(m.factor), cubic(m.loose)]); // prettier-ignore
  return {
    kind: 'materials',
    title: 'The cut by material',
    about: [
      'Each lies from its top down to the next; a top that is above the one before it begins where that one does.',
      ...unknown.map((m) => `Nobody knows the top of “${m.name}” on ${area(m.unknown)} of the cut: what is cut there counts to the material above.`), // prettier-ignore
    ],
    marked: unknown.length > 0,
    columns: [column('Material', 'words', 22), column('Top', 'words', 28), VOLUME('Cut', 13), column('Area that reaches it', 'words', 16), column('Factor', 'number', 8), VOLUME('Loose', 13)], // prettier-ignore
    rows: [
      ...(above.cut > 0.05 ? [line('Above the first', '', '', above)] : []),
      ...materials.map((m, i) => line(m.name, topText(i), area(m.area!), m)),
      row(['Sum', '', cubic(materials.reduce((sum, m) => sum + m.cut, above.cut)), '', '', cubic(loose)]),
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
