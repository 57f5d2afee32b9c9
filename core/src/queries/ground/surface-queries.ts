import { distance } from '#core/kernel';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import { contourSettings, pointKey, type BuiltSurface, type PointTable } from '#core/stages';
import {
  flatParts,
  lonePeaks,
  nextEdge,
  NO_POINT,
  SLIVER_SINE,
  slivers,
  type Sliver,
  type Surface,
} from '#core/terrain';
import { placeText } from '../place-text.ts';
import { settleQuery, type Query } from '../query.ts';

/** So many triangles are level together before it is asked. */
const LEAST_LEVEL = 3;
/** So many contours close around one point before it is asked. */
const LEAST_CONTOURS = 3;
const MOST_PEAKS = 20;

/** What is asked of a surface's triangles, whatever they are made from. `known`: rows that another query explains. */
export function querySurface(
  doc: ProjectDocument,
  points: PointTable,
  built: BuiltSurface,
  known: ReadonlySet<number>,
): Query[] {
  return [
    ...askChecks(doc, points, built),
    ...askPeaks(doc, points, built, known),
    ...askLevel(doc, built),
    ...askSlivers(doc, built),
  ];
}

const lengthOf = (doc: ProjectDocument, m: number, decimals?: number): string =>
  `${formatLength(m, doc.settings.unit, decimals)} ${UNIT_SIGN[doc.settings.unit]}`;

/** Check shots that do not meet the class that is wanted. */
function askChecks(doc: ProjectDocument, points: PointTable, { id, name, account }: BuiltSurface): Query[] {
  return account.checks.flatMap(({ row, accuracy, rows: [at], within }) => {
    if (!accuracy || within === null || accuracy.nssda <= within) return [];
    const { rmse, nssda, shots, largest } = accuracy;
    return [
      settleQuery(doc, {
        key: `check-shots:${id}:${row}`,
        kind: 'check-shots',
        stage: 'ground',
        weight: 'stop',
        text: `“${name}” is within ${lengthOf(doc, nssda, 3)} of 95 % of ${shots} check shots (root mean square ${lengthOf(doc, rmse, 3)}); ${lengthOf(doc, within, 3)} is wanted. The largest is ${lengthOf(doc, largest, 3)} at ${points.number[at] || 'a point without number'}.`,
        evidence: [pointKey(doc, points, at), [shots, ...[rmse, largest].map((m) => Math.round(m * 1000))], within],
        place: { x: points.x[at], y: points.y[at] },
        rows: [at],
        lines: [],
        remedies: [],
      }),
    ];
  });
}

/** Points around which alone several contours close: no other shot bears them out. */
function askPeaks(
  doc: ProjectDocument,
  points: PointTable,
  { id, surface }: BuiltSurface,
  known: ReadonlySet<number>,
): Query[] {
  const settings = contourSettings(
    doc,
    doc.surfaces.find((s) => s.id === id)!,
  );
  if (!settings) return [];
  return lonePeaks(surface, settings.interval, LEAST_CONTOURS)
    .filter(({ vertex }) => surface.point[vertex] !== NO_POINT && !known.has(surface.point[vertex]))
    .slice(0, MOST_PEAKS)
    .map(({ vertex, off, contours }) => {
      const row = surface.point[vertex];
      const key = pointKey(doc, points, row);
      return settleQuery(doc, {
        key: `lone-peak:${id}:${key}`,
        kind: 'lone-peak',
        stage: 'ground',
        weight: 'note',
        text: `${contours} contours close around point ${points.number[row] || 'without number'} alone: it is ${lengthOf(doc, Math.abs(off), 2)} ${off > 0 ? 'above' : 'below'} the nearest of its neighbours. Is it a ${off > 0 ? 'top' : 'hollow'}, or a wrong height?`,
        evidence: [key, Math.round(off * 100)],
        place: { x: surface.x[vertex], y: surface.y[vertex] },
        rows: [row],
        lines: [],
        remedies: [
          {
            label: 'Delete the point from this surface',
            change: { op: 'surface.row', surface: id, row: { id: rowId('omit', key), on: true, kind: 'omit', points: [key] } }, // prettier-ignore
          },
        ],
      });
    });
}

