import type { Known, ProjectMoved, ProjectState } from '#contract';
import { documentOf, layParts, type RankedDocument } from '#core/project';

/** A project as the server has told it so far. */
export interface Received {
  state: ProjectState;
  /** Its document, with what the next parts are laid by. */
  ranked: RankedDocument;
  settledMark: string | null;
  filesMark: string;
}

/** What need not be sent again. */
export const knownOf = (received: Received | null): Known =>
  received
    ? {
        since: received.state.revision,
        files: received.filesMark,
        ...(received.settledMark === null ? {} : { settled: received.settledMark }),
      }
    : {};

/** What moved, laid over what was known; what came before it on a slower way changes nothing. */
export function receive(before: Received | null, moved: ProjectMoved): Received {
  if (before && !moved.anew && moved.revision < before.state.revision) return before;
  const { anew, parts, settledMark, filesMark, ...head } = moved;
  const ranked = before && !anew ? layParts(before.ranked, parts) : documentOf(parts);
  const { settled = before?.state.settled ?? null, files = before?.state.files ?? [] } = moved;
  return { state: { ...head, document: ranked.document, settled, files }, ranked, settledMark, filesMark };
}
