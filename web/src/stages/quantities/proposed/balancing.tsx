import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { PadRow, ProposedRow, StripRow } from '#core/project';
import { Act, Aside } from '../../../frame/controls.tsx';
import { TypedNumber } from '../../../frame/typed-number.tsx';
import { useParts } from '../../../project-state/store.ts';
import { sheetWork } from '../../../work/workers.ts';
import { BalanceCurve } from './balance-curve.tsx';
import { FIELD } from './batter-fields.tsx';

interface BalancingProps {
  row: PadRow | StripRow;
  /** Parts that are laid into the same ground before it. */
  before: readonly ProposedRow[];
  /** Called with a level that is taken, m: of a strip that at which its line begins. */
  set: (level: number) => void;
}

/** The level at which a part's cut and fill balance, and what they are at others. */
export function Balancing({ row, before, set }: BalancingProps) {
  const { tables } = useParts('tables');
  const [factor, setFactor] = useState(1);
  const [said, setSaid] = useState<string | null>(null);
  const [curve, setCurve] = useState(false);
  const [busy, setBusy] = useState(false);
  const ground = tables!.surfaces.get(row.surface);
  const balance = async (): Promise<void> => {
    setBusy(true);
    try {
      const work = sheetWork();
      await work.holdProposed(ground!, [...before], row);
      const found = await work.balance(row.id, factor);
      setSaid(found.ok ? null : found.reason);
      if (!curve) void work.dropProposed(row.id);
      if (found.ok) set(Math.round(found.level * 1e4) / 1e4);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Flex gap="6px" align="center" wrap="wrap" mt="6px">
        <Act disabled={busy || !ground} onClick={() => void balance()}>
          {busy ? 'Balancing …' : 'Balance'}
        </Act>
        so that cut ×{' '}
        <TypedNumber
          label="factor of cut"
          value={factor}
          least={0.1}
          most={10}
          set={setFactor}
          field={{ ...FIELD, width: '54px' }}
        />{' '}
        equals fill
        <Act aria-pressed={curve} disabled={!ground} onClick={() => setCurve(!curve)}>
          {curve ? 'Hide the curve' : 'At other levels …'}
        </Act>
        {said ? <Aside color="brass">{said}</Aside> : null}
      </Flex>
      {curve && ground ? <BalanceCurve ground={ground} before={before} row={row} set={set} /> : null}
    </>
  );
}
