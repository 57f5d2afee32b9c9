import { Box } from '@chakra-ui/react';
import { headOf, type ReportTable } from '#core/report';
import { SmallTable } from './small-table.tsx';

const CELLS = { py: '3px', height: 'auto', fontSize: '13px', verticalAlign: 'top', overflowWrap: 'anywhere' } as const;

/** One table of a report, as it goes to paper. */
export function ReportTableView({ table }: { table: ReportTable }) {
  const { title, about, columns, rows, marked } = table;
  return (
    <Box mt="8px">
      <Box px="8px" py="3px" bg="wash" fontWeight="700" color={marked ? 'pole' : 'ink'} overflowWrap="anywhere">
        {title}
      </Box>
      {about.map((a) => (
        <Box key={a} px="8px" color="slate" fontSize="13px">
          {a}
        </Box>
      ))}
      {rows.length ? (
        <SmallTable
          label={title}
          columns={columns.map((c, k) => ({
            id: headOf(c),
            head: headOf(c),
            words: c.kind === 'words' || c.kind === 'sign',
            mono: c.kind !== 'words',
            cell: (r: ReportTable['rows'][number]) => r.cells[k].text,
          }))}
          rows={rows}
          rowStyle={(r) => (r.marked ? { color: 'pole' } : {})}
          cellStyle={CELLS}
        />
      ) : null}
    </Box>
  );
}