/** Level triangles between points of one contour: ground that falls looks flat there. */
function askLevel(doc: ProjectDocument, { id, name, surface }: BuiltSurface): Query[] {
  const parts = flatParts(surface, LEAST_LEVEL);
  if (parts.length === 0) return [];
  const [largest] = parts;
  // Triangles as received are kept: nothing is put into them.
  const received = doc.surfaces.find((s) => s.id === id)?.rows.some((r) => r.kind === 'triangles' && r.on) ?? false;
  const { areaUnit, unit } = doc.settings;
  const many = parts.length === 1 ? 'A part of' : `${parts.length} parts of`;
  return [
    settleQuery(doc, {
      key: `level-triangles:${id}`,
      kind: 'level-triangles',
      stage: 'ground',
      weight: 'note',
      text: `${many} “${name}” ${parts.length === 1 ? 'is' : 'are'} level between points of one elevation; ${parts.length === 1 ? 'it has' : 'the largest has'} ${formatArea(largest.area, areaUnit, unit)} at ${lengthOf(doc, largest.elevation)}, near ${placeText(doc, largest.x, largest.y, 1)}. A floor is so; between points of a contour the ground goes on, and a breakline or a spot height is missing.`,
      evidence: parts.map((p) => [Math.round(p.x), Math.round(p.y), Math.round(p.area)]),
      place: { x: largest.x, y: largest.y },
      rows: [],
      lines: [],
      remedies: received
        ? []
        : [
            {
              label: 'Fill level parts along their middle, summits by half the step',
              change: { op: 'surface.row', surface: id, row: { id: rowId('fill-level', id), on: true, kind: 'fill-level', summit: 0.5 } }, // prettier-ignore
            },
          ],
    }),
  ];
}

/** Slivers at the rim that reach far: they bridge bays, and their slopes mean nothing. */
function askSlivers(doc: ProjectDocument, { id, name, surface }: BuiltSurface): Query[] {
  const far = farSlivers(surface);
  if (far.length === 0) return [];
  const shortest = Math.min(...far.map((s) => sideLength(surface, s.side)));
  const longest = Math.floor(shortest * 100) / 100;
  return [
    settleQuery(doc, {
      key: `slivers:${id}`,
      kind: 'slivers',
      stage: 'ground',
      weight: 'note',
      text: `${far.length} ${far.length === 1 ? 'triangle' : 'triangles'} at the rim of “${name}” ${far.length === 1 ? 'is' : 'are'} thinner than 1° and longer than ${lengthOf(doc, longest, 1)}, the first near ${placeText(doc, far[0].x, far[0].y, 1)}. They join points that have nothing between them.`,
      evidence: far.map((s) => [Math.round(s.x), Math.round(s.y)]),
      place: { x: far[0].x, y: far[0].y },
      rows: [],
      lines: [],
      remedies: [
        {
          label: `Find the boundary: no side at the rim over ${lengthOf(doc, longest, 1)}`,
          change: { op: 'surface.row', surface: id, row: { id: rowId('rim', `${longest}`), on: true, kind: 'found-boundary', longest } }, // prettier-ignore
        },
      ],
    }),
  ];
}
/** Heights have no part in them: found once for as long as the triangles stand. */
function farSlivers(surface: Surface): FarSliver[] {
  const known = found.get(surface.triangles);
  if (known) return known;
  const usual = medianSide(surface);
  const far = slivers(surface, SLIVER_SINE)
    .filter((s) => s.atRim)
    .map((s) => ({ ...s, side: rimSide(surface, s.triangle) }))
    .filter((s) => sideLength(surface, s.side) > FAR * usual)
    .sort((p, q) => sideLength(surface, q.side) - sideLength(surface, p.side) || p.x - q.x)
    .slice(0, MOST_SLIVERS)
    .filter((s) => widestGap(surface, s.side, usual) > FAR * usual);
  found.set(surface.triangles, far);
  return far;
}
interface FarSliver extends Sliver {
  /** Its side at the rim. */
  side: number;
}
const found = new WeakMap<Uint32Array, FarSliver[]>();

/** How many times the usual side is far. */
const FAR = 5;
const MOST_SLIVERS = 30;

const rowId = (what: string, of: string): string => `${what}-${of}`.slice(0, 40);

function medianSide(s: Surface): number {
  const step = Math.max(1, Math.floor(s.triangles.length / 3000));
  const sides: number[] = [];
  for (let e = 0; e < s.triangles.length; e += step) sides.push(sideLength(s, e));
  return sides.sort((a, b) => a - b)[sides.length >> 1] ?? 0;
}

function sideLength(s: Surface, e: number): number {
  const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
  return distance(s.x[b] - s.x[a], s.y[b] - s.y[a]);
}

/** The side of a triangle at the rim, the longest of them. */
const rimSide = (s: Surface, t: number): number =>
  [3 * t, 3 * t + 1, 3 * t + 2].filter((e) => s.neighbours[e] < 0).sort((p, q) => sideLength(s, q) - sideLength(s, p))[0]; // prettier-ignore

/** The longest stretch of a side without a vertex beside it, m. A rim along which points stand is thin there, and true. */
function widestGap(s: Surface, e: number, beside: number): number {
  const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
  const length = sideLength(s, e);
  const [ux, uy] = [(s.x[b] - s.x[a]) / length, (s.y[b] - s.y[a]) / length];
  const along = [0, length];
  for (let v = 0; v < s.x.length; v++) {
    const [dx, dy] = [s.x[v] - s.x[a], s.y[v] - s.y[a]];
    if (Math.abs(dx * uy - dy * ux) > beside) continue;
    const at = dx * ux + dy * uy;
    if (at > 0 && at < length) along.push(at);
  }
  along.sort((p, q) => p - q);
  return along.reduce((most, at, i) => (i ? Math.max(most, at - along[i - 1]) : 0), 0);
}
