import { distance } from '#core/kernel';
import { formatFixed, formatLength, UNIT_NAME, UNIT_SIGN, type FileUnit, type LengthUnit } from '#core/measure';
import { isPublished } from '#core/basis';
import { footDifference, matchBasis, type Match, type NamedPair } from './basis-match.ts';
import { CONTROL, type Intake, type Placement, type ProjectDocument } from './document.ts';
import { editOne, settleQuery } from './point-queries.ts';
import { STATE, pointKey, type PointTable, type ReadOf } from './points.ts';
import { EXCHANGED_DEGREES } from './reading.ts';
import type { Query, Remedy } from './query.ts';

/** Queries about what the numbers of whole files mean. Points of files that cannot be meant so wait. */
export function queryBasis(doc: ProjectDocument, points: PointTable, readOf: ReadOf): Query[] {
  const rowsOf = rowsByIntake(doc, points);
  const queries: Query[] = [];
  const wait = (query: Query, intake: number): void => {
    queries.push(query);
    if (query.weight === 'stop' && !query.accepted)
      for (const row of rowsOf[intake]) if (points.state[row] === STATE.used) points.state[row] = STATE.waits;
  };
  const control = controlByName(doc, points, rowsOf);
  doc.intakes.forEach((intake, i) => {
    if (!intake.on) return;
    const failure = readOf(intake).failure;
    if (failure) queries.push(notRead(doc, intake, failure));
    for (const query of claimsOf(doc, intake, points, rowsOf[i])) wait(query, i);
    // What common points say is more than where the numbers lie, and comes with a remedy.
    const isControl = intake.target === CONTROL;
    const basis = isControl ? null : relationToControl(doc, intake, points, rowsOf[i], control);
    if (basis) return wait(basis, i);
    const area = outsideArea(doc, intake, points, rowsOf[i]);
    if (area) wait(area, i);
    if (isControl || area) return;
    const apart = apartFromOthers(doc, points, rowsOf, i);
    if (apart) return wait(apart, i);
    queries.push(...checksAgainstControl(doc, points, rowsOf[i], control));
  });
  return [...queries, ...queryControl(doc, points, rowsOf)];
}

function rowsByIntake(doc: ProjectDocument, points: PointTable): number[][] {
  const rows: number[][] = doc.intakes.map(() => []);
  for (let row = 0; row < points.x.length; row++) rows[points.intake[row]].push(row);
  return rows;
}

const key = (doc: ProjectDocument, points: PointTable, row: number): string => pointKey(doc, points, row);

/** Used control by name; the last one taken in stands for its name. */
function controlByName(doc: ProjectDocument, points: PointTable, rowsOf: number[][]): Map<string, number> {
  const control = new Map<string, number>();
  doc.intakes.forEach((intake, i) => {
    if (intake.target !== CONTROL) return;
    for (const row of rowsOf[i])
      if (points.state[row] === STATE.used && points.number[row] !== '') control.set(points.number[row], row);
  });
  return control;
}

const lengthText = (metres: number, unit: LengthUnit, decimals = 2): string =>
  `${formatLength(metres, unit, decimals)} ${UNIT_SIGN[unit]}`;

function notRead(doc: ProjectDocument, intake: Intake, failure: string): Query {
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

const exchangedRoles = (roles: Intake['layout']['roles']): Intake['layout']['roles'] =>
  roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r));

