import { CONTROL_STROKES, INK_ON_PAPER, STYLE_DASHES, strokesOf, SYMBOL_STROKES, UNKNOWN_STROKES, type Stroke } from '#core/codes'; // prettier-ignore
import { formatLength, METRES_IN, UNIT_SIGN } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import { wrapped } from './letters.ts';
import { SMALLEST, symbolMarks, type Colour, type Frame, type Mark } from './marks.ts';
import type { Plan } from './plan.ts';
import type { TintEntry } from './tints.ts';

const { ink: INK, slate: SLATE } = INK_ON_PAPER;
const LINE = SMALLEST * 1.7;
const PAD = 3;
/** Where the names begin, beside what they name. */
const BESIDE = 13.5;

interface Entry {
  name: string;
  /** What is drawn beside it, about the height of its first line. */
  marks: (x: number, y: number) => Mark[];
}

/** What is on the sheet: only what is truly in its window. */
export interface Shown {
  lines: Plan['lines'];
  symbols: Plan['symbols'];
  tints?: readonly TintEntry[];
}

/** The legend of what a sheet shows; what there is no room for is counted. */
export function legendMarks(doc: ProjectDocument, shown: Shown, interval: number | null, f: Frame): Mark[] {
  const out: Mark[] = [];
  const x = f.left + PAD;
  let y = f.bottom + f.height - 6;
  const text = (words: string, at: number, size: number, colour: Colour = INK, face: 'text' | 'bold' = 'text'): void => void out.push({ kind: 'text', x: at, y, size, text: words, face, colour, align: 'left' }); // prettier-ignore
  text('Legend', x, 2.2, INK, 'bold');
  y -= 5.5;
  const entries = entriesOf(doc, shown, interval);
  if (entries.length === 0) text('nothing is in this window', x, SMALLEST, SLATE);
  for (const [i, { name, marks }] of entries.entries()) {
    const lines = wrapped(name, 'text', SMALLEST, f.width - PAD - BESIDE - 1);
    const left = entries.length - i;
    // The last line is kept for what does not go in.
    if (y - (lines.length - 1) * LINE - (left > 1 ? LINE * 1.3 : 0) < f.bottom + 1.5) {
      text(`and ${left} more, on the code sheet`, x, SMALLEST, SLATE);
      break;
    }
    out.push(...marks(x, y + 0.9));
    for (const line of lines) {
      text(line, x + BESIDE, SMALLEST);
      y -= LINE;
    }
    y -= LINE * 0.3;
  }
  return out;
}

function entriesOf(doc: ProjectDocument, { lines, symbols, tints = [] }: Shown, interval: number | null): Entry[] {
  const { drawing, settings, codeList } = doc;
  const sample = (colour: Colour, width: number, dash: readonly number[] = []) => (x: number, y: number): Mark[] => [{ kind: 'course', places: [x, y, x + 11, y], closed: false, width, colour, ...(dash.length ? { dash } : {}) }]; // prettier-ignore
  const sign = (strokes: readonly Stroke[], colour: Colour, size: number, turn = 0) => (x: number, y: number): Mark[] => symbolMarks(strokes, x + 5.5, y, Math.min(size, 4) / 2, turn, colour); // prettier-ignore
  const out: Entry[] = tints.map(({ name, colour }) => ({ name, marks: (x, y) => [swatch(x, y, colour)] }));
  const of = (kind: string) => symbols.filter((s) => s.of.kind === kind);
  const [control] = of('control');
  if (control) out.push({ name: 'control', marks: sign(CONTROL_STROKES, INK_ON_PAPER[control.ink], control.size) }); // prettier-ignore
  const [contour] = lines.filter((l) => l.contour).sort((a, b) => a.width - b.width);
  if (contour) {
    const every = interval === null ? '' : `, every ${formatLength(interval, settings.unit, decimalsOf(interval / METRES_IN[settings.unit]))} ${UNIT_SIGN[settings.unit]}`; // prettier-ignore
    out.push({ name: `contour${every}`, marks: sample(INK_ON_PAPER[contour.ink], contour.width) });
    const index = lines.find((l) => l.contour?.index);
    if (index) out.push({ name: 'index contour', marks: sample(INK_ON_PAPER[index.ink], index.width) });
  }
  const linesByCode = new Map(lines.flatMap((l) => (l.code === null ? [] : [[l.code.toUpperCase(), l]])));
  const symbolsByCode = new Map(symbols.flatMap((s) => (s.of.kind === 'code' ? [[s.of.code.toUpperCase(), s]] : [])));
  for (const c of codeList.codes) {
    const key = c.code.toUpperCase();
    const [line, symbol] = [linesByCode.get(key), symbolsByCode.get(key)];
    if (line) out.push({ name: c.name || c.code, marks: sample(INK_ON_PAPER[line.ink], line.width, STYLE_DASHES[line.style]) }); // prettier-ignore
    if (symbol) out.push({ name: c.name || c.code, marks: sign(strokesOf(c), INK_ON_PAPER[drawing.layers[c.layer]?.ink ?? c.ink], symbol.size, c.rotation ?? 0) }); // prettier-ignore
  }
  const known = new Set(codeList.codes.map((c) => c.code.toUpperCase()));
  const strange = [...new Set([...of('unknown').map((s) => (s.of as { code: string }).code), ...[...linesByCode].flatMap(([code]) => (known.has(code) ? [] : [code]))])].sort(); // prettier-ignore
  if (strange.length) out.push({ name: `not in the code list: ${strange.join(', ')}`, marks: sign(UNKNOWN_STROKES, INK_ON_PAPER.pole, drawing.symbolSize) }); // prettier-ignore
  if (of('plain').length) out.push({ name: 'point', marks: sign(SYMBOL_STROKES.dot, INK, drawing.symbolSize * 0.5) });
  return out;
}

/** A patch of a tint, as high as a line of the legend. */
const swatch = (x: number, y: number, fill: Colour): Mark => ({ kind: 'course', places: [x, y - 1, x + 11, y - 1, x + 11, y + 1, x, y + 1], closed: true, width: 0.1, colour: SLATE, fill }); // prettier-ignore

/** As many decimals as a round length has. */
export const decimalsOf = (value: number): number => [0, 1, 2].find((d) => Math.abs(value - Number(value.toFixed(d))) < 1e-9) ?? 3; // prettier-ignore
