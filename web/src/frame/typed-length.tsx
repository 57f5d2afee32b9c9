import { useState } from 'react';
import { formatLength, readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Field } from './controls.tsx';

interface TypedLengthProps {
  /** As a screen reader says it; the unit comes behind. */
  label: string;
  /** m; undefined while nothing is typed. */
  value: number | undefined;
  unit: LengthUnit;
  /** m */
  least: number;
  most: number;
  /** What it is, where the pointer rests on it; and what it must be, while it is not. */
  title?: string;
  must: string;
  /** Whether it may be left empty. */
  optional?: boolean;
  set: (metres: number | undefined) => void;
  field?: Omit<React.ComponentProps<typeof Field>, 'value' | 'onChange'>;
}

/** A length in the project's unit, or in whatever unit is typed behind it; taken by Enter and on leaving. */
export function TypedLength({
  label,
  value,
  unit,
  least,
  most,
  title,
  must,
  optional = false,
  set,
  field,
}: TypedLengthProps) {
  const [typed, setTyped] = useState(() => (value === undefined ? '' : formatLength(value, unit, 3)));
  const empty = typed.trim() === '';
  const read = readLength(typed, unit);
  const good = empty ? optional : read.ok && read.metres >= least && read.metres <= most;
  const take = (): void => {
    if (!good) return;
    const metres = read.ok && !empty ? read.metres : undefined;
    if (metres !== value) set(metres);
  };
  return (
    <Field
      numeric
      {...field}
      aria-label={`${label} ${UNIT_SIGN[unit]}`}
      aria-invalid={!good}
      title={good ? title : must}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') take();
      }}
    />
  );
}
