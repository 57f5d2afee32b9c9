import { useState } from 'react';
import { plainNumber } from '#core/measure';
import { Field } from './controls.tsx';

interface TypedNumberProps {
  /** As a screen reader says it, with its unit. */
  label: string;
  /** Undefined while nothing is typed. */
  value: number | undefined;
  least: number;
  most: number;
  set: (value: number) => void;
  field?: Omit<React.ComponentProps<typeof Field>, 'value' | 'onChange'>;
}

/** Digits behind the point that a number is shown with at the most. */
const DECIMALS = 4;

/** A number with a point or a comma; taken by Enter and on leaving the field. */
export function TypedNumber({ label, value, least, most, set, field }: TypedNumberProps) {
  const shown = value === undefined ? '' : String(Number(value.toFixed(DECIMALS)));
  const [typed, setTyped] = useState(shown);
  const read = plainNumber(typed.trim().replace(',', '.'));
  const good = typed === shown || (read >= least && read <= most);
  const take = (): void => {
    if (good && typed !== shown) set(read);
  };
  return (
    <Field
      numeric
      {...field}
      aria-label={label}
      aria-invalid={!good}
      title={good ? undefined : `A number between ${least} and ${most}.`}
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
