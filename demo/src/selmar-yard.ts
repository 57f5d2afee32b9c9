import { guessLayout, writeLandXml } from '#core/exchange';
import { hashBytes } from '#core/kernel';
import {
  FIRST_SURFACE,
  newDocument,
  receivedRecipe,
  type Change,
  type Intake,
  type Picture,
  type SurfaceRow,
} from '#core/project';
import { buildSurface, type Surface } from '#core/terrain';
import { airPicture, CROSSES, crossPixels } from './air-picture.ts';
import type { DemoProject } from './project.ts';
import { seeded } from './random.ts';
import type { Slip } from './survey.ts';

// A gravel yard measured every month: the ground of September as it was kept then, and October's shots with a fault of every
// kind that a terrain model is asked about.

export const SELMAR_NAME = 'Selmar Yard';
const CORNER = { x: 3400, y: 8120 };
/** Shots of the yard stand so far apart, m. */
const STEP = 7;
const HEAP = { u: 76, v: 52, radius: 13 };

/** Elevation over the site's own axes, u east and v north, with the gravel heap as high as it is that month. */
function elevation(u: number, v: number, heap: number): number {
  const yard = 84 + 0.018 * u + 0.012 * v + 0.15 * Math.sin(u / 17) * Math.cos(v / 13);
  const r = Math.hypot(u - HEAP.u, v - HEAP.v) / HEAP.radius;
  return yard + (r < 1 ? heap * (1 - r * r) : 0);
}

interface Row {
  u: number;
  v: number;
  z: number;
  code: string;
}

const isClear = (u: number, v: number): boolean => Math.hypot(u - 26, v - 50) > 13 && !(u > 92 && v < 26);

/** Shots over the whole yard, as evenly as somebody walks. */
function covered(seed: number, heap: number): Row[] {
  const random = seeded(seed);
  const rows: Row[] = [];
  for (let j = 0; j <= 10; j++)
    for (let i = 0; i <= 16; i++) {
      const [u, v] = [STEP * i + random.normal(0.8), STEP * j + random.normal(0.8)];
      if (isClear(u, v)) rows.push({ u, v, z: elevation(u, v, heap) + random.normal(0.01), code: 'GR' });
    }
  return rows;
}

/** October's shots and the slips in them. */
function october(): { rows: Row[]; slips: Slip[] } {
  const random = seeded(1031);
  const heap = 2.1;
  const rows = covered(10, heap);
  const slips: Slip[] = [];
  const add = (u: number, v: number, z: number, code: string): void => void rows.push({ u, v, z, code });
  const ground = (u: number, v: number): number => elevation(u, v, heap) + random.normal(0.008);
  const slip = (kind: string, where: string): void => void slips.push({ kind, where });
  // A target height that was read a metre and a half wrong.
  add(45.5, 17.5, ground(45.5, 17.5) + 1.5, 'GR');
  slip('spike', String(rows.length));
  // Rubble: every stone differs by as much, and one alone stands out of it.
  for (let i = 0; i < 8; i++) {
    const [u, v] = [103 + 3 * Math.cos((i * Math.PI) / 4), 13 + 3 * Math.sin((i * Math.PI) / 4)];
    add(u, v, ground(u, v) + (i % 2 ? 0.7 : -0.7), 'GR');
  }
  add(103, 13, ground(103, 13) + 1.6, 'GR');
  slip('lone-peak', String(rows.length));
  // A spoil heap taken off last year's plan: points along three contours, and none between them.
  for (const [level, radius] of [[86, 11], [86.5, 7.5], [87, 4]] as const) // prettier-ignore
    for (let a = 0; a < 300; a += 180 / radius) add(26 + radius * Math.cos((a * Math.PI) / 180), 50 + radius * Math.sin((a * Math.PI) / 180) * (1 + 0.25 * Math.sin(a / 40)), level, 'GR'); // prettier-ignore
  slip('level-triangles', SELMAR_NAME);
  // The kerb of the access road; one shot is of its top.
  for (let k = 0; k < 15; k++) {
    add(4 + 7 * k, 77, 86 + 0.014 * 7 * k + random.normal(0.003) + (k === 6 ? 0.12 : 0), `KF1${k === 0 ? ' BEG' : ''}`);
    if (k === 6) slip('line-step', String(rows.length));
  }
  // A ditch and the edge of the hard surface that cross, half a metre apart in height.
  for (const [k, u] of [8, 16, 24, 32].entries()) add(u, 12 + 0.3 * u, ground(u, 12 + 0.3 * u) - 0.5, `DT1${k === 0 ? ' BEG' : ''}`); // prettier-ignore
  for (const [k, u] of [10, 18, 26].entries()) add(u, 24 - 0.3 * u, ground(u, 24 - 0.3 * u), `ED1${k === 0 ? ' BEG' : ''}`); // prettier-ignore
  slip('meeting-breaklines', 'DT1');
  // Two lines off the old plan as contours; the second changes its elevation on the way.
  for (const [k, u] of [60, 68, 76].entries()) add(u, 6, 84.9, `CT1${k === 0 ? ' BEG' : ''}`);
  for (const [k, u] of [60, 68, 76].entries()) add(u, 11, k === 2 ? 85.4 : 85, `CT2${k === 0 ? ' BEG' : ''}`);
  slip('contour-uneven', 'CT2');
  // Three shots far out along the road, almost in line.
  for (const [u, v] of [[-48, 80.3], [32, 79.6], [168, 80.4]] as const) add(u, v, 86 + 0.014 * u, 'GR'); // prettier-ignore
  slip('slivers', SELMAR_NAME);
  // Check shots by the other crew, whose control is a decimetre low.
  for (let i = 0; i < 24; i++) {
    const [u, v] = [34 + 56 * random.next(), 18 + 20 * random.next()];
    add(u, v, elevation(u, v, heap) - 0.11 + random.normal(0.015), 'CK');
  }
  slip('check-shots', 'CK');
  slip('recipe-source-gone', 'swapped');
  return { rows, slips };
}

