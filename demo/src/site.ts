// The invented true ground of Ostrel Landing, metres on an invented local grid. Places here are u east
// and v north of the site's corner; elevations are true.

export const CORNER = { east: 4230, north: 7660 };
export const LAKE_LEVEL = 60.6;
export const PAD_LEVEL = 62.4;

export interface Spot {
  u: number;
  v: number;
}

const SHORE = { from: { u: 0, v: 18 }, to: { u: 170, v: 72 } };
const SHORE_LENGTH = Math.hypot(SHORE.to.u - SHORE.from.u, SHORE.to.v - SHORE.from.v);
const ALONG = { u: (SHORE.to.u - SHORE.from.u) / SHORE_LENGTH, v: (SHORE.to.v - SHORE.from.v) / SHORE_LENGTH };

/** Distance inland of the shore line (lake side negative) and along it. */
export function fromShore({ u, v }: Spot): { inland: number; along: number } {
  const du = u - SHORE.from.u;
  const dv = v - SHORE.from.v;
  return { inland: dv * ALONG.u - du * ALONG.v, along: du * ALONG.u + dv * ALONG.v };
}

/** The place at a distance along the shore and inland of it. */
export const atShore = (along: number, inland: number): Spot => ({
  u: SHORE.from.u + along * ALONG.u - inland * ALONG.v,
  v: SHORE.from.v + along * ALONG.v + inland * ALONG.u,
});

export const QUAY = { from: 92, to: 150, coping: 62.05, foot: 59.3 };
export const SLIPWAY = { along: 74, width: 8, top: 16, toe: -14, topLevel: 62.1, toeLevel: 59.0 };
export const HEAP = { u: 112, v: 100, radius: 13, height: 3.1 };

const smooth = (t: number): number => {
  const c = Math.min(1, Math.max(0, t));
  return c * c * (3 - 2 * c);
};

function bareGround(spot: Spot): number {
  const { inland, along } = fromShore(spot);
  const land = 61.0 + 0.035 * inland + 0.00022 * inland * inland * smooth(inland / 40);
  const rolling =
    0.22 * Math.sin(spot.u / 21 + 0.6) * smooth(inland / 20) + 0.16 * Math.cos(spot.v / 15) * smooth(inland / 25);
  const bed = 60.75 + 0.11 * inland + 0.1 * Math.sin(along / 9);
  return inland >= 0 ? Math.max(land, 60.9) + rolling : Math.max(bed, 57.5);
}

/** Course of the swale's bed, from the slope down to the lake west of the slipway. */
export const SWALE: Spot[] = [
  { u: 30, v: 128 },
  { u: 34, v: 112 },
  { u: 41, v: 97 },
  { u: 45, v: 82 },
  { u: 44, v: 67 },
  { u: 46, v: 54 },
  { u: 50, v: 43 },
];

function distanceToCourse(spot: Spot, course: Spot[]): number {
  let best = Infinity;
  for (let i = 1; i < course.length; i++) {
    const [a, b] = [course[i - 1], course[i]];
    const l2 = (b.u - a.u) ** 2 + (b.v - a.v) ** 2;
    const t = Math.min(1, Math.max(0, ((spot.u - a.u) * (b.u - a.u) + (spot.v - a.v) * (b.v - a.v)) / l2));
    best = Math.min(best, Math.hypot(spot.u - a.u - t * (b.u - a.u), spot.v - a.v - t * (b.v - a.v)));
  }
  return best;
}

/** True elevation of the ground. */
export function elevationAt(spot: Spot): number {
  const { inland, along } = fromShore(spot);
  const s = SLIPWAY;
  if (Math.abs(along - s.along) <= s.width / 2 && inland <= s.top && inland >= s.toe)
    return s.toeLevel + ((inland - s.toe) / (s.top - s.toe)) * (s.topLevel - s.toeLevel);
  if (along >= QUAY.from && along <= QUAY.to) {
    if (inland < 0) return Math.min(bareGround(spot), QUAY.foot - 0.03 * Math.abs(inland));
    const behind = smooth(inland / 14);
    return addHeap(spot, QUAY.coping * (1 - behind) + bareGround(spot) * behind);
  }
  const swale = distanceToCourse(spot, SWALE);
  const dip = swale < 3 ? 0.55 * (1 - smooth(swale / 3)) : 0;
  return addHeap(spot, bareGround(spot) - (inland > 0 ? dip : 0));
}

function addHeap(spot: Spot, ground: number): number {
  const r = Math.hypot(spot.u - HEAP.u, (spot.v - HEAP.v) * 1.15) / HEAP.radius;
  if (r >= 1) return ground;
  return ground + HEAP.height * Math.min(1, (1 - r) * 1.35) * (1 + 0.05 * Math.sin(spot.u));
}

/** Centre of the access lane: straight from the north edge, an arc to the left, straight to the slipway's head. */
export function laneCentre(): { spots: Spot[]; arc: [from: number, to: number] } {
  const spots: Spot[] = [];
  for (const v of [134, 122, 110, 99]) spots.push({ u: 66, v });
  // Arc about (92, 90), radius 26, from due west turning towards the slipway.
  const from = spots.length;
  const head = atShore(SLIPWAY.along, SLIPWAY.top);
  for (let i = 0; i <= 6; i++) {
    const angle = Math.PI + (i / 6) * (Math.PI * 0.16);
    spots.push({ u: 92 + 26 * Math.cos(angle), v: 90 + 26 * Math.sin(angle) });
  }
  const to = spots.length - 1;
  const last = spots[to];
  for (const t of [0.35, 0.7, 1]) spots.push({ u: last.u + t * (head.u - last.u), v: last.v + t * (head.v - last.v) });
  return { spots, arc: [from, to] };
}

/** A course shifted to its left (positive) by a distance, vertex by vertex along the mean normal. */
export function beside(course: Spot[], distance: number): Spot[] {
  return course.map((p, i) => {
    const a = course[Math.max(0, i - 1)];
    const b = course[Math.min(course.length - 1, i + 1)];
    const l = Math.hypot(b.u - a.u, b.v - a.v);
    return { u: p.u - ((b.v - a.v) / l) * distance, v: p.v + ((b.u - a.u) / l) * distance };
  });
}
