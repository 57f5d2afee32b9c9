import Flatbush from 'flatbush';
import { distanceToSide } from '#core/kernel';
import { plainNumber, type FileUnit } from '#core/measure';
import type { DxfPolyline, DxfText, TextLine } from './dxf/content.ts';

/** Where the elevation of a contour is written that is drawn without one. */
export const WRITTEN_WHERE = ['texts', 'layers'] as const;
export type WrittenWhere = (typeof WRITTEN_WHERE)[number];

/** A number that is written in a drawing: where its letters lie, and the elevation that it is; drawing units. */
export interface WrittenNumber extends TextLine {
  elevation: number;
}

/** What became of lines that have no elevation. */
export interface WrittenElevations {
  /** Lines that had none. */
  without: number;
  /** Of those, how many have one now. */
  given: number;
  /** Two different elevations are written beside one line: which, and where it begins; drawing units. */
  unclear: { x: number; y: number; elevations: number[] }[];
}

/** Units of a drawing to one that elevations are written in: metres where it is in millimetres or centimetres, feet where in inches. */
const WRITTEN_IN: Record<FileUnit, number> = { m: 1, ft: 1, usft: 1, mm: 1000, cm: 100, in: 12 };

/** One or two decimals behind a comma; three may be thousands. */
const WITH_COMMA = /^(\s*[-+]?\d+),(\d{1,2}\s*)$/;

/** What a text says of an elevation, in units of the drawing; NaN of one that is no number. */
export const elevationSaid = (text: string, unit: FileUnit): number =>
  plainNumber(text.replace(WITH_COMMA, '$1.$2')) * WRITTEN_IN[unit];

/** The number that a layer's name ends in; a hyphen behind a letter is no sign. */
export const numberInName = (layer: string): string | undefined =>
  layer.match(/(?:(?<=^|[ _])-)?\d+(?:\.\d+)?/g)?.at(-1);

/** Texts that are elevations, of those that say where their letters lie. */
export const writtenNumbers = (texts: readonly DxfText[], unit: FileUnit): WrittenNumber[] =>
  texts.flatMap((t) => {
    const elevation = elevationSaid(t.text, unit);
    return t.line && !Number.isNaN(elevation) ? [{ ...t.line, elevation }] : [];
  });

/** A text belongs to a line that is within so many times its letters' height of the middle of them. */
const BESIDE = 1.5;

/** A line drawn in plan at the elevation that it has; 0 is one. */
export const atElevation = (line: DxfPolyline, elevation: number): DxfPolyline => ({ ...line, spatial: true, z: line.x.map(() => elevation) }); // prettier-ignore

/** A line that is drawn in plan, or all at 0. */
export const hasNoElevation = (line: DxfPolyline): boolean => line.z.every((z) => z === 0 || Number.isNaN(z));

/**
 * Lines without an elevation get the one that is written beside them. A text speaks of the line that is nearest to its
 * beginning, its middle and its end: of both parts where a line makes room for it. Lines beside which two elevations are
 * written stay without one.
 */
export function elevationsFromTexts(
  lines: readonly DxfPolyline[],
  numbers: readonly WrittenNumber[],
): { lines: DxfPolyline[]; told: WrittenElevations } {
  const bare = withoutElevation(lines);
  const said = new Map<number, Set<number>>();
  const index = bare.length && numbers.length ? sidesOf(lines, bare) : null;
  for (const number of numbers)
    for (const at of placesOf(number)) {
      const line = index?.nearest(at, BESIDE * number.height) ?? null;
      if (line === null) continue;
      const own = said.get(line) ?? new Set();
      said.set(line, own.add(number.elevation));
    }
  return given(lines, bare, (i) => [...(said.get(i) ?? [])].sort((a, b) => a - b));
}

/** Lines without an elevation get the one that the name of their layer ends with. */
export function elevationsFromLayers(
  lines: readonly DxfPolyline[],
  unit: FileUnit,
): { lines: DxfPolyline[]; told: WrittenElevations } {
  const bare = withoutElevation(lines);
  return given(lines, bare, (i) => {
    const elevation = elevationSaid(numberInName(lines[i].layer) ?? '', unit);
    return Number.isNaN(elevation) ? [] : [elevation];
  });
}

/** Places in the list of lines that have none. */
const withoutElevation = (lines: readonly DxfPolyline[]): number[] =>
  lines.flatMap((line, i) => (hasNoElevation(line) && line.x.length > 1 ? [i] : []));

function given(
  lines: readonly DxfPolyline[],
  bare: readonly number[],
  elevationsAt: (line: number) => number[],
): { lines: DxfPolyline[]; told: WrittenElevations } {
  const told: WrittenElevations = { without: bare.length, given: 0, unclear: [] };
  const out = [...lines];
  for (const i of bare) {
    const elevations = elevationsAt(i);
    const line = lines[i];
    if (elevations.length > 1) told.unclear.push({ x: line.x[0], y: line.y[0], elevations });
    if (elevations.length !== 1) continue;
    told.given++;
    out[i] = atElevation(line, elevations[0]);
  }
  return { lines: out, told };
}

const placesOf = ({ from, to }: WrittenNumber): [number, number][] => [
  from,
  [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2],
  to,
];

/** Sides of some lines by where they lie. */
function sidesOf(lines: readonly DxfPolyline[], of: readonly number[]) {
  const [line, side]: [number[], number[]] = [[], []];
  for (const i of of) {
    const { x, closed } = lines[i];
    for (let k = 0; k < x.length - (closed ? 0 : 1); k++) {
      line.push(i);
      side.push(k);
    }
  }
  const ends = (at: number): [number, number, number, number] => {
    const { x, y } = lines[line[at]];
    const [a, b] = [side[at], (side[at] + 1) % x.length];
    return [x[a], y[a], x[b], y[b]];
  };
  const tree = new Flatbush(line.length);
  for (let at = 0; at < line.length; at++) {
    const [ax, ay, bx, by] = ends(at);
    tree.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
  }
  tree.finish();
  return {
    /** The line that is nearest to a place, within a length; null where none is. Of two as near the one that comes first. */
    nearest([x, y]: readonly [number, number], within: number): number | null {
      let best: { line: number; far: number } | null = null;
      for (const at of tree.search(x - within, y - within, x + within, y + within)) {
        const [ax, ay, bx, by] = ends(at);
        const far = distanceToSide([x, y], [ax, ay], [bx, by]);
        if (far > within || (best && (far > best.far || (far === best.far && line[at] >= best.line)))) continue;
        best = { line: line[at], far };
      }
      return best?.line ?? null;
    },
  };
}
