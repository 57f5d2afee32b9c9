import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { Act, Aside } from '../../frame/controls.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { useParts } from '../../project-state/store.ts';
import { sheetWork } from '../../work/workers.ts';

interface RefineGridProps {
  comparison: Comparison;
  /** m; where it begins. */
  cell: number;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** Halves the grid's cells until that changes cut and fill by no more than a share that is typed. */
export function RefineGrid({ comparison, cell, set }: RefineGridProps) {
  const { state, tables } = useParts('state', 'tables');
  const { unit } = state!.document.settings;
  const [percent, setPercent] = useState(0.1);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<string | null>(null);
  const pieces = tables!.pieces.get(comparison.id);
  const refine = async (): Promise<void> => {
    setBusy(true);
    try {
      const found = await sheetWork().refineGrid(pieces!, cell, percent / 100);
      const change = `${(100 * found.change).toFixed(3)} %`;
      const size = `${formatLength(found.cell, unit, 3)} ${UNIT_SIGN[unit]}`;
      setSaid(
        found.reached
          ? `Cells of ${size}: halving them last changed cut and fill by ${change}.`
          : `It would take more cells than are computed: at ${size} halving them still changed cut and fill by ${change}. The cells stay as they are.`,
      );
      // A grid that fine and still not good enough would only cost time at every change.
      if (found.reached) await set({ methods: { ...comparison.methods, cell: found.cell } });
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Flex gap="6px" align="center" wrap="wrap" mt="4px" fontSize="13px">
        <Act height="22px" disabled={busy || !pieces?.length} onClick={() => void refine()}>
          {busy ? 'Halving …' : 'Halve the cells'}
        </Act>
        until that changes less than{' '}
        <TypedNumber
          label="share of cut and fill that halving the cells may change, %"
          value={percent}
          least={0.001}
          most={50}
          set={setPercent}
          field={{ width: '54px', height: '22px', px: '4px', fontSize: '12px' }}
        />{' '}
        %
      </Flex>
      {said ? <Aside display="block">{said}</Aside> : null}
    </>
  );
}
