import { Field } from '../../frame/controls.tsx';

/** The name of a part of a comparison, typed. */
export function NameField({
  name,
  set,
  width = '110px',
}: {
  name: string;
  set: (name: string) => void;
  width?: string;
}) {
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
      width={width}
      onBlur={(e) => take(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') take(e.currentTarget.value);
      }}
    />
  );
}
