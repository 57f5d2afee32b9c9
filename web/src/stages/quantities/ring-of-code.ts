import { indexCodes, readDescription } from '#core/codes';
import { ringThrough } from '#core/kernel';
import { STATE } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import type { Tables } from '../../project-state/tables.ts';

/** Points of a boundary at the most. */
const MOST = 5000;

/** A ring through the points of one code, x, y …, m, or why there is none. */
export type RingOfCode = { points: [x: number, y: number][]; byDirection: boolean } | { reason: string };

/** A ring through all points of a code, in the order in which they were taken wherever that makes one. */
export function ringOfCode(
  typed: string,
  doc: Pick<ProjectDocument, 'codeList' | 'intakes'>,
  { points, intakes }: Pick<Tables, 'points' | 'intakes'>,
): RingOfCode {
  const wanted = typed.trim().toUpperCase();
  const shared = indexCodes(doc.codeList);
  const indexOf = intakes.map((id) => {
    const words = doc.intakes.find((i) => i.id === id)?.words;
    return words ? indexCodes(doc.codeList, words) : shared;
  });
  const isOf = (i: number): boolean => {
    const description = points.description.get(i);
    if (!description.toUpperCase().includes(wanted)) return false;
    return readDescription(description, indexOf[points.intake[i]] ?? shared).items.some((item) => [item.code, item.code + item.lineNumber].includes(wanted)); // prettier-ignore
  };
  const rows: number[] = [];
  for (let i = 0; i < points.x.length; i++) if (points.state[i] === STATE.used && isOf(i)) rows.push(i);
  if (rows.length < 3) return { reason: `${rows.length === 1 ? '1 point has' : `${rows.length} points have`} the code ${wanted}; a boundary has three corners or more.` }; // prettier-ignore
  if (rows.length > MOST) return { reason: `${rows.length} points have the code ${wanted}; a boundary has ${MOST} corners at the most.` }; // prettier-ignore
  const [x, y] = [points.x, points.y].map((of) => rows.map((i) => of[i]));
  const through = ringThrough(x, y);
  if (!through) return { reason: `The points of ${wanted} make no ring, neither as they were taken nor by direction from their middle.` }; // prettier-ignore
  return { points: through.order.map((k) => [x[k], y[k]]), byDirection: through.byDirection };
}
