import { systemLine } from '#core/basis';
import { INK_ON_PAPER } from '#core/codes';
import { METRES_IN, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import type { Plot, ProjectDocument } from '#core/project';
import { widthOf, wrapped, type Face } from './letters.ts';
import { SMALLEST, type Colour, type Frame, type Mark } from './marks.ts';
import { scaleName } from './paper.ts';

const { ink: INK, slate: SLATE } = INK_ON_PAPER;
const PAD = 3;
/** From line to line, in heights of capitals. */
const LEAD = 1.85;

export interface PlotFacts {
  project: string;
  revision: number;
  /** ISO date. */
  date: string;
}

/** A piece of the block: how high it is, and its marks when its top is known. */
interface Piece {
  height: number;
  marks: (top: number) => Mark[];
}

/** The title block at the foot of the column, as high as its words ask for: every word whole, in as many lines as it takes. */
export function titleBlock(
  doc: ProjectDocument,
  plot: Plot,
  facts: PlotFacts,
  column: Frame,
): { marks: Mark[]; height: number } {
  // prettier-ignore
  const { settings: s, basis } = doc;
  const x = column.left + PAD;
  const room = column.width - 2 * PAD;
  const words = (text: string, size: number, face: Face = 'text', colour: Colour = INK): Piece =>
    linesPiece(wrapped(text, face, size, room), x, size, face, colour);
  const gap = (height: number): Piece => ({ height, marks: () => [] });
  const pair = (left: [string, string], right: [string, string]): Piece => pairPiece(left, right, x, room / 2);
  const pieces: Piece[] = [
    gap(3),
    words(plot.title, 3.2, 'bold'),
    words(facts.project, 2.2),
    words(plot.client, 2, 'text', SLATE),
    gap(1.5),
    words(`${scaleName(plot.scale, s.unit)} on ${plot.paper}`, 2.2, 'bold'),
    scaleBar(doc, plot, x, room),
    words(systemLine(basis.system), SMALLEST, 'text', SLATE),
    words(`${UNIT_NAME[s.unit]}; elevations ${basis.heights}${basis.geoid ? `, ${basis.geoid.name}` : ''}`, SMALLEST, 'text', SLATE), // prettier-ignore
    gap(plot.note ? 1 : 0),
    words(plot.note, SMALLEST),
    gap(1),
    pair(['drawn', plot.drawnBy], ['checked', plot.checkedBy]),
    pair(['revision, date', `${facts.revision}, ${facts.date}`], ['plot', plot.number]),
    gap(1),
  ];
  const height = pieces.reduce((sum, p) => sum + p.height, 0);
  let top = column.bottom + height;
  const rule: Mark = { kind: 'course', places: [column.left, top, column.left + column.width, top], closed: false, width: 0.35, colour: INK }; // prettier-ignore
  const marks = pieces.flatMap((piece) => {
    const own = piece.marks(top);
    top -= piece.height;
    return own;
  });
  return { marks: [rule, ...marks], height };
}

function linesPiece(lines: readonly string[], x: number, size: number, face: Face, colour: Colour): Piece {
  return {
    height: lines.length * size * LEAD,
    marks: (top) => lines.map((text, i) => ({ kind: 'text', x, y: top - size * (1 + i * LEAD), size, text, face, colour, align: 'left' })), // prettier-ignore
  };
}

/** Two values side by side, each below its name. */
function pairPiece(left: [string, string], right: [string, string], x: number, half: number): Piece {
  const sides = [left, right].map(([name, value], i) => ({ at: x + i * half, name, lines: wrapped(value || '–', 'text', 2, half - 2) })); // prettier-ignore
  const most = Math.max(...sides.map((s) => s.lines.length));
  return {
    height: SMALLEST * LEAD + most * 2 * LEAD,
    marks: (top) =>
      sides.flatMap(({ at, name, lines }) => [
        ...linesPiece([name], at, SMALLEST, 'text', SLATE).marks(top),
        ...linesPiece(lines, at, 2, 'text', INK).marks(top - SMALLEST * LEAD),
      ]),
  };
}

/** A bar of round lengths, as long as goes into the room. */
function scaleBar(doc: ProjectDocument, plot: Plot, x: number, room: number): Piece {
  const { unit } = doc.settings;
  const perUnit = (METRES_IN[unit] * 1000) / plot.scale;
  // The last number reaches over the end of the bar, with its unit.
  const most = (room - 10) / perUnit / 4;
  const power = 10 ** Math.floor(Math.log10(most));
  const step = ([5, 2, 1].find((s) => s * power <= most) ?? 1) * power;
  const name = (i: number): string => String(Number((i * step).toPrecision(6)));
  return {
    height: 8,
    marks: (top) => {
      const y = top - 2.4;
      const out: Mark[] = [];
      for (let i = 0; i < 4; i++) {
        const [a, b] = [x + i * step * perUnit, x + (i + 1) * step * perUnit];
        out.push({ kind: 'course', places: [a, y, b, y, b, y + 1.1, a, y + 1.1], closed: true, width: 0.18, colour: INK, ...(i % 2 ? {} : { fill: INK }) }); // prettier-ignore
      }
      const sign = ` ${UNIT_SIGN[unit]}`;
      for (const i of [0, 2, 4]) {
        const text = `${name(i)}${i === 4 ? sign : ''}`;
        // The last is centred by its number alone.
        const at = x + i * step * perUnit - (i === 0 ? 0 : widthOf(name(i), 'mono', SMALLEST) / 2);
        out.push({ kind: 'text', x: at, y: y - 3, size: SMALLEST, text, face: 'mono', colour: INK, align: 'left' });
      }
      return out;
    },
  };
}
