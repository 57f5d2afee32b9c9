import { distance, isThere, makeAnew, type Keep } from '#core/kernel';
import type { ReducedPoints } from '#core/reduction';
import { type ProjectDocument, codeReader } from '#core/project';
import { groundByCode, isSurvey, STATE, type PointTable } from '#core/stages';

/** Two shots of one place, by their indices. */
export interface Twice {
  a: number;
  b: number;
}

/** What is needed of points, however they are kept. */
interface Places {
  count: number;
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  /** m; NaN where nothing is known. */
  sdPlan: ArrayLike<number>;
  code: (i: number) => string;
  /** Index of the intake that it came with. */
  intake: (i: number) => number;
  /** Points that take no part. */
  off: (i: number) => boolean;
}

/** m; farther apart than this in plan, two shots are two places, however poor they are. */
const FARTHEST = 0.05;

/**
 * Shots that lie in one place, nearer than the coincidence of the project or than chance lets one place come out
 * twice. Two levels that belong together by the code list (top and foot, cover and invert) are none, nor is a height
 * that does not count.
 */
function twiceAmong(doc: ProjectDocument, p: Places): Twice[] {
  const { x, y, sdPlan, count } = p;
  const cells = new Map<number, number[]>();
  const cell = (v: number): number => Math.floor(v / FARTHEST);
  // Cells that share a key by chance are told apart by distance.
  const key = (i: number, k: number): number => (Math.imul(i, 73856093) ^ Math.imul(k, 19349663)) >>> 0;
  const out: Twice[] = [];
  const belong = pairing(doc, p);
  const squareOf = (i: number): number => (Number.isNaN(sdPlan[i]) ? 0 : sdPlan[i] * sdPlan[i]);
  for (let b = 0; b < count; b++) {
    if (p.off(b) || !Number.isFinite(x[b] + y[b] + p.z[b])) continue;
    const [i, k] = [cell(x[b]), cell(y[b])];
    for (let di = -1; di <= 1; di++)
      for (let dk = -1; dk <= 1; dk++)
        for (const a of cells.get(key(i + di, k + dk)) ?? []) {
          const limit = Math.min(
            FARTHEST,
            Math.max(doc.settings.coincidence, 3 * Math.sqrt(squareOf(a) + squareOf(b))),
          );
          if (distance(x[a] - x[b], y[a] - y[b]) <= limit && !belong(a, b)) out.push({ a, b });
        }
    const own = cells.get(key(i, k));
    if (own) own.push(b);
    else cells.set(key(i, k), [b]);
  }
  return out;
}

/** What decides about pairs beside the columns of the points. */
const pairedBy = (doc: ProjectDocument): readonly unknown[] => [doc.settings.coincidence, doc.codeList, doc.intakes.map((i) => [i.id, i.purpose, i.words ?? null])]; // prettier-ignore

/** Among points that setups and receivers gave. */
export function measuredTwice(doc: ProjectDocument, points: ReducedPoints, keep: Keep = makeAnew): Twice[] {
  const { x, y, z, sdPlan, book } = points;
  const inputs = [...pairedBy(doc), x, y, isThere(z), sdPlan, book, points.codes()];
  return keep('measured twice', inputs, () => amongReduced(doc, points));
}

function amongReduced(doc: ProjectDocument, points: ReducedPoints): Twice[] {
  const intakes = points.books.map((id) => doc.intakes.findIndex((d) => d.id === id));
  return twiceAmong(doc, { ...points, count: points.count, code: (i) => points.name[i].code, intake: (i) => intakes[points.book[i]], off: () => false }); // prettier-ignore
}

/** Among the project's points that are used and have a number of their own. */
export function listedTwice(doc: ProjectDocument, points: PointTable, keep: Keep = makeAnew): Twice[] {
  const { x, y, z, sdPlan, intake, state, light, description } = points;
  const inputs = [...pairedBy(doc), x, y, isThere(z), sdPlan, intake, state, light, description];
  return keep('listed twice', inputs, () =>
    twiceAmong(doc, {
      ...points,
      count: x.length,
      code: (i) => description[i],
      intake: (i) => intake[i],
      off: (i) => state[i] !== STATE.used || light[i] === 1 || !isSurvey(doc, points, i),
    }),
  );
}

/** Whether two shots are two levels of one place on purpose, or one of them has a height that does not count. */
function pairing(doc: ProjectDocument, p: Places): (a: number, b: number) => boolean {
  const itemsOf = codeReader(doc);
  const notInGround = groundByCode(doc);
  return (a, b) => {
    const [ia, ib] = [p.intake(a), p.intake(b)];
    if (notInGround(p.code(a), ia) || notInGround(p.code(b), ib)) return true;
    const [one, other] = [itemsOf(p.code(a), ia), itemsOf(p.code(b), ib)];
    const over = (upper: typeof one, lower: typeof one): boolean =>
      upper.some((u) => u.known?.lower && lower.some((l) => l.code === u.known!.lower!.toUpperCase()));
    return over(one, other) || over(other, one);
  };
}