/** September's ground, as it was triangulated and kept then. */
function september(): Surface {
  const rows = covered(9, 3.4);
  const column = (of: (r: Row) => number): Float64Array => Float64Array.from(rows, (r) => Number(of(r).toFixed(3)));
  return buildSurface({
    x: column((r) => CORNER.x + r.u),
    y: column((r) => CORNER.y + r.v),
    z: column((r) => r.z),
    segments: new Uint32Array(),
    longestSide: 15,
    coincidence: 0.02,
  }).surface;
}

const KEPT = 'Yard of 2026-09-30';

/** The yard from the air at the end of August, when the heap was highest: nobody measured it then. */
const AUGUST = { name: 'yard-2026-08-31.png', heap: 4.1 };

function augustPicture(): { bytes: Uint8Array; picture: Omit<Picture, 'fileId' | 'sha256'> } {
  const { png, side, pixel } = airPicture((u, v) => elevation(u, v, AUGUST.heap), HEAP);
  const [from, to] = crossPixels().map(({ column, row }): [number, number] => [column, row]);
  const half = (side * pixel) / 2;
  return {
    bytes: png,
    picture: {
      id: 'august',
      name: 'Yard from the air, 2026-08-31',
      fileName: AUGUST.name,
      width: side,
      height: side,
      matrix: [pixel, 0, CORNER.x + HEAP.u - half, 0, -pixel, CORNER.y + HEAP.v + half, 0, 0, 1],
      placed: { by: 'length', from, to, length: CROSSES.apart },
      opacity: 0.85,
      brightness: 0,
      hidden: false,
    },
  };
}

/** The files of Selmar Yard, and the slips in them by name. */
export function selmarFiles(): { slips: Slip[]; files: { name: string; bytes: Uint8Array; text: string }[] } {
  const { rows, slips } = october();
  const shots = rows.map(({ u, v, z, code }, i) => [i + 1, (CORNER.x + u).toFixed(3), (CORNER.y + v).toFixed(3), z.toFixed(3), code].join(',')); // prettier-ignore
  const kept = writeLandXml({ project: KEPT, made: '2026-09-30T16:00:00Z', points: [], breaklines: [], surfaces: [{ name: KEPT, surface: september() }] }, 'm', 4); // prettier-ignore
  const files = [
    { name: 'yard-2026-09-30.xml', text: kept },
    { name: 'yard-2026-10-30.csv', text: ['Number,East [m],North [m],Elevation [m],Code', ...shots].join('\r\n') + '\r\n' }, // prettier-ignore
  ];
  const texts = files.map((f) => ({ ...f, bytes: new TextEncoder().encode(f.text) }));
  return { slips, files: [...texts, { name: AUGUST.name, text: '', bytes: augustPicture().bytes }] };
}

