import { DEFAULT_WORDS, PLAIN_FORM, type LineWords } from '#core/codes';
import { columnsOf, distance, withoutTail } from '#core/kernel';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { FileContent } from './content.ts';
import { chords, SAGITTA } from './chords.ts';
import { codeOfName } from './code-of-name.ts';
import { halfOf } from './dxf/arcs.ts';
import type { DxfContent, DxfCurve, DxfPolyline } from './dxf/content.ts';
import { chordsOf } from './dxf/rational-curve.ts';

/** A line of a drawing in its own unit; a vertex without an elevation has NaN. */
export interface DrawnLine {
  /** Its layer, feature or code, as codes are written. */
  code: string;
  closed: boolean;
  /** Its own name, by which its corners are numbered. */
  name?: string;
  x: number[];
  y: number[];
  z: number[];
  /** Of arcs that are kept: the vertices that are middles of one, from the vertex before to the one behind. */
  middle?: boolean[];
}

/** The words that lines of a drawing are written with, whatever words the project's crews use. */
export const DRAWN_WORDS: LineWords & typeof DEFAULT_WORDS = { ...DEFAULT_WORDS, form: PLAIN_FORM };

/** Elevation of a vertex of a drawn line, NaN where none is said: what is drawn in plan says 0 where it says nothing. */
export const drawnElevation = ({ spatial, z }: Pick<DxfPolyline, 'spatial' | 'z'>, i: number): number =>
  spatial || z[i] !== 0 ? z[i] : NaN;

/** Lines of a file in their order; those of one vertex are none. Arcs stay arcs, or become chords by the unit that the file is read in. */
export function linesIn(file: FileContent, unit: FileUnit = file.unit ?? 'm', arcs = false): DrawnLine[] {
  const fine = finenessIn(unit, arcs);
  const lines =
    file.kind === 'dxf'
      ? drawnLines(file.content, fine)
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
  drawnLines(content, finenessIn(unit, false)).filter((l) => l.x.length > 1);

/** How finely curves are drawn, in a file's unit; arcs that rise less than `flat` are straight. */
interface Fineness {
  sagitta: number;
  flat: number;
  arcs: boolean;
}

/** m; so little rises no arc that somebody meant. */
const FLAT = 0.0001;

const finenessIn = (unit: FileUnit, arcs: boolean): Fineness => {
  const metre = METRES_IN_FILE[unit];
  return { sagitta: SAGITTA / metre, flat: FLAT / metre, arcs };
};

const drawnLines = ({ polylines, curves }: Pick<DxfContent, 'polylines' | 'curves'>, fine: Fineness): DrawnLine[] => [
  ...polylines.map((p) => ofPolyline(p, fine)),
  ...curves.map((c) => ofPolyline(asPolyline(c, fine.sagitta), fine)),
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

function ofPolyline(line: DxfPolyline, { sagitta, flat, arcs }: Fineness): DrawnLine {
  const { layer, closed, name, x, y, bulge } = line;
  const z = x.map((_, i) => drawnElevation(line, i));
  const out: DrawnLine = { code: codeOfName(layer), closed, ...(name ? { name } : {}), x: [], y: [], z: [] };
  const add = (px: number, py: number, pz: number): number => {
    out.x.push(px);
    out.y.push(py);
    return out.z.push(pz);
  };
  for (let i = 0; i < x.length; i++) {
    add(x[i], y[i], z[i]);
    const k = (i + 1) % x.length;
    if (!bulge[i] || (k === 0 && !closed)) continue;
    if (!arcs) {
      for (const { at, share } of chords(x[i], y[i], x[k], y[k], bulge[i], sagitta))
        add(at[0], at[1], z[i] + share * (z[k] - z[i]));
    } else if (Math.abs(bulge[i]) * distance(x[k] - x[i], y[k] - y[i]) > 2 * flat) {
      const { mx, my } = halfOf(x[i], y[i], x[k], y[k], bulge[i]);
      (out.middle ??= [])[add(mx, my, (z[i] + z[k]) / 2) - 1] = true;
    }
  }
  return out.middle ? endingStraight(out) : out;
}

/**
 * A closed line whose last side is an arc, begun so that a straight one is the last; where all are arcs, its first vertex
 * stands once more behind the last arc: words of a line can say no arc beyond its last vertex.
 */
function endingStraight(line: DrawnLine): DrawnLine {
  const { closed, x, y, z } = line;
  const middle = line.middle!;
  const n = x.length;
  if (!closed || !middle[n - 1]) return line;
  const start = x.findIndex((_, i) => i > 0 && !middle[i] && !middle[i - 1]);
  const order = Array.from({ length: start < 0 ? n + 1 : n }, (_, i) => (Math.max(0, start) + i) % n);
  const of = (v: number[]): number[] => order.map((i) => v[i]);
  return { ...line, x: of(x), y: of(y), z: of(z), middle: order.map((i) => middle[i] ?? false) };
}

/** Vertices as rows of text, number, east, north, elevation, code with tabs between: line by line, each with a number of its own; corners of a line with a name are numbered after it. */
export function rowsOfLines(lines: readonly DrawnLine[]): string[] {
  const rows: string[] = [];
  lines.forEach(({ code, closed, name, x, y, z, middle = [] }, n) => {
    let corners = 0;
    for (let i = 0; i < x.length; i++) {
      const words: string[] = [];
      if (i === 0) words.push(DRAWN_WORDS.begin);
      if (middle[i + 1] && !middle[i - 1]) words.push(DRAWN_WORDS.curveBegin);
      if (middle[i - 1] && !middle[i + 1]) words.push(DRAWN_WORDS.curveEnd);
      if (i > 0 && i === x.length - 1) words.push(closed ? DRAWN_WORDS.close : DRAWN_WORDS.end);
      const number = name && !middle[i] ? `${name}-${++corners}` : '';
      rows.push(
        `${number}\t${x[i]}\t${y[i]}\t${Number.isNaN(z[i]) ? '' : z[i]}\t${[`${code}${n + 1}`, ...words].join(' ')}`,
      );
    }
  });
  return rows;
}
