import { chakra } from '@chakra-ui/react';

/** Heading of a small table in the ledger: names left, numbers right. */
export const HEAD_CELL = {
  px: '8px',
  height: '28px',
  fontSize: '12px',
  fontWeight: 600,
  color: 'slate',
  textAlign: 'right',
  borderBottom: '1px solid',
  borderColor: 'ink',
  whiteSpace: 'nowrap',
  _first: { textAlign: 'left' },
} as const;

export const BODY_CELL = {
  px: '8px',
  height: '28px',
  textAlign: 'right',
  borderBottom: '1px solid',
  borderColor: 'rule',
  _first: { textAlign: 'left' },
} as const;

export const HeadCell = chakra('th', { base: HEAD_CELL });

/** The head of a small table: its names in one row. */
export const HeadRow = ({ names, align }: { names: readonly string[]; align?: 'left' }) => (
  <thead>
    <tr>
      {names.map((name) => (
        <HeadCell key={name} scope="col" textAlign={align}>
          {name}
        </HeadCell>
      ))}
    </tr>
  </thead>
);
