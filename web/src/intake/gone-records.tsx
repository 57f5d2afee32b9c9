import { Box, chakra, Flex } from '@chakra-ui/react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Settings } from '#core/project';
import type { GoneRecord } from '#core/sources';
import { Act, Aside, Cut, Num } from '../frame/controls.tsx';

/** Records that a later export has no more: each goes, or remains in use from the earlier file. */
export function GoneRecords({
  records,
  count,
  earlier,
  settings,
  remaining,
  onChange,
}: {
  records: readonly GoneRecord[];
  /** How many are gone in all; the first of them are listed. */
  count: number;
  /** Name of the earlier file. */
  earlier: string;
  settings: Pick<Settings, 'unit' | 'order'>;
  remaining: readonly number[];
  onChange: (remaining: number[]) => void;
}) {
  const kept = new Set(remaining);
  const all = kept.size === records.length;
  const toggle = (row: number, on: boolean): void =>
    onChange(records.map((r) => r.row).filter((r) => (r === row ? on : kept.has(r))));
  return (
    <Box role="group" aria-label={`records that are only in ${earlier}`} fontSize="13px">
      <Flex gap="8px" align="center" wrap="wrap" py="2px">
        <span>
          {count === 1 ? 'One record is' : `${count} records are`} only in {earlier}. Mark what remains in use:
        </span>
        <Act look="quiet" onClick={() => onChange(all ? [] : records.map((r) => r.row))}>
          {all ? 'none' : 'all'}
        </Act>
      </Flex>
      <Box maxHeight="150px" overflowY="auto" tabIndex={0} role="list" aria-label="records that are gone">
        {records.map((r) => (
          <chakra.label
            key={r.row}
            role="listitem"
            display="flex"
            gap="8px"
            alignItems="center"
            minHeight="24px"
            minWidth="0"
          >
            <input type="checkbox" checked={kept.has(r.row)} onChange={(e) => toggle(r.row, e.target.checked)} />
            <Num flexShrink="0">{r.number || '–'}</Num>
            <Cut color="slate">{wordsOf(r, settings)}</Cut>
          </chakra.label>
        ))}
      </Box>
      {count > records.length ? <Aside>and {count - records.length} more, which go</Aside> : null}
    </Box>
  );
}

/** What a record is, from where and when, and where it lies. */
function wordsOf(r: GoneRecord, { unit, order }: Pick<Settings, 'unit' | 'order'>): string {
  const place = order === 'EN' ? [r.x, r.y] : [r.y, r.x];
  const at = Number.isNaN(r.x) ? '' : `${place.map((v) => formatLength(v, unit, 3)).join(' ')} ${UNIT_SIGN[unit]}`;
  return [r.kind, r.from && `from ${r.from}`, r.code, r.time, at].filter(Boolean).join(', ');
}
