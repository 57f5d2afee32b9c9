import { distance, makeAnew, type Keep } from '#core/kernel';
import { findSpikes, NO_POINT } from '#core/terrain';
import { UNIT_SIGN, formatLength } from '#core/measure';
import type { Linework } from '#core/linework';
import type { ProjectDocument } from '#core/project';
import { type BuiltSurface, pointKey, type PointTable } from '#core/stages';
import { settleQuery, MOST_OF_A_KIND, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';
import { stepsAlong, type LineStep } from './line-steps.ts';
import { rankedWithout } from './ranked-without.ts';
import { isInGround } from './in-ground.ts';
import { queryMeetings } from './meeting-queries.ts';

/** `heightsOf` gives what would bring a point of a book down by `off` m, where its readings explain it. */
export function queryGround(
  doc: ProjectDocument,
  points: PointTable,
  work: Linework,
  ground: BuiltSurface,
  heightsOf: (row: number, off: number) => Remedy[] = () => [],
  /** Points that a query of their own explains: they are no spikes. */
  explained: ReadonlySet<number> = new Set(),
  keep: Keep = makeAnew,
): Query[] {
  const { unit } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const name = (row: number): string => points.number[row] || `in row ${points.fileRow[row]}`;
  const meetings = queryMeetings(doc, points, ground);

  const courses = breaklinesIn(doc, points, work, ground, explained);
  const spikes = [...spikesOnLines(doc, points, courses, keep), ...spikesInGround(doc, ground, explained)]
    .sort((a, b) => Math.abs(b.off) - Math.abs(a.off))
    .slice(0, MOST_OF_A_KIND)
    .map(({ row, off, expected, among }) => {
      const key = pointKey(doc, points, row);
      const side = off > 0 ? 'above' : 'below';
      return settleQuery(doc, {
        key: `spike:${key}`,
        kind: 'spike',
        stage: 'ground',
        weight: 'stop',
        text: `Point ${name(row)} “${points.description[row]}” at ${formatLength(points.z[row], unit)} is ${formatLength(Math.abs(off), unit, 2)} ${sign} ${side} ${among}, which would put it at ${formatLength(expected, unit, 2)}.`,
        evidence: [points.x[row], points.y[row], points.z[row], Math.round(off * 100)],
        place: { x: points.x[row], y: points.y[row] },
        rows: [row],
        lines: [],
        remedies: [
          ...heightsOf(row, off),
          { label: 'Keep it in plan, without elevation', change: editOne(key, { z: null }) },
          { label: 'Exclude the point', change: editOne(key, { off: true }) },
        ],
      });
    });
  const said = new Set([...explained, ...spikes.flatMap((q) => q.rows)]);
  return [...meetings, ...spikes, ...askSteps(doc, points, courses, said, heightsOf, keep)];
}

/** Shots that step off a line which runs smoothly elsewhere, by less than a spike: contours show a notch there. */
function askSteps(
  doc: ProjectDocument,
  points: PointTable,
  courses: readonly Course[],
  said: ReadonlySet<number>,
  heightsOf: (row: number, off: number) => Remedy[],
  keep: Keep,
): Query[] {
  const { unit, checkHeight } = doc.settings;
  const length = (m: number, decimals: number): string => `${formatLength(m, unit, decimals)} ${UNIT_SIGN[unit]}`;
  const found = new Map<number, { step: LineStep; line: string }>();
  for (const course of courses) {
    const { line } = course;
    const clear = course.rows.some((r) => said.has(r))
      ? courseOf(line, course.rows.filter((r) => !said.has(r)), points) // prettier-ignore
      : course;
    const inputs = [line, clear.rows, clear.places, checkHeight];
    for (const step of keep(`steps along ${line}`, inputs, () => stepsAlong(clear.rows, points, checkHeight)))
      found.set(step.row, { step, line });
  }
  return [...found.values()]
    .sort((a, b) => Math.abs(b.step.off) - Math.abs(a.step.off) || a.step.row - b.step.row)
    .slice(0, MOST_OF_A_KIND)
    .map(({ step: { row, off, expected, usual }, line }) => {
      const key = pointKey(doc, points, row);
      return settleQuery(doc, {
        key: `line-step:${key}`,
        kind: 'line-step',
        stage: 'ground',
        weight: 'look',
        text: `Point ${points.number[row] || `in row ${points.fileRow[row]}`} “${points.description[row]}” at ${length(points.z[row], 3)} steps ${length(Math.abs(off), 2)} ${off > 0 ? 'above' : 'below'} line ${line}, whose other shots run within ${length(usual, 3)}. Between its neighbours it would be at ${length(expected, 3)}: is it a shot of the other edge, or a wrong height?`,
        evidence: [points.x[row], points.y[row], points.z[row], Math.round(off * 100)],
        place: { x: points.x[row], y: points.y[row] },
        rows: [row],
        lines: [line],
        remedies: [
          ...heightsOf(row, off),
          { label: 'Keep it in plan, without elevation', change: editOne(key, { z: null }) },
          { label: 'Exclude the point', change: editOne(key, { off: true }) },
        ],
      });
    });
}

/** A breakline by its key, with shots of it. */
interface Course {
  line: string;
  rows: number[];
  /** x, y, z of each, m: what is found along it depends on these alone. */
  places: Float64Array;
}

function courseOf(line: string, rows: number[], { x, y, z }: PointTable): Course {
  const places = new Float64Array(3 * rows.length);
  for (let i = 0; i < rows.length; i++) {
    places[3 * i] = x[rows[i]];
    places[3 * i + 1] = y[rows[i]];
    places[3 * i + 2] = z[rows[i]];
  }
  return { line, rows, places };
}

/** Lines that are breaklines by the code list, with those of their shots that the surface has and nothing else explains. */
function breaklinesIn(
  doc: ProjectDocument,
  points: PointTable,
  work: Linework,
  ground: BuiltSurface,
  explained: ReadonlySet<number>,
): Course[] {
  const inGround = isInGround(ground.surface.point);
  const breakline = new Set(doc.codeList.codes.filter((c) => c.breakline).map((c) => c.code.toUpperCase()));
  return work.lines.flatMap((line) => {
    if (!breakline.has(line.code)) return [];
    return [courseOf(line.key, line.rows.filter((r) => r >= 0 && inGround[r] && !explained.has(r)), points)]; // prettier-ignore
  });
}

interface RowSpike {
  row: number;
  off: number;
  expected: number;
  among: string;
}

/** Beside a point that is explained already, the plane of the neighbours is spoilt by it. */
function spikesInGround(doc: ProjectDocument, ground: BuiltSurface, explained: ReadonlySet<number>): RowSpike[] {
  const { point } = ground.surface;
  return findSpikes(ground.surface, doc.settings.spike)
    .filter((s) => ![s.vertex, ...s.neighbours].some((v) => explained.has(point[v])))
    .map((s) => ({
      row: ground.surface.point[s.vertex],
      off: s.off,
      expected: s.expected,
      among: 'the plane of its neighbours',
    }))
    .filter((s) => s.row !== NO_POINT);
}

/** Points that stand off the straight between their neighbours along a breakline, by more than three times what is usual on that line. */
function spikesOnLines(doc: ProjectDocument, points: PointTable, courses: readonly Course[], keep: Keep): RowSpike[] {
  const spikes = new Map<number, RowSpike>();
  const { spike } = doc.settings;
  for (const { line, rows, places } of courses) {
    if (rows.length < 4) continue;
    for (const found of keep(`spikes on ${line}`, [line, rows, places, spike], () => spikesOf(line, rows, points, spike))) spikes.set(found.row, found); // prettier-ignore
  }
  return [...spikes.values()];
}

function spikesOf(key: string, rows: readonly number[], { x, y, z }: PointTable, spike: number): RowSpike[] {
  const offs = rows.slice(1, -1).map((row, i) => {
    const [a, c] = [rows[i], rows[i + 2]];
    const before = distance(x[row] - x[a], y[row] - y[a]);
    const after = distance(x[c] - x[row], y[c] - y[row]);
    const expected = z[a] + ((z[c] - z[a]) * before) / (before + after || 1);
    return { row, off: z[row] - expected, expected };
  });
  // The neighbours of a wrong height stand off too, by about half as much: only local peaks count.
  const usualWithout = rankedWithout(offs.map((o) => Math.abs(o.off)), 1 / 2); // prettier-ignore
  return offs.flatMap((o, i) => {
    const size = Math.abs(o.off);
    if (size <= spike) return [];
    const peak = size >= Math.abs(offs[i - 1]?.off ?? 0) && size >= Math.abs(offs[i + 1]?.off ?? 0);
    return peak && size > 3 * usualWithout(i) ? [{ ...o, among: `the course of line ${key}` }] : [];
  });
}
