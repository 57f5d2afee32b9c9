import {
  geographicAt,
  geoidHeight,
  makeSystem,
  systemFromParameters,
  WGS84,
  writeGtx,
  type GeoidGrid,
  type PublishedSystem,
} from '#core/basis';
import { hashBytes } from '#core/kernel';
import { guessLayout } from '#core/exchange';
import { FIRST_SURFACE, newDocument, type Change, type Given, type Intake, type Settings } from '#core/project';
import { METRES_IN } from '#core/measure';
import { seeded } from './random.ts';
import type { DemoProject } from './project.ts';
import type { Shot, Slip } from './survey.ts';

// A gravel yard on an invented island, in US survey feet on the island's own grid. Its crews show what goes
// wrong with the meaning of numbers: assumed coordinates, one typed wrong, the wrong foot, a revised sheet.

export const TARN_NAME = 'Tarn Hollow Yard';
const FOOT = METRES_IN.usft;
/** Grid over ground as the control sheet states it. */
export const TARN_FACTOR = 0.9999341;
/** US survey feet; where the grid is turned into ground. */
const BASE = { east: 2_014_300, north: 381_200 };
/** The crew's assumed start, US survey feet, and its azimuth's error, degrees. */
const ASSUMED = { east: 5000, north: 5000, turn: 12.4375 };

export function tarnSystem(): PublishedSystem {
  const made = systemFromParameters({
    name: 'Isle of Tarn grid, Lambert, US survey feet',
    method: 'lcc2',
    latitude: 45,
    longitude: -28,
    parallel1: 45.5,
    parallel2: 46.5,
    scale: 1,
    falseEast: 2_000_000 * FOOT,
    falseNorth: 0,
    ellipsoid: 'GRS80',
    datum: { kind: 'same' },
  });
  if (!made.ok) throw new Error(made.reason);
  const { name, definition } = made.system;
  const island = makeSystem({ name, code: null, definition, area: { west: -29, south: 45, east: -27, north: 47 } });
  if (!island.ok) throw new Error(island.reason);
  return { ...island.system, unit: 'usft' };
}

/** East, north, elevation in US survey feet. */
interface Place {
  east: number;
  north: number;
  elevation: number;
}

const place = (u: number, v: number): Place => ({
  east: BASE.east + u,
  north: BASE.north + v,
  elevation: 412 + 0.012 * u - 0.02 * v + heap(u, v),
});

/** A heap of gravel, 22 ft high, on the yard's north side. */
const HEAP = { u: 310, v: 260, radius: 70, height: 22 };
function heap(u: number, v: number): number {
  const r = Math.sqrt((u - HEAP.u) ** 2 + (v - HEAP.v) ** 2) / HEAP.radius;
  return r >= 1 ? 0 : HEAP.height * (1 - r);
}

const MARKS: Record<string, [number, number]> = {
  TH1: [-60.218, -40.463],
  TH2: [560.907, -25.331],
  TH3: [575.446, 430.772],
  TH4: [-45.589, 415.127],
  TH5: [260.303, 120.654],
  TH6: [160.871, 470.238],
};

const control = (): Shot[] =>
  Object.entries(MARKS).map(([number, [u, v]]) => ({ number, ...place(u, v), description: 'CP' }));

/** The revised sheet holds what is true; the first one had TH5 before it was knocked by a truck. */
const REVISED = { east: 0.11, north: -0.06 };

class Crew {
  readonly shots: Shot[] = [];
  private readonly random;

  constructor(
    seed: number,
    private number: number,
  ) {
    this.random = seeded(seed);
  }

  shoot(at: Place, description: string, number = String(this.number++)): void {
    const noise = (): number => this.random.normal(0.015);
    this.shots.push({
      number,
      east: at.east + noise(),
      north: at.north + noise(),
      elevation: at.elevation + noise(),
      description,
    });
  }
}

