import { type ProjectDocument } from '#core/project';
import { editOne } from '../../remedies.ts';
import { pointKey, STATE, type PointTable } from '#core/stages';
import type { Remedy } from '../../query.ts';

/** Keys of the control that is used, by number. */
export type ControlRows = ReadonlyMap<string, string>;

export function controlRows(doc: ProjectDocument, points: PointTable): ControlRows {
  const out = new Map<string, string>();
  for (let row = 0; row < points.x.length; row++)
    if (points.state[row] === STATE.used && doc.intakes[points.intake[row]].purpose === 'control')
      out.set(points.number[row], pointKey(doc, points, row));
  return out;
}

/** Doing without what is given of a control point: the list that it came in stays as received. */
export function controlRemedies(rows: ControlRows, number: string, what: 'elevation' | 'place'): Remedy[] {
  const key = rows.get(number);
  if (!key) return [];
  const without: Remedy = { label: `Exclude ${number}`, change: editOne(key, { off: true }) };
  return what === 'elevation'
    ? [{ label: `Use ${number} in plan only`, change: editOne(key, { z: null }) }, without]
    : [without];
}
