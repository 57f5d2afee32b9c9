import { readDxf, readLandXmlBytes, sectionTableOfDxf, sectionTableOfLandXml, type SectionTable } from '#core/exchange';
import { readSectionTable, volumeOfSections, workByHand, type CutAndFill, type SectionVolumes } from '#core/quantities';
import { boundedBytes, textOf, unitIn, type TextOptions } from './load.ts';
import { CannotDo, WrongUsage } from './problems.ts';
import type { Outcome } from './verb.ts';

/** Volume of given sections: average end area, and the prismoidal formula where they come in threes. */
export function sectionsGiven(file: string, options: Pick<TextOptions, 'unit' | 'sheet'>): Outcome {
  const table = readSectionTable(textOf(file, options.sheet), unitIn(options.unit) ?? null);
  if (!table.ok) throw new CannotDo(`${file}: ${table.reason}`);
  const computed = volumeOfSections(table.sections);
  if (!computed.ok) throw new CannotDo(`${file}: ${computed.reason}`);
  return sectionsTold(table.sections.length, table.unit, computed.volumes);
}

const withNet = ({ cut, fill }: CutAndFill): CutAndFill & { net: number } => ({ cut, fill, net: cut - fill });
const line = (name: string, v: CutAndFill): string =>
  `${name.padEnd(16)} cut ${v.cut.toFixed(3)} m³, fill ${v.fill.toFixed(3)} m³, cut − fill ${(v.cut - v.fill).toFixed(3)} m³`;

/** Volume of section drawings, or of a grid of corner elevations cell by cell. */
export function handTable(
  kind: 'drawings' | 'corners',
  file: string,
  options: Pick<TextOptions, 'unit' | 'sheet'> & { cell?: number; level?: number },
): Outcome {
  const drawn = kind === 'drawings' ? drawnSections(file) : null;
  const unit = drawn?.unit ?? unitIn(options.unit);
  if (!unit) throw new WrongUsage(`${file} does not say its unit. Give --unit m, ft or usft.`);
  if (kind === 'corners' && (options.cell === undefined || options.level === undefined)) throw new WrongUsage('--corners needs --cell and --level.'); // prettier-ignore
  const worked = workByHand({ kind, unit, text: drawn?.text ?? textOf(file, options.sheet), cell: options.cell ?? 1, level: options.level ?? 0 }); // prettier-ignore
  if (!worked.ok) throw new CannotDo(`${file}: ${worked.reason}`);
  if (worked.sections) return sectionsTold(worked.sections.sections.length, unit, worked.sections);
  const { cells, leftOut } = worked;
  return {
    json: { cells: cells.map(({ row, column, depths, mean, cut, fill }) => ({ row, column, depths, mean, cut, fill })), leftOut, methods: { cells: withNet(worked) } }, // prettier-ignore
    text: [
      ...cells.map((c) => line(`cell ${c.row}, ${c.column}`, c)),
      line('cells', worked),
      ...(leftOut ? [`${leftOut} ${leftOut === 1 ? 'cell lacks' : 'cells lack'} a corner and ${leftOut === 1 ? 'is' : 'are'} left out`] : []), // prettier-ignore
    ].join('\n'),
  };
}

/** Cross sections of a LandXML file, or drawn in space in a DXF, as a table; null for a file of another kind. */
function drawnSections(file: string): Extract<SectionTable, { ok: true }> | null {
  const isDxf = /\.dxf$/i.test(file);
  if (!isDxf && !/\.xml$/i.test(file)) return null;
  const bytes = boundedBytes(file);
  const table = isDxf ? sectionTableOfDxf(readDxf(bytes)) : sectionTableOfLandXml(readLandXmlBytes(bytes));
  if (!table.ok) throw new CannotDo(`${file}: ${table.reason}`);
  return table;
}

function sectionsTold(sections: number, unit: string, volumes: SectionVolumes): Outcome {
  const { between, averageEndArea, prismoidal, said } = volumes;
  return {
    json: {
      sections,
      unit,
      between,
      methods: { averageEndArea: withNet(averageEndArea), prismoidal: prismoidal && withNet(prismoidal) },
      said,
    },
    text: [
      ...between.map((b) => line(`${b.from.toFixed(2)} … ${b.to.toFixed(2)}`, b)),
      line('average end area', averageEndArea),
      ...(prismoidal ? [line('prismoidal', prismoidal)] : []),
      ...said,
    ].join('\n'),
  };
}
