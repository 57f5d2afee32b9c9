import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readSpreadsheet } from '#core/exchange';
import { writeSpreadsheet } from '../src/jobs/write-spreadsheet.ts';
import { makeWorld, Person, type World } from './world.ts';

const HEAD = 'Number\tEast m\tNorth m\tElevation m\tDescription';
const numeric = [false, true, true, true, false];

describe('points as a spreadsheet', () => {
  it('read back with their numbers as numbers and everything else as it stands', async () => {
    const rows = ['007\t4310.100\t-7728.05\t62.40\tKT1 BEG', 'Łódź 1\t1\t2\t\t=1+1', '+12\t0.5\t0.25\t3\t"a ""b"" c"'];
    const read = readSpreadsheet(await writeSpreadsheet({ name: 'Points', text: [HEAD, ...rows].join('\n'), numeric }));
    if (!read.ok) throw new Error(read.reason);
    expect(read.sheet).toBe('Points');
    expect(read.text.split('\n').map((l) => l.split('\t'))).toEqual([
      HEAD.split('\t'),
      ['007', '4310.1', '-7728.05', '62.4', 'KT1 BEG'],
      ['Łódź 1', '1', '2', '', '=1+1'],
      ['+12', '0.5', '0.25', '3', '"a ""b"" c"'],
    ]);
  });
});

describe('the route of spreadsheets', () => {
  let world: World;
  let ina: Person;
  let project: string;
  beforeAll(async () => {
    world = await makeWorld();
    ina = await Person.register(world, 'sheet@example.org');
    ({ id: project } = await ina.json<{ id: string }>('POST', '/projects', { name: 'Sheets' }));
  });
  afterAll(() => world.end());

  it('writes in a process of its own for who may see the project, and for nobody else', async () => {
    const body = { name: 'Points', text: `${HEAD}\n1\t1.5\t2.5\t3.5\tGR`, numeric };
    const made = await ina.send('POST', `/projects/${project}/spreadsheet`, body);
    expect(made.status).toBe(200);
    expect(readSpreadsheet(new Uint8Array(await made.arrayBuffer()))).toMatchObject({ ok: true, text: `${HEAD}\n1\t1.5\t2.5\t3.5\tGR` }); // prettier-ignore
    const stranger = await Person.register(world, 'stranger@example.org');
    expect((await stranger.send('POST', `/projects/${project}/spreadsheet`, body)).status).toBe(404);
  });

  it('refuses a name that no sheet may have, and no rows', async () => {
    const refused = async (part: object): Promise<number> =>
      (await ina.send('POST', `/projects/${project}/spreadsheet`, { name: 'Points', text: 'x', numeric: [false], ...part })).status; // prettier-ignore
    expect([await refused({ name: '../x' }), await refused({ name: '' }), await refused({ text: '' })]).toEqual([400, 400, 400]); // prettier-ignore
  });
});
