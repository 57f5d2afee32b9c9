import { writeBookText, PLAIN_INSTRUMENT, emptyRecord, NO_QUALITY } from '#core/book';
import { hashBytes } from '#core/kernel';
import { type Change, type Given, type Intake } from '#core/project';
import { guessLayout } from '#core/exchange';
import { SimulatedInstrument, type Mark } from './instrument.ts';
import type { DemoProject } from './project.ts';
import { seeded } from './random.ts';
import type { Slip } from './survey.ts';

// A flood bank with its ditch, surveyed by two crews with instruments: two raw books, and the slips in them.

export const KESSA_NAME = 'Kessa Bank';
const CORNER = { x: 2140, y: 5210 };
const SECOND = Math.PI / 648_000;

/** Elevation over the site's own axes: u along the bank, v across, north. */
export function kessaElevation(u: number, v: number): number {
  const ground = 48 + 0.006 * u + 0.01 * v;
  const across = Math.abs(v - 30);
  if (across <= 2) return ground + 3;
  if (across < 8) return ground + 3 * (1 - (across - 2) / 6);
  const ditch = Math.abs(v - 46);
  return ditch < 3 ? ground - 1.2 * (1 - ditch / 3) : ground;
}

const mark = (number: string, u: number, v: number): Mark => ({
  number,
  x: CORNER.x + u,
  y: CORNER.y + v,
  z: kessaElevation(u, v),
});

export const KESSA_CONTROL: Mark[] = [
  mark('KB1', 6.214, 12.08),
  mark('KB2', 92.551, 8.417),
  mark('KB3', 163.902, 14.335),
  mark('KB4', 84.12, 30.4),
  mark('KB5', 18.77, 57.93),
  mark('KB6', 151.36, 60.218),
].map((m) => ({ ...m, x: round(m.x), y: round(m.y), z: round(m.z) }));

function round(v: number): number {
  return Number(v.toFixed(3));
}

const at = (number: string): Mark => KESSA_CONTROL.find((m) => m.number === number)!;

interface Shot {
  mark: Mark;
  code: string;
}

const COURSES: [code: string, v: number][] = [
  ['BF1', 22],
  ['BT1', 28],
  ['BT2', 32],
  ['BF2', 38],
];
const DITCH: [code: string, v: number][] = [
  ['DT1', 43],
  ['DB1', 46],
  ['DT2', 49],
];

function course(first: number, code: string, v: number, from: number, to: number): Shot[] {
  const out: Shot[] = [];
  for (let u = from; u <= to; u += 12)
    out.push({
      mark: mark(String(first + out.length), u, v),
      code: `${code}${u === from ? ' BEG' : u + 12 > to ? ' END' : ''}`,
    });
  return out;
}

function spots(first: number, vs: number[]): Shot[] {
  const out: Shot[] = [];
  for (const v of vs)
    for (let u = 4; u <= 168; u += 12) out.push({ mark: mark(String(first + out.length), u, v), code: 'GR' });
  return out;
}

const INSTRUMENT = {
  ...PLAIN_INSTRUMENT,
  name: 'T1',
  direction: 3 * SECOND,
  zenith: 3 * SECOND,
  distance: 0.002,
  ppm: 2,
};

/** Crew one: the bank. Two setups on control; the second names the wrong backsight, and a pole stays long. */
function crewOne() {
  const t = new SimulatedInstrument(31, INSTRUMENT, { temperature: 19, pressure: 1004, humidity: 55 }, { index: 9 * SECOND, collimation: 6 * SECOND }); // prettier-ignore
  t.addTarget('R1', -0.02);
  t.weather();
  const shots: Shot[] = [];
  t.setup(at('KB1'), 1.582, 1.234, { target: 'R1' });
  t.sight(at('KB2'), { role: 'back', th: 1.5, faces: 2, target: 'R1' });
  // The pole had been drawn out to 2.000, and nobody wrote it down.
  t.sight(at('KB5'), { role: 'check', th: 2, written: 1.5, target: 'R1' });
  const near = COURSES.flatMap(([code, v], i) => course(101 + 20 * i, code, v, 0, 84));
  for (const s of near) {
    const long = s.code.startsWith('BF2');
    t.sight(s.mark, { th: long ? 2 : 1.5, code: s.code, target: 'R1' });
    shots.push(s);
  }
  t.remark('battery changed');
  t.setup(at('KB4'), 1.611, 4.02, { target: 'R1' });
  // KB6 was written, KB3 was sighted.
  t.sight(at('KB3'), { role: 'back', th: 1.5, faces: 2, called: 'KB6', target: 'R1' });
  t.sight(at('KB2'), { role: 'check', th: 1.5, target: 'R1' });
  const far = COURSES.flatMap(([code, v], i) => course(201 + 20 * i, code.replace(/\d/, (d) => String(Number(d) + 2)), v, 96, 168)); // prettier-ignore
  for (const s of far) {
    t.sight(s.mark, { th: 1.5, code: s.code, target: 'R1' });
    shots.push(s);
  }
  // A mark for tomorrow, beyond the ditch.
  const peg = mark('T1', 120.4, 63.8);
  t.sight(peg, { th: 1.5, code: 'PG', target: 'R1', faces: 2 });
  return { book: t.book('Kessa Bank, crew one'), shots: [...shots, { mark: peg, code: 'PG' }] };
}

