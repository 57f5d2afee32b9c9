import { applyMatrix } from '#core/basis';
import { makeAnew, onceFor, type Keep } from '#core/kernel';
import type { ReadPoints } from '#core/exchange';
import { editsOf, type Intake, type PointEdit, type ProjectDocument } from '#core/project';

/** What stands in a point's way. */
export const STATE = { used: 0, off: 1, leftOut: 2, waits: 3 } as const;

/** Points as columns, metres, in the order of intake and observation. A missing elevation is NaN. */
export interface PointTable {
  /** Index into the document's intakes. */
  intake: Uint32Array;
  /** Row in the received file, from 1. */
  fileRow: Uint32Array;
  number: string[];
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  description: string[];
  /** One of STATE. */
  state: Uint8Array;
  /** 1 where a person changed something. */
  edited: Uint8Array;
  /** 1 where a point is a height of the ground only: no number is asked for, no label drawn. */
  light: Uint8Array;
  /** Standard deviations in plan and in height, m; NaN where nothing is known of them. */
  sdPlan: Float32Array;
  sdHeight: Float32Array;
  /** Day of the observation, 20260720 for 20 July 2026; 0 where none was said. */
  date: Uint32Array;
}

/** The rectangle round all that is used, m; null where nothing is. */
export function extentOf(
  points: Pick<PointTable, 'x' | 'y' | 'state'>,
): { minX: number; minY: number; maxX: number; maxY: number } | null {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used) continue;
    minX = Math.min(minX, points.x[row]);
    minY = Math.min(minY, points.y[row]);
    maxX = Math.max(maxX, points.x[row]);
    maxY = Math.max(maxY, points.y[row]);
  }
  return maxX >= minX ? { minX, minY, maxX, maxY } : null;
}

export type ReadOf = (intake: Intake) => ReadPoints;

export const pointKey = (
  doc: Pick<ProjectDocument, 'intakes'>,
  points: { intake: ArrayLike<number>; fileRow: ArrayLike<number> },
  row: number,
): string => `${doc.intakes[points.intake[row]].id}:${points.fileRow[row]}`;

/** Lays edits and decisions over what was read: the project's points. */
export function makePoints(
  doc: ProjectDocument,
  readOf: ReadOf,
  books?: ReadonlyMap<string, ReadPoints>,
  keep: Keep = makeAnew,
): PointTable {
  const reads = doc.intakes.map((intake) => (intake.on ? (books?.get(intake.id) ?? readOf(intake)) : null));
  const table = tableOf(doc, reads);
  // Which of several points of one number are used depends on numbers, and on nothing that an elevation changes.
  const { number, state, light, intake } = table;
  const files = doc.intakes.map((i) => [i.purpose, i.numbers]);
  const inputs = [number, state, light, intake, files, ...reads.map((r) => r?.number ?? null)];
  const decided = keep('numbers', inputs, () => decideNumbers(doc, table, reads));
  return { ...table, ...decided };
}

/** Control alone: what books are reduced from, before there are points. */
export const makeControl = (doc: ProjectDocument, readOf: ReadOf): PointTable =>
  tableOf(
    doc,
    doc.intakes.map((intake) => (intake.on && intake.purpose === 'control' ? readOf(intake) : null)),
  );

function tableOf(doc: ProjectDocument, reads: (ReadPoints | null)[]): PointTable {
  const total = reads.reduce((sum, read) => sum + (read?.x.length ?? 0), 0);
  const table: PointTable = {
    intake: new Uint32Array(total),
    fileRow: new Uint32Array(total),
    number: new Array<string>(total),
    x: new Float64Array(total),
    y: new Float64Array(total),
    z: new Float64Array(total),
    description: new Array<string>(total),
    state: new Uint8Array(total),
    edited: new Uint8Array(total),
    light: new Uint8Array(total),
    sdPlan: new Float32Array(total).fill(NaN),
    sdHeight: new Float32Array(total).fill(NaN),
    date: new Uint32Array(total),
  };
  let at = 0;
  doc.intakes.forEach((intake, index) => {
    const read = reads[index];
    if (!read) return;
    const edits = editsOf(doc, intake.id);
    const end = at + read.x.length;
    table.intake.fill(index, at, end);
    table.fileRow.set(read.row, at);
    placeFile(table, at, intake, read);
    if (read.sdPlan) table.sdPlan.set(read.sdPlan, at);
    if (read.sdHeight) table.sdHeight.set(read.sdHeight, at);
    if (read.date) table.date.set(read.date, at);
    if (intake.light) table.light.fill(1, at, end);
    for (let i = 0; i < read.x.length; i++) {
      table.number[at + i] = read.number[i];
      table.description[at + i] = read.description[i];
      if (read.waits?.[i]) table.state[at + i] = STATE.waits;
      // Corners with numbers of their own, as of footprints, are full points.
      if (read.row[i] >= (read.lightFrom ?? Infinity) && read.number[i] === '') table.light[at + i] = 1;
    }
    for (const [i, edit] of editedPlaces(read.row, edits)) layEdit(table, at + i, edit, read.waits !== undefined);
    if (intake.prefix)
      for (let i = at; i < end; i++) if (table.number[i] !== '') table.number[i] = intake.prefix + table.number[i];
    at = end;
  });
  return table;
}

