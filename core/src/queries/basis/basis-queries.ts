import { makeAnew, type Keep } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import {
  controlByName,
  namedAsControl,
  namedPairs,
  rowsByFile,
  type Doubt,
  type PointTable,
  type ReadOf,
} from '#core/stages';
import type { Query } from '../query.ts';
import { checksAgainstControl, queryControl } from './control-queries.ts';
import { askAboutFile, claimsOf, notRead, type FileDoubt } from './file-queries.ts';

/** Doubts that say where a file lies: what differs from control then is the file, not its points. */
const ELSEWHERE: readonly Doubt['kind'][] = ['other-basis', 'outside-area', 'far-file'];

/** Queries about what the numbers of whole files mean. */
export function queryBasis(
  doc: ProjectDocument,
  points: PointTable,
  doubts: readonly Doubt[],
  readOf: ReadOf,
  keep: Keep = makeAnew,
): Query[] {
  const rowsOf = rowsByFile(doc, points, keep);
  const control = controlByName(doc, points, rowsOf);
  const queries = doc.intakes.flatMap((intake, i): Query[] => {
    if (!intake.on) return [];
    const { failure } = readOf(intake);
    const found = doubts.filter((f): f is FileDoubt => 'intake' in f && f.intake === i);
    const asked = [
      ...(failure ? [notRead(doc, intake, failure)] : []),
      ...claimsOf(doc, intake, points, rowsOf[i], found.some((f) => f.kind === 'heights-lacking')), // prettier-ignore
      ...found.map((f) => askAboutFile(doc, f, points, rowsOf[i])),
    ];
    if (intake.purpose === 'control' || found.some((f) => ELSEWHERE.includes(f.kind))) return asked;
    const common = namedAsControl(doc, i, points, rowsOf[i], control, keep);
    return [...asked, ...checksAgainstControl(doc, points, namedPairs(points, common, control), control)];
  });
  return [...queries, ...queryControl(doc, points, rowsOf)];
}