/** Crew two: ditch and field. A free station, a carried one, an instrument height misread, a receiver. */
function crewTwo() {
  const t = new SimulatedInstrument(57, { ...INSTRUMENT, name: 'T2' }, { temperature: 8, pressure: 1011, humidity: 80 }, { index: -14 * SECOND, collimation: -5 * SECOND }, 0.13, '2026-07-20T08:05'); // prettier-ignore
  t.addTarget('R2', -0.03);
  t.weather();
  // Typed from a photograph of the sheet: one digit is another.
  t.point({ ...at('KB6'), y: at('KB6').y + 0.3 });
  const shots: Shot[] = [];
  const free = mark('FS1', 60, 66);
  t.setup(free, 1.497, 2.1, { target: 'R2' });
  for (const number of ['KB1', 'KB2', 'KB5']) t.sight(at(number), { role: 'back', th: 1.8, faces: 2, target: 'R2' });
  const ditch = DITCH.flatMap(([code, v], i) => course(301 + 20 * i, code, v, 0, 84));
  const field = spots(401, [56, 64, 72]);
  for (const s of [...ditch, ...field.slice(0, 24)]) {
    t.sight(s.mark, { th: 1.8, code: s.code, target: 'R2' });
    shots.push(s);
  }
  const peg = mark('T1', 120.4, 63.8);
  // 1.532 was measured, 1.352 was written.
  t.setup(peg, 1.532, 0.4, { hi: 1.352, target: 'R2' });
  t.sight(at('KB6'), { role: 'back', th: 1.8, faces: 2, target: 'R2' });
  t.sight(at('KB3'), { role: 'check', th: 1.8, target: 'R2' });
  const rest = DITCH.flatMap(([code, v], i) => course(501 + 20 * i, code.replace(/\d/, (d) => String(Number(d) + 2)), v, 96, 168)); // prettier-ignore
  rest[4].code = rest[4].code.replace('DT', 'DR');
  for (const s of [...rest, ...field.slice(24)]) {
    t.sight(s.mark, { th: 1.8, code: s.code, target: 'R2' });
    shots.push(s);
  }
  const random = seeded(4);
  for (let i = 0; i < 16; i++) {
    const m = mark(`S${i + 1}`, 6 + 10 * i, 4 + (i % 3));
    const r = emptyRecord('gnss', 0);
    Object.assign(r, {
      number: m.number,
      code: 'GR',
      x: m.x + random.normal(0.01),
      y: m.y + random.normal(0.01),
      z: m.z + random.normal(0.018),
      gnss: {
        ...NO_QUALITY,
        plan: i === 9 ? 0.24 : 0.01,
        height: i === 9 ? 0.41 : 0.018,
        fix: i === 9 ? 'float' : 'fixed',
        method: 'network',
        satellites: i === 9 ? 7 : 16,
        pdop: i === 9 ? 4.8 : 1.6,
      },
    });
    t.records.push(r);
    if (i !== 9) shots.push({ mark: m, code: 'GR' });
  }
  return { book: t.book('Kessa Bank, crew two'), shots };
}

