import { readDescription, type CodeIndex } from '#core/codes';
import type { ProjectDocument, Change } from '#core/project';
import { pointKey, type PointTable } from '#core/stages';

/** An edit of one point or record. */
export const editOne = (key: string, set: Extract<Change, { op: 'points.edit' }>['edits'][string]['set']): Change => ({
  op: 'points.edit',
  edits: { [key]: { set, undo: [] } },
});

/** The change that writes another code where an unknown one stands, keeping line numbers and words. */
export function replaceCode(
  doc: ProjectDocument,
  points: Pick<PointTable, 'intake' | 'fileRow'> & { description: ArrayLike<string> | Record<number, string> },
  rows: number[],
  from: string,
  to: string,
  indexOf: (intake: number) => CodeIndex,
): Change {
  const edits: Extract<Change, { op: 'points.edit' }>['edits'] = {};
  for (const row of rows) {
    let text = points.description[row];
    const items = readDescription(text, indexOf(points.intake[row])).items.filter((i) => !i.known && i.code === from);
    for (const item of items.reverse()) text = text.slice(0, item.at) + to + text.slice(item.at + from.length);
    edits[pointKey(doc, points, row)] = { set: { description: text }, undo: [] };
  }
  return { op: 'points.edit', edits };
}
