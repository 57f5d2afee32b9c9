import { NONE_SIGNS, noneOf } from '#core/exchange';
import { Pick } from './controls.tsx';

const SEPARATOR = { ',': 'comma', ';': 'semicolon', '\t': 'tab', ' ': 'blank' } as const;

interface Signs {
  separator: keyof typeof SEPARATOR;
  decimal: '.' | ',';
  none: (typeof NONE_SIGNS)[number];
}

/** What separates the columns of a points file, its decimal sign and its sign for nothing; a comma is never both. */
export function TextSigns({
  signs: { separator, decimal, none },
  label,
  onChange,
}: {
  signs: Signs;
  /** What the separators are called where they are chosen. */
  label: string;
  onChange: (part: Partial<Signs>) => void;
}) {
  return (
    <>
      <Pick
        aria-label={label}
        value={separator}
        onChange={(e) => {
          const chosen = e.target.value as Signs['separator'];
          onChange({ separator: chosen, ...(chosen === ',' ? { decimal: '.' } : {}) });
        }}
      >
        {Object.entries(SEPARATOR).map(([sign, name]) => (
          <option key={sign} value={sign}>
            {name}
          </option>
        ))}
      </Pick>
      <Pick
        aria-label="decimal sign"
        value={decimal}
        onChange={(e) => {
          const chosen = e.target.value as Signs['decimal'];
          onChange({ decimal: chosen, ...(chosen === ',' && separator === ',' ? { separator: ';' } : {}) });
        }}
      >
        <option value=".">decimal point</option>
        <option value=",">decimal comma</option>
      </Pick>
      <Pick
        aria-label="what is missing"
        value={none}
        onChange={(e) => onChange({ none: e.target.value as Signs['none'] })}
      >
        {NONE_SIGNS.map((n) => (
          <option key={n} value={n}>
            none as {noneOf({ none: n, separator }) || 'nothing'}
          </option>
        ))}
      </Pick>
    </>
  );
}
