import { makeAnew, type Keep } from '#core/kernel';
import { checksAgainstControl, queryControl } from './control-queries.ts';
import { type ProjectDocument } from '#core/project';
import { STATE, type PointTable, type ReadOf } from '#core/stages';
import type { Query } from '../query.ts';
import { notRead, claimsOf, outsideArea, apartFromOthers } from './file-claims.ts';
import { relationToControl } from './control-relation.ts';

/** Queries about what the numbers of whole files mean. Points of files that cannot be meant so wait. */
export function queryBasis(doc: ProjectDocument, points: PointTable, readOf: ReadOf, keep: Keep = makeAnew): Query[] {
  const rowsOf = keep('rows by file', [points.intake, doc.intakes.length], () => rowsByIntake(doc, points));
  const queries: Query[] = [];
  const wait = (query: Query, intake: number): void => {
    queries.push(query);
    if (query.weight === 'stop' && !query.accepted)
      for (const row of rowsOf[intake]) if (points.state[row] === STATE.used) points.state[row] = STATE.waits;
  };
  const control = controlByName(doc, points, rowsOf);
  const names = [...control.keys()];
  doc.intakes.forEach((intake, i) => {
    if (!intake.on) return;
    const failure = readOf(intake).failure;
    if (failure) queries.push(notRead(doc, intake, failure));
    for (const query of claimsOf(doc, intake, points, rowsOf[i])) wait(query, i);
    // Few points of a file have the name of a control point.
    const common = keep(`common ${intake.id}`, [points.number, points.intake, i, names], () =>
      rowsOf[i].filter((row) => control.has(points.number[row])),
    );
    // What common points say is more than where the numbers lie, and comes with a remedy.
    const isControl = intake.purpose === 'control';
    const basis = isControl ? null : relationToControl(doc, intake, points, common, control);
    if (basis) return wait(basis, i);
    const area = outsideArea(doc, intake, points, rowsOf[i]);
    if (area) wait(area, i);
    if (isControl || area) return;
    const { x, y, state } = points;
    const apart = keep(`apart ${intake.id}`, [doc.intakes, doc.settings.unit, doc.accepted, points.intake, x, y, state.slice()], () => apartFromOthers(doc, points, rowsOf, i)); // prettier-ignore
    if (apart) return wait(apart, i);
    queries.push(...checksAgainstControl(doc, points, common, control));
  });
  return [...queries, ...queryControl(doc, points, rowsOf)];
}

function rowsByIntake(doc: ProjectDocument, points: PointTable): number[][] {
  const rows: number[][] = doc.intakes.map(() => []);
  for (let row = 0; row < points.x.length; row++) rows[points.intake[row]].push(row);
  return rows;
}

/** Used control by name; the last one taken in stands for its name. */
function controlByName(doc: ProjectDocument, points: PointTable, rowsOf: number[][]): Map<string, number> {
  const control = new Map<string, number>();
  doc.intakes.forEach((intake, i) => {
    if (intake.purpose !== 'control') return;
    for (const row of rowsOf[i])
      if (points.state[row] === STATE.used && points.number[row] !== '') control.set(points.number[row], row);
  });
  return control;
}
