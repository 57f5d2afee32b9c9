import { distance } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import { STATE, type PointTable } from '../points.ts';
import { found, type Doubt } from './doubt.ts';
import { matchBasis, type NamedPair } from './match-control.ts';

/** Used control by name; the last one taken in stands for its name. */
export function controlByName(
  doc: ProjectDocument,
  points: Pick<PointTable, 'state' | 'number'>,
  rowsOf: readonly number[][],
): Map<string, number> {
  const control = new Map<string, number>();
  doc.intakes.forEach((intake, i) => {
    if (intake.purpose !== 'control') return;
    for (const row of rowsOf[i])
      if (points.state[row] === STATE.used && points.number[row] !== '') control.set(points.number[row], row);
  });
  return control;
}

/** Points of a file beside control of the same names. */
export function namedPairs(
  points: PointTable,
  rows: readonly number[],
  control: ReadonlyMap<string, number>,
): NamedPair[] {
  const pairs: NamedPair[] = [];
  for (const row of rows) {
    if (points.state[row] !== STATE.used) continue;
    const known = control.get(points.number[row]);
    if (known === undefined) continue;
    pairs.push({
      number: points.number[row],
      row,
      x: points.x[row],
      y: points.y[row],
      z: points.z[row],
      cx: points.x[known],
      cy: points.y[known],
      cz: points.z[known],
    });
  }
  return pairs;
}

/** Whether a file as a whole stands on another basis than control of the same names. */
export function relationToControl(doc: ProjectDocument, index: number, pairs: NamedPair[]): Doubt | null {
  if (pairs.length === 0) return null;
  const intake = doc.intakes[index];
  const tolerance = Math.max(doc.settings.checkPlan, 0.005);
  const match = matchBasis(pairs, intake.layout.unit, tolerance);
  // Single points that are off are checks that failed; a basis is other when most points are.
  const off = pairs.filter((p) => distance(p.x - p.cx, p.y - p.cy) > tolerance).length;
  if (match.kind === 'same' || off * 2 <= pairs.length) return null;
  if (match.kind === 'none' && (pairs.length < 2 || match.apart < 100 * tolerance)) return null;
  if (pairs.length === 1 && match.kind === 'shifted') return null;
  const restsOn = [intake.sha256, intake.layout, pairs.map((p) => [p.number, p.cx, p.cy]), match.kind];
  return { ...found(doc, 'basis', intake.id, restsOn), kind: 'other-basis', intake: index, pairs, match };
}
