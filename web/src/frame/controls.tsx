import { chakra } from '@chakra-ui/react';
import type { ComponentProps, ReactNode } from 'react';

/** A button that does something. `solid` for the one thing that most want here. */
export const Act = chakra('button', {
  base: {
    display: 'inline-flex',
    alignItems: 'center',
    justifyContent: 'center',
    gap: '6px',
    height: '26px',
    px: '10px',
    border: '1px solid',
    borderColor: 'ink',
    borderRadius: '3px',
    bg: 'leaf',
    color: 'ink',
    fontSize: '13px',
    whiteSpace: 'nowrap',
    cursor: 'pointer',
    _hover: { bg: 'wash' },
    _disabled: { opacity: 0.5, cursor: 'default' },
  },
  variants: {
    look: {
      solid: { bg: 'ink', color: 'paper', _hover: { bg: 'slate' } },
      plain: {},
      quiet: { borderColor: 'transparent', bg: 'transparent', px: '6px', _hover: { bg: 'wash' } },
    },
    size: { tall: { height: '34px', px: '14px', fontSize: '14px' } },
  },
});

export const Field = chakra('input', {
  base: {
    height: '26px',
    px: '8px',
    minWidth: 0,
    border: '1px solid',
    borderColor: 'slate',
    borderRadius: '3px',
    bg: 'leaf',
    color: 'ink',
    fontSize: '13px',
    _placeholder: { color: 'slate' },
  },
  variants: {
    numeric: { true: { fontFamily: 'mono', textAlign: 'right' } },
    size: { tall: { height: '34px', fontSize: '14px' } },
  },
});

export const Pick = chakra('select', {
  base: {
    height: '26px',
    px: '6px',
    border: '1px solid',
    borderColor: 'slate',
    borderRadius: '3px',
    bg: 'leaf',
    color: 'ink',
    fontSize: '13px',
    maxWidth: '100%',
  },
});

/** A key on the keyboard, beside what it does. */
export const Key = chakra('kbd', {
  base: {
    fontFamily: 'mono',
    fontSize: '11px',
    lineHeight: '16px',
    px: '5px',
    border: '1px solid',
    borderColor: 'currentColor',
    borderRadius: '3px',
    opacity: 0.85,
  },
});

export const Num = chakra('span', {
  base: { fontFamily: 'mono', fontVariantNumeric: 'tabular-nums', fontSize: '13px' },
});

const PanelBox = chakra('section', {
  base: { bg: 'leaf', border: '1px solid', borderColor: 'rule', borderRadius: '4px' },
});
const PanelHead = chakra('h3', {
  base: { fontSize: '12px', fontWeight: 600, color: 'slate', px: '12px', pt: '8px', pb: '2px', m: 0 },
});

/** A leaf of the ledger with a small heading. */
export function Leaf({
  head,
  children,
  ...rest
}: { head?: ReactNode; children: ReactNode } & Omit<ComponentProps<typeof PanelBox>, 'children'>) {
  return (
    <PanelBox {...rest}>
      {head ? <PanelHead>{head}</PanelHead> : null}
      {children}
    </PanelBox>
  );
}

/** One line of a leaf: what on the left, how much on the right. */
export const Line = chakra('div', {
  base: {
    display: 'flex',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: '12px',
    minHeight: '28px',
    px: '12px',
  },
});

/** Text that is cut when it is long, with the whole of it in reach. */
export function Cut({ children, ...rest }: { children: string } & Omit<ComponentProps<typeof CutBox>, 'children'>) {
  return (
    <CutBox title={children} {...rest}>
      {children}
    </CutBox>
  );
}
const CutBox = chakra('span', {
  base: { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', minWidth: 0 },
});

export const StageHead = chakra('h2', { base: { fontSize: '18px', fontWeight: 700, m: 0, lineHeight: '24px' } });
export const Aside = chakra('span', { base: { color: 'slate', fontSize: '13px' } });

/** A name and its control, as two cells of a grid; controls carry names of their own for screen readers. */
export const Two = ({ name, children }: { name: string; children: ReactNode }) => (
  <>
    <TwoName>{name}</TwoName>
    {children}
  </>
);
const TwoName = chakra('span', { base: { color: 'slate', fontSize: '12px', alignSelf: 'center' } });

/** A box to tick, with its name. */
export const Tick = ({
  label,
  name,
  on,
  disabled,
  cut,
  set,
}: {
  label: string;
  /** What it is for a screen reader, where its label is that of others too. */
  name?: string;
  on: boolean;
  disabled?: boolean;
  /** A long name is cut, with the whole of it in reach. */
  cut?: boolean;
  set: (on: boolean) => void;
}) => (
  <TickLabel>
    <input type="checkbox" aria-label={name} checked={on} disabled={disabled} onChange={(e) => set(e.target.checked)} />
    {cut ? <Cut maxWidth="170px">{label}</Cut> : label}
  </TickLabel>
);
const TickLabel = chakra('label', {
  base: { display: 'inline-flex', gap: '6px', alignItems: 'center', fontSize: '13px' },
});
