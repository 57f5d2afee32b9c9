import { atan2, distance } from '#core/kernel';

/** A place on a line in plan: where it is, the unit direction in which it runs there, and by how much it has turned since its beginning. */
export interface PlaceOnLine {
  x: number;
  y: number;
  /** Unit vector. */
  tx: number;
  ty: number;
  /** Radians, to the left. */
  turned: number;
}

/** A line in plan by its chainages. */
export interface LineInPlan {
  /** m */
  length: number;
  at: (chainage: number) => PlaceOnLine;
}

/**
 * A line of straights by its chainages; at a corner it runs half way between its two sides and has turned by half.
 * @param course x, y, x, y …, m
 * Throws RangeError for a line without length.
 */
export function lineInPlan(course: ArrayLike<number>): LineInPlan {
  const legs: { from: number; length: number; x: number; y: number; tx: number; ty: number; turned: number }[] = [];
  let [from, turned] = [0, 0];
  for (let i = 0; i + 3 < course.length; i += 2) {
    const [dx, dy] = [course[i + 2] - course[i], course[i + 3] - course[i + 1]];
    const length = distance(dx, dy);
    if (!(length > 0)) continue;
    const [tx, ty] = [dx / length, dy / length];
    const before = legs.at(-1);
    if (before) turned += atan2(before.tx * ty - before.ty * tx, before.tx * tx + before.ty * ty);
    legs.push({ from, length, x: course[i], y: course[i + 1], tx, ty, turned });
    from += length;
  }
  if (legs.length === 0) throw new RangeError('A line along which sections are cut needs a length.');
  const end = from;
  return {
    length: end,
    at(chainage) {
      const s = Math.min(Math.max(chainage, 0), end);
      let k = legs.length - 1;
      while (k > 0 && legs[k].from > s) k--;
      const leg = legs[k];
      const along = s - leg.from;
      const place = { x: leg.x + along * leg.tx, y: leg.y + along * leg.ty };
      const before = legs[k - 1];
      if (!before || along > CORNER * end) return { ...place, tx: leg.tx, ty: leg.ty, turned: leg.turned };
      const [mx, my] = [before.tx + leg.tx, before.ty + leg.ty];
      const size = distance(mx, my);
      // A line that turns on the spot has no direction half way; it goes on as after it.
      if (!(size > CORNER)) return { ...place, tx: leg.tx, ty: leg.ty, turned: leg.turned };
      return { ...place, tx: mx / size, ty: my / size, turned: (before.turned + leg.turned) / 2 };
    },
  };
}

/** Share of a line's length that is no distance from a corner. */
const CORNER = 1e-12;
