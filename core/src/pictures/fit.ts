import { similarity, solveNormal } from '#core/basis';
import { distance } from '#core/kernel';
import { invertProjective, placeOf, type Projective } from './projective.ts';

/** How a picture is laid on the plan: turned and scaled, sheared as well, or as seen at a slant. */
export const PICTURE_FITS = ['similarity', 'affine', 'projective'] as const;
export type PictureFitKind = (typeof PICTURE_FITS)[number];

/** Marks that each fit needs at least. */
export const FEWEST_MARKS: Record<PictureFitKind, number> = { similarity: 2, affine: 3, projective: 4 };

/** A place in the picture, pixels from its upper left corner to the right and down, and where it is, m. */
export interface PictureMark {
  column: number;
  row: number;
  x: number;
  y: number;
  /** Whether it takes part. */
  on: boolean;
}

export interface MarkResidual {
  /** Fitted minus given, m; of marks that take no part too. */
  x: number;
  y: number;
  /** How far the mark is from where the others that take part put it, m; NaN where they are too few for it. */
  apart: number;
}

export interface PictureFit {
  matrix: Projective;
  /** One a mark, in their order. */
  residuals: MarkResidual[];
  /** Coordinates more than unknowns. */
  redundancy: number;
  /** Standard deviation of one coordinate of a mark, m; NaN without redundancy. */
  sigma: number;
  /** Length of a pixel's sides in the middle of the picture, m. */
  pixel: { across: number; down: number };
  /** Whether left and right are swapped. */
  isMirrored: boolean;
}

export type PictureFitted = { ok: true; fit: PictureFit } | { ok: false; reason: string };

const SAID: Record<PictureFitKind, string> = {
  similarity: 'Shift, rotation and scale need',
  affine: 'An affine fit needs',
  projective: 'A projective fit needs',
};
const IN_LINE: Record<PictureFitKind, string> = {
  similarity: 'The marks lie in one place: no rotation can be computed from them.',
  affine: 'The marks lie on one line: what lies beside it is not determined. Add a mark away from it.',
  projective: 'Three of the marks lie on one line: the slant cannot be computed from them. Add or move a mark.',
};

/**
 * Fits a picture to places by the marks that take part, equal weights, least squares of the residuals on the plan.
 * `width`, `height`: the picture's size in pixels.
 */
export function fitPicture(
  marks: readonly PictureMark[],
  kind: PictureFitKind,
  size: { width: number; height: number },
): PictureFitted {
  const used = marks.filter((m) => m.on);
  const need = FEWEST_MARKS[kind];
  if (used.length < need) return { ok: false, reason: `${SAID[kind]} ${need} marks; ${used.length} take part.` };
  const matrix = solve(used, kind);
  if (!matrix) return { ok: false, reason: IN_LINE[kind] };
  if (!isWhole(matrix, size))
    return { ok: false, reason: 'Fitted like this the horizon runs through the picture. Check the marks, or crop the picture below the horizon.' }; // prettier-ignore
  const residuals = marks.map((m): MarkResidual => {
    const at = placeOf(matrix, m.column, m.row);
    return { x: at.x - m.x, y: at.y - m.y, apart: apartOf(m, used, kind) };
  });
  const redundancy = 2 * used.length - 2 * need;
  const squares = residuals.reduce((s, r, i) => s + (marks[i].on ? r.x * r.x + r.y * r.y : 0), 0);
  const [c, r] = [size.width / 2, size.height / 2];
  const [middle, right, down] = [placeOf(matrix, c, r), placeOf(matrix, c + 1, r), placeOf(matrix, c, r + 1)];
  return {
    ok: true,
    fit: {
      matrix,
      residuals,
      redundancy,
      sigma: redundancy > 0 ? Math.sqrt(squares / redundancy) : NaN,
      pixel: { across: distance(right.x - middle.x, right.y - middle.y), down: distance(down.x - middle.x, down.y - middle.y) }, // prettier-ignore
      isMirrored: isMirrored(matrix, size),
    },
  };
}

/** Whether all of a picture lies on the near side of its horizon, and has an area on the plan. */
function isWhole(m: Projective, { width, height }: { width: number; height: number }): boolean {
  const w = [[0, 0], [width, 0], [width, height], [0, height]].map(([c, r]) => m[6] * c + m[7] * r + m[8]); // prettier-ignore
  const middle = Math.abs(m[6] * (width / 2) + m[7] * (height / 2) + m[8]);
  return w.every((v) => v > 1e-6 * middle) && invertProjective(m) !== null;
}

function isMirrored(m: Projective, { width, height }: { width: number; height: number }): boolean {
  const [a, b, c] = [placeOf(m, 0, 0), placeOf(m, width, 0), placeOf(m, 0, height)];
  return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x) > 0;
}

