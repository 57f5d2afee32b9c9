import { editOf } from '#core/project';
import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import {
  bookReport,
  reportPoints,
  setupFacts,
  type ReadingsOf,
  type Report as ReportOf,
  type ReportLevel,
  type ReportTable,
} from '#core/report';
import { api } from '../../frame/api.ts';
import { Aside } from '../../frame/controls.tsx';
import { ReportTableView } from '../../frame/report-table.tsx';
import { PaperAct } from '../../frame/paper.tsx';
import { Choice } from '../../frame/sentence.tsx';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';
import { recordFacts, sightingsOfSetup } from '../../work/book-columns.ts';

const LEVELS: Record<ReportLevel, string> = {
  setups: 'setups',
  known: 'setups, backsights, checks',
  all: 'points too',
  readings: 'every reading',
};
const MOST_SHOWN = 1000;

/** Open queries first, then the reduction, setup by setup, and what was changed by hand. On screen, as PDF, as text. */
export function Report() {
  const { state, id } = useParts('state', 'id');
  const settled = useProject(isSettled);
  const [level, setLevel] = useState<ReportLevel>('known');
  const [bom, setBom] = useState(false);
  const report = useReport(level);
  const tables = firstRows(report);
  const shown = tables.reduce((sum, t) => sum + t.rows.length, 0);
  const all = report.tables.reduce((sum, t) => sum + t.rows.length, 0);
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
          <>
            <PaperAct key={`pdf ${level}`} project={id} path={`book-report?level=${level}&form=pdf`}>
              As PDF
            </PaperAct>
            <PaperAct
              key={`csv ${level}`}
              project={id}
              path={`book-report?level=${level}&form=csv${bom ? '&bom=yes' : ''}`}
            >
              As CSV
            </PaperAct>
            <chakra.label display="inline-flex" gap="6px" alignItems="center">
              <input type="checkbox" checked={bom} onChange={(e) => setBom(e.target.checked)} />
              with byte-order mark
            </chakra.label>
          </>
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
        <Box px="8px" py="8px">
          <b>{report.title}</b>
          {report.about.map((a) => (
            <Box key={a} color="slate" fontSize="13px">
              {a}
            </Box>
          ))}
        </Box>
        {tables.map((t, i) => (
          <ReportTableView key={`${state?.revision} ${i}`} table={t} />
        ))}
        {all > shown ? (
          <Box px="8px" py="6px" color="slate">
            the first {MOST_SHOWN} rows; all of them are in the CSV and the PDF
          </Box>
        ) : null}
      </Box>
    </Flex>
  );
}

function useReport(level: ReportLevel): ReportOf {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const { data: changes } = useQuery({ queryKey: ['changes', id, state?.revision], queryFn: () => api.changes(id) });
  return useMemo(() => {
    const { points, reduction, summary, books, linework } = tables!;
    const doc = state!.document;
    const text = {
      number: (row: number) => points.number.get(row),
      code: (row: number) => points.description.get(row),
    };
    const all = reportPoints(doc, points, reduction, text, linework.lines);
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
    const facts = new Map([...books].map(([book, c]) => [book, setupFacts(c.count, recordFacts(c))]));
    return bookReport(
      doc,
      reduction,
      { ...all, count: Math.min(all.count, free + MOST_SHOWN) },
      summary.queries,
      { name: state!.project.name, revision: tables!.revision },
      level,
      {
        readingsOf: readings,
        factsOf: ({ book, row }) => facts.get(book)?.get(row),
        changes,
        files: summary.files,
      },
    );
  }, [state, tables, level, changes]);
}

/** The tables up to as many rows as a page shows at once. */
function firstRows({ tables }: ReportOf): ReportTable[] {
  let left = MOST_SHOWN;
  const out: ReportTable[] = [];
  for (const t of tables) {
    if (left <= 0) break;
    out.push({ ...t, rows: t.rows.slice(0, left) });
    left -= t.rows.length;
  }
  return out;
}
