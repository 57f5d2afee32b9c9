import { groundOf, type ProjectDocument, type SurfaceRow } from '#core/project';
import type { BuiltSurface, PointTable } from '#core/stages';
import { formatArea } from '#core/measure';
import { placeText } from '../place-text.ts';
import { queryContours } from './contour-queries.ts';
import { queryMeetings } from './meeting-queries.ts';
import { MOST_OF_A_KIND, settleQuery, type Query } from '../query.ts';

/** Rows of recipes that have lost what they speak of: a file, or a place where lines met; and traced lines that meet at elevations which do not agree. */
export function queryRecipes(doc: ProjectDocument, surfaces: readonly BuiltSurface[], points: PointTable): Query[] {
  const out: Query[] = [];
  for (const recipe of doc.surfaces) {
    const effect = surfaces.find((s) => s.id === recipe.id)?.account.rows ?? {};
    for (const row of recipe.rows) {
      if (!row.on || effect[row.id] !== null) continue;
      if (out.length >= MOST_OF_A_KIND) return out;
      out.push(
        settleQuery(doc, {
          key: `recipe-source-gone:${recipe.id}:${row.id}`,
          kind: 'recipe-source-gone',
          stage: 'ground',
          weight: 'look',
          text: lostText(recipe.name, row),
          evidence: 'intake' in row ? [row.intake] : row,
          place: placeOf(row),
          rows: [],
          lines: row.kind === 'meeting' ? row.lines : [],
          remedies: [
            {
              label: 'Delete the row',
              change: { op: 'surface.rowRemove', surface: recipe.id, id: row.id },
            },
          ],
        }),
      );
    }
  }
  const ground = groundOf(doc).id;
  const traced = new Set(doc.surfaces.filter((r) => r.id !== ground && r.rows.some(({ kind }) => kind === 'traced')).map((r) => r.id)); // prettier-ignore
  // Of the ground it is asked with all else; elsewhere lines are what somebody drew or sent, but for those that were traced.
  const meetings = surfaces.filter((s) => traced.has(s.id)).flatMap((s) => queryMeetings(doc, points, s));
  return [...out, ...meetings, ...surfaces.flatMap((s) => [...queryContours(doc, s), ...queryPads(doc, s)])];
}

/** Pads whose batters do not meet the ground, or that lie beyond it: their volumes are too small. */
function queryPads(doc: ProjectDocument, { id, name, account }: BuiltSurface): Query[] {
  const { unit, areaUnit } = doc.settings;
  return (account.proposed ?? []).flatMap((pad): Query[] => {
    if (!pad.ok || (pad.offSurvey.length === 0 && pad.beyond < LEAST_BEYOND)) return [];
    const [off] = pad.offSurvey;
    const text = off
      ? `Batters in “${name}” run off the survey before they meet the ground, first near ${placeText(doc, off[0], off[1])}. Cut and fill end there and are too small. Survey farther out, or make the batters steeper.`
      : `${formatArea(pad.beyond, areaUnit, unit)} of what “${name}” proposes lie beyond the ground. What is cut and filled there is not known.`;
    return [
      settleQuery(doc, {
        key: `pad-off-survey:${id}:${pad.row}`,
        kind: 'pad-off-survey',
        stage: 'quantities',
        weight: 'look',
        text,
        evidence: [pad.offSurvey, pad.beyond],
        place: off ? { x: off[0], y: off[1] } : null,
        rows: [],
        lines: [],
        remedies: [],
      }),
    ];
  });
}
/** m² */
const LEAST_BEYOND = 0.01;

/** What a row has lost, and what to do. */
function lostText(surface: string, row: SurfaceRow): string {
  switch (row.kind) {
    case 'meeting':
      return `An elevation was chosen for “${surface}” where ${row.lines.join(' and ')} meet. They no longer meet there at different elevations, so it has no effect.`;
    case 'file':
    case 'triangles':
      return `The surface “${surface}” is made from a file that is no longer in the project. Its points are missing from the surface; undo the removal of the file, or delete the row.`;
    case 'surface':
      return `“${surface}” is made from a surface that is no longer in the project. Undo its deletion, or delete the row.`;
    case 'lay-in':
      return `Another surface is laid into “${surface}”, and is gone or has nothing in common with it. Delete the row, or lay it in again.`;
    case 'strip':
      return `A bank or ditch of “${surface}” cannot be made: its ground is gone or is not under it, or its sides cross at a bend. Set it anew, or delete the row.`;
    case 'offset':
      return `“${surface}” is made from a surface that is gone or has nothing inside its area. Set it anew, or delete the row.`;
    case 'pad':
      return `A pad of “${surface}” cannot be made: its ground is gone, is not under it, or its boundary or slopes make no pad. Set it anew, or delete the row.`;
    case 'move':
    case 'omit':
      return `Points of “${surface}” were ${row.kind === 'move' ? 'moved' : 'deleted'} by hand, and are no longer in the project. Delete the row.`;
    case 'raise-lines':
      return `${row.lines.join(', ')} ${row.lines.length === 1 ? 'was' : 'were'} raised in “${surface}”, and ${row.lines.length === 1 ? 'is' : 'are'} no longer there. Delete the row.`;
    case 'swap':
      return `A side of “${surface}” was swapped by hand, and is no longer there or can no longer be swapped. Delete the row, or swap it again.`;
    case 'tilt':
      return `A part of “${surface}” was tilted onto three heights; one of them is off the surface now, or no point is left in the area. Delete the row, or tilt it again.`;
    default:
      return `A manual edit of “${surface}” no longer finds anything at its place. Delete the row, or edit there again.`;
  }
}

function placeOf(row: SurfaceRow): { x: number; y: number } | null {
  if (row.kind === 'meeting') return { x: row.x, y: row.y };
  if (row.kind === 'breakline' || row.kind === 'traced') return { x: row.course[0].x, y: row.course[0].y };
  if (row.kind === 'strip') return { x: row.course[0].x, y: row.course[0].y };
  const xy = 'ring' in row ? row.ring : row.kind === 'swap' ? row.ends : row.kind === 'delete-triangles' ? row.places : null; // prettier-ignore
  return xy && { x: xy[0], y: xy[1] };
}
