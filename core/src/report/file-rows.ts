import type { FileAccount } from '#core/chain';
import { PURPOSE_NAME, type Intake, type ProjectDocument } from '#core/project';

/** A file’s name and what became of it. */
interface FileRow {
  cells: string[];
  /** Something of it could not be read. */
  marked: boolean;
}

/** Each file of a project with what was read of it, what was not and why, and who gave it. */
export function fileRows(doc: Pick<ProjectDocument, 'intakes'>, accounts: readonly FileAccount[]): FileRow[] {
  const of = new Map(accounts.map((a) => [a.id, a]));
  return doc.intakes.flatMap((intake): FileRow[] => {
    const account = of.get(intake.id);
    if (!account) return [];
    const text = [kindOf(intake), readText(intake, account), givenText(intake)].filter(Boolean).join('; ');
    return [{ cells: [intake.fileName, text, '', '', '', ''], marked: account.refused > 0 || account.failure !== null }]; // prettier-ignore
  });
}

const kindOf = ({ form, purpose, on, sha256 }: Intake): string =>
  `${form === 'book' ? 'field book' : PURPOSE_NAME[purpose]}${on ? '' : ', switched off'}, checksum ${sha256.slice(0, 12)}`; // prettier-ignore

function readText({ form }: Intake, a: FileAccount): string {
  if (a.failure !== null) return `not read: ${a.failure}`;
  const thing = form === 'book' ? 'record' : 'point';
  const read = `${a.rows} ${a.rows === 1 ? 'row' : 'rows'}, ${a.read} ${thing}${a.read === 1 ? '' : 's'}`;
  if (a.refused === 0) return `${read}, all read`;
  const reasons = a.first.map((r) => `row ${r.row}: ${r.reason}`).join('; ');
  return `${read}, ${a.refused} ${a.refused === 1 ? 'row' : 'rows'} not read (${reasons}${a.refused > a.first.length ? ' …' : ''})`; // prettier-ignore
}

const givenText = ({ given }: Intake): string =>
  given ? [given.by && `given by ${given.by}`, given.date, given.source].filter(Boolean).join(', ') : '';
