import { distance } from '#core/kernel';
import { recordOfKey, type PictureMarkKept, type ProjectDocument } from '#core/project';
import type { Tables } from '../../project-state/tables.ts';

/** A point that has moved by more than this since a picture was fitted to it is told, m. */
const MOVED = 0.001;

/** A mark of a picture whose point is elsewhere now. */
export interface MovedMark {
  mark: PictureMarkKept;
  /** Where its point is now, m; null where it is gone or not used. */
  now: { x: number; y: number } | null;
  /** m; NaN where there is no point any more. */
  by: number;
}

/** Marks whose points have moved or gone since the picture was fitted. */
export function movedMarks(
  marks: readonly PictureMarkKept[],
  doc: Pick<ProjectDocument, 'intakes'>,
  { points }: Pick<Tables, 'points'>,
): MovedMark[] {
  const out: MovedMark[] = [];
  for (const mark of marks) {
    if (!mark.point) continue;
    const now = placeOfKey(mark.point.key, doc, points);
    const by = now ? distance(now.x - mark.x, now.y - mark.y) : NaN;
    if (!(by <= MOVED)) out.push({ mark, now, by });
  }
  return out;
}

function placeOfKey(key: string, doc: Pick<ProjectDocument, 'intakes'>, points: Tables['points']): MovedMark['now'] {
  const record = recordOfKey(key);
  const intake = record ? doc.intakes.findIndex((i) => i.id === record.intake) : -1;
  if (!record || intake < 0) return null;
  for (let row = 0; row < points.x.length; row++)
    if (points.intake[row] === intake && points.fileRow[row] === record.row && points.state[row] === 0)
      return { x: points.x[row], y: points.y[row] };
  return null;
}
