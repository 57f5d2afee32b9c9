import { editOf } from '#core/project';
import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { bookReport, reportPoints, type ReadingsOf, type ReportLevel, type ReportRow } from '#core/report';
import { api } from '../../frame/api.ts';
import { Aside } from '../../frame/controls.tsx';
import { Choice } from '../../frame/sentence.tsx';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';
import { sightingsOfSetup } from '../../work/book-columns.ts';

const LEVELS: Record<ReportLevel, string> = {
  setups: 'setups',
  known: 'setups, backsights, checks',
  all: 'points too',
  readings: 'every reading',
};
const MOST_SHOWN = 1000;

/** Rows are plain cells under one rule: some thousands of styled ones would hold the page up. */
const RULES = {
  '& td': { px: '8px', py: '3px', fontSize: '13px', verticalAlign: 'top', borderBottom: '1px solid', borderColor: 'rule' }, // prettier-ignore
  '& tr[data-plain] td:nth-of-type(n + 3)': { fontFamily: 'mono' },
  '& tr[data-plain]:not([data-kind=edit]) td:nth-of-type(n + 3)': { textAlign: 'right', whiteSpace: 'nowrap' },
  '& tr[data-kind=edit] td:nth-of-type(6)': { fontFamily: 'inherit' },
  '& tr[data-kind=reading] td': { color: 'slate' },
  '& tr[data-plain][data-marked]:not([data-kind=edit]) td': { color: 'pole' },
  '& tr[data-kind=setup]': { bg: 'wash' },
  '& tr[data-kind=setup] td:first-of-type': { fontWeight: '700' },
  '& tr[data-kind=setup][data-marked] td:last-of-type': { color: 'pole' },
  '& tr[data-kind=file] td:first-of-type': { overflowWrap: 'anywhere' },
  '& tr[data-kind=file][data-marked] td:last-of-type': { color: 'brass' },
  '& tr[data-kind=query] td:first-of-type': { color: 'brass' },
  '& tr[data-kind=query][data-marked] td:first-of-type': { color: 'pole' },
};

/** Open queries first, then the reduction, setup by setup, and what was changed by hand. On screen, as PDF, as text. */
export function Report() {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const settled = useProject(isSettled);
  const [level, setLevel] = useState<ReportLevel>('known');
  const { data: changes } = useQuery({ queryKey: ['changes', id, state?.revision], queryFn: () => api.changes(id) });
  const report = useMemo(() => {
    const { points, reduction, summary, books } = tables!;
    const doc = state!.document;
    const text = {
      number: (row: number) => points.number.get(row),
      code: (row: number) => points.description.get(row),
    };
    const all = reportPoints(doc, points, reduction, text);
    // No more than is shown: points of satellites stand before those of setups, and are listed behind them.
    let free = 0;
    while (free < all.count && all.setup[free] < 0) free++;
    let read = 0;
    const readings: ReadingsOf = (book, setup) => {
      if (read > MOST_SHOWN) return [];
      const list = sightingsOfSetup(books.get(book), setup, (row) => editOf(doc, book, row));
      read += list.length;
      return list;
    };
    return bookReport(
      doc,
      reduction,
      { ...all, count: Math.min(all.count, free + MOST_SHOWN) },
      summary.queries,
      { name: state!.project.name, revision: tables!.revision },
      level,
      { readingsOf: readings, changes, files: summary.files },
    );
  }, [state, tables, level, changes]);
  return (
    <Flex direction="column" flex="1" minHeight="0">
      <Flex gap="8px" align="center" mb="8px" wrap="wrap">
        <Choice
          name="how much is reported"
          value={level}
          options={(Object.keys(LEVELS) as ReportLevel[]).map((l) => [l, LEVELS[l]] as const)}
          onChange={setLevel}
        />
        <Box flex="1" />
        {settled ? (
          (['csv', 'pdf'] as const).map((form) => (
            <a key={form} href={`/api/projects/${id}/book-report?level=${level}&form=${form}`} download>
              <chakra.span textDecoration="underline">As {form.toUpperCase()}</chakra.span>
            </a>
          ))
        ) : (
          <Aside>its files come once everything is computed</Aside>
        )}
      </Flex>
      <Box
        tabIndex={0}
        role="region"
        aria-label="the report"
        flex="1"
        minHeight="0"
        overflow="auto"
        bg="leaf"
        border="1px solid"
        borderColor="rule"
        borderRadius="4px"
      >
        <Box px="10px" py="8px">
          <b>{report.title}</b>
          {report.about.map((a) => (
            <Box key={a} color="slate" fontSize="13px">
              {a}
            </Box>
          ))}
        </Box>
        <chakra.table width="100%" borderCollapse="collapse" aria-label="report of the books" css={RULES}>
          <tbody>
            {report.rows.slice(0, MOST_SHOWN).map((r, i) => (
              <Row key={i} row={r} />
            ))}
          </tbody>
        </chakra.table>
        {report.rows.length > MOST_SHOWN ? (
          <Box px="10px" py="6px" color="slate">
            the first {MOST_SHOWN} rows; all of them are in the CSV and the PDF
          </Box>
        ) : null}
      </Box>
    </Flex>
  );
}

/** How many columns the cells of a row take; one each where nothing is said. */
const SPANS: Partial<Record<ReportRow['kind'], readonly number[]>> = {
  query: [1, 5],
  file: [1, 5],
  setup: [1, 1, 1, 3],
};

function Row({ row }: { row: ReportRow }) {
  const spans = SPANS[row.kind];
  return (
    <tr data-kind={row.kind} data-marked={row.marked || undefined} data-plain={spans ? undefined : true}>
      {row.cells.slice(0, spans?.length).map((cell, i) => (
        <td key={i} colSpan={spans?.[i]}>
          {cell}
        </td>
      ))}
    </tr>
  );
}
