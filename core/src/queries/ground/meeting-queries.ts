import { formatLength, UNIT_SIGN } from '#core/measure';
import { hashValue } from '#core/kernel';
import type { Change, ProjectDocument, SurfaceRow } from '#core/project';
import { drawnKey, otherKey, type BuiltSurface, type LineMeeting, type PointTable } from '#core/stages';
import { drawnName, lineName } from './line-name.ts';
import { placeText } from '../place-text.ts';
import { MOST_OF_A_KIND, settleQuery, type Query, type Remedy } from '../query.ts';

type Use = Extract<SurfaceRow, { kind: 'meeting' }>['use'];

const HOW: Record<LineMeeting['kind'], string> = {
  cross: 'cross',
  end: 'meet',
  overlap: 'run over each other',
  place: 'are',
};

/** Breaklines that meet at elevations which do not agree: which of them counts is somebody's to say. */
export function queryMeetings(doc: ProjectDocument, points: PointTable, ground: BuiltSurface): Query[] {
  const { unit } = doc.settings;
  const name = (row: number): string => points.number[row] || `in row ${points.fileRow[row]}`;
  const sign = UNIT_SIGN[unit];
  const height = (m: number): string => formatLength(m, unit);
  return ground.account.meetings
    .filter((m) => !m.decided)
    .slice(0, MOST_OF_A_KIND)
    .map((m) => {
      const all = [...(Number.isNaN(m.own) ? [] : [m.own]), ...m.lines.map((l) => l.elevation)];
      const apart = Math.max(...all) - Math.min(...all);
      const keys = m.lines.map((l) => l.key);
      const at = m.lines.map((l) => `${lineName(doc, l.key)} at ${height(l.elevation)}`);
      const shot = m.row >= 0 ? `shot ${name(m.row)} (${height(m.own)})` : '';
      const [verb, noun] = at.length > 1 ? [HOW[m.kind], 'Breaklines'] : ['passes', 'Breakline'];
      const met = `${noun} ${at.join(' and ')} ${verb} ${shot ? `at ${shot}` : `at ${placeText(doc, m.x, m.y)}`}`;
      return settleQuery(doc, {
        key: `meeting-breaklines:${ground.id}:${hashValue([keys, m.row >= 0 ? points.number[m.row] : [Math.round(m.x), Math.round(m.y)]]).slice(0, 16)}`,
        kind: 'meeting-breaklines' as const,
        stage: 'ground' as const,
        weight: 'look' as const,
        text: `${met}, ${height(apart)} ${sign} apart. The surface has ${height(m.kept)} there. Which is right?`,
        evidence: [keys, m.x, m.y, all],
        place: { x: m.x, y: m.y },
        rows: m.row >= 0 ? [m.row] : [],
        lines: keys,
        remedies: remediesOf(doc, ground.id, m, shot, height),
      });
    });
}

/** Each elevation that is not in force, the mean, and leaving a line out of the ground. */
function remediesOf(
  doc: ProjectDocument,
  surface: string,
  m: LineMeeting,
  shot: string,
  height: (m: number) => string,
): Remedy[] {
  const decide = (use: Use): Change => ({
    op: 'surface.row',
    surface,
    row: {
      id: `meeting-${hashValue([m.lines.map((l) => l.key), m.x, m.y]).slice(0, 16)}`,
      on: true,
      kind: 'meeting',
      x: m.x,
      y: m.y,
      lines: m.lines.map((l) => l.key),
      use,
    },
  });
  const all = [...(Number.isNaN(m.own) ? [] : [m.own]), ...m.lines.map((l) => l.elevation)];
  const mean = all.reduce((sum, v) => sum + v, 0) / all.length;
  return [
    ...(shot ? [{ label: `Use the shot’s ${height(m.own)}`, change: decide('point') }] : []),
    ...m.lines.map(({ key, elevation }) => ({ label: `Use ${lineName(doc, key)}’s ${height(elevation)}`, change: decide({ line: key }) })), // prettier-ignore
    { label: `Use the mean, ${height(mean)}`, change: decide('mean') },
    ...[...m.lines].reverse().flatMap(({ key }) => excluding(doc, surface, key)),
  ];
}

/** What leaves a line out: a line of the survey is excluded, the row of a drawn one goes; those of another surface stay. */
function excluding(doc: ProjectDocument, surface: string, key: string): Remedy[] {
  const recipe = doc.surfaces.find((s) => s.id === surface);
  const drawn = recipe?.rows.find((r) => (r.kind === 'breakline' || r.kind === 'traced') && drawnKey(r.id) === key);
  if (drawn)
    return [{ label: `Delete the ${drawnName(drawn)}`, change: { op: 'surface.rowRemove', surface, id: drawn.id } }];
  if (doc.surfaces.some((s) => otherKey(s.id) === key)) return [];
  return [{ label: `Exclude ${key} from the ground`, change: { op: 'line.ground', key, used: false, surface } }];
}