function apartOf(mark: PictureMark, used: readonly PictureMark[], kind: PictureFitKind): number {
  const others = used.filter((m) => m !== mark);
  const matrix = others.length >= FEWEST_MARKS[kind] ? solve(others, kind) : null;
  if (!matrix) return NaN;
  const at = placeOf(matrix, mark.column, mark.row);
  return distance(at.x - mark.x, at.y - mark.y);
}

function solve(marks: readonly PictureMark[], kind: PictureFitKind): Projective | null {
  if (kind === 'similarity') return similar(marks);
  const scaled = inUnits(marks);
  if (!scaled) return null;
  const affine = affineOf(scaled.marks);
  if (kind === 'affine') return affine && scaled.back(affine);
  const projective = projectiveOf(scaled.marks);
  return projective && scaled.back(projective);
}

function similar(marks: readonly PictureMark[]): Projective | null {
  // Rows count down, north goes up.
  const plan = similarity(marks.map((m) => ({ from: { x: m.column, y: -m.row, z: NaN }, to: { x: m.x, y: m.y, z: NaN } }))); // prettier-ignore
  return plan && [plan.a, plan.b, plan.tx, plan.b, -plan.a, plan.ty, 0, 0, 1];
}

interface InUnits {
  marks: PictureMark[];
  /** A matrix between the scaled places as one between pixels and metres. */
  back: (m: Projective) => Projective;
}

/** Marks about their middles and of size one, so that solving loses no digits; null where all lie in one place. */
function inUnits(marks: readonly PictureMark[]): InUnits | null {
  const mean = (of: (m: PictureMark) => number): number => marks.reduce((s, m) => s + of(m), 0) / marks.length;
  const [c, r, x, y] = [mean((m) => m.column), mean((m) => m.row), mean((m) => m.x), mean((m) => m.y)];
  const s = Math.max(...marks.map((m) => distance(m.column - c, m.row - r)));
  const t = Math.max(...marks.map((m) => distance(m.x - x, m.y - y)));
  if (!(s > 0 && t > 0)) return null;
  return {
    marks: marks.map((m) => ({ ...m, column: (m.column - c) / s, row: (m.row - r) / s, x: (m.x - x) / t, y: (m.y - y) / t })), // prettier-ignore
    back: ([a, b, d, e, f, g, h, k, w]) => {
      // On the side of the picture: u = (column − c) / s.
      const [p, q, o] = [h / s, k / s, w - (h * c + k * r) / s];
      const row = (i: number, j: number, l: number, middle: number): number[] => [
        (t * i) / s + middle * p,
        (t * j) / s + middle * q,
        t * (l - (i * c + j * r) / s) + middle * o,
      ];
      return [...row(a, b, d, x), ...row(e, f, g, y), p, q, o] as Projective;
    },
  };
}

function affineOf(marks: readonly PictureMark[]): Projective | null {
  const rows = marks.map((m) => [m.column, m.row, 1]);
  const [x, y] = [solveNormal(rows, marks.map((m) => m.x)), solveNormal(rows, marks.map((m) => m.y))]; // prettier-ignore
  return x && y && ([...x.unknowns, ...y.unknowns, 0, 0, 1] as Projective);
}

const MOST_ROUNDS = 50;

/**
 * Begins with the linear form (x (h c + k r + 1) = a c + b r + d, and so for y: any textbook on rectification) and goes
 * on until the residuals on the plan are least.
 */
function projectiveOf(marks: readonly PictureMark[]): Projective | null {
  const linear = solveNormal(
    marks.flatMap(({ column: c, row: r, x, y }) => [
      [c, r, 1, 0, 0, 0, -x * c, -x * r],
      [0, 0, 0, c, r, 1, -y * c, -y * r],
    ]),
    marks.flatMap((m) => [m.x, m.y]),
  );
  if (!linear) return null;
  let h = linear.unknowns;
  if (marks.length > FEWEST_MARKS.projective)
    for (let round = 0; round < MOST_ROUNDS; round++) {
      const step = solveNormal(...linearised(marks, h));
      if (!step) return null;
      h = h.map((v, i) => v + step.unknowns[i]);
      if (step.unknowns.every((v) => Math.abs(v) < 1e-13)) break;
    }
  return h.every(Number.isFinite) ? ([...h, 1] as Projective) : null;
}

function linearised(marks: readonly PictureMark[], h: readonly number[]): [number[][], number[]] {
  const rows: number[][] = [];
  const missing: number[] = [];
  for (const { column: c, row: r, x, y } of marks) {
    const w = h[6] * c + h[7] * r + 1;
    const [u, v] = [(h[0] * c + h[1] * r + h[2]) / w, (h[3] * c + h[4] * r + h[5]) / w];
    rows.push([c / w, r / w, 1 / w, 0, 0, 0, (-u * c) / w, (-u * r) / w]);
    rows.push([0, 0, 0, c / w, r / w, 1 / w, (-v * c) / w, (-v * r) / w]);
    missing.push(x - u, y - v);
  }
  return [rows, missing];
}