/** What the file says of itself, held against how it is read. */
function claimsOf(doc: ProjectDocument, intake: Intake, points: PointTable, rows: number[]): Query[] {
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

function outsideArea(doc: ProjectDocument, intake: Intake, points: PointTable, rows: number[]): Query | null {
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
function apartFromOthers(doc: ProjectDocument, points: PointTable, rowsOf: number[][], i: number): Query | null {
  const own = rowsOf[i].filter((row) => points.state[row] === STATE.used);
  const others = doc.intakes.flatMap((intake, k) =>
    intake.on && (intake.target === CONTROL || k < i)
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

function pairsOf(points: PointTable, rows: number[], control: Map<string, number>): NamedPair[] {
  const pairs: NamedPair[] = [];
  for (const row of rows) {
    if (points.state[row] !== STATE.used) continue;
    const known = control.get(points.number[row]);
    if (known === undefined) continue;
    pairs.push({
      number: points.number[row],
      row,
      x: points.x[row],
      y: points.y[row],
      z: points.z[row],
      cx: points.x[known],
      cy: points.y[known],
      cz: points.z[known],
    });
  }
  return pairs;
}

/** Whether a file as a whole stands on another basis than control of the same names. */
function relationToControl(
  doc: ProjectDocument,
  intake: Intake,
  points: PointTable,
  rows: number[],
  control: Map<string, number>,
): Query | null {
  const pairs = pairsOf(points, rows, control);
  if (pairs.length === 0) return null;
  const tolerance = Math.max(doc.settings.checkPlan, 0.005);
  const match = matchBasis(pairs, intake.layout.unit, tolerance);
  // Single points that are off are checks that failed; a basis is other when most points are.
  const off = pairs.filter((p) => distance(p.x - p.cx, p.y - p.cy) > tolerance).length;
  if (match.kind === 'same' || off * 2 <= pairs.length) return null;
  if (match.kind === 'none' && (pairs.length < 2 || match.apart < 100 * tolerance)) return null;
  if (pairs.length === 1 && match.kind === 'shifted') return null;
  const { unit } = doc.settings;
  const names = listed(pairs.map((p) => p.number));
  const apart = lengthText(match.apart, unit, match.apart > 1000 ? 0 : 3);
  const told = describe(doc, match, intake, pairs);
  return settleQuery(doc, {
    key: `basis:${intake.id}`,
    kind: told.kind,
    stage: 'basis',
    weight: 'stop',
    text: `${intake.fileName} and control have ${pairs.length === 1 ? 'point' : 'points'} ${names} in common, up to ${apart} apart. ${told.text}`,
    evidence: [intake.sha256, intake.layout, pairs.map((p) => [p.number, p.cx, p.cy]), match.kind],
    place: { x: pairs[0].cx, y: pairs[0].cy },
    rows: pairs.map((p) => p.row),
    lines: [],
    remedies: told.remedies,
  });
}

const listed = (names: string[]): string =>
  names.length <= 4
    ? names.join(', ').replace(/, ([^,]*)$/, ' and $1')
    : `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`;

function describe(
  doc: ProjectDocument,
  match: Exclude<Match, { kind: 'same' }>,
  intake: Intake,
  pairs: NamedPair[],
): { kind: Query['kind']; text: string; remedies: Remedy[] } {
  const { unit } = doc.settings;
  const within = (worst: number): string => `to ${lengthText(worst, unit, 3)}`;
  const place = (label: string, placement: Placement): Remedy => ({
    label,
    change: { op: 'intake.place', ids: [intake.id], placements: [placement] },
  });
  const layout = (label: string, part: Partial<Intake['layout']>): Remedy => ({
    label,
    change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, ...part } },
  });
  switch (match.kind) {
    case 'unit':
      return {
        kind: 'other-unit',
        text: `Multiplied by ${factorText(match.factor)} they agree ${within(match.worst)}: the file is in ${UNIT_NAME[match.unit]}, not in ${UNIT_NAME[intake.layout.unit]}.`,
        remedies: intake.placement ? [] : [layout(`Read it in ${UNIT_NAME[match.unit]}`, { unit: match.unit })],
      };
    case 'exchanged':
      return {
        kind: 'columns-exchanged',
        text: `With east and north exchanged they agree ${within(match.worst)}.`,
        remedies: intake.placement
          ? []
          : [
              layout('Exchange east and north', {
                roles: exchangedRoles(intake.layout.roles),
              }),
            ],
      };
    case 'mirrored':
      return {
        kind: 'mirrored',
        text: `With the sign of ${match.axis} turned they agree ${within(match.worst)}: the file counts towards ${match.axis === 'east' ? 'west' : 'south'}.`,
        remedies: intake.placement
          ? []
          : [place(`Turn the sign of ${match.axis}`, plain('mirror', mirror(match.axis)))],
      };
    case 'shifted':
      return {
        kind: 'shifted',
        text: `Shifted by ${lengthText(match.dx, unit, 3)} east and ${lengthText(match.dy, unit, 3)} north they agree ${within(match.worst)}: digits left out in front, or a local origin.`,
        remedies: intake.placement ? [] : [place('Shift the file by that', plain('shift', shift(match.dx, match.dy)))],
      };
    case 'similar':
      return {
        kind: match.held ? 'held-back' : 'other-basis',
        text:
          `Turned, shifted and scaled by ${match.scale.toFixed(7)} ` +
          (match.held
            ? `all but ${match.held.number} agree ${within(match.worst)}: the coordinates of ${match.held.number} in the file hold it back.`
            : `they agree ${within(match.worst)}: the file stands on a local basis.`),
        remedies: intake.placement ? [] : [place('Bring it onto control', similarityPlacement(match, pairs))],
      };
    case 'none':
      return {
        kind: 'other-basis',
        text: 'No unit, exchange, reflection, shift or turn brings them together: look at the names, or fit chosen points under Basis.',
        remedies: [],
      };
  }
}

const factorText = (factor: number): string =>
  String(factor >= 1 ? Number(factor.toFixed(8)) : Number(factor.toPrecision(8)));

const plain = (kind: 'shift' | 'mirror', matrix: number[]): Placement => ({
  kind,
  scale: 'fixed',
  height: 'none',
  matrix,
  pairs: [],
  sigmaPlan: null,
  sigmaHeight: null,
});
const shift = (dx: number, dy: number): number[] => [1, 0, 0, dx, 0, 1, 0, dy, 0, 0, 1, 0];
const mirror = (axis: 'east' | 'north'): number[] =>
  axis === 'east' ? [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] : [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1, 0];

function similarityPlacement(match: Extract<Match, { kind: 'similar' }>, pairs: NamedPair[]): Placement {
  const { a, b, tx, ty } = match.plan;
  const used = pairs.filter((p) => p !== match.held);
  const heights = used.filter((p) => !Number.isNaN(p.z) && !Number.isNaN(p.cz));
  const dz = heights.length ? heights.reduce((s, p) => s + (p.cz - p.z) / heights.length, 0) : 0;
  return {
    kind: 'plan',
    scale: used.length >= 3 ? 'free' : 'fixed',
    height: heights.length ? 'shift' : 'none',
    matrix: [a, -b, 0, tx, b, a, 0, ty, 0, 0, 1, dz],
    pairs: pairs.map((p) => ({
      from: p.number,
      to: p.number,
      plan: p !== match.held,
      height: p !== match.held && heights.includes(p),
    })),
    sigmaPlan: null,
    sigmaHeight: null,
  };
}

const MOST_CHECKS = 100;

/** Shots of known points that stand off control by more than the project allows. */
function checksAgainstControl(
  doc: ProjectDocument,
  points: PointTable,
  rows: number[],
  control: Map<string, number>,
): Query[] {
  const { unit, checkPlan, checkHeight } = doc.settings;
  const out: Query[] = [];
  for (const p of pairsOf(points, rows, control)) {
    const plan = distance(p.x - p.cx, p.y - p.cy);
    const height = Number.isNaN(p.z) || Number.isNaN(p.cz) ? 0 : p.z - p.cz;
    if ((plan <= checkPlan && Math.abs(height) <= checkHeight) || out.length >= MOST_CHECKS) continue;
    const known = control.get(p.number)!;
    const file = doc.intakes[points.intake[p.row]].fileName;
    out.push(
      settleQuery(doc, {
        key: `control-known:${key(doc, points, p.row)}`,
        kind: 'control-known',
        stage: 'basis',
        weight: 'look',
        text: `${p.number} in ${file} stands ${lengthText(plan, unit, 3)} off control in plan and ${lengthText(height, unit, 3)} in height (allowed ${lengthText(checkPlan, unit, 3)} and ${lengthText(checkHeight, unit, 3)}).`,
        evidence: [p.x, p.y, Number.isNaN(p.z) ? null : p.z, p.cx, p.cy, checkPlan, checkHeight],
        place: { x: p.x, y: p.y },
        rows: [p.row, known],
        lines: [],
        remedies: [
          {
            label: 'Use control’s coordinates',
            change: editOne(key(doc, points, p.row), {
              x: p.cx,
              y: p.cy,
              ...(Number.isNaN(p.cz) ? {} : { z: p.cz }),
            }),
          },
          { label: 'Leave the shot out', change: editOne(key(doc, points, p.row), { off: true }) },
        ],
      }),
    );
  }
  return out;
}

/** Control against itself: one name twice in a file, one name with other coordinates in a later file. */
function queryControl(doc: ProjectDocument, points: PointTable, rowsOf: number[][]): Query[] {
  const out: Query[] = [];
  const { unit } = doc.settings;
  const seen = new Map<string, number>();
  const differing = new Map<string, [number, number][]>();
  doc.intakes.forEach((intake, i) => {
    if (intake.target !== CONTROL || !intake.on) return;
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
            key: `control-name-twice:${key(doc, points, row)}`,
            kind: 'control-name-twice',
            stage: 'basis',
            weight: 'stop',
            text: `Control ${points.number[row]} stands twice in ${intake.fileName}, rows ${points.fileRow[before]} and ${points.fileRow[row]}, ${lengthText(plan, unit, 3)} apart. Which is meant?`,
            evidence: [points.x[row], points.y[row], points.x[before], points.y[before]],
            place: { x: points.x[row], y: points.y[row] },
            rows: [before, row],
            lines: [],
            remedies: [
              { label: `Leave row ${points.fileRow[row]} out`, change: editOne(key(doc, points, row), { off: true }) },
              {
                label: `Leave row ${points.fileRow[before]} out`,
                change: editOne(key(doc, points, before), { off: true }),
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
        pairs.map(([a, b]) => [key(doc, points, keep === later ? a : b), { set: { off: true }, undo: [] }]),
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
