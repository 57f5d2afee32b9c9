import { Box } from '@chakra-ui/react';
import { detailText, type ChangeDetail } from '#core/project';
import { useNames, useRows } from './change-names.ts';
import type { Conflict } from './store.ts';

/** What others set meanwhile, and what one’s own change would set now. */
export function BothStates({ conflict: { since, yours } }: { conflict: Conflict }) {
  const name = useNames(useRows());
  const said = (list: readonly ChangeDetail[]): string =>
    list.map((d) => `${d.field}${d.key === null ? '' : ` of ${name(d.key)}`} ${detailText(d)}`).join(', ');
  return (
    <Box fontSize="13px">
      {since.slice(0, 3).map((c) => (
        <Box key={c.revision}>
          {c.revision}, {c.by}: {c.details?.length ? said(c.details) : c.what}
          {c.why ? `, because ${c.why}` : ''}
        </Box>
      ))}
      {since.length > 3 ? <Box color="slate">and {since.length - 3} more, under Changes</Box> : null}
      {yours.length ? <Box>yours: {said(yours)}</Box> : null}
    </Box>
  );
}
