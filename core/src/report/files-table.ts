import type { FileAccount } from '#core/chain';
import { PURPOSE_NAME, type Intake, type ProjectDocument } from '#core/project';
import { column, row, type ReportRow, type ReportTable } from './table.ts';

/** Each file of a project with what was read of it, what was not and why, and who gave it. */
export function filesTable(doc: Pick<ProjectDocument, 'intakes'>, accounts: readonly FileAccount[]): ReportTable {
  const of = new Map(accounts.map((a) => [a.id, a]));
  const rows = doc.intakes.flatMap((intake): ReportRow[] => {
    const account = of.get(intake.id);
    if (!account) return [];
    return [
      row(
        [intake.fileName, kindOf(intake), readText(intake, account), givenText(intake), intake.sha256.slice(0, 12)],
        account.refused > 0 || account.failure !== null,
      ),
    ];
  });
  return {
    kind: 'file',
    title: 'Files',
    about: [],
    marked: rows.some((r) => r.marked),
    columns: [column('File', 'words', 22), column('Kind', 'words', 14), column('Read', 'words', 34), column('Given by', 'words', 18), column('Checksum', 'sign', 14)], // prettier-ignore
    rows,
  };
}

const kindOf = ({ form, purpose, on }: Intake): string =>
  `${form === 'book' ? 'field book' : PURPOSE_NAME[purpose]}${on ? '' : ', switched off'}`;

function readText({ form }: Intake, a: FileAccount): string {
  if (a.failure !== null) return `not read: ${a.failure}`;
  const thing = form === 'book' ? 'record' : 'point';
  const read = `${a.rows} ${a.rows === 1 ? 'row' : 'rows'}, ${a.read} ${thing}${a.read === 1 ? '' : 's'}`;
  if (a.refused === 0) return `${read}, all read`;
  const reasons = a.first.map((r) => `row ${r.row}: ${r.reason}`).join('; ');
  return `${read}, ${a.refused} ${a.refused === 1 ? 'row' : 'rows'} not read (${reasons}${a.refused > a.first.length ? ' …' : ''})`; // prettier-ignore
}

const givenText = ({ given }: Intake): string =>
  given ? [given.by, given.date, given.source].filter(Boolean).join(', ') : '';
