import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newDocument, plainIntake } from '#core/project';
import { unpackPieces } from '#core/stages';
import { makeWorld, Person, type World } from './world.ts';

// Sections as they go out: sheets read by Debian's poppler-utils, lines by gdal-bin, LandXML by libxml2-utils.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-sections-'));
let world: World;
let ina: Person;
let project: string;
beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  project = (await ina.json<{ id: string }>('POST', '/projects', { name: 'Sections' })).id;
  const text = '1,0,0,9,GR\n2,20,0,9,GR\n3,20,20,11,GR\n4,0,20,11,GR';
  const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${project}/files?name=slope.csv`, new TextEncoder().encode(text)); // prettier-ignore
  await ina.change(project, { op: 'intake.add', intake: plainIntake('i1', { fileId: file.id, fileName: 'slope.csv', sha256: file.sha256, layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' } }) }); // prettier-ignore
  await ina.change(project, { op: 'comparison.set', comparison: { id: 'c', name: 'Down', surface: 'ground', against: { level: 10 }, within: null, along: [0, 10, 20, 10] } }); // prettier-ignore
  await ina.settled(project);
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await world.end();
});

const fetched = (form: string, more = 'spacing=5&left=10&right=10'): Promise<Response> => ina.send('GET', `/projects/${project}/sections?comparison=c&form=${form}&${more}`); // prettier-ignore
const saved = async (form: string, more?: string): Promise<string> => {
  const response = await fetched(form, more);
  expect(response.status).toBe(200);
  const file = join(folder, `out.${form}`);
  writeFileSync(file, new Uint8Array(await response.arrayBuffer()));
  return file;
};
const run = (command: string, ...args: string[]): string => {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return stdout;
};

describe('sections', () => {
  it('as sheets say areas, volumes and the elevations of every section, at a stated scale', async () => {
    const words = run('pdftotext', '-layout', await saved('pdf'), '-').replaceAll('\u00a0', ' ');
    for (const said of ['Sections: Down', 'Scale 1 : 100', 'Section at 5.00 m; cut 5.0 m², fill 5.0 m²', 'Together', '100.0', 'sheet 1 of']) expect(words).toContain(said); // prettier-ignore
    expect(run('pdftotext', '-layout', await saved('pdf', 'spacing=10&left=10&right=10&scale=500&times=5'), '-')).toContain('Scale 1 : 500 across, 1 : 100 up'); // prettier-ignore
  });

  it('as lines in space and as an alignment are read by programs that nobody here wrote', async () => {
    const told = run('ogrinfo', '-so', '-al', await saved('dxf'));
    expect(told).toMatch(/Feature Count: 11/);
    expect(told).toMatch(/Extent: \(0\.0+, 0\.0+\) - \(20\.0+, 20\.0+\)/);
    run('xmllint', '--noout', await saved('xml'));
    expect(run('xmllint', '--xpath', 'count(//*[local-name()="CrossSect"])', join(folder, 'out.xml')).trim()).toBe('5');
    expect((await (await fetched('csv')).text()).split('\r\n')[0]).toBe('Chainage [m],Surface,Offset [m],Elevation [m],East [m],North [m]'); // prettier-ignore
  });

  it('may be skewed on sheets and in space, their areas told along them and volumes square to the line', async () => {
    const words = run('pdftotext', '-layout', await saved('pdf', 'spacing=10&left=4&right=4&skew=60'), '-').replaceAll('\u00a0', ' '); // prettier-ignore
    expect(words).toContain('times the cosine of the skew of 60.0°');
    // 0.4 m² to either side along the section, 0.2 m² square to the line; of the two at its ends one side lies off the slope.
    expect(words).toMatch(/Together\s+3\.0\s+3\.0/);
    expect((await fetched('xml', 'spacing=5&left=4&right=4&skew=30')).status).toBe(409);
    expect((await fetched('csv', 'spacing=5&left=4&right=4&skew=80')).status).toBe(400);
  });

  it('have the points and lines near them, go through more surfaces, and there is a profile along their line', async () => {
    const near = 'spacing=20&left=10&right=10&near=0.5';
    const rows = (await (await fetched('csv', near)).text()).split('\r\n');
    expect(rows).toContain('0.0000,point 1 GR,10.0000,9.0000,0.0000,0.0000');
    const again = { ...newDocument().surfaces[0], id: 'again', name: 'Ground again', role: 'other' as const };
    await ina.change(project, { op: 'surface.add', surface: again });
    await ina.settled(project);
    const words = async (form: string, more: string): Promise<string> => run('pdftotext', '-layout', await saved(form, more), '-').replaceAll('\u00a0', ' '); // prettier-ignore
    const sheets = await words('pdf', `${near}&also=again,none`);
    expect(sheets).toContain('Ground again dotted');
    expect(sheets).toContain('1 GR');
    const profile = await words('profile', 'spacing=5&left=1&right=1&also=again&times=5');
    for (const said of ['Profile: Down', 'From 0.00 to 20.00 m', 'Scale 1 : 100 along, 1 : 20 up', 'Ground again', '10.000']) expect(profile).toContain(said); // prettier-ignore
  });

  it('stand in the report of the volume too, with the points that it was made from', async () => {
    const report = async (form: string): Promise<Response> => ina.send('GET', `/projects/${project}/quantity-report?comparison=c&form=${form}`); // prettier-ignore
    const rows = (await (await report('csv')).text()).split('\r\n');
    const points = rows.filter((r) => r.startsWith('points,'));
    expect(points).toHaveLength(4);
    expect(points.every((r) => r.includes('slope.csv'))).toBe(true);
    expect(rows.some((r) => r.startsWith('areas,'))).toBe(true);
    const file = join(folder, 'report.pdf');
    writeFileSync(file, new Uint8Array(await (await report('pdf')).arrayBuffer()));
    const words = run('pdftotext', '-layout', file, '-').replaceAll('\u00a0', ' ');
    for (const said of ['Quantities: Down', 'Points used', 'Section at ', '100.0']) expect(words).toContain(said);
  });

  it('beside another party’s surface: where a cause of the difference acts comes as pieces', async () => {
    const [ground] = newDocument().surfaces;
    const up = { id: 'up', on: true, kind: 'raise' as const, ring: [-1, -1, 21, -1, 21, 21, -1, 21], by: 0.5 };
    await ina.change(project, { op: 'surface.add', surface: { ...ground, id: 'theirs', name: 'Theirs', role: 'other' as const, rows: [...ground.rows, up] } }); // prettier-ignore
    const ask = (query: string): Promise<Response> => ina.send('GET', `/projects/${project}/split-pieces?${query}`);
    expect((await ask('comparison=c&cause=shift')).status).toBe(409);
    await ina.change(project, { op: 'comparison.set', comparison: { id: 'c', name: 'Down', surface: 'ground', against: { level: 10 }, within: null, along: [0, 10, 20, 10], theirs: { surface: 'theirs' } } }); // prettier-ignore
    await ina.settled(project);
    const answer = await ask('comparison=c&cause=shift');
    expect(answer.status).toBe(200);
    const pieces = unpackPieces(new Uint8Array(await answer.arrayBuffer()));
    expect(pieces.length).toBeGreaterThanOrEqual(18);
    expect(pieces.every((v, i) => i % 3 !== 2 || Math.abs(v - 0.5) < 1e-9)).toBe(true);
    for (const query of ['comparison=c', 'cause=shift', 'comparison=c&cause=magic']) expect((await ask(query)).status).toBe(400); // prettier-ignore
    expect((await ask('comparison=none&cause=shift')).status).toBe(404);
  });

  it('across a line that is elsewhere, or too many, are refused in a sentence', async () => {
    const set = (along: number[]): Promise<number> => ina.change(project, { op: 'comparison.set', comparison: { id: 'c', name: 'Down', surface: 'ground', against: { level: 10 }, within: null, along } }); // prettier-ignore
    await set([0, 10, 3000, 10]);
    await ina.settled(project);
    const many = await fetched('csv', 'spacing=1&left=1&right=1');
    expect([many.status, ((await many.json()) as { problem: string }).problem]).toEqual([409, expect.stringContaining('more than 2000')]); // prettier-ignore
    await set([500, 10, 600, 10]);
    await ina.settled(project);
    const off = await fetched('csv');
    expect([off.status, ((await off.json()) as { problem: string }).problem]).toEqual([409, expect.stringContaining('its line runs elsewhere')]); // prettier-ignore
  });

  it('that cannot be cut are refused in a sentence, and shown to nobody else', async () => {
    for (const more of ['spacing=0&left=1&right=1', 'spacing=5&left=-1&right=1', 'spacing=5&left=1', 'spacing=x&left=1&right=1']) expect((await fetched('pdf', more)).status).toBe(400); // prettier-ignore
    expect((await fetched('exe')).status).toBe(400);
    expect((await ina.send('GET', `/projects/${project}/sections?comparison=none&form=pdf&spacing=5&left=1&right=1`)).status).toBe(404); // prettier-ignore
    const stranger = await Person.register(world, 'stranger.sections@example.org');
    expect((await stranger.send('GET', `/projects/${project}/sections?comparison=c&form=pdf&spacing=5&left=1&right=1`)).status).toBe(404); // prettier-ignore
  });
});
