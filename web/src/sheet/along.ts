import { rowsByRecord } from '#core/stages';
import { sheetHandle } from './handle.ts';
import { linesThrough } from '../project-state/used-by.ts';
import { useProject } from '../project-state/store.ts';

/** Selects the next or previous shot of the setup that the selected point was measured from. */
export function alongSetup(step: 1 | -1): void {
  const { state, tables, selection, select } = useProject.getState();
  if (!state || !tables) return;
  const { points, books } = tables;
  const here =
    selection?.kind === 'record'
      ? { intake: selection.intake, row: selection.row }
      : selection?.kind === 'point' && selection.row < points.x.length
        ? { intake: state.document.intakes[points.intake[selection.row]].id, row: points.fileRow[selection.row] }
        : null;
  const book = here && books.get(here.intake);
  if (!here || !book) return;
  const at = book.row.indexOf(here.row);
  const to = at + step;
  // Within one setup: its own record is where one comes in, and where one comes out again.
  if (at < 0 || to < 0 || to >= book.count || book.setup[to] !== book.setup[at]) return;
  const row = rowsByRecord(state.document, points).get(here.intake, book.row[to]);
  if (row === undefined) select({ kind: 'record', intake: here.intake, row: book.row[to] });
  else selectPoint(row);
}

/** Selects the next or previous point of a line that goes through the selected one; round and round a closed line. */
export function alongLine(step: 1 | -1): void {
  const { tables, selection } = useProject.getState();
  if (!tables || selection?.kind !== 'point') return;
  const line = linesThrough(tables.linework, selection.row).at(0);
  if (!line) return;
  const { closed } = line;
  const rows = line.rows.filter((r) => r >= 0);
  const to = rows.indexOf(selection.row) + step;
  const next = closed ? rows[(to + rows.length) % rows.length] : rows[to];
  if (next !== undefined) selectPoint(next);
}

function selectPoint(row: number): void {
  const { tables, select } = useProject.getState();
  select({ kind: 'point', row });
  sheetHandle.current?.show(tables!.points.x[row], tables!.points.y[row]);
}
