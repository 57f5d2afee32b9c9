import { distance, makeAnew, onceFor, type Keep } from '#core/kernel';
import { findSpikes, NO_POINT } from '#core/terrain';
import { UNIT_SIGN, formatLength } from '#core/measure';
import type { Linework } from '#core/linework';
import type { ProjectDocument } from '#core/project';
import { type BuiltSurface, pointKey, type PointTable } from '#core/stages';
import { settleQuery, MOST_OF_A_KIND, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';
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
  const meetings = queryMeetings(doc, points, ground, name);

  const spikes = [
    ...spikesOnLines(doc, points, work, ground, explained, keep),
    ...spikesInGround(doc, ground, explained),
  ]
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
  return [...meetings, ...spikes];
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

/**
 * The median of sizes along a line without one of them and its neighbours, which on a short line would hide a wrong
 * one. Sorted once, so that a line of a thousand points costs no more than its sorting.
 */
function medianWithout(sizes: readonly number[]): (i: number) => number {
  const order = Array.from(sizes, (_, i) => i).sort((a, b) => sizes[a] - sizes[b]);
  const rank = new Uint32Array(sizes.length);
  order.forEach((at, r) => (rank[at] = r));
  return (i) => {
    const out = [i - 1, i, i + 1]
      .filter((k) => k >= 0 && k < sizes.length)
      .map((k) => rank[k])
      .sort((a, b) => a - b);
    const left = sizes.length - out.length;
    if (left === 0) return 0;
    let at = left >> 1;
    for (const r of out) if (r <= at) at++;
    return sizes[order[at]];
  };
}

/** 1 for rows that a surface has as vertices; found once for as long as they stand. */
const isInGround = onceFor((point: Uint32Array): Uint8Array => {
  let last = -1;
  for (let v = 0; v < point.length; v++) if (point[v] !== NO_POINT && point[v] > last) last = point[v];
  const out = new Uint8Array(last + 1);
  for (let v = 0; v < point.length; v++) if (point[v] !== NO_POINT) out[point[v]] = 1;
  return out;
});

/** Points that stand off the straight between their neighbours along a breakline, by more than three times what is usual on that line. */
function spikesOnLines(
  doc: ProjectDocument,
  points: PointTable,
  work: Linework,
  ground: BuiltSurface,
  explained: ReadonlySet<number>,
  keep: Keep,
): RowSpike[] {
  const inGround = isInGround(ground.surface.point);
  const found = new Map<number, RowSpike>();
  const breakline = new Set(doc.codeList.codes.filter((c) => c.breakline).map((c) => c.code.toUpperCase()));
  for (const line of work.lines) {
    if (!breakline.has(line.code)) continue;
    const rows = line.rows.filter((r) => r >= 0 && inGround[r] && !explained.has(r));
    if (rows.length < 4) continue;
    const z = Float64Array.from(rows, (r) => points.z[r]);
    const inputs = [line.key, rows, points.x, points.y, z, doc.settings.spike];
    for (const spike of keep(`spikes on ${line.key}`, inputs, () =>
      spikesOf(line.key, rows, points, doc.settings.spike),
    ))
      // prettier-ignore
      found.set(spike.row, spike);
  }
  return [...found.values()];
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
  const usualWithout = medianWithout(offs.map((o) => Math.abs(o.off)));
  return offs.flatMap((o, i) => {
    const size = Math.abs(o.off);
    if (size <= spike) return [];
    const peak = size >= Math.abs(offs[i - 1]?.off ?? 0) && size >= Math.abs(offs[i + 1]?.off ?? 0);
    return peak && size > 3 * usualWithout(i) ? [{ ...o, among: `the course of line ${key}` }] : [];
  });
}
