import type { FileUnit } from '#core/measure';
import type { DxfEntities } from './dxf/content.ts';
import { linesOfDrawing } from './drawn-lines.ts';
import type { LayerAndKind } from './taken.ts';
import type { ReadPoints } from './text/read.ts';
import { cell } from './cell-text.ts';
import { UNDER, type Underlay } from './underlay.ts';

const NAMES = Object.keys(UNDER) as (keyof typeof UNDER)[];

/**
 * What of a drawing's entities lies under the project's, as rows of text (what it is, east, north, elevation, layer or
 * text, with tabs between): a thing's first row says what it is, others that they go on. How many things these are.
 */
export function rowsOfUnderlay(
  all: DxfEntities,
  isUnder: (of: LayerAndKind) => boolean,
  unit: FileUnit,
): { rows: string[]; count: number } {
  const rows: string[] = [];
  let count = 0;
  const add = (what: keyof typeof UNDER | '', x: number, y: number, z: number, name: string): void => {
    if (what) count++;
    // What is at 0 is drawn in plan.
    rows.push(`${what}\t${x}\t${y}\t${Number.isNaN(z) || z === 0 ? '' : z}\t${what ? cell(name) : ''}`);
  };
  for (const p of [...all.points, ...all.inserts]) if (isUnder(p)) add('point', p.x, p.y, p.z, p.layer);
  for (const t of all.texts) if (isUnder(t) && cell(t.text) !== '') add('text', t.x, t.y, t.z, t.text);
  const polylines = [...all.polylines.filter(isUnder), ...all.hatches.filter(isUnder).flatMap((h) => h.rings)];
  const lines = linesOfDrawing({ polylines, curves: all.curves.filter(isUnder) }, unit);
  for (const { code, closed, x, y, z } of lines)
    x.forEach((_, i) => add(i > 0 ? '' : closed ? 'closed' : 'line', x[i], y[i], z[i], code));
  return { rows, count };
}

/** Parts what was read of rows that an underlay follows: its things are no points. Rows rise. */
export function withoutUnderlay(read: ReadPoints, from: number): ReadPoints & { underlay: Underlay } {
  const first = read.row.findIndex((row) => row >= from);
  const end = first < 0 ? read.x.length : first;
  const [starts, kinds, names]: [number[], number[], string[]] = [[], [], []];
  for (let i = end; i < read.x.length; i++) {
    const what = NAMES.indexOf(read.number[i] as keyof typeof UNDER);
    // Behind a row that could not be read a line goes on as another.
    const broken = read.row[i] !== read.row[i - 1] + 1;
    if (what < 0 && !broken && i > end) continue;
    starts.push(i - end);
    kinds.push(what < 0 ? UNDER.line : what);
    names.push(what < 0 ? (names.at(-1) ?? '') : read.description[i]);
  }
  const [x, y, z] = [read.x, read.y, read.z].map((v) => v.slice(end));
  starts.push(x.length);
  const underlay = { x, y, z, starts: Uint32Array.from(starts), kinds: Uint8Array.from(kinds), names };
  return {
    ...read,
    number: read.number.slice(0, end),
    description: read.description.slice(0, end),
    x: read.x.slice(0, end),
    y: read.y.slice(0, end),
    z: read.z.slice(0, end),
    row: read.row.slice(0, end),
    underlay,
  };
}
