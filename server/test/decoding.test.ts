import { execFileSync } from 'node:child_process';
import { strToU8, zipSync } from 'fflate';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newDocument, plainIntake, type Intake } from '#core/project';
import { readingPlan, unpackRead } from '#core/sources';
import { needsChild, readInChild } from '../src/jobs/decode.ts';
import { readOriginal, type ReadTask } from '../src/jobs/read-original.ts';
import { Settler } from '../src/results/settle.ts';
import { makeWorld, Person, type World } from './world.ts';

// Packed sheets are unpacked in a process of their own; no task of the server goes on without end.

/** A spreadsheet of points (ECMA-376), so many rows. */
const sheet = (rows: number): Uint8Array =>
  zipSync({
    'xl/workbook.xml': strToU8('<workbook xmlns:r="x"><sheets><sheet name="Points" r:id="r1"/></sheets></workbook>'),
    'xl/_rels/workbook.xml.rels': strToU8('<Relationships><Relationship Id="r1" Target="worksheets/sheet1.xml"/></Relationships>'), // prettier-ignore
    'xl/worksheets/sheet1.xml': strToU8(
      `<worksheet><sheetData>${Array.from({ length: rows }, (_, i) => `<row r="${i + 1}"><c><v>${i + 1}</v></c><c><v>${100 + i}.5</v></c><c><v>${200 + (i % 9)}.25</v></c><c><v>${10 + (i % 5)}</v></c></row>`).join('')}</sheetData></worksheet>`,
    ),
  });
const intake = (part: Partial<Intake> = {}): Intake => plainIntake('i1', { fileName: 'points.xlsx', layout: { separator: '\t', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z'], unit: 'm' }, ...part }); // prettier-ignore
const task = (bytes: Uint8Array): ReadTask => ({ bytes, plan: readingPlan(newDocument().basis, intake()), grids: {}, lenient: false, fileName: 'points.xlsx' }); // prettier-ignore
const limits = { megabytes: 1500, milliseconds: 60_000 };
const children = (): number => {
  try {
    return execFileSync('pgrep', ['-P', String(process.pid), '-f', 'child-tasks'], { encoding: 'utf8' }).trim().split('\n').length; // prettier-ignore
  } catch {
    return 0;
  }
};

describe('a spreadsheet', () => {
  it('is read in a process of its own to the same bytes, with its progress told', async () => {
    const asked = task(sheet(20_000));
    expect([needsChild(asked), needsChild({ ...asked, bytes: strToU8('1,2,3') })]).toEqual([true, false]);
    const shares: number[] = [];
    const there = await readInChild(asked, limits, { onProgress: (share) => shares.push(share) });
    expect(unpackRead(there).number).toHaveLength(20_000);
    expect(Buffer.from(there).equals(Buffer.from(await readOriginal(asked, () => {})))).toBe(true);
    expect(shares.length).toBeGreaterThan(0);
    expect(children()).toBe(0);
  });

  it('that takes too long, needs too much or is stopped ends its process alone, and says so', async () => {
    const asked = task(sheet(50_000));
    await expect(readInChild(asked, { ...limits, milliseconds: 1 }, {})).rejects.toThrow(/^points\.xlsx was not read: reading it took longer than/); // prettier-ignore
    await expect(readInChild(asked, { ...limits, megabytes: 40 }, {})).rejects.toThrow(/^points\.xlsx was not read: (reading it needs more than 40 MB|it made its reader end)/); // prettier-ignore
    const stop = new AbortController();
    const reading = readInChild(asked, limits, { signal: stop.signal });
    setTimeout(() => stop.abort(), 50);
    await expect(reading).rejects.toThrow('stopped');
    expect(children()).toBe(0);
  });

  it('that is none, says what its reader found', async () => {
    const broken = sheet(10).slice(0, 300);
    await expect(readInChild(task(broken), limits, {})).rejects.toThrow(/^points\.xlsx: /);
  });
});

describe('a task of the server', () => {
  let world: World;
  let ina: Person;
  beforeAll(async () => {
    world = await makeWorld();
    ina = await Person.demo(world);
    await ina.settled(world.demo);
  });
  afterAll(() => world.end());

  it('takes a spreadsheet in as it takes in text', async () => {
    const { id } = await ina.json<{ id: string }>('POST', '/projects', { name: 'Sheet' });
    const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${id}/files?name=points.xlsx`, sheet(400)); // prettier-ignore
    await ina.json('POST', `/projects/${id}/intakes`, { revision: 0, intake: intake({ fileId: file.id, sha256: file.sha256 }) }); // prettier-ignore
    for (let i = 0; i < 200 && (await ina.state(id)).revision === 0; i++) await new Promise((r) => setTimeout(r, 50));
    const { settled } = await ina.settled(id);
    expect(settled!.stages.figures).toMatchObject({ points: 400 });
  });

  it('that goes on too long is ended with a sentence: packages, reports, plots', async () => {
    const short = new Settler(world.pool, pino({ level: 'silent' }), { megabytes: 4096, milliseconds: 1, patience: 1e9, tellAfter: 1e9 }); // prettier-ignore
    try {
      for (const [made, what] of [
        [short.report({} as never), 'Making the report'],
        [short.plots({} as never), 'Drawing the plot'],
        [short.received({} as never), 'Reading what was received'],
      ] as const)
        await expect(made).rejects.toThrow(`${what} took longer than 1 seconds and was ended. Nothing was changed.`);
    } finally {
      await short.close();
    }
  });
});
