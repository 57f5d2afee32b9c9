import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { UNIT_SIGN } from '#core/measure';
import type { PadRow } from '#core/project';
import { LEAST_SLOPE, MOST_SLOPE } from '#core/quantities';
import { Act, Aside, Pick } from '../../frame/controls.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { InPlace } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { BalanceCurve } from './balance-curve.tsx';
import { sheetWork } from '../../work/workers.ts';

/** m */
const HIGHEST = 12_000;
const DEGREES = 180 / Math.PI;

interface PadFieldsProps {
  /** The surface whose recipe the pad is a row of. */
  surface: string;
  row: PadRow;
}

/** A pad as it is set: its level, gradient, batters and corners; and the level at which cut and fill balance. */
export function PadFields({ surface, row }: PadFieldsProps) {
  const { state, tables, make } = useParts('state', 'tables', 'make');
  const { unit } = state!.document.settings;
  const [factor, setFactor] = useState(1);
  const [said, setSaid] = useState<string | null>(null);
  const [curve, setCurve] = useState(false);
  const [busy, setBusy] = useState(false);
  const set = (to: Partial<PadRow>): void => void make({ op: 'surface.row', surface, row: { ...row, ...to } });
  const ground = tables!.surfaces.get(row.surface);
  const balance = async (): Promise<void> => {
    setBusy(true);
    try {
      const found = await sheetWork().balance(ground!, { ...row, ring: Float64Array.from(row.ring) }, factor);
      setSaid(found.ok ? null : found.reason);
      if (found.ok) set({ level: Math.round(found.level * 1e4) / 1e4 });
    } finally {
      setBusy(false);
    }
  };
  const field = { width: '74px', height: '24px', px: '4px', fontSize: '12px' };
  const slope = (of: 'cutSlope' | 'fillSlope', label: string) =>
    <TypedNumber key={`${of} ${row[of]}`} label={label} value={row[of]} least={LEAST_SLOPE} most={MOST_SLOPE} set={(v) => set({ [of]: v })} field={{ ...field, width: '54px' }} />; // prettier-ignore
  return (
    <InPlace>
      <Box mb="12px" fontSize="13px">
        <Flex gap="6px" align="center" wrap="wrap">
          Pad at{' '}
          <TypedLength
            key={`level ${row.level}`}
            label="level of the pad"
            value={row.level}
            unit={unit}
            least={-HIGHEST}
            most={HIGHEST}
            must="This is no elevation."
            set={(level) => set({ level: level! })}
            field={field}
          />{' '}
          {UNIT_SIGN[unit]}, rising{' '}
          <TypedNumber
            key={`gradient ${row.gradient}`}
            label="gradient of the pad %"
            value={100 * row.gradient}
            least={0}
            most={1000}
            set={(v) => set({ gradient: v / 100 })}
            field={{ ...field, width: '54px' }}
          />{' '}
          % towards{' '}
          <TypedNumber
            key={`direction ${row.direction}`}
            label="bearing towards which it rises °"
            value={row.direction * DEGREES}
            least={-360}
            most={360}
            set={(v) => set({ direction: v / DEGREES })}
            field={{ ...field, width: '60px' }}
          />{' '}
          °
        </Flex>
        <Flex gap="6px" align="center" wrap="wrap" mt="6px">
          Batters 1 : {slope('cutSlope', 'slope in cut, horizontal to 1 vertical')} in cut, 1 :{' '}
          {slope('fillSlope', 'slope in fill, horizontal to 1 vertical')} in fill, corners{' '}
          <Pick
            aria-label="corners of the batters"
            height="24px"
            value={row.corners}
            onChange={(e) => set({ corners: e.target.value as PadRow['corners'] })}
          >
            <option value="mitred">mitred</option>
            <option value="rounded">rounded</option>
          </Pick>
        </Flex>
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
            field={{ ...field, width: '54px' }}
          />{' '}
          equals fill
          <Act aria-pressed={curve} disabled={!ground} onClick={() => setCurve(!curve)}>
            {curve ? 'Hide the curve' : 'At other levels …'}
          </Act>
          {said ? <Aside color="brass">{said}</Aside> : null}
        </Flex>
        {curve && ground ? <BalanceCurve ground={ground} row={row} set={(level) => set({ level })} /> : null}
      </Box>
    </InPlace>
  );
}
