import { Card } from '../cards/card.tsx';
import { useParts, type Selection } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';
import { CARD_WIDTH } from '../sheet/room.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { Boundary } from '../frame/boundary.tsx';

/** The card of what is selected, beside it. */
export function SelectedCard() {
  const { selection, tables, select } = useParts('selection', 'tables', 'select');
  return (
    <Boundary what="the card" of={selection} onAgain={() => select(null)}>
      <Card left={cardLeft(selection, tables)} />
    </Boundary>
  );
}

/** The card stands on the left while more of what it speaks of lies under the right. */
function cardLeft(selection: Selection, tables: Tables | null): boolean {
  const sheet = sheetHandle.current;
  if (!tables || !selection || !sheet) return false;
  let [left, right] = [0, 0];
  for (const [x, y] of placesOf(selection, tables)) {
    const at = sheet.screen(x, y);
    if (at.x >= 0 && at.x < CARD_WIDTH) left++;
    else if (at.x <= at.width && at.x > at.width - CARD_WIDTH) right++;
  }
  return right > left;
}
/** So many places of a thing tell where it lies. */
const MOST_PLACES = 500;

function placesOf(selection: NonNullable<Selection>, { points, linework, summary }: Tables): [number, number][] {
  if (selection.kind === 'point') return [[points.x[selection.row], points.y[selection.row]]];
  if (selection.kind === 'line') {
    const line = linework.lines.find((l) => l.key === selection.key);
    return Array.from(line?.x.slice(0, MOST_PLACES) ?? [], (x, i) => [x, line!.y[i]]);
  }
  if (selection.kind !== 'query') return [];
  const query = summary.queries.find((q) => q.key === selection.key);
  if (query?.rows.length) return query.rows.slice(0, MOST_PLACES).map((r) => [points.x[r], points.y[r]]);
  return query?.place ? [[query.place.x, query.place.y]] : [];
}
