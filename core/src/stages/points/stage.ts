import { sameColumn } from '#core/kernel';
import { editsKey } from '../keys.ts';
import { one, ONE, readsOf, type Stage } from '../stage.ts';
import { acceptedDoubts, type Doubt } from './judging/doubt.ts';
import { judgePoints } from './judging/judge.ts';
import { packPoints } from './pack.ts';
import { makePoints, type PointTable } from './points.ts';
import { fileKey, reductionStage } from './reduction-stage.ts';

/** The project's points, and why some of them wait. */
export interface JudgedPoints {
  points: PointTable;
  doubts: Doubt[];
}

export const pointsStage: Stage<JudgedPoints> = {
  name: 'points',
  doing: () => 'placing points',
  version: 17,
  subjects: () => ONE,
  inputs: ({ intakes }) => [...readsOf(intakes), one(reductionStage)],
  settings: (doc) => [
    doc.intakes.map(fileKey),
    editsKey(doc),
    acceptedDoubts(doc),
    doc.basis,
    // What books give is kept in part only: what else they depend on stands here too.
    reductionStage.settings(doc, ''),
  ],
  run: ({ doc, readOf, result, memory }) => {
    const books = result(reductionStage);
    const table = memory.columns('points', makePoints(doc, readOf, books?.reads, memory.keep), 'state');
    const { state, doubts } = judgePoints(doc, table, memory.keep);
    return { points: memory.same('points', memory.columns('points', { ...table, state }), samePoints), doubts };
  },
  identity: ({ points }) => points,
  pack: ({ points }) => packPoints(points),
};

/** Whether two point tables hold the same, column by column; heights first, which differ most often. */
const samePoints = (a: PointTable, b: PointTable): boolean =>
  sameColumn(a.z, b.z) && (Object.keys(a) as (keyof PointTable)[]).every((column) => sameColumn(a[column], b[column]));

/** The columns that say places in plan, codes and numbers: what uses no more than these does not change with heights. */
export const planColumns = ({ x, y, state, intake, fileRow, number, description }: PointTable): unknown[] => [
  x,
  y,
  state,
  intake,
  fileRow,
  number,
  description,
];
