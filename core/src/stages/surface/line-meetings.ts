import { distance, meanOf } from '#core/kernel';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { NO_POINT, type Meeting, type MeetingChoice } from '#core/terrain';
import type { LineMeeting, SurfaceAccount } from './account.ts';
import type { SurfaceLayout } from './layout.ts';

type MeetingRow = Extract<SurfaceRow, { kind: 'meeting' }>;

/** m; a decision holds for the meeting of its lines that is no farther from where it was made. */
const HOLDS_WITHIN = 0.25;

/** A meeting by the lines that meet there. */
export function lineMeeting(
  m: Omit<Meeting, 'kept' | 'decided'> & Partial<Pick<Meeting, 'kept' | 'decided'>>,
  layout: SurfaceLayout,
): LineMeeting {
  const hasOwn = m.points.length > 0;
  const row = hasOwn && m.points[0] !== NO_POINT && m.points[0] < layout.rows.length ? layout.rows[m.points[0]] : -1;
  const lines = new Map<string, number>();
  m.segments.forEach((segment, i) => {
    const key = layout.segmentLine[segment];
    if (!lines.has(key)) lines.set(key, m.elevations[i + (hasOwn ? 1 : 0)]);
  });
  return {
    x: m.x,
    y: m.y,
    kind: m.kind,
    kept: m.kept ?? NaN,
    decided: m.decided ?? false,
    row,
    own: hasOwn ? m.elevations[0] : NaN,
    lines: [...lines].map(([key, elevation]) => ({ key, elevation })),
  };
}

/** How a recipe settles elevations where lines meet: by its rows at their places, elsewhere by its rule. */
export function meetingChoice(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  layout: SurfaceLayout,
  effect: SurfaceAccount['rows'],
): MeetingChoice {
  const rows = recipe.rows.filter((r): r is MeetingRow => r.kind === 'meeting' && r.on);
  for (const r of rows) effect[r.id] = null;
  const byCode = recipe.meeting === 'code';
  const rank = new Map(doc.codeList.codes.map((c, i) => [c.code.toUpperCase(), i]));
  const decided: MeetingChoice['decided'] = (m) => {
    const meeting = lineMeeting(m, layout);
    const keys = meeting.lines.map((l) => l.key);
    const row = rows.find(
      (r) => distance(r.x - m.x, r.y - m.y) <= HOLDS_WITHIN && r.lines.every((key) => keys.includes(key)),
    );
    const value = row ? elevationBy(row.use, meeting) : null;
    if (value !== null) {
      effect[row!.id] = 1;
      return value;
    }
    if (!byCode) return null;
    const ranked = meeting.lines.map((l) => rank.get(layout.codeOfLine.get(l.key) ?? '') ?? Infinity);
    const best = Math.min(...ranked);
    return best === Infinity ? null : meeting.lines[ranked.indexOf(best)].elevation;
  };
  return {
    rule: !recipe.meeting || recipe.meeting === 'code' ? 'first' : recipe.meeting,
    tolerance: doc.settings.checkHeight,
    ...(rows.length || byCode ? { decided } : {}),
  };
}

/** Null where what was chosen is no longer there. */
function elevationBy(use: MeetingRow['use'], { own, lines }: LineMeeting): number | null {
  const all = [...(Number.isNaN(own) ? [] : [own]), ...lines.map((l) => l.elevation)];
  if (typeof use === 'object') return lines.find((l) => l.key === use.line)?.elevation ?? null;
  if (use === 'point') return Number.isNaN(own) ? null : own;
  if (use === 'mean') return meanOf(all);
  return use === 'highest' ? Math.max(...all) : Math.min(...all);
}
