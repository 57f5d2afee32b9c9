import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { detailText, type Change, type Intake } from '#core/chain';
import type { ChangeEntry, PointHistory } from '#contract';
import { makeWorld, Person, type World } from './world.ts';

// What was done to a project, as a checker reads it: in the project's unit, from which value to which, by whom and why.

const FOOT = 1200 / 3937;
let world: World;
let ina: Person;
let project: string;
beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  project = (await ina.json<{ id: string }>('POST', '/projects', { name: 'In feet' })).id;
  await ina.change(project, { op: 'settings.set', settings: { unit: 'usft', order: 'NE' } });
  const text = '1,1000.0,2000.0,100.0,GR\n2,1010.0,2000.0,101.0,GR\n3,1000.0,2010.0,102.0,GR';
  const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${project}/files?name=shots.csv`, new TextEncoder().encode(text)); // prettier-ignore
  const intake: Intake = {
    id: 'i1',
    fileId: file.id,
    fileName: 'shots.csv',
    sha256: file.sha256,
    layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'N', 'E', 'Z', 'D'], unit: 'usft' },
    target: 'Ground',
    on: true,
    numbers: { all: 'both', each: {} },
  };
  await ina.change(project, { op: 'intake.add', intake });
});
afterAll(() => world.end());

const elevation = (row: number, feet: number, why?: string): Change => ({ op: 'points.edit', edits: { [`i1:${row}`]: { set: { z: feet * FOOT }, undo: [] } }, ...(why ? { why } : {}) }); // prettier-ignore
const told = (list: ChangeEntry[]): string[] => list.map((c) => [...(c.details ?? []).map((d) => `${d.field} ${detailText(d)}`), c.why ?? ''].filter(Boolean).join('; ')); // prettier-ignore

describe('the history', () => {
  it('tells old and new value of each change in the project’s unit, the received one by its value', async () => {
    await ina.settled(project);
    await ina.change(project, elevation(2, 101.5, 'the pole stood on a kerb'));
    await ina.change(project, elevation(2, 101.75));
    const list = await ina.json<ChangeEntry[]>('GET', `/projects/${project}/changes`);
    expect(told(list.slice(0, 2))).toEqual([
      'elevation 101.500 US ft → 101.750 US ft',
      'elevation 101.000 US ft (as received) → 101.500 US ft; the pole stood on a kerb',
    ]);
  });

  it('of one point holds its own values and its file’s intake, oldest first, and nobody else’s', async () => {
    await ina.change(project, { op: 'points.edit', edits: { ...(elevation(2, 101.8) as Extract<Change, { op: 'points.edit' }>).edits, ...(elevation(3, 99) as Extract<Change, { op: 'points.edit' }>).edits } }); // prettier-ignore
    const { entries } = await ina.json<PointHistory>('GET', `/projects/${project}/points/history?key=i1:2`);
    expect(entries[0]).toMatchObject({ what: 'took in shots.csv', by: 'Ina Kroll' });
    expect(told(entries.slice(1))).toEqual([
      'elevation 101.000 US ft (as received) → 101.500 US ft; the pole stood on a kerb',
      'elevation 101.500 US ft → 101.750 US ft',
      'elevation 101.750 US ft → 101.800 US ft',
    ]);
  });
});
