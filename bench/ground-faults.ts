import { runChain } from '#core/chain';
import { readPoints } from '#core/exchange';
import { newDocument, type SurfaceRow } from '#core/project';
import type { Query } from '#core/queries';

// Invented ground with faults of a surface planted in it, and as much without: how often each is asked about.

const KINDS = [
  'wrong height',
  'contours as points',
  'sliver at the rim',
  'check shots off',
  'step along a kerb',
] as const;
type Kind = (typeof KINDS)[number];
const ASKS: Record<Kind, Query['kind'][]> = {
  'wrong height': ['spike', 'lone-peak'],
  'contours as points': ['level-triangles'],
  'sliver at the rim': ['slivers'],
  'check shots off': ['check-shots'],
  'step along a kerb': ['line-step', 'spike', 'off-course'],
};

/** Numbers between 0 and 1, the same for the same seed. */
function randomOf(seed: number): () => number {
  let s = (seed * 2654435761) >>> 0 || 1;
  return () => {
    s ^= s << 13;
    s >>>= 0;
    s ^= s >>> 17;
    s ^= s << 5;
    s >>>= 0;
    return s / 4294967296;
  };
}

interface Site {
  rows: string[];
  /** Where the fault is, m; null where there is none. */
  at: { x: number; y: number } | null;
}

function siteOf(seed: number, kind: Kind | null): Site {
  const random = randomOf(seed);
  const waves = Array.from({ length: 4 }, () => ({ a: 0.3 + 0.7 * random(), k: 0.02 + 0.05 * random(), l: 0.02 + 0.05 * random(), p: 6 * random() })); // prettier-ignore
  const tilt = 0.02 + 0.06 * random();
  const z = (x: number, y: number): number => 50 + tilt * x + waves.reduce((sum, w) => sum + w.a * Math.sin(w.k * x + w.l * y + w.p), 0); // prettier-ignore
  const rows: string[] = [];
  const add = (x: number, y: number, h: number, code: string): void =>
    void rows.push(`${rows.length + 1},${(1000 + x).toFixed(3)},${(2000 + y).toFixed(3)},${h.toFixed(3)},${code}`);
  const hole = kind === 'contours as points' ? { x: 30 + 40 * random(), y: 25 + 25 * random() } : null;
  for (let i = 0; i < 16; i++)
    for (let j = 0; j < 13; j++) {
      const [x, y] = [6 * i + 2.4 * (random() - 0.5), 6 * j + 2.4 * (random() - 0.5)];
      if (hole && Math.hypot(x - hole.x, y - hole.y) < 16) continue;
      add(x, y, z(x, y) + 0.03 * (random() - 0.5), 'GR');
    }
  for (let k = 0; k < 10; k++) add(4 + 9 * k, 41 + 3 * Math.sin(k), z(4 + 9 * k, 41 + 3 * Math.sin(k)), `KT1${k === 0 ? ' BEG' : ''}`); // prettier-ignore
  for (let k = 0; k < 25; k++) {
    const [x, y] = [6 + 78 * random(), 6 + 60 * random()];
    add(x, y, z(x, y) + (kind === 'check shots off' ? 0.25 + 0.1 * random() : 0.02 * (random() - 0.5)), 'CK');
  }
  if (kind === 'wrong height') {
    const [x, y] = [10 + 70 * random(), 10 + 55 * random()];
    const off = (1.2 + 2 * random()) * (random() < 0.5 ? -1 : 1);
    add(x, y, z(x, y) + off, 'GR');
    return { rows, at: { x: 1000 + x, y: 2000 + y } };
  }
  if (hole) {
    // A ridge of three contours, bent, with points close together along them.
    for (const [level, r] of [[58, 12], [58.5, 8], [59, 4]] as const) for (let a = 0; a < 300; a += 200 / r) add(hole.x + r * Math.cos((a * Math.PI) / 180) * (1 + 0.3 * Math.sin(a / 40)), hole.y + r * Math.sin((a * Math.PI) / 180), level, 'GR'); // prettier-ignore
    return { rows, at: { x: 1000 + hole.x, y: 2000 + hole.y } };
  }
  if (kind === 'sliver at the rim') {
    // A row of points far out, a little off the line between its ends.
    const y = 78 + 2 * random();
    add(-40, y + 0.3, z(-40, y), 'GR');
    add(30 + 20 * random(), y - 0.05, z(40, y), 'GR');
    add(130, y + 0.3, z(130, y), 'GR');
    return { rows, at: { x: 1040, y: 2000 + y } };
  }
  // A kerb along the site, crested and dipped, with a driveway of two low shots; one shot of the other edge where it is wrong.
  let stepped: Site['at'] = null;
  const wrong = 3 + Math.floor(9 * random());
  const driveway = wrong < 8 ? 11 : 3;
  for (let k = 0; k < 15; k++) {
    const [x, y] = [3 + 6 * k, 90 + 1.5 * Math.sin(k / 3)];
    const profile = 52 + 0.02 * x + (k > 6 ? 0.02 * (x - 39) : 0) + 0.004 * (random() - 0.5);
    const low = k === driveway || k === driveway + 1 ? -0.1 : 0;
    const step = kind === 'step along a kerb' && k === wrong ? (0.08 + 0.1 * random()) * (random() < 0.5 ? -1 : 1) : 0;
    add(x, y, profile + low + step, `KF1${k === 0 ? ' BEG' : ''}`);
    if (step !== 0) stepped = { x: 1000 + x, y: 2000 + y };
  }
  return { rows, at: stepped ?? (kind ? { x: 1045, y: 2036 } : null) };
}