/** Places in a file of which something was edited: looked up where rows rise, as they do in most, and gone through where not. */
function editedPlaces(rows: Uint32Array, edits: ReturnType<typeof editsOf>): [place: number, edit: PointEdit][] {
  const out: [number, PointEdit][] = [];
  const keys = Object.keys(edits);
  if (keys.length === 0) return out;
  if (keys.length * 16 > rows.length || !doRise(rows)) {
    for (let i = 0; i < rows.length; i++) {
      const edit = edits[rows[i]];
      if (edit) out.push([i, edit]);
    }
    return out;
  }
  for (const key of keys) {
    const row = Number(key);
    let [low, high] = [0, rows.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (rows[middle] < row) low = middle + 1;
      else high = middle;
    }
    if (rows[low] === row) out.push([low, edits[row]!]);
  }
  return out;
}

const doRise = onceFor((rows: Uint32Array): boolean => {
  for (let i = 1; i < rows.length; i++) if (rows[i] <= rows[i - 1]) return false;
  return true;
});

/** What a person said of a point. What is computed from readings is not typed over; that its elevation does not count may be said. */
function layEdit(table: PointTable, at: number, edit: PointEdit, computed: boolean): void {
  table.edited[at] = 1;
  if (edit.full) table.light[at] = 0;
  if (edit.number !== undefined) table.number[at] = edit.number;
  if (edit.description !== undefined) table.description[at] = edit.description;
  if (edit.z === null) table.z[at] = NaN;
  if (!computed) {
    if (edit.x !== undefined) table.x[at] = edit.x;
    if (edit.y !== undefined) table.y[at] = edit.y;
    if (edit.z !== undefined && edit.z !== null) table.z[at] = edit.z;
  }
  if (edit.off) table.state[at] = STATE.off;
}

/** Points where their file has them, or carried over with the whole file. */
function placeFile(table: PointTable, from: number, intake: Intake, read: ReadPoints): void {
  if (!intake.placement) {
    table.x.set(read.x, from);
    table.y.set(read.y, from);
    table.z.set(read.z, from);
    return;
  }
  for (let i = 0; i < read.x.length; i++) {
    const z = read.z[i];
    const moved = applyMatrix(intake.placement.matrix, read.x[i], read.y[i], Number.isNaN(z) ? 0 : z);
    [table.x[from + i], table.y[from + i], table.z[from + i]] = [moved.x, moved.y, Number.isNaN(z) ? NaN : moved.z];
  }
}

/** Numbers and states of points once it is decided which of several points of one number are used. */
function decideNumbers(
  { intakes }: ProjectDocument,
  { number: given, state: before, light, intake }: PointTable,
  reads: readonly (ReadPoints | null)[],
): Pick<PointTable, 'number' | 'state'> {
  const [number, state] = [given.slice(), before.slice()];
  const taken = new Set<string>();
  const names = new FreeNumbers(reads);
  for (let at = 0; at < number.length; at++) {
    const { purpose, numbers } = intakes[intake[at]];
    // Control has numbers of its own: a shot of a control point is a check, not a second point.
    if (purpose === 'control' || state[at] !== STATE.used || light[at] || number[at] === '') continue;
    const decision = taken.has(number[at]) ? (numbers.each[number[at]] ?? numbers.all) : null;
    if (decision === 'merge' || decision === 'leave-out') state[at] = STATE.leftOut;
    else if (decision === 'renumber') number[at] = names.next();
    taken.add(number[at]);
  }
  return { number, state };
}

/** Hands out numbers above every number that any file uses. */
class FreeNumbers {
  private last: number | null = null;

  constructor(private readonly reads: readonly (ReadPoints | null)[]) {}

  next(): string {
    if (this.last === null) {
      this.last = 0;
      for (const read of this.reads)
        for (const n of read?.number ?? []) if (/^\d{1,9}$/.test(n) && Number(n) > this.last) this.last = Number(n);
    }
    this.last++;
    return String(this.last);
  }
}

/** The next number above every plain number in the table. */
export function nextFreeNumber(points: PointTable): string {
  let last = 0;
  for (const n of points.number) if (/^\d{1,9}$/.test(n) && Number(n) > last) last = Number(n);
  return String(last + 1);
}

export const isSurvey = (doc: ProjectDocument, points: PointTable, row: number): boolean =>
  doc.intakes[points.intake[row]].purpose === 'survey';
