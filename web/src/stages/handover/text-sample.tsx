import type { FileSpec } from '#core/handover';
import { type PointRow, writeText } from '#core/exchange';
import { type LengthUnit } from '#core/measure';
import { STATE } from '#core/stages';
import { useParts } from '../../project-state/store.ts';
import { type Tables } from '../../project-state/tables.ts';
import { chakra } from '@chakra-ui/react';

type Csv = Extract<FileSpec, { kind: 'csv' }>;

/** A few rows as they will be written. */
export function Sample({ tables, csv, unit }: { tables: Tables; csv: Csv; unit: LengthUnit }) {
  const { state } = useParts('state');
  const { points } = tables;
  const rows: PointRow[] = [];
  for (let row = 0; row < points.x.length && rows.length < 3; row++) {
    const purpose = state!.document.intakes[points.intake[row]]?.purpose;
    if (points.state[row] !== STATE.used || !(purpose === 'survey' || (csv.control && purpose === 'control'))) continue;
    rows.push({
      number: points.number.get(row),
      x: points.x[row],
      y: points.y[row],
      z: points.z[row],
      description: points.description.get(row),
    });
  }
  return (
    <chakra.pre
      aria-label="sample of the points as written"
      mx="12px"
      my="2px"
      p="6px 10px"
      bg="wash"
      borderRadius="3px"
      fontFamily="mono"
      fontSize="12px"
      lineHeight="17px"
      overflow="auto"
    >
      {writeText(rows, { ...csv, unit }).trimEnd()}
    </chakra.pre>
  );
}
