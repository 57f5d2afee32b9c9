import { distance, makeAnew, type Keep } from '#core/kernel';
import { UNIT_SIGN, formatLength } from '#core/measure';
import { nearestCodes } from '#core/codes';
import { codeReader, indexesOf, type ProjectDocument } from '#core/project';
import { STATE, isSurvey, nextFreeNumber, pointKey, type PointTable } from '#core/stages';
import { MOST_OF_A_KIND, settleQuery, type Query } from '../query.ts';
import { editOne, replaceCode } from '../remedies.ts';

const name = (points: PointTable, row: number): string =>
  points.number[row] === '' ? `in row ${points.fileRow[row]}` : points.number[row];

/**
 * Queries about single points. Points whose coordinates cannot be meant, zero elevations among others
 * and rows far away, are marked as waiting in the table until somebody decides.
 */
export function queryPoints(doc: ProjectDocument, points: PointTable, keep: Keep = makeAnew): Query[] {
  const { x, y, intake, fileRow, number, description, light } = points;
  const { settings, accepted, codeList, intakes } = doc;
  const named = [settings.unit, accepted, codeList, intakes, intake, fileRow, number, description, light, x, y];
  const inPlan = marking(keep, 'queries of places', points, named, () => {
    const exchanged = queryExchangedColumns(doc, points);
    return [...exchanged.queries, ...queryFarPoints(doc, points, exchanged.intakes)];
  });
  const zero = queryZeroElevations(doc, points);
  const byName = marking(keep, 'queries of names', points, named, () => [
    ...queryNumbersTwice(doc, points),
    ...queryUnknownCodes(doc, points),
  ]);
  return [...inPlan, ...zero, ...byName];
}

/** Keeps queries that mark points as waiting, with what they mark. */
function marking<T>(
  keep: Keep,
  what: string,
  points: Pick<PointTable, 'state'>,
  inputs: readonly unknown[],
  make: () => T,
): T {
  const { made, state } = keep(what, [...inputs, points.state.slice()], () => ({ made: make(), state: points.state.slice() })); // prettier-ignore
  points.state.set(state);
  return made;
}

const middleOf = (values: number[]): number => {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
};

function queryExchangedColumns(doc: ProjectDocument, points: PointTable): { queries: Query[]; intakes: Set<number> } {
  const queries: Query[] = [];
  const intakes = new Set<number>();
  const groups = doc.intakes.map(() => ({ x: [] as number[], y: [] as number[], rows: [] as number[] }));
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used) continue;
    const g = groups[points.intake[row]];
    g.x.push(points.x[row]);
    g.y.push(points.y[row]);
    g.rows.push(row);
  }
  const control = doc.intakes.flatMap((intake, i) => (intake.purpose === 'control' ? [groups[i]] : []));
  const [cx, cy] = [middleOf(control.flatMap((g) => g.x)), middleOf(control.flatMap((g) => g.y))];
  if (!Number.isFinite(cx)) return { queries, intakes };
  const reach =
    control.reduce((far, g) => g.x.reduce((f, x, i) => Math.max(f, distance(x - cx, g.y[i] - cy)), far), 50) * 5;
  const { unit } = doc.settings;
  doc.intakes.forEach((intake, i) => {
    const g = groups[i];
    if (!intake.on || intake.purpose === 'control' || g.rows.length === 0) return;
    const [mx, my] = [middleOf(g.x), middleOf(g.y)];
    const straight = distance(mx - cx, my - cy);
    const swapped = distance(my - cx, mx - cy);
    if (straight <= reach || swapped > reach) return;
    const roles = intake.layout.roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r));
    const query = settleQuery(doc, {
      key: `columns-exchanged:${intake.id}`,
      kind: 'columns-exchanged',
      stage: 'book',
      weight: 'stop',
      text: `The points of ${intake.fileName} lie ${formatLength(straight, unit, 0)} ${UNIT_SIGN[unit]} from control; with east and north exchanged they lie among it (${formatLength(swapped, unit, 0)} ${UNIT_SIGN[unit]}).`,
      evidence: [intake.sha256, intake.layout, Math.round(cx), Math.round(cy)],
      place: { x: mx, y: my },
      rows: g.rows.slice(0, 1000),
      lines: [],
      remedies: [
        {
          label: 'Exchange east and north',
          change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, roles } },
        },
      ],
    });
    queries.push(query);
    if (query.accepted) return;
    intakes.add(i);
    for (const row of g.rows) points.state[row] = STATE.waits;
  });
  return { queries, intakes };
}

const REFERENCE = /\b(base|ref|reference|rtcm|cors|vrs|station)\b|^(base|ref|rtcm|cors|vrs)/i;

