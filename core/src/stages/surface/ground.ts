import { says, type CodeItem } from '#core/codes';
import { codeReader, CONTROL, GROUND, type ProjectDocument } from '#core/project';
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
export interface GroundAccount {
  points: number;
  lines: number;
  chordPoints: number;
  leftOut: { why: string; count: number; rows: number[] }[];
  coincident: [kept: number, leftOut: number][];
  tooLong: number;
  crossings: (BreaklineCrossing & { keptLine: string; leftOutLine: string })[];
}

export interface Ground {
  name: string;
  /** `point` of a vertex is a row of the point table, or NO_POINT on arcs and boundaries. */
  surface: Surface;
  account: GroundAccount;
}

/** Names of the surfaces that a document asks for: the ground, then designs in the order they came. */
export function surfaceNames(doc: ProjectDocument): string[] {
  const names = new Set([GROUND]);
  for (const intake of doc.intakes) if (intake.on && intake.target !== CONTROL) names.add(intake.target);
  return [...names];
}

/** Rows kept for painting an account's line on the sheet. */
const SHOWN_ROWS = 2000;

/** Whoever keeps triangles from one time to the next: a surface whose heights alone changed has the same. */
export type KeepPlan = (name: string, input: PlanInput, make: (input: PlanInput) => SurfacePlan) => SurfacePlan;
export type PlanInput = Omit<SurfaceInput, 'z'>;

export function makeGround(
  doc: ProjectDocument,
  name: string,
  points: PointTable,
  lines: readonly Line[],
  keep: KeepPlan = (_, input, make) => make(input),
): Ground {
  const members = new Uint8Array(points.x.length);
  const rows: number[] = [];
  const leftOut = new Map<string, { count: number; rows: number[] }>();
  const leave = (row: number, why: string): void => {
    const entry = leftOut.get(why) ?? { count: 0, rows: [] };
    entry.count++;
    if (entry.rows.length < SHOWN_ROWS) entry.rows.push(row);
    leftOut.set(why, entry);
  };
  const inGround = groundByCode(doc);
  for (let row = 0; row < points.x.length; row++) {
    if (doc.intakes[points.intake[row]].target !== name) continue;
    if (points.state[row] === STATE.waits) leave(row, 'waiting for a decision');
    else if (points.state[row] === STATE.off) leave(row, 'left out by a person');
    else if (points.state[row] === STATE.leftOut) leave(row, 'number exists already, left out or merged');
    else if (Number.isNaN(points.z[row])) leave(row, 'without elevation');
    else {
      const why = name === GROUND ? inGround(points.description[row], points.intake[row]) : null;
      if (why) leave(row, why);
      else {
        members[row] = 1;
        rows.push(row);
      }
    }
  }

  const slot = new Int32Array(points.x.length).fill(-1);
  rows.forEach((row, i) => (slot[row] = i));
  const [x, y, z0] = [points.x, points.y, points.z].map((column) => rows.map((r) => column[r]));
  const segments: number[] = [];
  const segmentLine: string[] = [];
  let used = 0;
  const breakline = new Set(
    doc.codeList.codes.filter((c) => c.kind === 'line' && c.breakline).map((c) => c.code.toUpperCase()),
  );
  for (const line of lines) {
    if (!breakline.has(line.code) || doc.linesOutOfGround.includes(line.key)) continue;
    if (addSegments(line)) used++;
  }

  const input = {
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    segments: Uint32Array.from(segments),
    coincidence: doc.settings.coincidence,
    longestSide: name === GROUND ? doc.settings.longestSide : null,
  };
  const built = raiseSurface(keep(name, input, planSurface), Float64Array.from(z0));
  const { account } = built;
  let { surface } = built;
  if (name === GROUND && doc.boundary) surface = clipToRing(surface, Float64Array.from(doc.boundary));
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
    name,
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
    },
  };

  /** Sides of a line as breaklines; vertices whose own elevation does not count take it from their neighbours. */
  function addSegments(line: Line): boolean {
    const owner = firstRow(line);
    if (owner < 0 ? name !== GROUND : doc.intakes[points.intake[owner]].target !== name) return false;
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
