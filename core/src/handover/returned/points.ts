import { codesOnLayer } from './layers.ts';
import { plainNumber, toMetres } from '#core/measure';
import { distance } from '#core/kernel';
import type { Thing } from '#core/exchange';
import type { PointEdit } from '#core/project';
import { codeReader } from '#core/project';
import { rowFinder } from '#core/stages';
import type { Differing } from './differing.ts';
import { flat, type ReturnedItem, type ReturnedTo } from './item.ts';

/** Where points go by what came back, by their keys: lines that follow them go along. */
export type MovedPoints = Map<string, { x: number; y: number; z: number }>;

/** Points that came back otherwise than they were sent. */
export function returnedPoints(to: ReturnedTo, pairs: readonly Differing[], moved: MovedPoints): ReturnedItem[] {
  const { doc, points, tolerance } = to;
  const rowOf = rowFinder(doc, points);
  const itemsOf = codeReader(doc);
  return pairs.flatMap((pair) =>
    pair.own?.kind === 'point' && pair.was ? (itemFor(pair, pair.was, pair.own.key) ?? []) : [],
  );

  /** Null of what is already so here: it was taken before, or done on both sides. */
  function itemFor({ is, what }: Differing, was: Thing, key: string): ReturnedItem | null {
    const row = rowOf(key);
    const [x, y] = (is ?? was).at;
    const item: ReturnedItem = {
      of: 'point',
      name: row >= 0 ? points.number[row] || `row ${points.fileRow[row]}` : key,
      what: what.join(', '),
      layer: (is ?? was).layer,
      x,
      y,
      was: is ? flat(was.at) : [],
      is: is ? flat(is.at) : [],
      choices: [],
      note: null,
      sure: false,
    };
    if (row < 0) return is ? { ...item, note: 'It is no longer in use here.' } : null;
    if (changedSince(was, row)) item.note = 'It was changed here since, too.';
    const edit = (set: PointEdit, label: string): void =>
      void item.choices.push({ label, change: { op: 'points.edit', edits: { [key]: { set, undo: [] } } } });
    if (!is) edit({ off: true }, 'exclude the point');
    else {
      const fromReadings = doc.intakes[points.intake[row]].form === 'book';
      const set = editFor(was, is, row, fromReadings, item);
      const byAttribute = attributeElevation(was, is, row);
      if (Object.keys(set).length) edit(set, labelOf(set));
      else if (byAttribute === null && item.note?.startsWith('No code') !== true && isNow(is, row)) return null;
      if (byAttribute !== null && !fromReadings) {
        // Its place and what is written of it tell two elevations: both are there to be chosen.
        const stands = set.z ?? points.z[row];
        item.note = `Its attribute says ${byAttribute.toFixed(3)} m, its place ${Number.isFinite(stands) ? `${Number(stands).toFixed(3)} m` : 'no elevation'}.`;
        edit({ ...set, z: byAttribute }, `elevation ${byAttribute.toFixed(3)} m, by its attribute`);
      }
      if (set.x !== undefined || set.y !== undefined || set.z !== undefined)
        moved.set(key, { x: set.x ?? points.x[row], y: set.y ?? points.y[row], z: set.z ?? points.z[row] });
    }
    item.sure = item.choices.length === 1 && item.note === null;
    return item;
  }

  /** Whether the point is no longer where it was when the drawing went out. */
  function changedSince({ at: [x, y] }: Thing, row: number): boolean {
    return distance(points.x[row] - x, points.y[row] - y) > 2 * tolerance;
  }

  function isNow({ at: [x, y, z] }: Thing, row: number): boolean {
    const noHeight = Number.isNaN(points.z[row]) && !(Math.abs(z) > 0);
    return (
      distance(points.x[row] - x, points.y[row] - y) <= tolerance &&
      (noHeight || Math.abs(points.z[row] - z) <= tolerance)
    );
  }

  function editFor(was: Thing, is: Thing, row: number, fromReadings: boolean, item: ReturnedItem): PointEdit {
    const set: PointEdit = {};
    const [dx, dy, dz] = [0, 1, 2].map((k) => is.at[k] - was.at[k]);
    const isMoved = distance(dx, dy) > tolerance;
    const isNow = (value: number, now: number): boolean => Math.abs(value - now) <= tolerance;
    if (isMoved && Math.abs(dx) > tolerance / 10 && !isNow(is.at[0], points.x[row])) set.x = is.at[0];
    if (isMoved && Math.abs(dy) > tolerance / 10 && !isNow(is.at[1], points.y[row])) set.y = is.at[1];
    if (Math.abs(dz) > tolerance && !isNow(is.at[2], points.z[row])) set.z = is.at[2];
    if (fromReadings && Object.keys(set).length) {
      for (const k of ['x', 'y', 'z'] as const) delete set[k];
      item.note = 'Its coordinates come from readings: correct the reading, or exclude the point.';
    }
    const [numberWas, numberIs] = [was, is].map((t) => attributeOf(t.text, 'NUMBER'));
    if (numberIs !== null && numberIs !== numberWas && numberIs !== '' && numberIs !== points.number[row])
      set.number = numberIs;
    if (was.layer !== is.layer) {
      const description = onLayer(row, is.layer);
      if (description === points.description[row]) return set;
      if (description !== null) set.description = description;
      else item.note = `No code, or more than one, has its points on layer ${is.layer}: change its code by hand.`;
    }
    return set;
  }

  /** The description with the code whose points lie on a layer in the place of the one it has; null where that is not one code. */
  function onLayer(row: number, layer: string): string | null {
    const codes = codesOnLayer(doc, layer, 'point');
    const [item, more] = itemsOf(points.description[row], points.intake[row]).filter((i) => i.known?.kind === 'point');
    if (codes.length !== 1 || more !== undefined) return null;
    const text = points.description[row];
    if (!item) return text === '' ? codes[0].code : null;
    return text.slice(0, item.at) + codes[0].code + text.slice(item.at + item.code.length);
  }

  /** What its attribute says of its elevation where that is another than its place has now; null where they agree. */
  function attributeElevation(was: Thing, is: Thing, row: number): number | null {
    const [saidWas, said] = [was, is].map((t) => attributeOf(t.text, 'ELEVATION'));
    if (said === null || said === '') return null;
    // As it was written: in the project's unit, whatever the drawing's is.
    const z = toMetres(plainNumber(said), doc.settings.unit);
    const stands = Math.abs(is.at[2] - was.at[2]) > tolerance ? is.at[2] : points.z[row];
    const differs = said !== saidWas || Math.abs(is.at[2] - was.at[2]) > tolerance;
    return differs && !Number.isNaN(z) && !(Math.abs(z - stands) <= ATTRIBUTE) ? z : null;
  }
}

/** m; attributes have fewer decimals than places. */
const ATTRIBUTE = 0.0051;

/** What stands in an attribute of a symbol; null where it has none of that name. */
export function attributeOf(text: string, name: string): string | null {
  const line = text.split('\n').find((l, i) => i > 0 && l.toUpperCase().startsWith(`${name}=`));
  return line === undefined ? null : line.slice(name.length + 1).trim();
}

const PART: Partial<Record<keyof PointEdit, string>> = { number: 'number', description: 'code', x: 'place', y: 'place', z: 'elevation' }; // prettier-ignore
const labelOf = (set: PointEdit): string => `take the new ${[...new Set(Object.keys(set).map((k) => PART[k as keyof PointEdit]!))].join(', ')}`; // prettier-ignore
