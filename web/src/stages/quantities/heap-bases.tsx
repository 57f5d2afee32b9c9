import { Box, chakra } from '@chakra-ui/react';
import { useState } from 'react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { HEAP_BASES, type Heap, type HeapBase } from '#core/quantities';
import { Aside, Num } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import { BASE_NAME } from '#core/report';

interface HeapBasesProps {
  comparison: Comparison;
  heap: Heap;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** What a heap holds above every base, and what choosing another one costs. */
export function HeapBases({ comparison, heap, set }: HeapBasesProps) {
  const { state } = useParts('state');
  const can = useCanChange();
  const { settings } = state!.document;
  const { unit, areaUnit } = settings;
  const chosen = 'base' in comparison.against ? comparison.against.base : null;
  // What the hand chose stands at once; refused, it goes back.
  const [picked, setPicked] = useState(chosen);
  const choose = async (base: HeapBase): Promise<void> => {
    setPicked(base);
    if (!(await set({ against: { base } }))) setPicked(chosen);
  };
  const net = chosen && heap.volumes[chosen]?.net;
  const volume = (id: string, head: string, of: (base: HeapBase) => number | undefined): SmallColumn<HeapBase> => ({
    id,
    head,
    mono: true,
    by: of,
    cell: (base) => {
      const v = of(base);
      return v === undefined ? 'no plane' : formatVolume(v, settings);
    },
  });
  const columns: SmallColumn<HeapBase>[] = [
    {
      id: 'base',
      head: 'base',
      cell: (base) => (
        <chakra.label display="inline-flex" gap="6px" alignItems="center">
          <input
            type="radio"
            name={`base of ${comparison.id}`}
            checked={base === picked}
            disabled={!can || heap.volumes[base] === null}
            onChange={() => void choose(base)}
          />
          {BASE_NAME[base]}
        </chakra.label>
      ),
    },
    volume('above', `above ${VOLUME_SIGN[settings.volumeUnit]}`, (b) => heap.volumes[b]?.above),
    volume('below', 'below', (b) => heap.volumes[b]?.below),
    volume('net', 'net', (b) => heap.volumes[b]?.net),
    volume('other', 'to the chosen', (b) => {
      const v = heap.volumes[b];
      return v && net !== null && net !== undefined ? v.net - net : undefined;
    }),
  ];
  return (
    <Box mb="12px">
      <Aside display="block" mb="4px">
        toe of {heap.toe.length} corners, {formatArea(heap.planArea, areaUnit, unit)} in plan, elevations{' '}
        <Num>
          {formatLength(heap.lowest, unit, 2)} to {formatLength(heap.highest, unit, 2)}
        </Num>
        , mean <Num>{formatLength(heap.mean, unit, 2)}</Num>, top <Num>{formatLength(heap.top, unit, 2)}</Num>{' '}
        {UNIT_SIGN[unit]}
      </Aside>
      <SmallTable label="the heap above every base" columns={columns} rows={HEAP_BASES} rowKey={(b) => b} />
    </Box>
  );
}
