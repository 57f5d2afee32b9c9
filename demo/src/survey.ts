import { seeded } from './random.ts';
import {
  atShore,
  beside,
  CORNER,
  elevationAt,
  fromShore,
  HEAP,
  LAKE_LEVEL,
  laneCentre,
  PAD_LEVEL,
  QUAY,
  SLIPWAY,
  SWALE,
  type Spot,
} from './site.ts';

export interface Shot {
  number: string;
  east: number;
  north: number;
  elevation: number;
  description: string;
}

export const CONTROL: Shot[] = [
  { number: 'OL1', east: 4246.318, north: 7778.604, elevation: 66.912, description: 'CP bolt in rock' },
  { number: 'OL2', east: 4318.047, north: 7762.391, elevation: 64.108, description: 'CP pin by the lane' },
  { number: 'OL3', east: 4376.559, north: 7737.215, elevation: 62.488, description: 'CP pin behind the quay' },
  { number: 'OL4', east: 4262.873, north: 7705.142, elevation: 62.207, description: 'CP pin by the swale' },
  { number: 'OL5', east: 4353.72, north: 7783.96, elevation: 64.951, description: 'CP peg' },
];

/** Pins down what a slip in the demo is, so that a test can find each of them. */
export interface Slip {
  kind: string;
  where: string;
}

/** Observes the site in the order of two days, with believable noise; no slips yet. */
class Crew {
  readonly shots: Shot[] = [];
  private number: number;
  private readonly random;

  constructor(seed: number, first: number) {
    this.random = seeded(seed);
    this.number = first;
  }

  shoot(spot: Spot, description: string, elevation = elevationAt(spot), spread = 0.008): Shot {
    const shot = {
      number: String(this.number++),
      east: CORNER.east + spot.u + this.random.normal(spread),
      north: CORNER.north + spot.v + this.random.normal(spread),
      elevation: elevation + this.random.normal(spread * 1.5),
      description,
    };
    this.shots.push(shot);
    return shot;
  }

  /** A line: begin on the first, end or close on the last, curve words between two places of it. */
  line(
    course: Spot[],
    name: string,
    options: { lift?: number; close?: boolean; arc?: [number, number]; level?: number } = {},
  ): Shot[] {
    return course.map((spot, i) => {
      const words = [name];
      if (i === 0) words.push('BEG');
      if (options.arc?.[0] === i) words.push('CUR');
      if (options.arc?.[1] === i) words.push('CURX');
      if (i === course.length - 1) words.push(options.close ? 'CLOSE' : 'END');
      return this.shoot(spot, words.join(' '), (options.level ?? elevationAt(spot)) + (options.lift ?? 0));
    });
  }

  /** Spot shots about every `step` metres where the test holds, walked row by row. */
  cover(from: Spot, to: Spot, step: number, code: string, holds: (s: Spot) => boolean): void {
    let row = 0;
    for (let v = from.v; v <= to.v; v += step, row++)
      for (let k = 0; k <= (to.u - from.u) / step; k++) {
        const u = row % 2 ? to.u - k * step : from.u + k * step;
        const spot = { u: u + (this.random.next() - 0.5) * step * 0.7, v: v + (this.random.next() - 0.5) * step * 0.7 };
        if (holds(spot)) this.shoot(spot, code, elevationAt(spot), 0.012);
      }
  }
}

const nearLane = (s: Spot, by: number): boolean =>
  laneCentre().spots.some((c) => Math.hypot(c.u - s.u, c.v - s.v) < by);
const nearHeap = (s: Spot): boolean => Math.hypot(s.u - HEAP.u, s.v - HEAP.v) < HEAP.radius + 1;
const onSlipway = (s: Spot): boolean => {
  const { inland, along } = fromShore(s);
  return Math.abs(along - SLIPWAY.along) < SLIPWAY.width / 2 + 1 && inland < SLIPWAY.top + 1;
};
export const BOATHOUSE = [atShore(108, 9), atShore(120, 9), atShore(120, 17), atShore(108, 17)];
const inBoathouse = (s: Spot): boolean => {
  const { inland, along } = fromShore(s);
  return along > 107 && along < 121 && inland > 8 && inland < 18;
};

export function dayOne(): Shot[] {
  const crew = new Crew(20260511, 101);
  const lane = laneCentre();
  crew.line(beside(lane.spots, -2.5), 'ED1', { arc: lane.arc });
  crew.line(lane.spots, 'LC1', { arc: lane.arc, lift: 0.05 });
  crew.line(beside(lane.spots, 2.5), 'KF1', { arc: lane.arc });
  crew.line(beside(lane.spots, 2.65), 'KT1', { arc: lane.arc, lift: 0.12 });
  const half = SLIPWAY.width / 2;
  for (const [i, side] of [half - 0.05, -half + 0.05].entries())
    crew.line(
      [15.9, 9, 2, -5, -13.9].map((inland) => atShore(SLIPWAY.along + side, inland)),
      `SL${i + 1}`,
    );
  crew.line(SWALE, 'SW1');
  crew.line(beside(SWALE, 3), 'DT1');
  crew.line(beside(SWALE, -3), 'DT2');
  const water = [8, 16, 25, 34, 43, 52, 60, 67].map((a) => atShore(a, -1.2 + 0.4 * Math.sin(a)));
  crew.line(water, 'WE1', { level: LAKE_LEVEL });
  crew.line(
    [
      { u: 6, v: 66 },
      { u: 14, v: 70 },
      { u: 22, v: 75 },
      { u: 30, v: 81 },
      { u: 37, v: 88 },
    ],
    'BT1',
  );
  crew.line(
    [
      { u: 8, v: 60 },
      { u: 16, v: 64 },
      { u: 24, v: 69 },
      { u: 32, v: 75 },
      { u: 38, v: 81 },
    ],
    'BF1',
  );
  crew.cover(
    { u: 4, v: 22 },
    { u: 92, v: 134 },
    4.75,
    'GR',
    (s) => fromShore(s).inland > 0.5 && !nearLane(s, 4) && !onSlipway(s) && s.u < 94,
  );
  return crew.shots;
}

