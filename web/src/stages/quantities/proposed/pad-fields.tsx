import { Flex } from '@chakra-ui/react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { PadRow, ProposedRow } from '#core/project';
import type { FittedPad } from '#core/stages';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { TypedNumber } from '../../../frame/typed-number.tsx';
import { useParts } from '../../../project-state/store.ts';
import { Balancing } from './balancing.tsx';
import { BatterFields, FIELD } from './batter-fields.tsx';
import { ThroughPoints } from './through-points.tsx';

/** m */
const HIGHEST = 12_000;
const DEGREES = 180 / Math.PI;

interface PadFieldsProps {
  row: PadRow;
  /** The plane that its points give, where it goes through points. */
  fitted: FittedPad | undefined;
  /** Parts that are laid into the same ground before it. */
  before: readonly ProposedRow[];
  set: (to: Partial<PadRow>) => void;
}

/** A pad as it is set: its plane, batters and corners; and the level at which cut and fill balance. */
export function PadFields({ row, fitted, before, set }: PadFieldsProps) {
  return (
    <>
      {row.through ? <FittedPlane fitted={fitted} /> : <TypedPlane row={row} set={set} />}
      <ThroughPoints row={row} fitted={fitted} set={set} />
      <BatterFields row={row} set={set} />
      {row.through ? null : <Balancing row={row} before={before} set={(level) => set({ level })} />}
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
