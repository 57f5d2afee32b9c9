import { Field } from '../../frame/controls.tsx';

/** The name of a part of a comparison, typed. */
export function NameField({ name, set }: { name: string; set: (name: string) => void }) {
  const take = (typed: string): void => {
    const wanted = typed.trim();
    if (wanted && wanted !== name) set(wanted);
  };
  return (
    <Field
      aria-label={`name of ${name}`}
      defaultValue={name}
      maxLength={120}
      height="22px"
      px="4px"
      fontSize="12px"
      width="110px"
      onBlur={(e) => take(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') take(e.currentTarget.value);
      }}
    />
  );
}
