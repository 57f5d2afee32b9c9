import { Flex } from '@chakra-ui/react';
import { fileStem } from '#core/exchange';
import type { Comparison } from '#core/project';
import { quantityReport, reportCsv } from '#core/report';
import { Act, Aside } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { PaperAct } from '../../frame/paper.tsx';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';
import type { ComparisonFigures } from './comparison-figures.ts';

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long' });

/** The report of a comparison: on paper, and as a table for a spreadsheet. */
export function ReportActs({ comparison, figures }: { comparison: Comparison; figures: ComparisonFigures }) {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const settled = useProject(isSettled);
  const { document, project, checked } = state!;
  const saveCsv = (): void => {
    const date = DAY.format(new Date());
    const report = quantityReport(document, comparison, figures, tables!.summary, { name: project.name, revision: tables!.revision, date, checked: checked && { ...checked, at: DAY.format(new Date(checked.at)) } }); // prettier-ignore
    saveText(`${fileStem(project.name, `${comparison.name} quantities`)}-r${tables!.revision}.csv`, reportCsv(report, 'deg')); // prettier-ignore
  };
  return (
    <Flex gap="8px" mb="10px" align="center" wrap="wrap">
      {settled ? (
        <>
          <PaperAct look="plain" project={id} path={`quantity-report?comparison=${encodeURIComponent(comparison.id)}`}>
            Report as PDF
          </PaperAct>
          <Act onClick={saveCsv}>Report as CSV</Act>
          <PaperAct
            look="plain"
            project={id}
            path={`quantity-report?form=xlsx&comparison=${encodeURIComponent(comparison.id)}`}
          >
            As a spreadsheet that calculates
          </PaperAct>
        </>
      ) : (
        <Aside>its report comes once everything is computed</Aside>
      )}
    </Flex>
  );
}
