import type { Linework } from '#core/linework';
import type { ProjectDocument } from '#core/project';
import { courseKey, handEntries, rowFinder, type PointTable } from '#core/stages';
import { settleQuery, type Query } from '../query.ts';

/** Lines by hand whose codes give another course by now, or whose points are gone. */
export function queryHandLines(doc: ProjectDocument, points: PointTable, coded: Linework): Query[] {
  const out: Query[] = [];
  if (Object.keys(doc.handLines).length === 0) return out;
  const rowOf = rowFinder(doc, points);
  const byKey = new Map(coded.lines.map((l) => [l.key, l]));
  for (const [key, hand] of handEntries(doc)) {
    const gone = hand.vertices.filter((v) => v.point !== null && rowOf(v.point) < 0).length;
    const now = hand.replaces ? byKey.get(hand.replaces.key) : undefined;
    const other = hand.replaces && now && courseKey(doc, points, now) !== hand.replaces.course;
    if (!gone && !other) continue;
    const place = hand.vertices[0] ?? (now ? { x: now.x[0], y: now.y[0] } : null);
    out.push(
      settleQuery(doc, {
        key: `hand-line-stale:${key}`,
        kind: 'hand-line-stale',
        stage: 'lines',
        weight: 'look',
        text: other
          ? `Line ${key} was changed by hand, and its codes now give another course: ${now.rows.filter((r) => r >= 0).length} points. Which of the two is right?`
          : `Line ${key} was drawn by hand through ${gone === 1 ? 'a point that is' : `${gone} points that are`} used no more; it runs straight past.`,
        evidence: [gone, now ? courseKey(doc, points, now) : null],
        place: place ? { x: place.x, y: place.y } : null,
        rows: [],
        lines: [key],
        remedies: [
          { label: hand.replaces ? 'Redraw it from its codes' : 'Delete the line', change: { op: 'lines.hand', set: { [key]: null }, what: `redrew line ${key} from its codes` } }, // prettier-ignore
        ],
      }),
    );
  }
  return out;
}
