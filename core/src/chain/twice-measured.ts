import { distance } from '#core/kernel';
import type { ReducedPoints } from '#core/reduction';
import type { ProjectDocument } from './document.ts';
import { groundByCode } from './ground.ts';
import { codeReader } from './point-queries.ts';

/** Two shots of one place, by their indices among the reduced points. */
export interface Twice {
  a: number;
  b: number;
}

/** m; farther apart than this in plan, two shots are two places, however poor they are. */
const FARTHEST = 0.05;

/**
 * Shots that lie in one place, nearer than the coincidence of the project or than chance lets one place come out
 * twice. Two levels that belong together by the code list (top and foot, cover and invert) are none, nor is a height
 * that does not count.
 */
export function measuredTwice(doc: ProjectDocument, points: ReducedPoints): Twice[] {
  const { x, y, sdPlan, code, count } = points;
  const cells = new Map<string, number[]>();
  const cell = (v: number): number => Math.floor(v / FARTHEST);
  const out: Twice[] = [];
  const belong = pairing(doc, points);
  for (let b = 0; b < count; b++) {
    if (Number.isNaN(points.z[b]) || !Number.isFinite(x[b] + y[b])) continue;
    const [i, k] = [cell(x[b]), cell(y[b])];
    for (let di = -1; di <= 1; di++)
      for (let dk = -1; dk <= 1; dk++)
        for (const a of cells.get(`${i + di} ${k + dk}`) ?? []) {
          const limit = Math.min(
            FARTHEST,
            Math.max(doc.settings.coincidence, 3 * Math.sqrt(sdPlan[a] * sdPlan[a] + sdPlan[b] * sdPlan[b])),
          );
          if (distance(x[a] - x[b], y[a] - y[b]) <= limit && !belong(a, b, code)) out.push({ a, b });
        }
    const key = `${i} ${k}`;
    const own = cells.get(key);
    if (own) own.push(b);
    else cells.set(key, [b]);
  }
  return out;
}

/** Whether two shots are two levels of one place on purpose, or one of them has a height that does not count. */
function pairing(doc: ProjectDocument, points: ReducedPoints) {
  const itemsOf = codeReader(doc);
  const notInGround = groundByCode(doc);
  const intake = points.books.map((id) => doc.intakes.findIndex((d) => d.id === id));
  return (a: number, b: number, code: readonly string[]): boolean => {
    const [ia, ib] = [intake[points.book[a]], intake[points.book[b]]];
    if (notInGround(code[a], ia) || notInGround(code[b], ib)) return true;
    const [upper, lower] = [itemsOf(code[a], ia), itemsOf(code[b], ib)];
    const has = (p: typeof upper, q: typeof lower): boolean =>
      p.some((u) => u.known?.lower && q.some((l) => l.code === u.known!.lower!.toUpperCase()));
    return has(upper, lower) || has(lower, upper);
  };
}
