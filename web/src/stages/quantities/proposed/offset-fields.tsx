import { Flex } from '@chakra-ui/react';
import { UNIT_SIGN } from '#core/measure';
import type { ProposedRow } from '#core/project';
import { Pick } from '../../../frame/controls.tsx';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { useParts } from '../../../project-state/store.ts';
import { RingActs } from '../ring-acts.tsx';
import { FIELD } from './batter-fields.tsx';

type OffsetRow = Extract<ProposedRow, { kind: 'offset' }>;

/** Another surface so much higher or lower: which, by how much, inside what. */
export function OffsetFields({
  row,
  own,
  set,
}: {
  row: OffsetRow;
  own: string;
  set: (to: Partial<OffsetRow>) => void;
}) {
  const { surfaces, settings } = useParts('state').state!.document;
  const { unit } = settings;
  return (
    <Flex gap="6px" align="center" wrap="wrap">
      <Pick aria-label="surface that is offset" value={row.surface} onChange={(e) => set({ surface: e.target.value })}>
        {surfaces
          .filter((s) => s.id !== own)
          .map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
      </Pick>
      by{' '}
      <TypedLength
        key={`by ${row.by}`}
        label="offset, up is positive"
        value={row.by}
        unit={unit}
        least={-1000}
        most={1000}
        must="This is no offset."
        set={(by) => set({ by: by! })}
        field={FIELD}
      />{' '}
      {UNIT_SIGN[unit]}, {row.ring ? 'inside an area' : 'all of it'}
      <RingActs
        purpose="the area of the offset"
        draw={row.ring ? 'Draw its area again' : 'Draw an area'}
        pick="a closed line as its area"
        onRing={(ring) => set({ ring })}
      />
    </Flex>
  );
}
