import { says, type CodeItem } from '#core/codes';
import { codeReader, linesOutOf, type ProjectDocument, type SurfaceRecipe, type SurfaceRole } from '#core/project';
import { chordPlaces, elevationsBetween, firstRow, SIDE, sideCount, vertex, type Line } from '#core/linework';
import {
  clipToRing,
  NO_POINT,
  planSurface,
  raiseSurface,
  type BreaklineCrossing,
  type Surface,
  type SurfaceInput,
  type SurfacePlan,
} from '#core/terrain';
import { STATE, type PointTable } from '../points/points.ts';

/** What came into a surface and what was left out, and why. */
export interface SurfaceAccount {
  points: number;
  lines: number;
  chordPoints: number;
  leftOut: { why: string; count: number; rows: number[] }[];
  coincident: [kept: number, leftOut: number][];
  tooLong: number;
  crossings: (BreaklineCrossing & { keptLine: string; leftOutLine: string })[];
  /** Points or lines that each row of the recipe brought in or kept out, by the row; null where its source is gone. */
  rows: Record<string, number | null>;
}

/** A surface as its recipe makes it. */
export interface BuiltSurface {
  id: string;
  name: string;
  role: SurfaceRole;
  /** `point` of a vertex is a row of the point table, or NO_POINT on arcs and boundaries. */
  surface: Surface;
  account: SurfaceAccount;
}

/** Rows kept for painting an account's line on the sheet. */
const SHOWN_ROWS = 2000;

/** Whoever keeps triangles from one time to the next: a surface whose heights alone changed has the same. */
export type KeepPlan = (name: string, input: PlanInput, make: (input: PlanInput) => SurfacePlan) => SurfacePlan;
export type PlanInput = Omit<SurfaceInput, 'z'>;