/** Asked at the place; asked elsewhere; not asked. */
function judge(site: Site, kind: Kind | null): { right: boolean; asked: Query[] } {
  const doc = newDocument();

  doc.surfaces[0].longestSide = 'none';
  doc.intakes.push({ id: 'f0', fileId: 'f0', fileName: 'ground.csv', sha256: '0'.repeat(64), layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' }, purpose: 'survey', on: true, numbers: { all: 'both', each: {} } }); // prettier-ignore
  const checks: SurfaceRow = { id: 'c', on: true, kind: 'checks', rule: { codes: ['CK'] }, within: 0.2 };
  doc.surfaces[0].rows.push(checks);
  const result = runChain(doc, (intake) => readPoints(site.rows.join('\n'), intake.layout)!);
  const mine = new Set(Object.values(ASKS).flat());
  const asked = result.queries.filter((q) => q.stage === 'ground' && mine.has(q.kind));
  const near = (q: Query): boolean => !site.at || kind === 'check shots off' || (q.place !== null && Math.hypot(q.place.x - site.at.x, q.place.y - site.at.y) < (kind === 'sliver at the rim' ? 100 : 20)); // prettier-ignore

  return { right: kind !== null && asked.some((q) => ASKS[kind].includes(q.kind) && near(q)), asked };
}

export function groundFaultsFigure(sites = 400): void {
  console.log(`Faults of a surface, on ${sites} invented sites of each kind and ${sites} without (asked at the place; other things asked; not asked)`); // prettier-ignore
  for (const kind of [...KINDS, null]) {
    let [right, missed] = [0, 0];
    const others = new Map<string, number>();
    for (let i = 0; i < sites; i++) {
      const found = judge(siteOf(1 + i * 7 + (kind ? KINDS.indexOf(kind) : 9) * 100_003, kind), kind);
      if (found.right) right++;
      else missed++;
      for (const q of new Set(found.asked.map((a) => a.kind)))
        if (!kind || !ASKS[kind].includes(q)) others.set(q, (others.get(q) ?? 0) + 1);
    }
    const beside = [...others].map(([k, n]) => `${k} on ${n}`).join(', ') || 'nothing';
    console.log(kind ? `  ${kind.padEnd(20)} right ${right}, missed ${missed}; besides: ${beside}` : `  ${'none'.padEnd(20)} asked: ${beside}`); // prettier-ignore
  }
}
