import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { PadRow } from '#core/project';
import type { FittedPad } from '#core/stages';
import { Act, Aside } from '../../../frame/controls.tsx';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { TypedNumber } from '../../../frame/typed-number.tsx';
import { useParts } from '../../../project-state/store.ts';
import { sheetWork } from '../../../work/workers.ts';
import { BalanceCurve } from './balance-curve.tsx';
import { BatterFields, FIELD } from './batter-fields.tsx';
import { ThroughPoints } from './through-points.tsx';

/** m */
const HIGHEST = 12_000;
const DEGREES = 180 / Math.PI;

interface PadFieldsProps {
  row: PadRow;
  /** The plane that its points give, where it goes through points. */
  fitted: FittedPad | undefined;
  /** Whether it is laid into the ground before anything else. */
  first: boolean;
  set: (to: Partial<PadRow>) => void;
}

/** A pad as it is set: its plane, batters and corners; and the level at which cut and fill balance. */
export function PadFields({ row, fitted, first, set }: PadFieldsProps) {
  return (
    <>
      {row.through ? <FittedPlane fitted={fitted} /> : <TypedPlane row={row} set={set} />}
      <ThroughPoints row={row} fitted={fitted} set={set} />
      <BatterFields row={row} set={set} />
      {first && !row.through ? <Balancing row={row} set={set} /> : null}
    </>
  );
}

function FittedPlane({ fitted }: Pick<PadFieldsProps, 'fitted'>) {
  const { unit } = useParts('state').state!.document.settings;
  const sign = UNIT_SIGN[unit];
  if (!fitted) return <span>Pad on the plane of its points</span>;
  const bearing = ((fitted.direction * DEGREES + 360) % 360).toFixed(1);
  return (
    <span>
      Pad at {formatLength(fitted.level, unit, 3)} {sign} in its middle, rising {(100 * fitted.gradient).toFixed(2)} %
      towards {bearing}°; {fitted.points} points, the worst {formatLength(fitted.off, unit, 3)} {sign} off its plane
    </span>
  );
}

function TypedPlane({ row, set }: Pick<PadFieldsProps, 'row' | 'set'>) {
  const { unit } = useParts('state').state!.document.settings;
  return (
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
        field={FIELD}
      />{' '}
      {UNIT_SIGN[unit]}, rising{' '}
      <TypedNumber
        key={`gradient ${row.gradient}`}
        label="gradient of the pad %"
        value={100 * row.gradient}
        least={0}
        most={1000}
        set={(v) => set({ gradient: v / 100 })}
        field={{ ...FIELD, width: '54px' }}
      />{' '}
      % towards{' '}
      <TypedNumber
        key={`direction ${row.direction}`}
        label="bearing towards which it rises °"
        value={row.direction * DEGREES}
        least={-360}
        most={360}
        set={(v) => set({ direction: v / DEGREES })}
        field={{ ...FIELD, width: '60px' }}
      />{' '}
      °
    </Flex>
  );
}

function Balancing({ row, set }: Pick<PadFieldsProps, 'row' | 'set'>) {
  const { tables } = useParts('tables');
  const [factor, setFactor] = useState(1);
  const [said, setSaid] = useState<string | null>(null);
  const [curve, setCurve] = useState(false);
  const [busy, setBusy] = useState(false);
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
      {curve && ground ? <BalanceCurve ground={ground} row={row} set={(level) => set({ level })} /> : null}
    </>
  );
}