/** Crew three: a traverse along the field with its heights by level, for tomorrow's setups; nothing wrong with it. */
function crewThree() {
  const t = new SimulatedInstrument(83, { ...INSTRUMENT, name: 'T1' }, { temperature: 14, pressure: 1008, humidity: 65 }, { index: 9 * SECOND, collimation: 6 * SECOND }, 0.13, '2026-07-21T08:10'); // prettier-ignore
  t.addTarget('R1', -0.02);
  t.weather();
  const [p1, p2] = [mark('TR1', 62.4, 86.1), mark('TR2', 112.8, 90.3)];
  const stations = [at('KB5'), p1, p2, at('KB6')];
  stations.forEach((s, i) => {
    t.setup(s, 1.55 + 0.02 * i, 0.7 + i, { target: 'R1' });
    const back = i === 0 ? at('KB1') : stations[i - 1];
    t.sight(back, { role: 'back', th: 1.5, faces: 2, target: 'R1' });
    if (i < 3) t.sight(stations[i + 1], { th: 1.5, faces: 2, target: 'R1', code: i < 2 ? 'PG' : '' });
    else t.sight(at('KB3'), { role: 'check', th: 1.5, faces: 2, target: 'R1' });
  });
  t.remark('level, in the afternoon');
  const turning = [mark('W1', 40, 70), mark('W2', 88, 88), mark('W3', 132, 76)];
  const [w1, w2, w3] = turning;
  for (const [from, to] of [[at('KB5'), w1], [w1, p1], [p1, w2], [w2, p2], [p2, w3], [w3, at('KB6')]]) t.level(from, to); // prettier-ignore
  return { book: t.book('Kessa Bank, crew three'), shots: [p1, p2].map((m) => ({ mark: m, code: 'PG' })) };
}

/** The files of Kessa Bank, the slips in them, and where every shot truly lies. */
export function kessaFiles(): {
  files: { name: string; text: string; bytes: Uint8Array }[];
  slips: Slip[];
  truth: Mark[];
} {
  const one = crewOne();
  const two = crewTwo();
  const three = crewThree();
  const control = ['Number,East [m],North [m],Elevation [m],Code', ...KESSA_CONTROL.map((m) => `${m.number},${m.x.toFixed(3)},${m.y.toFixed(3)},${m.z.toFixed(3)},CP`)]; // prettier-ignore
  const texts = {
    'kessa-control.csv': control.join('\r\n') + '\r\n',
    'kessa-one.book': writeBookText(one.book),
    'kessa-two.book': writeBookText(two.book),
    'kessa-three.book': writeBookText(three.book),
  };
  return {
    files: Object.entries(texts).map(([name, text]) => ({ name, text, bytes: new TextEncoder().encode(text) })),
    slips: [
      { kind: 'target-height', where: 'KB5' },
      { kind: 'backsight-wrong', where: 'KB3' },
      { kind: 'instrument-height', where: 'T1' },
      { kind: 'typed-differs', where: 'KB6' },
      { kind: 'gnss-poor', where: 'S10' },
      { kind: 'unknown-code', where: 'DR' },
    ],
    truth: [...one.shots, ...two.shots, ...three.shots].map((s) => s.mark),
  };
}

const SHEET: Given = {
  by: 'Kessa drainage board',
  date: '2026-07-20',
  source: 'traverse of July',
  standing: 'fixed',
  plan: 0.003,
  height: 0.003,
};

/** Kessa Bank as its office has it in the evening: control and two raw books, nothing decided. */
export function kessaProject(): DemoProject {
  const files = kessaFiles().files.map((f, i) => ({ id: `kessa-${i + 1}`, ...f }));
  const changes: Change[] = files.map((file) => {
    const isControl = file.name.endsWith('.csv');
    const { layout } = guessLayout(isControl ? file.text.split('\r\n').slice(0, 50) : ['1,2,3'], {
      fileName: file.name,
      unit: 'm',
      near: [],
      order: 'EN',
      knownCodes: new Set(),
    });
    const intake: Intake = {
      id: file.id,
      fileId: file.id,
      fileName: file.name,
      sha256: hashBytes(file.bytes),
      layout,
      purpose: isControl ? 'control' : 'survey',
      on: true,
      numbers: { all: 'both', each: {} },
      ...(isControl ? { given: SHEET } : { form: 'book' as const }),
    };
    return { op: 'intake.add', intake };
  });
  return {
    name: KESSA_NAME,
    description: 'A flood bank and its ditch: three raw books, with the slips that crews make',
    settings: {},
    files: files.map(({ id, name, bytes }) => ({ id, name, bytes })),
    changes,
  };
}
