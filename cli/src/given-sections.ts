import { readSectionTable, volumeOfSections, type CutAndFill } from '#core/quantities';
import { textOf, unitIn, type TextOptions } from './load.ts';
import { CannotDo } from './problems.ts';
import type { Outcome } from './verb.ts';

/** Volume of given sections: average end area, and the prismoidal formula where they come in threes. */
export function sectionsGiven(file: string, options: Pick<TextOptions, 'unit' | 'sheet'>): Outcome {
  const table = readSectionTable(textOf(file, options.sheet), unitIn(options.unit) ?? null);
  if (!table.ok) throw new CannotDo(`${file}: ${table.reason}`);
  const computed = volumeOfSections(table.sections);
  if (!computed.ok) throw new CannotDo(`${file}: ${computed.reason}`);
  const { between, averageEndArea, prismoidal, said } = computed.volumes;
  const withNet = ({ cut, fill }: CutAndFill): CutAndFill & { net: number } => ({ cut, fill, net: cut - fill });
  const line = (name: string, v: CutAndFill): string =>
    `${name.padEnd(16)} cut ${v.cut.toFixed(3)} m³, fill ${v.fill.toFixed(3)} m³, cut − fill ${(v.cut - v.fill).toFixed(3)} m³`;
  return {
    json: {
      sections: table.sections.length,
      unit: table.unit,
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
