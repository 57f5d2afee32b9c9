import { DEFAULT_WORDS, PLAIN_FORM, type LineWords } from '#core/codes';
import { columnsOf, withoutTail } from '#core/kernel';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { FileContent } from './content.ts';
import { chords, SAGITTA } from './chords.ts';
import { codeOfName } from './code-of-name.ts';
import type { DxfContent, DxfCurve, DxfPolyline } from './dxf/content.ts';
import { chordsOf } from './dxf/rational-curve.ts';

/** A line of a drawing in its own unit; a vertex without an elevation has NaN. */
export interface DrawnLine {
  /** Its layer, feature or code, as codes are written. */
  code: string;
  closed: boolean;
  x: number[];
  y: number[];
  z: number[];
}

/** The words that lines of a drawing are written with, whatever words the project's crews use. */
export const DRAWN_WORDS: LineWords = { ...DEFAULT_WORDS, form: PLAIN_FORM };

/** Elevation of a vertex of a drawn line, NaN where none is said: what is drawn in plan says 0 where it says nothing. */
export const drawnElevation = ({ spatial, z }: Pick<DxfPolyline, 'spatial' | 'z'>, i: number): number =>
  spatial || z[i] !== 0 ? z[i] : NaN;

/** Lines of a file in their order; those of one vertex are none. Arcs become chords, by the unit that the file is read in. */
export function linesIn(file: FileContent, unit: FileUnit = file.unit ?? 'm'): DrawnLine[] {
  const sagitta = SAGITTA / METRES_IN_FILE[unit];
  const lines =
    file.kind === 'dxf'
      ? drawnLines(file.content, sagitta)
      : file.kind === 'landxml'
        ? [...file.content.breaklines, ...file.content.features].map(ofSpatial)
        : file.content.lines.map(({ closed, coordinates, properties: { code, layer } }): DrawnLine => {
            const [x, y, z] = [0, 1, 2].map((k) => coordinates.map((c) => c[k] ?? NaN));
            return { code: codeOfName(typeof code === 'string' ? code : layer), closed, x, y, z };
          });
  return lines.filter((l) => l.x.length > 1);
}

/** Lines of a drawing, as those of a file. */
export const linesOfDrawing = (content: Pick<DxfContent, 'polylines' | 'curves'>, unit: FileUnit): DrawnLine[] =>
  drawnLines(content, SAGITTA / METRES_IN_FILE[unit]).filter((l) => l.x.length > 1);

const drawnLines = ({ polylines, curves }: Pick<DxfContent, 'polylines' | 'curves'>, sagitta: number): DrawnLine[] => [
  ...polylines.map((p) => ofPolyline(p, sagitta)),
  ...curves.map((c) => ofPolyline(asPolyline(c, sagitta), sagitta)),
];

/** Whether the last vertex is the first one again, as closed lines of LandXML have it. */
function ofSpatial({ name, spatial }: { name: string; spatial: readonly number[] }): DrawnLine {
  const [x, y, z] = columnsOf(spatial);
  const last = x.length - 1;
  const closed = last > 2 && x[0] === x[last] && y[0] === y[last];
  const of = (v: number[]): number[] => (closed ? v.slice(0, -1) : v);
  // As Dunrik and others name them: the code with the line's number behind.
  return { code: codeOfName(withoutTail(name, '0123456789')), closed, x: of(x), y: of(y), z: of(z) };
}

/** An ellipse or a spline as a line of chords that are nowhere farther from it than a sagitta. */
export function asPolyline({ layer, kind, curve, closed }: DxfCurve, sagitta: number): DxfPolyline {
  const places = chordsOf(curve, sagitta);
  // A closed one comes back to where it began: that place is told once.
  const back = closed && [0, 1, 2].every((k) => Math.abs(places[k] - places[places.length - 3 + k]) < sagitta);
  const end = back ? places.length - 3 : places.length;
  const [x, y, z] = columnsOf(places.slice(0, end));
  return { layer, kind, closed, spatial: z.some((v) => v !== 0), x, y, z, bulge: x.map(() => 0) };
}

function ofPolyline(line: DxfPolyline, sagitta: number): DrawnLine {
  const { layer, closed, x, y, bulge } = line;
  const z = x.map((_, i) => drawnElevation(line, i));
  const out: DrawnLine = { code: codeOfName(layer), closed, x: [], y: [], z: [] };
  const add = (px: number, py: number, pz: number): void => {
    out.x.push(px);
    out.y.push(py);
    out.z.push(pz);
  };
  for (let i = 0; i < x.length; i++) {
    add(x[i], y[i], z[i]);
    const k = (i + 1) % x.length;
    if (!bulge[i] || (k === 0 && !closed)) continue;
    for (const { at, share } of chords(x[i], y[i], x[k], y[k], bulge[i], sagitta))
      add(at[0], at[1], z[i] + share * (z[k] - z[i]));
  }
  return out;
}

/** Vertices as rows of text, number, east, north, elevation, code with tabs between: line by line, each with a number of its own. */
export function rowsOfLines(lines: readonly DrawnLine[]): string[] {
  const rows: string[] = [];
  lines.forEach(({ code, closed, x, y, z }, n) => {
    for (let i = 0; i < x.length; i++) {
      const word = i === 0 ? ` ${DRAWN_WORDS.begin}` : i < x.length - 1 ? '' : ` ${closed ? DRAWN_WORDS.close : DRAWN_WORDS.end}`; // prettier-ignore
      rows.push(`\t${x[i]}\t${y[i]}\t${Number.isNaN(z[i]) ? '' : z[i]}\t${code}${n + 1}${word}`);
    }
  });
  return rows;
}

/**
 * Sides of lines among rows that were read of `rowsOfLines`, as x, y of their two ends; at most so many lines, evenly taken.
 * Rows whose description ends in no word of a line are points.
 */
export function sidesOfRows(
  { x, y, row, description }: { x: ArrayLike<number>; y: ArrayLike<number>; row: ArrayLike<number>; description: readonly string[] }, // prettier-ignore
  from: number,
  mostSides: number,
): Float64Array {
  const step = Math.max(1, Math.ceil((x.length - from) / mostSides));
  const out: number[] = [];
  const [begins, closes] = [` ${DRAWN_WORDS.begin}`, ` ${DRAWN_WORDS.close}`];
  let begin = from;
  for (let i = from, line = 0; i < x.length; i++) {
    if (description[i].endsWith(begins)) {
      begin = i;
      line++;
    } else if (line % step === 0 && row[i] === row[i - 1] + 1) {
      out.push(x[i - 1], y[i - 1], x[i], y[i]);
      if (description[i].endsWith(closes)) out.push(x[i], y[i], x[begin], y[begin]);
    }
  }
  return Float64Array.from(out);
}
