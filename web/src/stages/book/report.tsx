import { Box, chakra, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { bookReport, reportPoints, type ReadingsOf, type ReportLevel, type ReportRow } from '#core/chain';
import { Aside } from '../../frame/controls.tsx';
import { Choice } from '../../frame/sentence.tsx';
import { isSettled, useProject } from '../../project/store.ts';
import { sightingsOfSetup } from '../../work/book-columns.ts';

const LEVELS: Record<ReportLevel, string> = {
  setups: 'setups',
  known: 'setups, backsights, checks',
  all: 'points too',
  readings: 'every reading',
};
const MOST_SHOWN = 3000;

const Cell = chakra('td', {
  base: {
    px: '8px',
    py: '3px',
    fontSize: '13px',
    verticalAlign: 'top',
    borderBottom: '1px solid',
    borderColor: 'rule',
  },
});

/** The reduction, setup by setup; what was changed by hand and open queries last. On screen, as PDF, as text. */
export function Report() {
  const { state, tables, id } = useProject();
  const settled = useProject(isSettled);
  const [level, setLevel] = useState<ReportLevel>('known');
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
      const list = sightingsOfSetup(books.get(book), setup, (row) => doc.edits[`${book}:${row}`]);
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
      readings,
    );
  }, [state, tables, level]);
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
          <Aside>its files come when everything is worked out</Aside>
        )}
      </Flex>
      <Box flex="1" minHeight="0" overflow="auto" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px">
        <Box px="10px" py="8px">
          <b>{report.title}</b>
          {report.about.map((a) => (
            <Box key={a} color="slate" fontSize="13px">
              {a}
            </Box>
          ))}
        </Box>
        <chakra.table width="100%" borderCollapse="collapse" aria-label="report of the books">
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

function Row({ row }: { row: ReportRow }) {
  if (row.kind === 'query')
    return (
      <tr>
        <Cell color={row.marked ? 'pole' : 'brass'}>{row.cells[0]}</Cell>
        <Cell colSpan={5}>{row.cells[1]}</Cell>
      </tr>
    );
  if (row.kind === 'setup')
    return (
      <chakra.tr bg="wash">
        <Cell fontWeight="700">{row.cells[0]}</Cell>
        <Cell>{row.cells[1]}</Cell>
        <Cell>{row.cells[2]}</Cell>
        <Cell colSpan={3} color={row.marked ? 'pole' : undefined}>
          {row.cells[3]}
        </Cell>
      </chakra.tr>
    );
  return (
    <tr>
      {row.cells.map((c, i) => (
        <Cell
          key={i}
          fontFamily={i >= 2 ? 'mono' : undefined}
          textAlign={i >= 2 && row.kind !== 'edit' ? 'right' : 'left'}
          whiteSpace={i >= 2 ? 'nowrap' : undefined}
          color={row.kind === 'reading' ? 'slate' : row.marked && row.kind !== 'edit' ? 'pole' : undefined}
        >
          {c}
        </Cell>
      ))}
    </tr>
  );
}
