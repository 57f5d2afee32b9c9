import { Box, chakra, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { bookReport, reportPoints, reportCsv, type ReportLevel, type ReportRow } from '#core/chain';
import { Act } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
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
    const { points, reduction, summary } = tables!;
    const doc = state!.document;
    return bookReport(
      doc,
      reduction,
      reportPoints(doc, points, reduction, {
        number: (row) => points.number.get(row),
        code: (row) => points.description.get(row),
      }),
      summary.queries,
      { name: state!.project.name, revision: tables!.revision },
      level,
      (book, setup) => sightingsOfSetup(tables!.books.get(book), setup, (row) => doc.edits[`${book}:${row}`]),
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
        <Act
          disabled={!settled}
          onClick={() => saveText(`${state!.project.name}-books-r${tables!.revision}.csv`, reportCsv(report))}
        >
          As CSV
        </Act>
        <a href={`/api/projects/${id}/book-report?level=${level}`} download>
          <chakra.span textDecoration="underline">As PDF</chakra.span>
        </a>
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
            and {report.rows.length - MOST_SHOWN} rows more, in the text and the PDF
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
