import { chakra } from '@chakra-ui/react';
import { useRef, useState, type FormEvent, type ReactNode } from 'react';
import { formatLength, fromMetres, readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Aside, Field, Num, Pick } from './controls.tsx';

/** A setting as a sentence that is changed in place. */
export const Sentence = chakra('div', {
  base: {
    px: '12px',
    py: '4px',
    display: 'flex',
    alignItems: 'center',
    gap: '7px',
    flexWrap: 'wrap',
    minHeight: '32px',
  },
});

/** A choice within a sentence. */
export function Choice<T extends string | number>({
  name,
  value,
  options,
  onChange,
  disabled = false,
}: {
  name: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  disabled?: boolean;
}) {
  return (
    <Pick
      aria-label={name}
      value={value}
      disabled={disabled}
      onChange={(e) => onChange(options.find(([v]) => String(v) === e.target.value)![0])}
    >
      {options.map(([v, label]) => (
        <option key={v} value={v}>
          {label}
        </option>
      ))}
    </Pick>
  );
}

/** What was typed, read and echoed before it is taken. */
export type Read<T> = { ok: true; value: T; echo: string } | { ok: false; reason: string };

/** A value typed within a sentence: read as people type it, echoed, taken on Enter or on leaving the field. */
export function Typed<T>({
  name,
  shown,
  read,
  onSet,
  width = '84px',
  disabled = false,
}: {
  name: string;
  shown: string;
  read: (text: string) => Read<T>;
  onSet: (value: T) => void;
  width?: string;
  disabled?: boolean;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const answer = typed === null ? null : read(typed);
  const field = useRef<HTMLInputElement>(null);
  const leaving = useRef(false);
  const submit = (event?: FormEvent): void => {
    event?.preventDefault();
    if (answer === null || !answer.ok || leaving.current) return;
    setTyped(null);
    // The field is left, so that the keys are the page's again: Enter and Escape decide on a preview.
    leaving.current = true;
    field.current?.blur();
    leaving.current = false;
    if (typed !== shown) onSet(answer.value);
  };
  return (
    <>
      <form onSubmit={submit}>
        <Field
          ref={field}
          numeric
          width={width}
          aria-label={name}
          aria-invalid={answer !== null && !answer.ok}
          disabled={disabled}
          value={typed ?? shown}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => submit()}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Escape') setTyped(null);
          }}
        />
      </form>
      {answer && typed !== shown ? (
        <Aside role="status" color={answer.ok ? 'slate' : 'pole'}>
          {answer.ok ? <Num>= {answer.echo}</Num> : answer.reason}
        </Aside>
      ) : null}
    </>
  );
}

/** Reads a length within limits, metres. */
export const lengthWithin =
  (unit: LengthUnit, min: number, max: number) =>
  (text: string): Read<number> => {
    const read = readLength(text, unit);
    if (!read.ok) return read;
    return read.metres >= min && read.metres <= max
      ? { ok: true, value: read.metres, echo: read.echo }
      : { ok: false, reason: `between ${formatLength(min, unit)} and ${formatLength(max, unit)} ${UNIT_SIGN[unit]}` };
  };

/** Reads a plain number within limits. */
export const numberWithin =
  (min: number, max: number, whole = false) =>
  (text: string): Read<number> => {
    const value = Number(
      text
        .trim()
        .replace(/[\u2009 ]/g, '')
        .replace(',', '.'),
    );
    if (text.trim() === '' || !Number.isFinite(value))
      return { ok: false, reason: `“${text.slice(0, 30)}” is not a number` };
    if (whole && !Number.isInteger(value)) return { ok: false, reason: 'a whole number, please' };
    return value >= min && value <= max
      ? { ok: true, value, echo: String(value) }
      : { ok: false, reason: `between ${min} and ${max}` };
  };

/** A length within a sentence, in a unit, echoed. */
export function Length({
  name,
  before,
  after,
  metres,
  unit,
  onSet,
  min,
  max,
  disabled = false,
}: {
  name: string;
  before?: ReactNode;
  after?: ReactNode;
  metres: number;
  unit: LengthUnit;
  onSet: (metres: number) => void;
  min: number;
  max: number;
  disabled?: boolean;
}) {
  return (
    <Sentence>
      {before ?? name}
      <Typed
        name={name}
        shown={String(Number(fromMetres(metres, unit).toFixed(4)))}
        read={lengthWithin(unit, min, max)}
        onSet={(value) => Math.abs(value - metres) > 1e-9 && onSet(value)}
        width="74px"
        disabled={disabled}
      />
      <span>
        {UNIT_SIGN[unit]} {after}
      </span>
    </Sentence>
  );
}
