import { hashOnce, hashValue, onceForLast } from '#core/kernel';
import { buildLines, LineMemory, type Linework } from '#core/linework';
import type { ProjectDocument } from '#core/project';
import { codesKey } from '../keys.ts';
import { STATE } from '../points/points.ts';
import { reductionStage } from '../points/reduction-stage.ts';
import { planColumns, pointsStage } from '../points/stage.ts';
import { one, ONE, type Stage } from '../stage.ts';
import { layHandLines } from './hand-lines.ts';
import { orderOfBuilding } from './line-order.ts';
import { packLines } from './pack.ts';

const groups = (doc: ProjectDocument): unknown => [codesKey(doc), doc.settings.lineOrder, doc.intakes.map((i) => [i.id, i.purpose])]; // prettier-ignore

/** Lines by codes alone. */
export const codedLinesStage: Stage<Linework> = {
  name: 'lines by codes',
  doing: () => 'building lines',
  version: 18,
  subjects: () => ONE,
  // Lines in the order of time ask the books for it.
  inputs: () => [one(pointsStage), one(reductionStage)],
  settings: groups,
  run: ({ doc, result, memory }) => {
    const { points } = result(pointsStage);
    const books = result(reductionStage)?.books ?? new Map<string, never>();
    const shapes = memory.own('lines', () => new LineMemory());
    const timed = doc.settings.lineOrder === 'time' ? memory.id(books) : null;
    return memory.keep('lines by codes', [hashValue(groups(doc)), timed, ...planColumns(points)], () => {
      const made = buildLines(
        {
          x: points.x,
          y: points.y,
          number: points.number,
          description: points.description,
          words: (intake) => doc.intakes[intake].words,
          order: orderOfBuilding(doc, points, books),
          off: (row) => points.state[row] !== STATE.used || doc.intakes[points.intake[row]].purpose === 'control',
          group: (row) => points.intake[row],
        },
        doc.codeList,
        shapes,
      );
      memory.count('lines built', shapes.shaped);
      return made;
    });
  },
};

/** An edited height leaves lines as they are. */
const packedLines = onceForLast(packLines);

/** Lines by codes, with those that a person drew or changed. */
export const linesStage: Stage<Linework> = {
  name: 'lines',
  doing: () => 'building lines',
  version: 19,
  subjects: () => ONE,
  inputs: () => [one(pointsStage), one(codedLinesStage)],
  settings: (doc) => [groups(doc), hashOnce(doc.handLines)],
  run: ({ doc, result, memory }) => {
    const { points } = result(pointsStage);
    const coded = result(codedLinesStage);
    const drawn = [memory.id(coded), hashOnce(doc.handLines), codesKey(doc)];
    return memory.keep('lines', [...drawn, ...planColumns(points)], () => layHandLines(doc, points, coded));
  },
  pack: packedLines,
};
