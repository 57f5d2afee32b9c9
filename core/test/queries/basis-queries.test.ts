import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { failedRead, readPoints, type ReadPoints, type TextLayout } from '#core/exchange';
import { runChain } from '#core/chain';
import { readKey } from '#core/sources';
import {
  applyChange,
  newDocument,
  type Change,
  type Given,
  type Intake,
  type Purpose,
  type ProjectDocument,
} from '#core/project';
import type { Query } from '#core/queries';
import { readByPlan, readingPlan, gridsOfPlan, type GridBytes } from '#core/sources';
import { STATE } from '#core/stages';
import { tarnFiles, tarnProject, tarnSystem, type DemoProject } from '#demo';

const LAYOUT: TextLayout = { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' };
const MARKS: [string, number, number, number][] = [
  ['A', 4210.12, 7705.33, 61.5],
  ['B', 4388.91, 7698.2, 62.25],
  ['C', 4352.44, 7801.87, 66.01],
  ['D', 4225.7, 7790.05, 65.4],
  ['E', 4301.33, 7742.61, 63.12],
];

interface File {
  id: string;
  purpose: Purpose;
  text: string;
  layout?: Partial<TextLayout>;
  given?: Given;
}

function project(files: File[], change: (doc: ProjectDocument) => void = () => {}): ProjectDocument {
  const doc = newDocument();
  for (const f of files)
    doc.intakes.push({
      id: f.id,
      fileId: f.id,
      fileName: `${f.id}.csv`,
      sha256: '0'.repeat(64),
      layout: { ...LAYOUT, ...f.layout },
      purpose: f.purpose,
      on: true,
      numbers: { all: 'both', each: {} },
      ...(f.given ? { given: f.given } : {}),
    });
  change(doc);
  return doc;
}
const reader =
  (files: File[]) =>
  (intake: Intake): ReadPoints =>
    readPoints(files.find((f) => f.id === intake.fileId)!.text, intake.layout)!;

const rows = (list: typeof MARKS, move: (x: number, y: number, z: number) => number[]): string =>
  list.map(([n, x, y, z]) => [n, ...move(x, y, z).map((v) => v.toFixed(5)), 'GR'].join(',')).join('\n');
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const open = (doc: ProjectDocument, files: File[]): Query[] =>
  runChain(doc, reader(files)).queries.filter((q) => !q.accepted && q.stage === 'basis');

const control: File = { id: 'control', purpose: 'control' as const, text: rows(MARKS, (x, y, z) => [x, y, z]) };
const turn = (angle: number, scale: number, dx: number, dy: number) => (x: number, y: number, z: number) => [
  scale * (Math.cos(angle) * (x - 4300) - Math.sin(angle) * (y - 7700)) + dx,
  scale * (Math.sin(angle) * (x - 4300) + Math.cos(angle) * (y - 7700)) + dy,
  z - 50,
];

describe('a file that stands on another basis than control', () => {
  const cases: { what: string; kind: Query['kind']; says: RegExp; move: (x: number, y: number, z: number) => number[] }[] =
    [
      // NIST: international foot 0.3048 m, US survey foot 1200/3937 m.
      { what: 'in international feet', kind: 'other-unit', says: /international feet/, move: (x, y, z) => [x / 0.3048, y / 0.3048, z / 0.3048] },
      { what: 'in inches', kind: 'other-unit', says: /inches/, move: (x, y, z) => [x / 0.0254, y / 0.0254, z / 0.0254] },
      { what: 'in millimetres', kind: 'other-unit', says: /millimetres/, move: (x, y, z) => [x * 1000, y * 1000, z * 1000] },
      { what: 'with east and north swapped', kind: 'columns-exchanged', says: /swapped/, move: (x, y, z) => [y, x, z] },
      { what: 'counting towards west', kind: 'mirrored', says: /towards west/, move: (x, y, z) => [-x, y, z] },
      { what: 'counting towards south', kind: 'mirrored', says: /towards south/, move: (x, y, z) => [x, -y, z] },
      { what: 'with leading digits omitted', kind: 'shifted', says: /Shifted by 4\u2009000\.000 m east and 7\u2009000\.000 m north/, move: (x, y, z) => [x - 4000, y - 7000, z] },
      { what: 'on an assumed start and azimuth', kind: 'other-basis', says: /local basis/, move: turn(0.7, 1.00021, 1000, 1000) },
    ]; // prettier-ignore
  for (const { what, kind, says, move } of cases)
    it(`${what} is found before anything merges, and its remedy settles it`, () => {
      const files = [control, { id: 'day', purpose: 'survey' as const, text: rows(MARKS, move) }];
      const doc = project(files);
      const result = runChain(doc, reader(files));
      const query = result.queries.find((q) => q.key === 'basis:day')!;
      expect([query.kind, query.weight]).toEqual([kind, 'stop']);
      expect(query.text).toMatch(says);
      // Until somebody decides, none of its points is in lines or ground.
      for (let r = 0; r < result.points.x.length; r++)
        if (result.points.intake[r] === 1) expect(result.points.state[r]).toBe(STATE.waits);
      const mended = apply(doc, query.remedies[0].change);
      const after = runChain(mended, reader(files));
      expect(open(mended, files)).toEqual([]);
      for (let r = 5; r < 10; r++) {
        expect(Math.abs(after.points.x[r] - MARKS[r - 5][1])).toBeLessThan(1e-4);
        expect(Math.abs(after.points.y[r] - MARKS[r - 5][2])).toBeLessThan(1e-4);
      }
    });

  it('by the two feet alone, 2 ppm apart, is found where the coordinates are large', () => {
    const far = MARKS.map(([n, x, y, z]): (typeof MARKS)[number] => [n, x + 600_000, y + 120_000, z]);
    const files = [
      { ...control, text: rows(far, (x, y, z) => [x, y, z]) },
      {
        id: 'day',
        purpose: 'survey' as const,
        text: rows(far, (x, y, z) => [x, y, z].map((v) => (v * 3937) / 1200)),
        layout: { unit: 'ft' as const },
      },
    ];
    const query = open(project(files), files).find((q) => q.key === 'basis:day')!;
    expect(query.kind).toBe('other-unit');
    expect(query.text).toContain('Multiplied by 1.000002');
    expect(query.text).toContain('US survey feet');
  });

  it('and is held back by one typed coordinate has that one named', () => {
    const local = rows(MARKS, turn(-0.3, 1, 500, 500)).replace(/^C,([\d.]+)/m, (_, x: string) => `C,${Number(x) + 9}`);
    const files = [control, { id: 'day', purpose: 'survey' as const, text: local }];
    const doc = project(files);
    const query = open(doc, files).find((q) => q.key === 'basis:day')!;
    expect(query.kind).toBe('held-back');
    expect(query.text).toContain('all but C agree');
    const mended = apply(doc, query.remedies[0].change);
    // What stays behind is the one point, with control's coordinates as a remedy.
    const left = open(mended, files);
    expect(left.map((q) => q.kind)).toEqual(['control-known']);
    expect(left[0].text).toContain('C in day.csv is 9.000 m off');
    expect(open(apply(mended, left[0].remedies[0].change), files)).toEqual([]);
  });

  it('and has no number in common lies apart, and is asked about', () => {
    const other = MARKS.map(([n, x, y, z]): (typeof MARKS)[number] => [`9${n}`, x + 600_000, y + 5_100_000, z]);
    const files = [control, { id: 'day', purpose: 'survey' as const, text: rows(other, (x, y, z) => [x, y, z]) }];
    const [query] = open(project(files), files);
    expect([query.kind, query.key]).toEqual(['other-basis', 'basis:day']);
    expect(query.text).toContain('from everything else in the project');
  });

  it('is not asked about for one bad check among good ones', () => {
    const files = [
      control,
      {
        id: 'day',
        purpose: 'survey' as const,
        text: rows(MARKS, (x, y, z) => [x === MARKS[2][1] ? x + 0.2 : x, y, z]),
      },
    ];
    expect(open(project(files), files).map((q) => q.kind)).toEqual(['control-known']);
  });
});

describe('control against itself', () => {
  it('two points of one name in a file are a stop, and leaving one out settles it', () => {
    const files = [{ ...control, text: `${control.text}\nB,4388.40,7698.20,62.25,CP` }];
    const doc = project(files);
    const [query] = open(doc, files);
    expect([query.kind, query.weight]).toEqual(['control-name-twice', 'stop']);
    expect(query.text).toContain('rows 2 and 6, 0.510 m apart');
    expect(open(apply(doc, query.remedies[0].change), files)).toEqual([]);
  });

  it('a later delivery with other coordinates says by how much and which is newer', () => {
    const given = (date: string): Given => ({
      by: 'office',
      date,
      source: '',
      standing: 'fixed',
      plan: null,
      height: null,
    });
    const files = [
      { ...control, given: given('2026-03-01') },
      {
        id: 'revised',
        purpose: 'control' as const,
        text: rows(MARKS.slice(0, 2), (x, y, z) => [x + (x > 4300 ? 0.04 : 0), y, z]),
        given: given('2026-08-20'),
      },
    ];
    const doc = project(files);
    const [query] = open(doc, files);
    expect(query.kind).toBe('control-differs');
    expect(query.text).toContain('B by 0.040 m and 0.000 m in height');
    expect(query.text).toContain('The newer is revised.csv');
    expect(query.remedies[0].label).toBe('Use revised.csv');
    expect(open(apply(doc, query.remedies[0].change), files)).toEqual([]);
  });
});

describe('tolerances', () => {
  it('decide which checks are asked about, at once', () => {
    const files = [
      control,
      { id: 'day', purpose: 'survey' as const, text: rows(MARKS, (x, y, z) => [x + (x > 4380 ? 0.045 : 0), y, z]) },
    ];
    const doc = project(files);
    expect(open(doc, files)).toHaveLength(1);
    expect(open(apply(doc, { op: 'settings.set', settings: { checkPlan: 0.05 } }), files)).toHaveLength(0);
  });
});

/** Reads every intake of a demo as the server does, through systems and geoids. */
async function readAll(demo: DemoProject, doc: ProjectDocument): Promise<(intake: Intake) => ReadPoints> {
  const reads = new Map<string, ReadPoints>();
  for (const intake of doc.intakes) {
    const plan = readingPlan(doc.basis, intake);
    const grids: GridBytes = {};
    for (const g of gridsOfPlan(plan)) grids[g.sha256] = demo.files.find((f) => f.id === g.fileId)!.bytes;
    const reading = await readByPlan(demo.files.find((f) => f.id === intake.fileId)!.bytes, plan, grids);
    reads.set(
      readKey(doc.basis, intake),
      reading!.ok ? reading!.read : failedRead((reading as { reason: string }).reason),
    );
  }
  return (intake) => reads.get(readKey(doc.basis, intake))!;
}

describe('Tarn Hollow, in US survey feet', () => {
  const demo = tarnProject();
  const start = demo.changes.reduce(apply, newDocument(demo.settings));
  let queries: Query[] = [];
  beforeAll(async () => {
    queries = runChain(start, await readAll(demo, start)).queries;
  });

  for (const slip of tarnFiles().slips)
    it(`${slip.kind} at ${slip.where} is found`, () => {
      expect(queries.some((q) => q.kind === slip.kind && q.text.includes(slip.where))).toBe(true);
    });

  it('comes right by the first remedy of each query, to a tenth of a foot of the true ground', async () => {
    let doc = start;
    for (let turn = 0; turn < 8; turn++) {
      const read = await readAll(demo, doc);
      const query = runChain(doc, read).queries.find((q) => q.stage === 'basis' && q.remedies.length && !q.accepted);
      if (!query) break;
      doc = apply(doc, query.remedies[0].change);
    }
    const result = runChain(doc, await readAll(demo, doc));
    expect(result.queries.filter((q) => q.stage === 'basis' && !q.accepted).map((q) => q.text)).toEqual([]);
    const foot = 1200 / 3937;
    const { points } = result;
    // The heap's top and the first row of the receiver, as the generator has them: grid feet, sea level.
    const top = points.z.reduce((best, z, r) => (z > points.z[best] ? r : best), 0);
    expect(Math.abs(points.x[top] / foot - (2_014_300 + 310))).toBeLessThan(0.1);
    expect(Math.abs(points.y[top] / foot - (381_200 + 260))).toBeLessThan(0.1);
    expect(Math.abs(points.z[top] / foot - (412 + 0.012 * 310 - 0.02 * 260 + 22))).toBeLessThan(0.1);
    const g1 = points.number.indexOf('G1');
    expect(Math.abs(points.x[g1] / foot - 2_014_340)).toBeLessThan(0.1);
    expect(Math.abs(points.z[g1] / foot - (412 + 0.012 * 40 + 0.02 * 60))).toBeLessThan(0.1);
    // A cone of 70 ft radius and 22 ft on a plane: π r² h / 3 above it, less what the survey's chords cut off.
    const heap = result.comparisons.find((c) => c.id === 'heap')!;
    expect(heap.ok).toBe(true);
  });

  it('has files that are what the generator makes', () => {
    for (const f of tarnFiles().files)
      expect(
        readFileSync(new URL(`../../../demo/tarn-hollow/${f.name}`, import.meta.url)).equals(Buffer.from(f.bytes)),
      ).toBe(true);
  });

  it('refuses degrees the wrong way round in a sentence, with the remedy', async () => {
    const receiver = start.intakes.find((i) => i.fileName === 'receiver.csv')!;
    const turned: Intake = {
      ...receiver,
      layout: { ...receiver.layout, roles: receiver.layout.roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r)) },
    };
    const doc = { ...start, intakes: start.intakes.map((i) => (i === receiver ? turned : i)) };
    const query = runChain(doc, await readAll(demo, doc)).queries.find((q) => q.kind === 'not-read')!;
    expect(query.text).toContain('Latitude and longitude are swapped');
    const mended = apply(doc, query.remedies[0].change);
    expect(runChain(mended, await readAll(demo, mended)).queries.some((q) => q.kind === 'not-read')).toBe(false);
  });

  it('says when a geoid that a file names or needs is lacking', async () => {
    const doc = apply(start, { op: 'basis.set', basis: { geoid: null } });
    const query = runChain(doc, await readAll(demo, doc)).queries.find((q) => q.kind === 'geoid-lacking')!;
    expect([query.weight, query.text.includes('receiver.csv')]).toEqual(['stop', true]);
  });

  it('asks when a file lies outside the area of its system', async () => {
    const system = { ...tarnSystem(), extent: [0, 0, 1000, 1000] as [number, number, number, number] };
    const doc = apply(start, { op: 'basis.set', basis: { system } });
    const found = runChain(doc, await readAll(demo, doc)).queries.filter((q) => q.kind === 'outside-area');
    expect(found.length).toBeGreaterThan(0);
    expect(found[0].text).toContain('are outside the area of');
  });
});
