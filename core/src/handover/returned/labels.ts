import { distance } from '#core/kernel';
import { rowFinder } from '#core/stages';
import type { Differing } from './differing.ts';
import { flat, type ReturnedItem, type ReturnedTo } from './item.ts';
import type { MovedPoints } from './points.ts';

/** mm on paper; a label does not stand farther off its point. */
const FARTHEST = 500;

/** Labels that were put elsewhere: those that only went along with their points are not told, and texts are made fresh. */
export function returnedLabels(to: ReturnedTo, pairs: readonly Differing[], moved: MovedPoints): ReturnedItem[] {
  const { doc, points, tolerance } = to;
  const rowOf = rowFinder(doc, points);
  const perMm = doc.settings.plotScale / 1000;
  return pairs.flatMap(({ own, was, is }): ReturnedItem[] => {
    if (own?.kind !== 'label' || !was || !is) return [];
    const { key } = own;
    const point = key.slice(0, key.lastIndexOf(':'));
    const row = rowOf(point);
    if (row < 0) return [];
    const [dx, dy] = [is.at[0] - was.at[0], is.at[1] - was.at[1]];
    const goes = moved.get(point) ?? { x: points.x[row], y: points.y[row] };
    if (distance(dx - (goes.x - points.x[row]), dy - (goes.y - points.y[row])) <= 2 * tolerance) return [];
    const [right, up] = [(is.at[0] - goes.x) / perMm, (is.at[1] - goes.y) / perMm];
    if (!(Math.abs(right) <= FARTHEST && Math.abs(up) <= FARTHEST)) return [];
    const now = doc.drawing.moved[key] as [number, number] | undefined;
    if (now && distance(now[0] - right, now[1] - up) * perMm <= 2 * tolerance) return [];
    return [
      {
        of: 'label',
        name: is.text,
        what: `moved ${distance(dx, dy).toFixed(3)} m`,
        layer: is.layer,
        x: is.at[0],
        y: is.at[1],
        was: flat(was.at),
        is: flat(is.at),
        choices: [{ label: 'put the label there', change: { op: 'drawing.label', key, to: [right, up] } }],
        note: null,
        sure: true,
      },
    ];
  });
}