function queryFarPoints(doc: ProjectDocument, points: PointTable, skip: Set<number>): Query[] {
  const rows: number[] = [];
  for (let row = 0; row < points.x.length; row++)
    if (points.state[row] === STATE.used && !skip.has(points.intake[row]) && isSurvey(doc, points, row)) rows.push(row);
  if (rows.length < 8) return [];
  const cx = middleOf(rows.map((r) => points.x[r]));
  const cy = middleOf(rows.map((r) => points.y[r]));
  const distances = Float64Array.from(rows, (r) => distance(points.x[r] - cx, points.y[r] - cy));
  const reach = Float64Array.from(distances).sort()[Math.floor(0.9 * rows.length)];
  // Six times the distance within which nine points in ten lie, and never less than 200 m.
  const limit = Math.max(200, 6 * reach);
  const { unit } = doc.settings;
  const queries: Query[] = [];
  rows.forEach((row, i) => {
    if (distances[i] <= limit) return;
    const key = pointKey(doc, points, row);
    const reference = REFERENCE.test(points.number[row]) || REFERENCE.test(points.description[row]);
    const kind = reference ? 'reference-row' : 'far-outlier';
    const far = `${formatLength(distances[i], unit, 0)} ${UNIT_SIGN[unit]}`;
    const near = `nine in ten within ${formatLength(reach, unit, 0)} ${UNIT_SIGN[unit]}`;
    const query = settleQuery(doc, {
      key: `${kind}:${key}`,
      kind,
      stage: 'book',
      weight: reference ? 'look' : 'stop',
      text: reference
        ? `Point ${name(points, row)} “${points.description[row]}” lies ${far} from the site and reads like a correction reference station’s row, not a shot (${near}).`
        : `Point ${name(points, row)} lies ${far} from the middle of the survey (${near}). A digit mistyped, or another grid?`,
      evidence: [points.x[row], points.y[row], points.description[row]],
      place: { x: points.x[row], y: points.y[row] },
      rows: [row],
      lines: [],
      remedies: [{ label: 'Leave the row out', change: editOne(key, { off: true }) }],
    });
    if (!query.accepted) points.state[row] = STATE.waits;
    if (queries.length < MOST_OF_A_KIND) queries.push(query);
  });
  return queries;
}

function queryZeroElevations(doc: ProjectDocument, points: PointTable): Query[] {
  const zero: number[] = [];
  const others: number[] = [];
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used || Number.isNaN(points.z[row])) continue;
    if (points.z[row] === 0) zero.push(row);
  }
  if (zero.length === 0) return [];
  for (let row = 0; row < points.x.length; row++)
    if (points.state[row] === STATE.used && points.z[row] !== 0 && !Number.isNaN(points.z[row]))
      others.push(points.z[row]);
  if (others.length < 3) return [];
  const sorted = Float64Array.from(others).sort();
  const [low, high] = [sorted[Math.floor(0.02 * others.length)], sorted[Math.floor(0.98 * (others.length - 1))]];
  // Where the ground itself passes through zero, a zero says nothing.
  if (low - 2 <= 0 && high + 2 >= 0) return [];
  const { unit } = doc.settings;
  const queries: Query[] = [];
  for (const row of zero) {
    const key = pointKey(doc, points, row);
    const query = settleQuery(doc, {
      key: `zero-elevation:${key}`,
      kind: 'zero-elevation',
      stage: 'book',
      weight: 'stop',
      text: `Point ${name(points, row)} has elevation 0; the others lie between ${formatLength(low, unit, 2)} and ${formatLength(high, unit, 2)} ${UNIT_SIGN[unit]}. It waits and is not in the ground.`,
      evidence: [points.x[row], points.y[row], 0],
      place: { x: points.x[row], y: points.y[row] },
      rows: [row],
      lines: [],
      remedies: [
        { label: 'Keep it in plan, without elevation', change: editOne(key, { z: null }) },
        { label: 'Leave the point out', change: editOne(key, { off: true }) },
      ],
    });
    if (!query.accepted) points.state[row] = STATE.waits;
    if (queries.length < MOST_OF_A_KIND) queries.push(query);
  }
  return queries;
}

function queryNumbersTwice(doc: ProjectDocument, points: PointTable): Query[] {
  const first = new Map<string, number>();
  const again = new Map<string, number[]>();
  for (let row = 0; row < points.x.length; row++) {
    const number = points.number[row];
    if (number === '' || points.light[row] || points.state[row] === STATE.off || points.state[row] === STATE.leftOut)
      continue;
    if (doc.intakes[points.intake[row]].purpose === 'control') continue;
    const known = first.get(number);
    if (known === undefined) first.set(number, row);
    else again.set(number, [...(again.get(number) ?? [known]), row]);
  }
  const { unit } = doc.settings;
  const free = again.size ? nextFreeNumber(points) : '';
  const whole = queryFilesOfKnownNumbers(doc, points, again);
  return [
    ...whole,
    ...[...again].slice(0, MOST_OF_A_KIND).map(([number, rows]) => {
      const [a, b] = rows;
      const apart = distance(points.x[a] - points.x[b], points.y[a] - points.y[b]);
      const key = pointKey(doc, points, b);
      return settleQuery(doc, {
        key: `number-twice:${number}`,
        kind: 'number-twice',
        stage: 'book',
        weight: 'look',
        text: `Number ${number} is used ${rows.length === 2 ? 'twice' : `${rows.length} times`}: ${where(doc, points, a)} and ${where(doc, points, b)}, ${formatLength(apart, unit)} ${UNIT_SIGN[unit]} apart in plan.`,
        evidence: rows.map((r) => [pointKey(doc, points, r), points.x[r], points.y[r]]),
        place: { x: points.x[b], y: points.y[b] },
        rows,
        lines: [],
        remedies: [
          { label: `Number the later one ${free}`, change: editOne(key, { number: free }) },
          { label: 'Leave the later one out', change: editOne(key, { off: true }) },
        ],
      });
    }),
  ];
}

