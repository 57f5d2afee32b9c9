import { Flex } from '@chakra-ui/react';
import type { Comparison } from '#core/project';
import { Aside } from '../../frame/controls.tsx';
import { PaperAct } from '../../frame/paper.tsx';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';

/** The report of a comparison: on paper, as rows, and as sheets that calculate. */
export function ReportActs({ comparison }: { comparison: Comparison }) {
  const { id } = useParts('id');
  const settled = useProject(isSettled);
  const path = `quantity-report?comparison=${encodeURIComponent(comparison.id)}`;
  return (
    <Flex gap="8px" mb="10px" align="center" wrap="wrap">
      {settled ? (
        <>
          <PaperAct look="plain" project={id} path={path}>
            Report as PDF
          </PaperAct>
          <PaperAct look="plain" project={id} path={`${path}&form=csv`}>
            Report as CSV
          </PaperAct>
          <PaperAct look="plain" project={id} path={`${path}&form=xlsx`}>
            As a spreadsheet that calculates
          </PaperAct>
        </>
      ) : (
        <Aside>its report comes once everything is computed</Aside>
      )}
    </Flex>
  );
}
