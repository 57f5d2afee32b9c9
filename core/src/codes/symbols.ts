import type { SymbolName } from './code.ts';
import type { Stroke } from './strokes.ts';

const box = (r: number): readonly number[] => [-r, -r, r, -r, r, r, -r, r];
const CROWN = Array.from({ length: 14 }, (_, i) => {
  const radius = i % 2 === 0 ? 0.8 : 0.58;
  const [x, y] = [cosine(i / 14), cosine(i / 14 - 0.25)];
  return [radius * x, radius * y];
}).flat();

/** cos 2πt by its symmetries and a short series: the same in every engine, which drawings are compared by. */
function cosine(t: number): number {
  const turn = Math.abs(t - Math.round(t)) * 2 * Math.PI;
  let [term, sum] = [1, 1];
  for (let k = 1; k < 12; k++) {
    term *= (-turn * turn) / ((2 * k - 1) * (2 * k));
    sum += term;
  }
  return sum;
}

/** Every symbol as plain strokes: what paper, drawings and the page draw alike. */
export const SYMBOL_STROKES: Record<SymbolName, readonly Stroke[]> = {
  dot: [
    { kind: 'course', places: [-0.5, 0, 0.5, 0] },
    { kind: 'course', places: [0, -0.5, 0, 0.5] },
  ],
  cross: [
    { kind: 'course', places: [-0.6, -0.6, 0.6, 0.6] },
    { kind: 'course', places: [-0.6, 0.6, 0.6, -0.6] },
  ],
  square: [{ kind: 'course', places: box(0.6), closed: true }],
  triangle: [{ kind: 'course', places: [-0.75, -0.6, 0.75, -0.6, 0, 0.75], closed: true }],
  diamond: [{ kind: 'course', places: [0, -0.8, 0.8, 0, 0, 0.8, -0.8, 0], closed: true }],
  ring: [{ kind: 'circle', x: 0, y: 0, radius: 0.6 }],
  crown: [
    { kind: 'course', places: CROWN, closed: true },
    { kind: 'circle', x: 0, y: 0, radius: 0.13, filled: true },
  ],
  lid: [
    { kind: 'circle', x: 0, y: 0, radius: 0.7 },
    { kind: 'course', places: [-0.7, 0, 0.7, 0] },
  ],
  mast: [
    { kind: 'circle', x: 0, y: 0, radius: 0.28, filled: true },
    { kind: 'course', places: [0, -0.85, 0, 0.85] },
  ],
  peg: [
    { kind: 'course', places: box(0.6), closed: true },
    { kind: 'circle', x: 0, y: 0, radius: 0.18, filled: true },
  ],
};

/** Control: a triangle about its point. */
export const CONTROL_STROKES: readonly Stroke[] = [
  { kind: 'course', places: [-0.75, -0.55, 0.75, -0.55, 0, 0.85], closed: true },
  { kind: 'circle', x: 0, y: -0.08, radius: 0.13, filled: true },
];

/** A code that the list does not know: a crossed ring, which no code has. */
export const UNKNOWN_STROKES: readonly Stroke[] = [
  { kind: 'circle', x: 0, y: 0, radius: 0.75 },
  { kind: 'course', places: [-0.53, -0.53, 0.53, 0.53] },
  { kind: 'course', places: [-0.53, 0.53, 0.53, -0.53] },
];

/** Strokes of a code's symbol: its own, or the one that it names. */
export const strokesOf = (code: { symbol: SymbolName; strokes?: readonly Stroke[] }): readonly Stroke[] =>
  code.strokes ?? SYMBOL_STROKES[code.symbol];

/** A stroke as a path of scalable vector graphics, y down. */
export function strokePath(stroke: Stroke): string {
  const n = (v: number): string => String(Math.round(v * 1e4) / 1e4);
  if (stroke.kind === 'circle') {
    const { x, y, radius: r } = stroke;
    return `M${n(x - r)} ${n(-y)}a${n(r)} ${n(r)} 0 1 0 ${n(2 * r)} 0a${n(r)} ${n(r)} 0 1 0 ${n(-2 * r)} 0z`;
  }
  const { places } = stroke;
  const parts: string[] = [];
  for (let i = 0; i < places.length; i += 2) parts.push(`${i === 0 ? 'M' : 'L'}${n(places[i])} ${n(-places[i + 1])}`);
  return parts.join('') + (stroke.closed ? 'z' : '');
}

/** Dashes of line styles on paper, mm. */
export const STYLE_DASHES: Record<'solid' | 'dashed' | 'dotted' | 'long-dashed' | 'dash-dot', readonly number[]> = {
  solid: [],
  dashed: [2, 1.4],
  dotted: [0.4, 1.1],
  'long-dashed': [4, 1.4],
  'dash-dot': [3, 1, 0.5, 1],
};

/** Inks on white paper, red, green and blue from 0 to 1. */
export const INK_ON_PAPER: Record<
  'ink' | 'slate' | 'pole' | 'pine' | 'brass' | 'lake' | 'plum' | 'moss',
  readonly [number, number, number]
> = {
  // prettier-ignore
  ink: [0.106, 0.169, 0.204],
  slate: [0.333, 0.396, 0.439],
  pole: [0.722, 0.208, 0.141],
  pine: [0.122, 0.435, 0.361],
  brass: [0.522, 0.349, 0.059],
  lake: [0.11, 0.38, 0.57],
  plum: [0.47, 0.2, 0.45],
  moss: [0.3, 0.42, 0.1],
};
