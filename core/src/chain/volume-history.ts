import type { CutAndFill } from '#core/quantities';
import { applyChange, upgradeChange, type Change, type ProjectDocument } from '#core/project';

/** A change as it is kept. */
export interface KeptChange {
  revision: number;
  change: Change;
  inverse: Change;
}

/** What one change did to the volumes of a comparison; null where they could not be had, or it was not there. */
export interface VolumeStep {
  revision: number;
  before: CutAndFill | null;
  after: CutAndFill | null;
}

export interface VolumeHistory {
  /** As it is now. */
  now: CutAndFill | null;
  /** Newest first; those between one's `before` and the next one's `after` changed nothing. */
  steps: VolumeStep[];
  /** The oldest revision that was looked at. */
  from: number;
  /** Why no older one was: the comparison was made there, or there were too many. */
  end: 'made' | 'begins' | 'many';
}

/** m³ that are rounding of the same computation in another order. */
const NOTHING = 1e-9;
/** So many states are computed at the most. */
const MOST_COMPUTED = 150;

/**
 * From change to change what a comparison's cut and fill were, as the computation is today: each change is undone in turn and
 * what it could have altered is computed anew, so that the steps add up to the whole.
 * @param changes newest first, the newest made the document what it is
 * @param volumeOf cut and fill of the comparison in a document; null where it has none
 */
export async function volumeHistory(
  newest: ProjectDocument,
  changes: readonly KeptChange[],
  comparison: string,
  volumeOf: (doc: ProjectDocument) => Promise<CutAndFill | null>,
): Promise<VolumeHistory> {
  const isThere = (doc: ProjectDocument): boolean => doc.comparisons.some((c) => c.id === comparison);
  const now = await volumeOf(newest);
  const steps: VolumeStep[] = [];
  let [doc, after, computed] = [newest, now, 0];
  for (const { revision, change, inverse } of changes) {
    const undone = applyChange(doc, upgradeChange(inverse, doc));
    if (!undone.ok || computed >= MOST_COMPUTED) return { now, steps, from: revision, end: 'many' };
    const earlier = undone.document;
    if (!isThere(earlier)) {
      steps.push({ revision, before: null, after });
      return { now, steps, from: revision, end: 'made' };
    }
    let before = after;
    if (mayChangeVolume(change, comparison)) {
      before = await volumeOf(earlier);
      computed++;
    }
    if (differ(before, after)) steps.push({ revision, before, after });
    [doc, after] = [earlier, before];
  }
  return { now, steps, from: (changes.at(-1)?.revision ?? 1) - 1, end: 'begins' };
}

const differ = (a: CutAndFill | null, b: CutAndFill | null): boolean =>
  a === null || b === null ? a !== b : Math.abs(a.cut - b.cut) > NOTHING || Math.abs(a.fill - b.fill) > NOTHING;

/** Whether a change can alter the volumes of a comparison: what is only drawn, decided or kept beside it cannot. */
function mayChangeVolume(change: Change, comparison: string): boolean {
  switch (change.op) {
    case 'several':
      return change.changes.some((c) => mayChangeVolume(c, comparison));
    case 'comparison.set':
      return change.comparison.id === comparison;
    case 'comparison.remove':
      return change.id === comparison;
    case 'query.accept':
    case 'query.reopen':
    case 'query.follow':
    case 'picture.set':
    case 'volume.hand':
    case 'series.set':
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.series':
    case 'drawing.label':
      return false;
    default:
      return true;
  }
}