function yard(): Shot[] {
  const crew = new Crew(711, 1001);
  for (const name of ['TH1', 'TH2', 'TH3', 'TH4']) crew.shoot(place(...MARKS[name]), 'CP', name);
  const knocked = place(...MARKS.TH5);
  crew.shoot({ ...knocked, east: knocked.east + REVISED.east, north: knocked.north + REVISED.north }, 'CP', 'TH5');
  const rim = Array.from({ length: 16 }, (_, i) => {
    const a = (i / 16) * 2 * Math.PI;
    return place(HEAP.u + HEAP.radius * Math.cos(a), HEAP.v + HEAP.radius * Math.sin(a));
  });
  rim.forEach((p, i) => crew.shoot(p, `HM1${i === 0 ? ' BEG' : i === 15 ? ' CLOSE' : ''}`));
  for (const r of [0.66, 0.33])
    for (let i = 0; i < 8; i++) {
      const a = ((i + r) / 8) * 2 * Math.PI;
      crew.shoot(place(HEAP.u + r * HEAP.radius * Math.cos(a), HEAP.v + r * HEAP.radius * Math.sin(a)), 'HP');
    }
  crew.shoot(place(HEAP.u, HEAP.v), 'HP');
  const fence: [number, number][] = [
    [-40, -20],
    [540, -10],
    [550, 410],
    [-30, 400],
  ];
  fence.forEach(([u, v], i) => crew.shoot(place(u, v), `FN1${i === 0 ? ' BEG' : i === 3 ? ' CLOSE' : ''}`));
  for (let v = 10; v <= 390; v += 60)
    for (let u = -10; u <= 530; u += 60) if (heap(u, v) === 0) crew.shoot(place(u, v), 'GR');
  return crew.shots;
}

function gate(): Shot[] {
  const crew = new Crew(44, 2001);
  for (const name of ['TH4', 'TH6']) crew.shoot(place(...MARKS[name]), 'CP', name);
  for (const side of [0, 24])
    for (let i = 0; i <= 8; i++)
      crew.shoot(place(20 + 18 * i, 420 + side), `ED${side ? 2 : 1}${i === 0 ? ' BEG' : i === 8 ? ' END' : ''}`);
  return crew.shots;
}

/** From the grid to what the crew's assumed start and azimuth made of it. */
function assumed(s: Shot): Shot {
  const angle = (ASSUMED.turn * Math.PI) / 180;
  const [u, v] = [(s.east - BASE.east) / TARN_FACTOR, (s.north - BASE.north) / TARN_FACTOR];
  return {
    ...s,
    east: ASSUMED.east + u * Math.cos(angle) - v * Math.sin(angle),
    north: ASSUMED.north + u * Math.sin(angle) + v * Math.cos(angle),
  };
}

export function tarnGeoid(): GeoidGrid {
  const [rows, columns] = [21, 21];
  const values = new Float32Array(rows * columns);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      values[r * columns + c] = 54.2 + 0.06 * r - 0.035 * c + 0.002 * (r - 10) * (c - 10);
  return { south: 45, west: -29, latitudeStep: 0.1, longitudeStep: 0.1, rows, columns, values };
}

/** Shots of a receiver that gives latitude, longitude and ellipsoidal heights, as rows of a file. */
function receiver(system: PublishedSystem, geoid: GeoidGrid): string[] {
  const crew = new Crew(9, 1);
  for (let i = 0; i < 12; i++) crew.shoot(place(40 + 42 * i, -60 - (i % 3) * 12), 'GR');
  return crew.shots.map((s) => {
    const at = geographicAt(system, s.east * FOOT, s.north * FOOT)!;
    const height = s.elevation * FOOT + geoidHeight(geoid, at.longitude, at.latitude);
    return `G${s.number},${at.latitude.toFixed(9)},${at.longitude.toFixed(9)},${height.toFixed(4)},${s.description}`;
  });
}

const lines = (rows: string[]): string => rows.join('\r\n') + '\r\n';
const row = (s: Shot, order: 'EN' | 'NE', separator: string, decimals = 3): string =>
  [
    s.number,
    ...(order === 'EN' ? [s.east, s.north] : [s.north, s.east]).map((n) => n.toFixed(decimals)),
    s.elevation.toFixed(2),
    s.description,
  ].join(separator);

