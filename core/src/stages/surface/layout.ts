import { says, type CodeItem } from '#core/codes';
import { codeReader, linesOutOf, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import {
  chordPlaces,
  elevationsBetween,
  elevationsSolved,
  fileOfLine,
  firstRow,
  SIDE,
  sideCount,
  vertex,
  type Line,
} from '#core/linework';
import { lastDecimalOf, type Surface, type SurfaceInput } from '#core/terrain';
import { meetsRule, setPointsOf } from '../points/point-sets.ts';
import { tiedFrom } from '../lines/hand-lines.ts';
import { pointKey, STATE, type PointTable } from '../points/points.ts';
import type { SurfaceAccount } from './account.ts';
import { faultsOfContours, type ContourLine } from './contour-faults.ts';
import { editedPoints } from './edited-points.ts';
import { bringSurface, drawnKey } from './other-surfaces.ts';
import { tracedTolerance } from './traced-tolerance.ts';

export type PlanInput = Omit<SurfaceInput, 'z'>;

/**
 * What a recipe brings in: points and breaklines in plan, and what is left out and why. It depends on which points have
 * an elevation, not on how large it is.
 */
export interface SurfaceLayout {
  input: PlanInput;
  /** Rows of the point table that come in: the first points of the plan. */
  rows: Uint32Array;
  /** Elevations of what was put in behind them: spot heights, drawn breaklines, points of other surfaces. */
  placed: number[];
  /** By how much rows stand higher in this surface than they are, m. */
  lifts: ReadonlyMap<number, number>;
  /** Points that lines add behind those, in their order. */
  added: AddedPoints[];
  /** Key of the line that each segment is of. */
  segmentLine: string[];
  /** Code of each line that is a breakline here. */
  codeOfLine: ReadonlyMap<string, string>;
  lines: number;
  /** Lines that were to be contours and are not level. */
  uneven: SurfaceAccount['uneven'];
  contourFaults: SurfaceAccount['contourFaults'];
  leftOut: SurfaceAccount['leftOut'];
  /** Rows of the point table that check the surface, by the row of the recipe that says so. */
  checks: ReadonlyMap<string, number[]>;
  effect: SurfaceAccount['rows'];
}

/** Points that one line adds: each lies at a share of the way from one of its vertices to another. */
interface AddedPoints {
  line: Line;
  at: { from: number; to: number; share: number }[];
  /** Points of other files that it was tied to: their elevations count for it, though they do not come in themselves. */
  tiedTo?: ReadonlySet<number>;
}

/** m; what is level within it has one elevation. */
const LEVEL = 0.001;

/** Rows kept for painting an account's line on the sheet. */
const SHOWN_ROWS = 2000;

export function layOutSurface(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  points: PointTable,
  lines: readonly Line[],
  /** Other surfaces that the recipe brings in, by their ids. */
  others: ReadonlyMap<string, Surface> = new Map(),
): SurfaceLayout {
  const slot = new Int32Array(points.x.length).fill(-1);
  const rows: number[] = [];
  const leftOut = new Map<string, { count: number; rows: number[] }>();
  const leave = (row: number, why: string): void => {
    const entry = leftOut.get(why) ?? { count: 0, rows: [] };
    entry.count++;
    if (entry.rows.length < SHOWN_ROWS) entry.rows.push(row);
    leftOut.set(why, entry);
  };
  const effect: SurfaceAccount['rows'] = Object.fromEntries(recipe.rows.filter((r) => r.on).map((r) => [r.id, 0]));
  const { files, rowOfFile } = filesOf(doc, recipe, effect);
  const byRule = rulesOf(doc, recipe, points, 'points');
  const outByRule = rulesOf(doc, recipe, points, 'exclude-points');
  const checks = checkShots(doc, recipe, points, effect);
  const isCheck = new Set([...checks.values()].flat());
  const before = new Set(tiedFrom(doc));
  const { omitted, shifts } = editedPoints(doc, recipe, points, lines, effect);
  const codesRow = recipe.rows.find((r) => r.kind === 'exclude-codes' && r.on);
  const excluded = codesRow ? groundByCode(doc) : () => null;
  for (const row of inOrder(doc, points, files, byRule)) {
    if (points.state[row] === STATE.waits) leave(row, 'waiting for a decision');
    else if (points.state[row] === STATE.off) leave(row, 'excluded by hand');
    else if (points.state[row] === STATE.leftOut) leave(row, 'number exists already, excluded or merged');
    else if (Number.isNaN(points.z[row])) leave(row, 'without elevation');
    else if (isCheck.has(row)) leave(row, 'check shots, kept out of the surface');
    else if (before.size && before.has(pointKey(doc, points, row)))
      leave(row, 'vertex of a line that was tied to a point');
    else if (omitted.has(row)) {
      leave(row, 'deleted by hand from this surface');
      effect[omitted.get(row)!]!++;
    } else {
      const why = excluded(points.description[row], points.intake[row]);
      const rule = why ? null : outByRule(row);
      if (why || rule) {
        leave(row, why ?? 'excluded by a rule of the recipe');
        const by = rule ?? codesRow!.id;
        effect[by] = (effect[by] ?? 0) + 1;
      } else {
        slot[row] = rows.length;
        rows.push(row);
        const by = rowOfFile.get(points.intake[row]) ?? byRule(row)!;
        effect[by] = (effect[by] ?? 0) + 1;
      }
    }
  }

  const [x, y] = [points.x, points.y].map((column) => rows.map((r) => column[r]));
  const lifts = new Map<number, number>();
  for (const [row, { dx, dy, dz }] of shifts) {
    if (slot[row] >= 0) {
      x[slot[row]] += dx;
      y[slot[row]] += dy;
    }
    if (dz !== 0) lifts.set(row, dz);
  }
  const placed: number[] = [];
  const place = (px: number, py: number, pz: number): number => {
    x.push(px);
    y.push(py);
    placed.push(pz);
    return x.length - 1;
  };
  const segments: number[] = [];
  const segmentLine: string[] = [];
  const codeOfLine = new Map<string, string>();
  const contourLines: ContourLine[] = [];
  const added: AddedPoints[] = [];
  let used = 0;
  const join = (a: number, b: number, key: string): void => {
    segments.push(a, b);
    segmentLine.push(key);
  };
  for (const row of recipe.rows) {
    if (!row.on) continue;
    if (row.kind === 'spot') {
      place(row.x, row.y, row.z);
      effect[row.id] = 1;
    } else if (row.kind === 'breakline') {
      const at = row.course.map((p) => place(p.x, p.y, p.z));
      at.slice(1).forEach((v, i) => join(at[i], v, drawnKey(row.id)));
      effect[row.id] = at.length;
    } else if (row.kind === 'traced') {
      const z = elevationsSolved(row.course, row.closed);
      const at = row.course.map((p, i) => place(p.x, p.y, z[i]));
      at.slice(1).forEach((v, i) => join(at[i], v, drawnKey(row.id)));
      if (row.closed && at.length > 2) join(at.at(-1)!, at[0], drawnKey(row.id));
      if (row.as === 'contour') contourLines.push({ row: row.id, key: drawnKey(row.id), line: { x: at.map((v) => x[v]), y: at.map((v) => y[v]), closed: row.closed }, elevation: z[0] }); // prettier-ignore
      effect[row.id] = at.length;
    } else if (row.kind === 'surface') effect[row.id] = bringSurface(others.get(row.surface), row, place, join);
  }
  const isBreakline = breaklinesOf(doc, recipe);
  const pointsOnly = new Set(recipe.rows.flatMap((r) => (r.kind === 'lines' && r.pointsOnly ? [r.id] : [])));
  const contours = new Set(recipe.rows.flatMap((r) => (r.kind === 'contours' ? [r.id] : [])));
  const uneven: SurfaceAccount['uneven'] = [];
  const out = new Set(linesOutOf(recipe));
  const outRow = recipe.rows.find((r) => r.kind === 'exclude-lines' && r.on);
  for (const line of lines) {
    const by = isBreakline(line.code);
    if (by === null || !belongs(line)) continue;
    if (out.has(line.key)) effect[outRow!.id] = (effect[outRow!.id] ?? 0) + 1;
    else if (contours.has(by) && heightsOf(line).length && !isLevel(line)) uneven.push(unevenLine(line, by));
    else if (addSegments(line, pointsOnly.has(by))) {
      used++;
      codeOfLine.set(line.key, line.code.toUpperCase());
      effect[by] = (effect[by] ?? 0) + 1;
      const [z] = contours.has(by) ? heightsOf(line) : [];
      if (z !== undefined)
        contourLines.push({ row: by, key: line.key, line, elevation: z + (lifts.get(firstRow(line)) ?? 0) });
    }
  }
  const longest = recipe.longestSide ?? doc.settings.longestSide;
  return {
    input: {
      x: Float64Array.from(x),
      y: Float64Array.from(y),
      segments: Uint32Array.from(segments),
      coincidence: recipe.coincidence ?? doc.settings.coincidence,
      longestSide: longest === 'none' ? null : longest,
      rounding: lastDecimalOf(Float64Array.from(rows, (r) => points.x[r]), Float64Array.from(rows, (r) => points.y[r])), // prettier-ignore
      mean: recipe.keep === 'mean',
    },
    rows: Uint32Array.from(rows),
    placed,
    lifts,
    added,
    segmentLine,
    codeOfLine,
    lines: used,
    uneven,
    contourFaults: faultsOfContours(contourLines, tracedTolerance(doc, recipe)),
    checks,
    leftOut: [...leftOut].map(([why, entry]) => ({ why, ...entry })),
    effect,
  };

  /** A line belongs to the files that its first point is of; one that follows no point, to the ground. */
  function belongs(line: Line): boolean {
    const file = fileOfLine(line, points.intake);
    const first = line.file === undefined ? firstRow(line) : -1;
    return file < 0 ? recipe.role === 'ground' : rowOfFile.has(file) || (first >= 0 && slot[first] >= 0);
  }

  /** Elevations of a line's vertices by the points that count here. */
  function elevationsHere(line: Line): number[] {
    return elevationsBetween(line, (row) => (slot[row] >= 0 || isTied(line, row) ? points.z[row] : NaN));
  }

  function heightsOf(line: Line): number[] {
    return elevationsHere(line).filter((v) => !Number.isNaN(v));
  }

  /** Whether a line of a file that comes in was tied to a point of one that does not. */
  function isTied(line: Line, row: number): boolean {
    return line.file !== undefined && slot[row] < 0 && !rowOfFile.has(points.intake[row]);
  }

  /** Whether all of a line has one elevation, to the millimetre. */
  function isLevel(line: Line): boolean {
    const [low, high] = rangeOf(heightsOf(line));
    return high - low <= LEVEL;
  }

  function unevenLine(line: Line, row: string): SurfaceAccount['uneven'][number] {
    const [low, high] = rangeOf(heightsOf(line));
    return { row, key: line.key, low, high, x: line.x[0], y: line.y[0] };
  }

  /** Sides of a line as breaklines. */
  function addSegments(line: Line, pointsOnly: boolean): boolean {
    const z = elevationsHere(line);
    const own = new Set(line.file === undefined ? [] : line.made.map((m) => m.at));
    const more: AddedPoints['at'] = [];
    const add = (px: number, py: number, from: number, to: number, share: number): number => {
      more.push({ from, to, share });
      x.push(px);
      y.push(py);
      return x.length - 1;
    };
    const vertices: number[] = [];
    const vertexAt = (i: number): number => {
      const row = line.rows[i];
      const isPoint = row >= 0 && slot[row] >= 0 && !own.has(i);
      return (vertices[i] ??= isPoint ? slot[row] : add(line.x[i], line.y[i], i, i, 0));
    };
    let any = false;
    const n = line.x.length;
    for (let i = 0; i < sideCount(line); i++) {
      const j = (i + 1) % n;
      if (line.sides[i] === SIDE.gap || Number.isNaN(z[i]) || Number.isNaN(z[j])) continue;
      any = true;
      let last = vertexAt(i);
      const end = vertexAt(j);
      for (const place of chordPlaces(vertex(line, i), vertex(line, j), line.bulges[i], doc.settings.sagitta)) {
        const next = add(place.x, place.y, i, j, place.along);
        if (!pointsOnly) join(last, next, line.key);
        last = next;
      }
      if (!pointsOnly) join(last, end, line.key);
    }
    const tiedTo = line.rows.filter((row) => row >= 0 && isTied(line, row));
    if (more.length) added.push({ line, at: more, ...(tiedTo.length ? { tiedTo: new Set(tiedTo) } : {}) });
    return any;
  }
}

/** Elevations of the points of a plan; vertices of lines whose own does not count take it from their neighbours. */
export function elevationsOf(layout: SurfaceLayout, points: Pick<PointTable, 'x' | 'z'>): Float64Array {
  const { rows, placed, lifts, added, input } = layout;
  const out = new Float64Array(input.x.length);
  for (let i = 0; i < rows.length; i++) out[i] = points.z[rows[i]];
  if (lifts.size) for (let i = 0; i < rows.length; i++) out[i] += lifts.get(rows[i]) ?? 0;
  out.set(placed, rows.length);
  if (added.length === 0) return out;
  const member = new Uint8Array(points.x.length);
  for (const row of rows) member[row] = 1;
  let next = rows.length + placed.length;
  for (const { line, at, tiedTo } of added) {
    const counts = (row: number): boolean => member[row] === 1 || tiedTo?.has(row) === true;
    const z = elevationsBetween(line, (row) => (counts(row) ? points.z[row] + (lifts.get(row) ?? 0) : NaN));
    for (const { from, to, share } of at) out[next++] = z[from] + share * (z[to] - z[from]);
  }
  return out;
}

/** Files that come in, in the order of the recipe, and the row that brings each: the first that names it. */
function filesOf(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  effect: SurfaceAccount['rows'],
): { files: number[]; rowOfFile: ReadonlyMap<number, string> } {
  const at = new Map(doc.intakes.map((i, index) => [i.id, index]));
  const rowOfFile = new Map<number, string>();
  const files: number[] = [];
  const take = (file: number, row: string): void => {
    if (rowOfFile.has(file) || !doc.intakes[file].on) return;
    rowOfFile.set(file, row);
    files.push(file);
  };
  for (const row of recipe.rows) {
    if (!row.on) continue;
    if (row.kind === 'survey') {
      effect[row.id] = 0;
      doc.intakes.forEach((intake, file) => intake.purpose === 'survey' && take(file, row.id));
    }
    if (row.kind === 'triangles' && !at.has(row.intake)) effect[row.id] = null;
    if (row.kind === 'file') {
      const file = at.get(row.intake);
      effect[row.id] = file === undefined ? null : 0;
      if (file !== undefined) take(file, row.id);
    }
  }
  return { files, rowOfFile };
}

/** Points of any file that is on that meet the rule of a row of check shots, by the row. */
function checkShots(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  points: PointTable,
  effect: SurfaceAccount['rows'],
): Map<string, number[]> {
  const by = rulesOf(doc, recipe, points, 'checks');
  const out = new Map<string, number[]>();
  for (const r of recipe.rows) if (r.kind === 'checks' && r.on) out.set(r.id, []);
  if (out.size === 0) return out;
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used || Number.isNaN(points.z[row])) continue;
    const id = by(row);
    if (id) out.get(id)!.push(row);
  }
  for (const [id, rows] of out) effect[id] = rows.length;
  return out;
}

