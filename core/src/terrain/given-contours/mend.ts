import type { ContourFault, EndOf, GivenContour } from './contour.ts';

type Gap = Extract<ContourFault, { kind: 'gap' }>;

/**
 * Contours with what can be mended mended: doubled ones left out, those closed across others opened, elevations set where one
 * fits, gaps bridged. What cannot be mended by itself (crossings, open ends, elevations where several fit) stays as it is.
 */
export function mendContours(contours: readonly GivenContour[], faults: readonly ContourFault[]): GivenContour[] {
  const list: (GivenContour | null)[] = contours.map((c) => ({ ...c }));
  for (const f of faults) {
    const own = list[f.contour];
    if (!own) continue;
    if (f.kind === 'double') list[f.contour] = null;
    else if (f.kind === 'closing-side') own.closed = false;
    else if (f.kind === 'elevation' && f.fits !== null) own.elevation = f.fits;
  }
  const gaps = faults.filter((f): f is Gap => f.kind === 'gap');
  return bridged(list, gaps).filter((c): c is GivenContour => c !== null);
}

/** One behind the other; a contour whose own two ends are bridged is closed. */
function bridged(list: (GivenContour | null)[], gaps: readonly Gap[]): (GivenContour | null)[] {
  const out = [...list];
  /** The one that a contour has become a part of, and whether it lies the other way round there. */
  const place = list.map((_, k) => k);
  const isTurned = list.map(() => false);
  const now = (k: number, end: EndOf): EndOf => (isTurned[k] ? opposite(end) : end);
  for (const gap of gaps) {
    const [a, b] = [place[gap.contour], place[gap.other]];
    const [one, other] = [out[a], out[b]];
    if (!one || !other) continue;
    if (a === b) {
      out[a] = { ...one, closed: true };
      continue;
    }
    const before = now(gap.contour, gap.end) === 'last' ? one : turned(one);
    const behind = now(gap.other, gap.otherEnd) === 'first' ? other : turned(other);
    out[a] = { x: [...Array.from(before.x), ...Array.from(behind.x)], y: [...Array.from(before.y), ...Array.from(behind.y)], elevation: one.elevation, closed: false }; // prettier-ignore
    out[b] = null;
    place.forEach((p, k) => {
      if (p !== a && p !== b) return;
      if (p === a ? before !== one : behind !== other) isTurned[k] = !isTurned[k];
      place[k] = a;
    });
  }
  return out;
}

const opposite = (end: EndOf): EndOf => (end === 'first' ? 'last' : 'first');
const turned = (c: GivenContour): GivenContour => ({
  ...c,
  x: Array.from(c.x).reverse(),
  y: Array.from(c.y).reverse(),
});
