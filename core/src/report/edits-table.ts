import type { ProjectDocument } from '#core/project';
import { handEdits, type HandEdit, type ToldChange } from './hand-edits.ts';
import { column, row, type ReportTable } from './table.ts';

/** What was changed by hand and stands now: old and new value, why, who and when as far as the history tells. */
export const editsTable = (doc: ProjectDocument, changes: readonly ToldChange[]): ReportTable => ({
  kind: 'edit',
  title: 'Changed by hand',
  about: [],
  marked: false,
  columns: [column('Where', 'words', 24), column('What', 'words', 14), column('As received', 'words', 16), column('Now', 'words', 16), column('Why, who, when', 'words', 30)], // prettier-ignore
  rows: handEdits(doc, changes, doc.settings).map((e) => row([e.where, e.field, e.received, e.now, whoAndWhy(e)])),
});

/** Why, and then who and when. */
function whoAndWhy({ why, by, at }: HandEdit): string {
  const who = by && `${by}, ${at.slice(0, 10)}`;
  return why && who ? `${why} (${who})` : why || who;
}