/** Which row of the recipe holds a rule that a point meets, the first of several; null where none does. */
function rulesOf(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  points: PointTable,
  kind: 'points' | 'exclude-points' | 'checks',
): (row: number) => string | null {
  const asked = setPointsOf(points);
  const rules = recipe.rows.flatMap((r) =>
    // A rule without a part asks nothing, and means no point.
    r.kind === kind && r.on && Object.keys(r.rule).length > 0
      ? [{ id: r.id, meets: meetsRule(r.rule, doc, asked) }]
      : [],
  );
  return (row) => rules.find((r) => r.meets(row))?.id ?? null;
}

/** Rows of the table, file by file in the order in which they come in; what a rule brings in comes behind them. */
function inOrder(
  doc: ProjectDocument,
  points: PointTable,
  files: readonly number[],
  byRule: (row: number) => string | null,
): number[] {
  const rank = new Map(files.map((file, i) => [file, i]));
  const rows: number[][] = [...files.map(() => []), []];
  for (let row = 0; row < points.x.length; row++) {
    const i = rank.get(points.intake[row]);
    if (i !== undefined) rows[i].push(row);
    else if (doc.intakes[points.intake[row]].on && byRule(row)) rows[files.length].push(row);
  }
  return rows.flat();
}

/** Which row of the recipe makes lines of a code breaklines; null where none does. */
function breaklinesOf(doc: ProjectDocument, recipe: SurfaceRecipe): (code: string) => string | null {
  const listed = doc.codeList.codes.filter((c) => c.kind === 'line' && c.breakline).map((c) => c.code.toUpperCase());
  const by = new Map<string, string>();
  for (const row of recipe.rows)
    if ((row.kind === 'lines' || row.kind === 'contours') && row.on)
      for (const code of row.codes ?? listed) if (!by.has(code.toUpperCase())) by.set(code.toUpperCase(), row.id);
  return (code) => by.get(code) ?? null;
}

/** Why a description keeps its point out of the ground, or null: any code that belongs to the ground lets it in, and so does none or an unknown one. */
export function groundByCode(doc: ProjectDocument): (description: string, intake: number) => string | null {
  const itemsOf = codeReader(doc);
  // The same text of the same crew is read into the same items.
  const known = new Map<readonly CodeItem[], string | null>();
  return (description, intake) => {
    const items = itemsOf(description, intake);
    let why = known.get(items);
    if (why === undefined) known.set(items, (why = outOfGround(items)));
    return why;
  };
}

function outOfGround(items: readonly CodeItem[]): string | null {
  if (items.some((i) => says(i, 'heightNotUsed'))) return 'height not used, by its word';
  if (items.length > 0 && items.every((i) => i.known !== null && !i.known.ground))
    return `height not used: ${items.map((i) => `${i.known!.code} ${i.known!.name}`).join(', ')}`;
  return null;
}

/** Lowest and highest of some values, however many they are. */
const rangeOf = (values: readonly number[]): [low: number, high: number] => [
  values.reduce((a, b) => Math.min(a, b), Infinity),
  values.reduce((a, b) => Math.max(a, b), -Infinity),
];