/** The files that came in for Tarn Hollow, and the slips in them by name. */
export function tarnFiles(): { files: { name: string; text?: string; bytes: Uint8Array }[]; slips: Slip[] } {
  const first = control();
  const revised = first
    .filter((c) => c.number === 'TH5' || c.number === 'TH6')
    .map((c) =>
      c.number === 'TH5'
        ? { ...c, east: c.east + REVISED.east, north: c.north + REVISED.north, elevation: c.elevation }
        : c,
    );
  const local = yard().map(assumed);
  // Two digits of a northing exchanged when the mark was typed in.
  const wrong = local.find((s) => s.number === 'TH3')!;
  wrong.north += 27;
  const text = {
    'tarn-control.csv': lines([
      'Number,North [us ft],East [us ft],Elevation [us ft],Code',
      ...first.map((s) => row(s, 'NE', ',')),
    ]),
    'tarn-control-revised.csv': lines([
      'Number,North [us ft],East [us ft],Elevation [us ft],Code',
      ...revised.map((s) => row(s, 'NE', ',')),
    ]),
    'yard-assumed.txt': lines(local.map((s) => row(s, 'NE', ' '))),
    // The receiver's heading says international feet; its numbers are US survey feet.
    'gate-road.csv': lines(['Point,East [ft],North [ft],Elevation [ft],Code', ...gate().map((s) => row(s, 'EN', ','))]),
    'receiver.csv': lines([
      'Number,Latitude,Longitude,Ellipsoidal height [m],Code',
      ...receiver(tarnSystem(), tarnGeoid()),
    ]),
  };
  const slips: Slip[] = [
    { kind: 'held-back', where: 'TH3' },
    { kind: 'other-unit', where: 'gate-road.csv' },
    { kind: 'control-differs', where: 'TH5' },
  ];
  const encoded = Object.entries(text).map(([name, t]) => ({ name, text: t, bytes: new TextEncoder().encode(t) }));
  return { files: [...encoded, { name: 'tarn-geoid.gtx', bytes: writeGtx(tarnGeoid()) }], slips };
}

const SETTINGS: Partial<Settings> = {
  unit: 'usft',
  order: 'NE',
  decimals: 3,
  elevationDecimals: 2,
  areaUnit: 'ac',
  volumeUnit: 'yd3',
  chainage: 'hundreds',
  plotScale: 480,
  contourInterval: FOOT,
  indexEvery: 5,
  longestSide: 100 * FOOT,
};

/** Tarn Hollow as its surveyor has it on the first morning: everything taken in, nothing decided. */
export function tarnProject(): DemoProject {
  const files = tarnFiles().files.map((f, i) => ({ id: `tarn-${i + 1}`, ...f }));
  const doc = newDocument(SETTINGS);
  const knownCodes = new Set(doc.codeList.codes.map((c) => c.code));
  const given: Record<string, Given> = {
    'tarn-control.csv': sheet('2026-04-14', 'sheet 7'),
    'tarn-control-revised.csv': sheet('2026-09-02', 'sheet 7, revised'),
  };
  const changes: Change[] = [];
  const geoid = files.find((f) => f.name.endsWith('.gtx'))!;
  changes.push({
    op: 'basis.set',
    basis: {
      system: tarnSystem(),
      factor: TARN_FACTOR,
      factorSource: 'Isle Survey Office, sheet 7',
      base: { x: BASE.east * FOOT, y: BASE.north * FOOT },
      geoid: { fileId: geoid.id, name: geoid.name, sha256: hashBytes(geoid.bytes), format: 'gtx' },
    },
  });
  for (const file of files) {
    if (!file.text) continue;
    const guess = guessLayout(file.text.split('\r\n').slice(0, 200), {
      fileName: file.name,
      unit: 'usft',
      near: [],
      order: 'NE',
      knownCodes,
    });
    const intake: Intake = {
      id: file.id,
      fileId: file.id,
      fileName: file.name,
      sha256: hashBytes(file.bytes),
      layout: guess.layout,
      purpose: file.name.startsWith('tarn-control') ? 'control' : 'survey',
      on: true,
      numbers: { all: 'both', each: {} },
      ...(given[file.name] ? { given: given[file.name] } : {}),
      ...(file.name === 'receiver.csv' ? { system: WGS84, heights: 'ellipsoidal' as const } : {}),
    };
    changes.push({ op: 'intake.add', intake });
  }
  changes.push({
    op: 'comparison.set',
    comparison: {
      id: 'heap',
      name: 'Gravel heap above 412 ft',
      surface: FIRST_SURFACE,
      against: { level: 412 * FOOT },
      within: Array.from({ length: 24 }, (_, i) => (i / 24) * 2 * Math.PI).flatMap((a) => [
        (BASE.east + HEAP.u + (HEAP.radius + 4) * Math.cos(a)) * FOOT,
        (BASE.north + HEAP.v + (HEAP.radius + 4) * Math.sin(a)) * FOOT,
      ]),
    },
  });
  return {
    name: TARN_NAME,
    description: 'A gravel yard in US survey feet on the island’s grid, begun on assumed coordinates',
    settings: SETTINGS,
    files: files.map(({ id, name, bytes }) => ({ id, name, bytes })),
    changes,
  };
}

const sheet = (date: string, source: string): Given => ({
  by: 'Isle Survey Office',
  date,
  source,
  standing: 'fixed',
  plan: 0.012,
  height: 0.015,
});
