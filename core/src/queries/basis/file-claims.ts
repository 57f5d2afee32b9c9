import { distance } from '#core/kernel';
import { formatFixed, UNIT_NAME, type FileUnit } from '#core/measure';
import { isPublished } from '#core/basis';
import { footDifference } from './basis-match.ts';
import { type Intake, type ProjectDocument } from '#core/project';
import { settleQuery, type Query, type Remedy } from '../query.ts';
import { STATE, type PointTable } from '#core/stages';
import { EXCHANGED_DEGREES } from '#core/sources';
import { lengthText } from './basis-words.ts';

// What a file says of itself, and where it lies, held against the project.

/** A file that could not be brought in at all. */
export function notRead(doc: ProjectDocument, intake: Intake, failure: string): Query {
  return settleQuery(doc, {
    key: `not-read:${intake.id}`,
    kind: 'not-read',
    stage: 'basis',
    weight: 'stop',
    text: `${intake.fileName} could not be brought into the project: ${failure}`,
    evidence: [intake.sha256, failure],
    place: null,
    rows: [],
    lines: [],
    remedies:
      intake.system && !failure.startsWith(EXCHANGED_DEGREES)
        ? [
            {
              label: 'Take its numbers as the project’s own',
              change: { op: 'intake.system', id: intake.id, system: null, heights: intake.heights ?? null },
            },
          ]
        : intake.layout.degrees && failure.startsWith(EXCHANGED_DEGREES)
          ? [
              {
                label: 'Exchange latitude and longitude',
                change: {
                  op: 'intake.layout',
                  id: intake.id,
                  layout: { ...intake.layout, roles: exchangedRoles(intake.layout.roles) },
                },
              },
            ]
          : [],
  });
}

/** East and north the other way round. */
export const exchangedRoles = (roles: Intake['layout']['roles']): Intake['layout']['roles'] =>
  roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r));

/** What the file says of itself, held against how it is read. */
export function claimsOf(doc: ProjectDocument, intake: Intake, points: PointTable, rows: number[]): Query[] {
  const out: Query[] = [];
  const { unit } = doc.settings;
  const read = intake.layout.unit;
  const first = rows[0];
  const place = first === undefined ? null : { x: points.x[first], y: points.y[first] };
  const base = { stage: 'basis' as const, place, rows: rows.slice(0, 500), lines: [] };
  const byUnit = (to: FileUnit): Remedy => ({
    label: `Read it in ${UNIT_NAME[to]}`,
    change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, unit: to } },
  });
  const claimed = intake.claims?.unit;
  if (claimed && claimed !== read)
    out.push(
      settleQuery(doc, {
        ...base,
        key: `unit-differs:${intake.id}`,
        kind: 'unit-differs',
        weight: 'look',
        text: `${intake.fileName} says that it is in ${UNIT_NAME[claimed]}, but it is read in ${UNIT_NAME[read]}.`,
        evidence: [claimed, read],
        remedies: [byUnit(claimed)],
      }),
    );
  else if ((read === 'ft' && unit === 'usft') || (read === 'usft' && unit === 'ft')) {
    const size = rows.reduce((most, r) => Math.max(most, Math.abs(points.x[r]), Math.abs(points.y[r])), 0);
    out.push(
      settleQuery(doc, {
        ...base,
        key: `foot-differs:${intake.id}`,
        kind: 'foot-differs',
        weight: 'look',
        text: `${intake.fileName} is read in ${UNIT_NAME[read]}; the project works in ${UNIT_NAME[unit]}. At its coordinates the two differ by ${formatFixed(footDifference(size), 3)} ft (2 ppm).`,
        evidence: [read, unit],
        remedies: [byUnit(unit)],
      }),
    );
  }
  const system = doc.basis.system;
  const own = intake.system ?? system;
  if (intake.system && isPublished(intake.system) && !isPublished(system))
    out.push(
      settleQuery(doc, {
        ...base,
        key: `system-lacking:${intake.id}`,
        kind: 'system-lacking',
        weight: 'stop',
        text: `${intake.fileName} is in ${intake.system.name}; the project is local ground. Its points wait until the project has a published system, or the file’s numbers are taken as local.`,
        evidence: [intake.system.definition],
        remedies: [
          ...(intake.system.kind === 'projected'
            ? [
                {
                  label: `Set the project’s system to ${intake.system.name}`,
                  change: { op: 'basis.set' as const, basis: { system: intake.system } },
                },
              ]
            : []),
          {
            label: 'Take its numbers as the project’s own',
            change: { op: 'intake.system', id: intake.id, system: null, heights: intake.heights ?? null },
          },
        ],
      }),
    );
  const named = intake.claims?.system;
  if (named && !namesSystem(named, own))
    out.push(
      settleQuery(doc, {
        ...base,
        key: `system-differs:${intake.id}`,
        kind: 'system-differs',
        weight: 'look',
        text: `${intake.fileName} names the system “${named}”; its numbers are taken as ${isPublished(own) ? own.name : 'local ground'}. Choose its system under Basis, or accept it as it is.`,
        evidence: [named, isPublished(own) ? own.definition : 'local'],
        remedies: [],
      }),
    );
  const geoid = intake.claims?.geoid;
  const heights = intake.heights ?? doc.basis.heights;
  const needs = heights !== doc.basis.heights && (!doc.basis.geoid || !isPublished(system));
  if (needs || (geoid && !sameName(geoid, doc.basis.geoid?.name ?? '')))
    out.push(
      settleQuery(doc, {
        ...base,
        key: `geoid-lacking:${intake.id}`,
        kind: 'geoid-lacking',
        weight: needs ? 'stop' : 'look',
        text: needs
          ? `${intake.fileName} holds ${heights} heights, the project ${doc.basis.heights} ones. ${doc.basis.geoid ? 'The project has no published system to place the geoid by' : 'The project has no geoid to bring one to the other'}: its points wait.`
          : `${intake.fileName} names the geoid “${geoid}”, ${doc.basis.geoid ? `the project has ${doc.basis.geoid.name}` : 'which the project lacks'}. Take its grid in under Basis, or accept that its elevations stand as they are.`,
        evidence: [geoid ?? '', heights, doc.basis.geoid?.sha256 ?? ''],
        remedies: [],
      }),
    );
  return out;
}

