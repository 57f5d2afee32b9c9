import type { ProjectDocument } from '#core/project';
import type { Snapped } from '../../project-state/snap.ts';
import { useProject } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import type { Picked } from './fit-pairs.ts';

interface XY {
  x: number;
  y: number;
}

/** Where the points of some files are drawn now, m. */
export const placesOf = (points: Tables['points'], doc: ProjectDocument, of: (intake: string) => boolean): XY[] =>
  Array.from(points.x, (x, row) => ({ x, y: points.y[row], intake: doc.intakes[points.intake[row]].id })).filter(
    (p) => of(p.intake) && Number.isFinite(p.x) && Number.isFinite(p.y),
  );

/**
 * Asks on the drawing for a place of the files and then for where it is; each time all that it can be is shown first, since
 * the two may lie hundreds of kilometres from each other.
 */
export function pointAtPair(
  one: { name: string; at: readonly XY[]; is: (place: Snapped) => Picked },
  other: { at: readonly XY[]; is: (place: Snapped) => string },
  then: (one: string, other: string) => void,
): void {
  ask(one.name, one.at, (first) => {
    const from = one.is(first);
    if ('problem' in from) return useProject.getState().tell(from.problem);
    ask(`where ${from.name} is: a point, a line’s end, or its coordinates`, other.at, (second) =>
      then(from.name, other.is(second)),
    );
  });
}

function ask(purpose: string, at: readonly XY[], then: (place: Snapped) => void): void {
  if (at.length) sheetHandle.current?.fitTo(at.map((p) => p.x), at.map((p) => p.y)); // prettier-ignore
  useProject.getState().trace({
    purpose,
    places: [],
    finish: () => {},
    course: { most: 1, finish: ([place]) => then(place) },
  });
}