/** Selmar Yard at the end of October: this month's ground beside last month's, nothing mended yet. */
export function selmarProject(): DemoProject {
  const files = selmarFiles().files.map((f, i) => ({ id: `selmar-${i + 1}`, ...f }));
  const [kept, shots, air] = files;
  const { layout } = guessLayout(shots.text.split('\r\n').slice(0, 200), { fileName: shots.name, unit: 'm', near: [], order: 'EN', knownCodes: new Set() }); // prettier-ignore
  const intake = (file: typeof kept, part: Pick<Intake, 'layout' | 'purpose'>): Intake => ({
    id: file.id,
    fileId: file.id,
    fileName: file.name,
    sha256: hashBytes(file.bytes),
    on: true,
    numbers: { all: 'both', each: {} },
    ...part,
  });
  const row = (r: SurfaceRow): Change => ({ op: 'surface.row', surface: FIRST_SURFACE, row: r });
  const { codeList } = newDocument();
  const contour = { ...codeList.codes.find((c) => c.code === 'BT')!, code: 'CT', name: 'contour off a plan', layer: 'OLD-CONTOUR', breakline: false }; // prettier-ignore
  const changes: Change[] = [
    { op: 'codes.set', codeList: { ...codeList, codes: [...codeList.codes, contour] } },
    {
      op: 'intake.add',
      intake: intake(kept, {
        layout: {
          separator: '\t',
          decimal: '.',
          skipRows: 1,
          roles: ['P', 'E', 'N', 'Z', 'D'],
          unit: 'm',
          surface: KEPT,
        },
        purpose: 'design',
      }),
    },
    { op: 'surface.add', surface: { ...receivedRecipe({ id: 'september', name: KEPT }, kept.id), role: 'other' } },
    { op: 'intake.add', intake: intake(shots, { layout, purpose: 'survey' }) },
    { op: 'surface.edit', id: FIRST_SURFACE, set: { longestSide: 'none' } },
    row({ id: 'contours', on: true, kind: 'contours', codes: ['CT'] }),
    row({ id: 'checks', on: true, kind: 'checks', rule: { codes: ['CK'] }, within: 0.1 }),
    // A side that was swapped before the yard was measured again.
    row({ id: 'swapped', on: true, kind: 'swap', ends: [CORNER.x + 50, CORNER.y + 30, CORNER.x + 57, CORNER.y + 37] }),
    {
      op: 'comparison.set',
      comparison: { id: 'month', name: 'Gravel taken in October', surface: FIRST_SURFACE, against: { surface: 'september' }, within: heapRing() }, // prettier-ignore
    },
  ];
  changes.push({
    op: 'picture.set',
    id: 'august',
    picture: { ...augustPicture().picture, fileId: air.id, sha256: hashBytes(air.bytes) },
  });
  return {
    name: SELMAR_NAME,
    description: 'A gravel yard measured every month, with a fault of every kind that a surface can have',
    settings: {},
    files: files.map(({ id, name, bytes }) => ({ id, name, bytes })),
    changes,
  };
}

const heapRing = (): number[] =>
  Array.from({ length: 32 }, (_, i) => (i / 32) * 2 * Math.PI).flatMap((a) => [
    CORNER.x + HEAP.u + (HEAP.radius + 2) * Math.cos(a),
    CORNER.y + HEAP.v + (HEAP.radius + 2) * Math.sin(a),
  ]);

/** What is asked of a surface: of each kind there is one in this yard. */
export const GROUND_KINDS = ['spike', 'line-step', 'lone-peak', 'level-triangles', 'slivers', 'meeting-breaklines', 'check-shots', 'contour-uneven', 'recipe-source-gone'] as const; // prettier-ignore
