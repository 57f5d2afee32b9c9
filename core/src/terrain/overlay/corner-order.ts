/**
 * Corners of what two triangles P and Q have in common are told by numbers: 0 to 2 is a corner of P, 3 to 5 one of Q, and
 * 6 + 3 i + j is the place where side i of P meets side j of Q. Side k leads from corner k to the one after it.
 */
export const CROSSING = 6;

/** More corners than such a piece can have. */
export const MOST_CORNERS = 6;

/** Says that a piece has no more corners. */
export const NO_MORE = 15;

/** No corners at all. */
const NOTHING = 0xffffff;

/** What rounding leaves where a corner lies on a side: the corners have to be found in another way. All sides may have a part. */
export const UNCLEAR = -1;

/** Whether the piece has, or may have, a part of side k of P or of Q. */
export const hasSideOfP = (order: number, k: number): boolean => ((order >> (24 + k)) & 1) === 1;
export const hasSideOfQ = (order: number, k: number): boolean => ((order >> (27 + k)) & 1) === 1;

const CORNERS = [0, 1, 2];
const after = (k: number): number => (k + 1) % 3;

/**
 * The corners of a piece in their order, from which side of which side each corner lies on alone. Bit 3 j + i: corner j of Q lies
 * outside side i of P; bit 9 + 3 i + j: corner i of P lies outside side j of Q.
 * @returns four bits a corner from the lowest on; bits 24 to 26: the sides of P that the piece has a part of, 27 to 29: those of Q
 */
export function cornerOrder(bits: number): number {
  const qOutside = (j: number, i: number): boolean => ((bits >> (3 * j + i)) & 1) === 1;
  const pOutside = (i: number, j: number): boolean => ((bits >> (9 + 3 * i + j)) & 1) === 1;
  const parts = new Map<number, { end: number; side: number }>();
  const note = (side: number, part: readonly [number, number] | null | typeof UNCLEAR): boolean => {
    if (part === UNCLEAR || (part && parts.has(part[0]))) return false;
    if (part) parts.set(part[0], { end: part[1], side });
    return true;
  };
  for (const i of CORNERS)
    if (
      !note(
        i,
        partOfSide(i, pOutside, qOutside, 0, (j) => CROSSING + 3 * i + j),
      )
    )
      return UNCLEAR;
  for (const j of CORNERS)
    if (
      !note(
        3 + j,
        partOfSide(j, qOutside, pOutside, 3, (i) => CROSSING + 3 * i + j),
      )
    )
      return UNCLEAR;
  if (parts.size > 0) return aroundOf(parts);
  const isInside = (outside: typeof pOutside) => CORNERS.some((k) => CORNERS.every((side) => !outside(k, side)));
  return isInside(pOutside) || isInside(qOutside) ? UNCLEAR : NOTHING;
}

/** Where the part of side `k` of one triangle that lies in the other begins and ends; null where there is none. */
function partOfSide(
  k: number,
  outside: (corner: number, side: number) => boolean,
  otherOutside: (corner: number, side: number) => boolean,
  first: number,
  crossing: (side: number) => number,
): [number, number] | null | typeof UNCLEAR {
  const inside = (corner: number): number => (CORNERS.some((side) => outside(corner, side)) ? -1 : first + corner);
  let [start, end] = [inside(k), inside(after(k))];
  for (const side of CORNERS) {
    if (outside(k, side) === outside(after(k), side)) continue;
    if (otherOutside(side, k) === otherOutside(after(side), k)) continue;
    if ((outside(k, side) ? start : end) >= 0) return UNCLEAR;
    if (outside(k, side)) start = crossing(side);
    else end = crossing(side);
  }
  if (start < 0 !== end < 0) return UNCLEAR;
  return start < 0 ? null : [start, end];
}

/** The parts of sides one after the other, if they close. */
function aroundOf(parts: ReadonlyMap<number, { end: number; side: number }>): number {
  const [first] = parts.keys();
  let code = NOTHING;
  let at = first;
  for (let n = 0; n < parts.size; n++) {
    const part = parts.get(at);
    if (!part || (n > 0 && at === first)) return UNCLEAR;
    code = (code & ~(NO_MORE << (4 * n))) | (at << (4 * n)) | (1 << (24 + part.side));
    at = part.end;
  }
  return at === first && parts.size > 2 ? code : UNCLEAR;
}