const letters = (text: string): string =>
  text
    .toLowerCase()
    .replace(/\.(gtx|tiff?|gsb)$/, '')
    .replace(/[^a-z0-9]+/g, '');
const sameName = (a: string, b: string): boolean =>
  letters(b) !== '' && (letters(a).includes(letters(b)) || letters(b).includes(letters(a)));

function namesSystem(named: string, system: ProjectDocument['basis']['system']): boolean {
  if (!isPublished(system)) return /local|ground|arbitrary/i.test(named);
  const code = /(\d{4,6})/.exec(named)?.[1];
  if (code && system.code) return system.code === `EPSG:${code}`;
  return sameName(named, system.name);
}

/** A file that lies outside the area of the project's system. */
export function outsideArea(doc: ProjectDocument, intake: Intake, points: PointTable, rows: number[]): Query | null {
  const { system } = doc.basis;
  if (!isPublished(system) || !system.extent || rows.length === 0) return null;
  const [minX, minY, maxX, maxY] = system.extent;
  const margin = 0.05 * Math.max(maxX - minX, maxY - minY);
  const inside = (x: number, y: number): boolean =>
    x > minX - margin && x < maxX + margin && y > minY - margin && y < maxY + margin;
  let out = 0;
  let swapped = 0;
  for (const row of rows) {
    if (inside(points.x[row], points.y[row])) continue;
    out++;
    if (inside(points.y[row], points.x[row])) swapped++;
  }
  if (out * 2 <= rows.length) return null;
  const { unit } = doc.settings;
  const [x, y] = [points.x[rows[0]], points.y[rows[0]]];
  const roles = exchangedRoles(intake.layout.roles);
  const at = `${lengthText(x, unit, 0)} east, ${lengthText(y, unit, 0)} north`;
  return settleQuery(doc, {
    key: `outside-area:${intake.id}`,
    kind: 'outside-area',
    stage: 'basis',
    weight: 'stop',
    text: `${out === rows.length ? 'All' : `${out} of ${rows.length}`} points of ${intake.fileName} lie outside the area of ${system.name} (the first at ${at}). ${swapped === out ? 'With east and north exchanged they lie inside.' : 'Another grid, local coordinates, or a projection that is not meant for here?'}`,
    evidence: [system.definition, intake.layout, intake.placement?.matrix ?? null],
    place: { x, y },
    rows: rows.slice(0, 500),
    lines: [],
    remedies:
      swapped === out && !intake.placement
        ? [
            {
              label: 'Exchange east and north',
              change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, roles } },
            },
          ]
        : [],
  });
}

/** Sites are smaller than this, m; and files of one site lie nearer than so many times their own size. */
const FARTHEST_APART = 20_000;
const TIMES_ITS_SIZE = 20;

/** A file that has nothing in common with control or the files before it, and lies nowhere near them. */
export function apartFromOthers(doc: ProjectDocument, points: PointTable, rowsOf: number[][], i: number): Query | null {
  const own = rowsOf[i].filter((row) => points.state[row] === STATE.used);
  const others = doc.intakes.flatMap((intake, k) =>
    intake.on && (intake.purpose === 'control' || k < i)
      ? rowsOf[k].filter((row) => points.state[row] === STATE.used)
      : [],
  );
  if (own.length === 0 || others.length === 0) return null;
  const [a, b] = [spreadOf(points, own), spreadOf(points, others)];
  const limit = Math.max(FARTHEST_APART, TIMES_ITS_SIZE * Math.max(a.size, b.size));
  const apart = distance(a.x - b.x, a.y - b.y);
  // Exchanged columns are told apart elsewhere, with their own remedy.
  if (apart <= limit || distance(a.y - b.x, a.x - b.y) <= limit) return null;
  const intake = doc.intakes[i];
  const { unit } = doc.settings;
  return settleQuery(doc, {
    key: `basis:${intake.id}`,
    kind: 'other-basis',
    stage: 'basis',
    weight: 'stop',
    text: `${intake.fileName} lies ${lengthText(apart, unit, 0)} from everything else in the project, and no number of it stands among control. Another grid, or local coordinates? Name common points under Local to grid, or say in which system the file is.`,
    evidence: [
      intake.sha256,
      intake.layout,
      intake.placement?.matrix ?? null,
      Math.round(b.x / 1000),
      Math.round(b.y / 1000),
    ],
    place: { x: a.x, y: a.y },
    rows: own.slice(0, 500),
    lines: [],
    remedies: [{ label: 'Switch the file off', change: { op: 'intake.switch', id: intake.id, on: false } }],
  });
}

/** Middle of rows, and within which distance nine in ten lie of it. */
function spreadOf(points: PointTable, rows: number[]): { x: number; y: number; size: number } {
  const sorted = (v: Float64Array): Float64Array => v.sort();
  const middle = (v: ArrayLike<number>): number => sorted(Float64Array.from(rows, (r) => v[r]))[rows.length >> 1];
  const [x, y] = [middle(points.x), middle(points.y)];
  const away = sorted(Float64Array.from(rows, (r) => distance(points.x[r] - x, points.y[r] - y)));
  return { x, y, size: away[Math.floor(0.9 * (rows.length - 1))] };
}