export function buildSurface(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  points: PointTable,
  lines: readonly Line[],
  keep: KeepPlan = (_, input, make) => make(input),
): BuiltSurface {
  const members = new Uint8Array(points.x.length);
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
  const codesRow = recipe.rows.find((r) => r.kind === 'exclude-codes' && r.on);
  const excluded = codesRow ? groundByCode(doc) : () => null;
  for (const row of inOrder(points, files)) {
    if (points.state[row] === STATE.waits) leave(row, 'waiting for a decision');
    else if (points.state[row] === STATE.off) leave(row, 'left out by a person');
    else if (points.state[row] === STATE.leftOut) leave(row, 'number exists already, left out or merged');
    else if (Number.isNaN(points.z[row])) leave(row, 'without elevation');
    else {
      const why = excluded(points.description[row], points.intake[row]);
      if (why) {
        leave(row, why);
        effect[codesRow!.id] = (effect[codesRow!.id] ?? 0) + 1;
      } else {
        members[row] = 1;
        rows.push(row);
        effect[rowOfFile.get(points.intake[row])!]!++;
      }
    }
  }

  const slot = new Int32Array(points.x.length).fill(-1);
  rows.forEach((row, i) => (slot[row] = i));
  const [x, y, z0] = [points.x, points.y, points.z].map((column) => rows.map((r) => column[r]));
  const segments: number[] = [];
  const segmentLine: string[] = [];
  let used = 0;
  const isBreakline = breaklinesOf(doc, recipe);
  const out = new Set(linesOutOf(recipe));
  const outRow = recipe.rows.find((r) => r.kind === 'exclude-lines' && r.on);
  for (const line of lines) {
    const by = isBreakline(line.code);
    if (by === null || !belongs(line)) continue;
    if (out.has(line.key)) effect[outRow!.id] = (effect[outRow!.id] ?? 0) + 1;
    else if (addSegments(line)) {
      used++;
      effect[by] = (effect[by] ?? 0) + 1;
    }
  }

  const longest = recipe.longestSide ?? doc.settings.longestSide;
  const input = {
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    segments: Uint32Array.from(segments),
    coincidence: recipe.coincidence ?? doc.settings.coincidence,
    longestSide: longest === 'none' ? null : longest,
  };
  const built = raiseSurface(keep(recipe.id, input, planSurface), Float64Array.from(z0));
  const { account } = built;
  let { surface } = built;
  for (const row of recipe.rows) {
    if (row.kind !== 'boundary' || !row.on) continue;
    const whole = surface.triangles.length;
    surface = clipToRing(surface, Float64Array.from(row.ring));
    effect[row.id] = (whole - surface.triangles.length) / 3;
  }
  surface = { ...surface, point: surface.point.map((i) => (i === NO_POINT || i >= rows.length ? NO_POINT : rows[i])) };

  const lineAt = new Map<string, string>();
  for (let i = 0; i < segmentLine.length && account.crossings.length > 0; i++) {
    lineAt.set(`${segments[2 * i]} ${segments[2 * i + 1]}`, segmentLine[i]);
    lineAt.set(`${segments[2 * i + 1]} ${segments[2 * i]}`, segmentLine[i]);
  }
  const coincident: [number, number][] = [];
  for (let i = 0; i < account.coincident.length; i += 2) {
    const [a, b] = [account.coincident[i], account.coincident[i + 1]];
    if (a < rows.length && b < rows.length) coincident.push([rows[a], rows[b]]);
  }
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface,
    account: {
      points: rows.length,
      lines: used,
      chordPoints: x.length - rows.length,
      leftOut: [...leftOut].map(([why, entry]) => ({ why, ...entry })),
      coincident,
      tooLong: account.tooLong,
      crossings: account.crossings.map((c) => ({
        ...c,
        keptLine: lineAt.get(`${c.kept[0]} ${c.kept[1]}`) ?? '',
        leftOutLine: segmentLine[c.segment] ?? '',
      })),
      rows: effect,
    },
  };

  /** A line belongs to the files that its first point is of; one that follows no point, to the ground. */
  function belongs(line: Line): boolean {
    const owner = firstRow(line);
    return owner < 0 ? recipe.role === 'ground' : rowOfFile.has(points.intake[owner]);
  }

  /** Sides of a line as breaklines; vertices whose own elevation does not count take it from their neighbours. */
  function addSegments(line: Line): boolean {
    const counted = { x: line.x, y: line.y, made: line.made, rows: line.rows } as Line;
    const z = elevationsBetween(counted, (row) => (members[row] ? points.z[row] : NaN));
    const at: number[] = [];
    const vertexAt = (i: number): number => {
      if (at[i] !== undefined) return at[i];
      const row = line.rows[i];
      if (row >= 0 && members[row]) return (at[i] = slot[row]);
      x.push(line.x[i]);
      y.push(line.y[i]);
      z0.push(z[i]);
      return (at[i] = x.length - 1);
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
        x.push(place.x);
        y.push(place.y);
        z0.push(z[i] + place.along * (z[j] - z[i]));
        segments.push(last, x.length - 1);
        segmentLine.push(line.key);
        last = x.length - 1;
      }
      segments.push(last, end);
      segmentLine.push(line.key);
    }
    return any;
  }
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
    if (row.kind === 'file') {
      const file = at.get(row.intake);
      effect[row.id] = file === undefined ? null : 0;
      if (file !== undefined) take(file, row.id);
    }
  }
  return { files, rowOfFile };
}

/** Rows of the table, file by file in the order in which they come in. */
function inOrder(points: PointTable, files: readonly number[]): number[] {
  const rank = new Map(files.map((file, i) => [file, i]));
  const rows: number[][] = files.map(() => []);
  for (let row = 0; row < points.x.length; row++) {
    const i = rank.get(points.intake[row]);
    if (i !== undefined) rows[i].push(row);
  }
  return rows.flat();
}

/** Which row of the recipe makes lines of a code breaklines; null where none does. */
function breaklinesOf(doc: ProjectDocument, recipe: SurfaceRecipe): (code: string) => string | null {
  const listed = doc.codeList.codes.filter((c) => c.kind === 'line' && c.breakline).map((c) => c.code.toUpperCase());
  const by = new Map<string, string>();
  for (const row of recipe.rows)
    if (row.kind === 'lines' && row.on)
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
