import { Flex } from '@chakra-ui/react';
import { OUT_COLUMNS, type OutColumn } from '#core/exchange';
import { Act, Pick } from './controls.tsx';

const COLUMN: Record<OutColumn, string> = {
  P: 'number',
  N: 'north',
  E: 'east',
  Z: 'elevation',
  D: 'description as a whole',
  C: 'code',
  L: 'line number',
  W: 'line words',
  A: 'attributes',
};

/** The columns of a points file in order: each one changed, left away or added. */
export function ColumnOrder({
  order,
  of = OUT_COLUMNS,
  onChange,
}: {
  order: readonly OutColumn[];
  of?: readonly OutColumn[];
  onChange: (order: OutColumn[]) => void;
}) {
  return (
    <Flex gap="4px" wrap="wrap">
      {order.map((c, i) => (
        <Flex key={i} border="1px solid" borderColor="slate" borderRadius="3px" align="center">
          <Pick
            aria-label={`column ${i + 1}`}
            border="0"
            width="auto"
            value={c}
            onChange={(e) => onChange(order.map((o, k) => (k === i ? (e.target.value as OutColumn) : o)))}
          >
            {of.map((o) => (
              <option key={o} value={o}>
                {COLUMN[o]}
              </option>
            ))}
          </Pick>
          <Act
            look="quiet"
            aria-label={`without column ${i + 1}`}
            disabled={order.length <= 2}
            onClick={() => onChange(order.filter((_, k) => k !== i))}
          >
            ×
          </Act>
        </Flex>
      ))}
      <Act look="quiet" onClick={() => onChange([...order, of.find((c) => !order.includes(c)) ?? 'D'])}>
        Add a column
      </Act>
    </Flex>
  );
}
