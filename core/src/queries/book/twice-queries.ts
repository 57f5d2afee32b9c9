import { CRITICAL, distance, makeAnew, type Keep } from '#core/kernel';
import { fileRowOf, recordIn } from '#core/book';
import type { Reduction } from '#core/reduction';
import { heightRemedies, projectLength, otherHeight } from './blunders.ts';
import { type BookAt, pointKey, type PointTable } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { settleQuery, MOST_OF_A_KIND, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';
import { listedTwice } from './twice-measured.ts';

/**
 * Two shots of one place whose elevations differ by more than heights may: the ground can keep only one of them.
 * Points that a query of their own explains, and setups whose heights are in doubt as a whole (`found`), are not asked
 * about again.
 */
export function queryPlacesTwice(
  doc: ProjectDocument,
  points: PointTable,
  books: ReadonlyMap<string, BookAt>,
  reduction: Reduction | null,
  explained: ReadonlySet<number>,
  found: { setups: ReadonlySet<number>; explains: (book: string, row: number) => boolean },
  keep: Keep = makeAnew,
): Query[] {
  const { checkHeight } = doc.settings;
  const out: Query[] = [];
  const setups = setupsByRow(reduction);
  const inDoubt = (row: number): boolean =>
    found.setups.has(setups(pointKey(doc, points, row))) || found.explains(doc.intakes[points.intake[row]].id, points.fileRow[row]); // prettier-ignore
  for (const { a, b } of listedTwice(doc, points, keep)) {
    const apart = points.z[b] - points.z[a];
    const scatter = CRITICAL * Math.sqrt((points.sdHeight[a] || 0) ** 2 + (points.sdHeight[b] || 0) ** 2);
    if (!(Math.abs(apart) > Math.max(checkHeight, scatter)) || explained.has(a) || explained.has(b)) continue;
    if (inDoubt(a) || inDoubt(b)) continue;
    if (out.length >= MOST_OF_A_KIND) break;
    const told = (row: number): string => `${points.number[row] || `row ${fileRowOf(points.fileRow[row])}`} “${points.description[row].slice(0, 30)}” of ${doc.intakes[points.intake[row]].fileName}${stationOf(reduction, setups(pointKey(doc, points, row)))} at ${projectLength(doc, points.z[row])}`; // prettier-ignore
    const heights = [...heightOf(doc, points, books, a, -apart), ...heightOf(doc, points, books, b, apart)];
    out.push(
      settleQuery(doc, {
        key: `place-twice:${pointKey(doc, points, a)}:${pointKey(doc, points, b)}`,
        kind: 'place-twice',
        stage: 'book',
        weight: 'look',
        text: `One place was measured twice, ${projectLength(doc, distance(points.x[a] - points.x[b], points.y[a] - points.y[b]))} apart in plan and ${projectLength(doc, Math.abs(apart))} in elevation: ${told(a)}, and ${told(b)}. The ground keeps one of them. Which is right, or are they two levels?${heights.length ? '' : ' A third shot of it would tell.'}`, // prettier-ignore
        evidence: [a, b].map((r) => [points.x[r], points.y[r], points.z[r], points.description[r]]),
        place: { x: points.x[b], y: points.y[b] },
        rows: [a, b],
        lines: [],
        remedies: [
          ...heights,
          ...[b, a].map((r): Remedy => ({
            label: `Exclude ${points.number[r] || `row ${fileRowOf(points.fileRow[r])}`}`,
            change: editOne(pointKey(doc, points, r), { off: true }),
          })),
        ],
      }),
    );
  }
  return out;
}

/** Another height of the crew that brings one of the two to the other. */
function heightOf(
  doc: ProjectDocument,
  points: PointTable,
  books: ReadonlyMap<string, BookAt>,
  row: number,
  off: number,
): Remedy[] {
  const b = books.get(doc.intakes[points.intake[row]].id);
  const record = b && recordIn(b.records, points.fileRow[row]);
  if (!b || record?.kind !== 'sighting' || Number.isNaN(record.height)) return [];
  const meant = otherHeight(b.records, record, record.height + off, Math.max(0.02, doc.settings.checkHeight / 2));
  return meant === null ? [] : heightRemedies(doc, b, record, meant).slice(0, 1).map((r) => ({ ...r, label: `${r.label} for ${points.number[row]}` })); // prettier-ignore
}

/** Made when somebody asks: most surveys have no place that differs. */
function setupsByRow(reduction: Reduction | null): (key: string) => number {
  let at: Map<string, number> | null = null;
  const p = reduction?.points;
  return (key) => {
    if (!at) {
      at = new Map();
      for (let i = 0; p && i < p.count; i++) at.set(`${p.books[p.book[i]]}:${p.name[i].row}`, p.setup[i]);
    }
    return at.get(key) ?? -1;
  };
}

const stationOf = (reduction: Reduction | null, setup: number): string =>
  reduction && setup >= 0 ? ` from ${reduction.setups[setup].number}` : '';
