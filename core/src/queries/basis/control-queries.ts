import { distance } from '#core/kernel';
import { type Intake, type ProjectDocument } from '#core/project';
import { settleQuery, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';
import { STATE, pointKey, type NamedPair, type PointTable } from '#core/stages';
import { lengthText } from './basis-words.ts';

/** More of them are one cause, not so many. */
const MOST_CHECKS = 100;

/** Points of text files that are off control of their number by more than the project allows. */
export function checksAgainstControl(
  doc: ProjectDocument,
  points: PointTable,
  pairs: readonly NamedPair[],
  control: ReadonlyMap<string, number>,
): Query[] {
  const { unit, checkPlan, checkHeight } = doc.settings;
  const out: Query[] = [];
  for (const p of pairs) {
    const plan = distance(p.x - p.cx, p.y - p.cy);
    const height = Number.isNaN(p.z) || Number.isNaN(p.cz) ? 0 : p.z - p.cz;
    if ((plan <= checkPlan && Math.abs(height) <= checkHeight) || out.length >= MOST_CHECKS) continue;
    const intake = doc.intakes[points.intake[p.row]];
    // What a book measured is checked where it is reduced: its coordinates are not typed over.
    if (intake.form === 'book') continue;
    const known = control.get(p.number)!;
    out.push(
      settleQuery(doc, {
        key: `control-known:${pointKey(doc, points, p.row)}`,
        kind: 'control-known',
        stage: 'basis',
        weight: 'look',
        text: `${p.number} in ${intake.fileName} is ${lengthText(plan, unit, 3)} off control in plan and ${lengthText(height, unit, 3)} in height (allowed ${lengthText(checkPlan, unit, 3)} and ${lengthText(checkHeight, unit, 3)}).`,
        evidence: [p.x, p.y, Number.isNaN(p.z) ? null : p.z, p.cx, p.cy, checkPlan, checkHeight],
        place: { x: p.x, y: p.y },
        rows: [p.row, known],
        lines: [],
        remedies: [
          {
            label: 'Use control’s coordinates',
            change: editOne(pointKey(doc, points, p.row), {
              x: p.cx,
              y: p.cy,
              ...(Number.isNaN(p.cz) ? {} : { z: p.cz }),
            }),
          },
          { label: 'Exclude the shot', change: editOne(pointKey(doc, points, p.row), { off: true }) },
        ],
      }),
    );
  }
  return out;
}

/** Control against itself: one name twice in a file, one name with other coordinates in a later file. */
export function queryControl(doc: ProjectDocument, points: PointTable, rowsOf: number[][]): Query[] {
  const out: Query[] = [];
  const { unit } = doc.settings;
  const seen = new Map<string, number>();
  const differing = new Map<string, [number, number][]>();
  doc.intakes.forEach((intake, i) => {
    if (intake.purpose !== 'control' || !intake.on) return;
    for (const row of rowsOf[i]) {
      if (points.state[row] !== STATE.used || points.number[row] === '') continue;
      const before = seen.get(points.number[row]);
      seen.set(points.number[row], row);
      if (before === undefined) continue;
      const plan = distance(points.x[row] - points.x[before], points.y[row] - points.y[before]);
      const height = points.z[row] - points.z[before];
      if (plan < 5e-4 && !(Math.abs(height) >= 5e-4)) continue;
      if (points.intake[before] === i) {
        out.push(
          settleQuery(doc, {
            key: `control-name-twice:${pointKey(doc, points, row)}`,
            kind: 'control-name-twice',
            stage: 'basis',
            weight: 'stop',
            text: `Control ${points.number[row]} occurs twice in ${intake.fileName}, rows ${points.fileRow[before]} and ${points.fileRow[row]}, ${lengthText(plan, unit, 3)} apart. Which is meant?`,
            evidence: [points.x[row], points.y[row], points.x[before], points.y[before]],
            place: { x: points.x[row], y: points.y[row] },
            rows: [before, row],
            lines: [],
            remedies: [
              {
                label: `Exclude row ${points.fileRow[row]}`,
                change: editOne(pointKey(doc, points, row), { off: true }),
              },
              {
                label: `Exclude row ${points.fileRow[before]}`,
                change: editOne(pointKey(doc, points, before), { off: true }),
              },
            ],
          }),
        );
        continue;
      }
      const between = `${points.intake[before]} ${i}`;
      differing.set(between, [...(differing.get(between) ?? []), [before, row]]);
    }
  });
  for (const [between, pairs] of differing) {
    const [a, b] = between.split(' ').map((n) => doc.intakes[Number(n)]);
    out.push(controlDiffers(doc, points, a, b, pairs));
  }
  return out;
}

function controlDiffers(
  doc: ProjectDocument,
  points: PointTable,
  earlier: Intake,
  later: Intake,
  pairs: [number, number][],
): Query {
  const { unit } = doc.settings;
  const newer = (earlier.given?.date ?? '') > (later.given?.date ?? '') ? earlier : later;
  const by = pairs.slice(0, 3).map(([a, b]) => {
    const plan = distance(points.x[b] - points.x[a], points.y[b] - points.y[a]);
    const height = points.z[b] - points.z[a];
    return `${points.number[b]} by ${lengthText(plan, unit, 3)}${Number.isNaN(height) ? '' : ` and ${lengthText(height, unit, 3)} in height`}`;
  });
  const more = pairs.length > 3 ? ` and ${pairs.length - 3} more` : '';
  const dated = (i: Intake): string => `${i.fileName}${i.given?.date ? ` (${i.given.date})` : ''}`;
  const off = (keep: Intake): Remedy => ({
    label: `Use ${keep.fileName}`,
    change: {
      op: 'points.edit',
      edits: Object.fromEntries(
        pairs.map(([a, b]) => [pointKey(doc, points, keep === later ? a : b), { set: { off: true }, undo: [] }]),
      ),
    },
  });
  return settleQuery(doc, {
    key: `control-differs:${earlier.id}:${later.id}`,
    kind: 'control-differs',
    stage: 'basis',
    weight: 'stop',
    text: `Control differs between ${dated(earlier)} and ${dated(later)}: ${by.join(', ')}${more}. The newer is ${newer.fileName}.`,
    evidence: pairs.map(([a, b]) => [points.number[a], points.x[a], points.y[a], points.x[b], points.y[b]]),
    place: { x: points.x[pairs[0][1]], y: points.y[pairs[0][1]] },
    rows: pairs.flat(),
    lines: [],
    remedies: newer === later ? [off(later), off(earlier)] : [off(earlier), off(later)],
  });
}