export function dayTwo(): Shot[] {
  const crew = new Crew(20260512, 601);
  const along = [92.4, 98, 104, 110, 116, 122, 128, 134, 140, 145, 149.6];
  crew.line(
    along.map((a) => atShore(a, 0.35)),
    'QT1',
    { level: QUAY.coping },
  );
  crew.line(
    along.map((a) => atShore(a, -0.05)),
    'QF1',
    { level: QUAY.foot },
  );
  crew.line(BOATHOUSE, 'BW1', { close: true });
  const rim = (r: number, n: number): Spot[] =>
    Array.from({ length: n }, (_, i) => ({
      u: HEAP.u + r * Math.cos((i / n) * 2 * Math.PI),
      v: HEAP.v + (r / 1.15) * Math.sin((i / n) * 2 * Math.PI),
    }));
  crew.line(rim(HEAP.radius, 20), 'HM1', { close: true });
  crew.line(rim(HEAP.radius * 0.27, 8), 'HT1', { close: true });
  for (const r of [0.8, 0.6, 0.42]) for (const s of rim(HEAP.radius * r, Math.round(20 * r))) crew.shoot(s, 'HP');
  crew.shoot({ u: HEAP.u, v: HEAP.v }, 'HP');
  crew.line(
    [
      { u: 96, v: 132 },
      { u: 110, v: 133 },
      { u: 124, v: 131 },
      { u: 138, v: 127 },
      { u: 150, v: 121 },
    ],
    'FN1',
  );
  // A ridge whose end word was forgotten.
  for (const [i, r] of [
    { u: 92, v: 118 },
    { u: 95, v: 121 },
    { u: 98, v: 124 },
  ].entries())
    crew.shoot(r, i ? 'RG1' : 'RG1 BEG');
  const masts = [
    { u: 12, v: 126 },
    { u: 52, v: 119 },
    { u: 93, v: 112 },
    { u: 134, v: 104 },
    { u: 158, v: 99 },
  ];
  for (const m of masts) crew.shoot(m, 'MP');
  crew.line(masts, 'OH1', { lift: 7.2 });
  const chambers = [
    { u: 63, v: 128 },
    { u: 62.5, v: 108 },
    { u: 64, v: 88 },
    { u: 84, v: 72 },
    { u: 102, v: 66 },
  ];
  chambers.forEach((c, i) => {
    crew.shoot(c, 'LD', elevationAt(c) + 0.02);
    crew.shoot(
      { u: c.u + 0.04, v: c.v },
      i === 0 ? 'IV PI1 BEG' : i === 4 ? 'IV PI1 END' : 'IV PI1',
      elevationAt(c) - 1.35 - 0.06 * i,
    );
  });
  const random = seeded(77);
  for (let i = 0; i < 26; i++) {
    const tree = { u: 8 + random.next() * 150, v: 70 + random.next() * 62 };
    if (!nearLane(tree, 5) && !nearHeap(tree)) crew.shoot(tree, random.next() < 0.8 ? 'TR' : 'SB');
  }
  for (const a of [96, 106, 124, 134, 144]) crew.shoot(atShore(a, 0.9), 'BO');
  for (const s of [
    { u: 70, v: 120 },
    { u: 70, v: 96 },
    { u: 78, v: 74 },
    { u: 131, v: 90 },
  ])
    crew.shoot(s, 'LP');
  crew.cover({ u: 94, v: 52 }, { u: 160, v: 130 }, 4.6, 'GR', (s) => {
    const { inland, along: a } = fromShore(s);
    return (
      inland > 1.2 &&
      (a < 149 || inland > 12) &&
      a < 160 &&
      !nearHeap(s) &&
      !inBoathouse(s) &&
      !onSlipway(s) &&
      !nearLane(s, 4)
    );
  });
  return crew.shots;
}

/** The sounding from a boat: lake bed, noisier. */
export function lakeBed(): Shot[] {
  const crew = new Crew(20260513, 2001);
  const random = seeded(5);
  for (let a = 10; a <= 158; a += 7.5)
    for (const inland of [-3.5, -8.5, -14, -20]) {
      const spot = atShore(a + (random.next() - 0.5) * 3, inland + (random.next() - 0.5) * 2);
      if (!onSlipway(spot)) crew.shoot(spot, 'LB', elevationAt(spot), 0.02);
    }
  return crew.shots;
}

/** Corners and edges of the designed boat park pad, level. */
export function pad(): Shot[] {
  const corners = [atShore(36, 24), atShore(60, 24), atShore(60, 44), atShore(36, 44)];
  return corners.map((c, i) => ({
    number: `P${i + 1}`,
    east: Math.round((CORNER.east + c.u) * 1000) / 1000,
    north: Math.round((CORNER.north + c.v) * 1000) / 1000,
    elevation: PAD_LEVEL,
    description: i === 0 ? 'PD1 BEG' : i === 3 ? 'PD1 CLOSE' : 'PD1',
  }));
}