/** From so many on, numbers of one file that an earlier file has used are one question, not many. */
const MANY_NUMBERS = 6;

/** One query for each file most of whose collisions are with earlier files; takes its numbers out of `again`. */
function queryFilesOfKnownNumbers(doc: ProjectDocument, points: PointTable, again: Map<string, number[]>): Query[] {
  const byIntake = new Map<number, [string, number, number][]>();
  for (const [number, [a, b]] of again) {
    const later = points.intake[b];
    if (points.intake[a] === later) continue;
    byIntake.set(later, [...(byIntake.get(later) ?? []), [number, a, b]]);
  }
  const { unit } = doc.settings;
  const queries: Query[] = [];
  for (const [later, pairs] of byIntake) {
    if (pairs.length < MANY_NUMBERS) continue;
    const intake = doc.intakes[later];
    for (const [number] of pairs) again.delete(number);
    const apart = pairs
      .map(([, a, b]) => distance(points.x[a] - points.x[b], points.y[a] - points.y[b]))
      .sort((p, q) => p - q);
    const decide = (all: 'renumber' | 'merge' | 'leave-out') => ({
      op: 'intake.numbers' as const,
      id: intake.id,
      numbers: { all, each: intake.numbers.each },
    });
    const sign = UNIT_SIGN[unit];
    queries.push(
      settleQuery(doc, {
        key: `number-twice:file:${intake.id}`,
        kind: 'number-twice',
        stage: 'book',
        weight: 'look',
        text: `${pairs.length} numbers of ${intake.fileName} exist already in earlier files, from ${pairs[0][0]} on; the points lie ${formatLength(apart[0], unit, 2)} to ${formatLength(apart[apart.length - 1], unit, 2)} ${sign} apart.`,
        evidence: pairs.map(([number, a, b]) => [number, points.x[a], points.x[b]]),
        place: { x: points.x[pairs[0][2]], y: points.y[pairs[0][2]] },
        rows: pairs.slice(0, 500).map(([, , b]) => b),
        lines: [],
        remedies: [
          { label: 'Give them new numbers', change: decide('renumber') },
          { label: 'Same points: keep the earlier', change: decide('merge') },
        ],
      }),
    );
  }
  return queries;
}

const where = (doc: ProjectDocument, points: PointTable, row: number): string =>
  `${doc.intakes[points.intake[row]].fileName} row ${points.fileRow[row]} (${points.description[row].slice(0, 30) || 'no code'})`;

function queryUnknownCodes(doc: ProjectDocument, points: PointTable): Query[] {
  const itemsOf = codeReader(doc);
  const indexOf = indexesOf(doc);
  const rowsOf = new Map<string, number[]>();
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used || doc.intakes[points.intake[row]].purpose === 'control') continue;
    for (const { code, known } of itemsOf(points.description[row], points.intake[row])) {
      if (known) continue;
      const rows = rowsOf.get(code);
      if (rows) rows.push(row);
      else rowsOf.set(code, [row]);
    }
  }
  return [...rowsOf].slice(0, MOST_OF_A_KIND).map(([code, rows]) => {
    const nearest = nearestCodes(code, doc.codeList);
    const shots =
      rows
        .slice(0, 4)
        .map((r) => name(points, r))
        .join(', ') + (rows.length > 4 ? ` and ${rows.length - 4} more` : '');
    const near = nearest.length ? ` Nearest: ${nearest.map((c) => `${c.code}, ${c.name}`).join('; ')}.` : '';
    return settleQuery(doc, {
      key: `unknown-code:${code}`,
      kind: 'unknown-code',
      stage: 'lines',
      weight: 'look',
      text: `Code ${code} on ${rows.length === 1 ? 'shot' : 'shots'} ${shots} is not in the list.${near}`,
      evidence: [code, rows.map((r) => pointKey(doc, points, r))],
      place: { x: points.x[rows[0]], y: points.y[rows[0]] },
      rows,
      lines: [],
      remedies: nearest.slice(0, 2).map((c) => ({
        label: `Take it for ${c.code}`,
        change: replaceCode(doc, points, rows, code, c.code, indexOf),
      })),
    });
  });
}
