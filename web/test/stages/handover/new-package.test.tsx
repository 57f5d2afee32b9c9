// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { PackageCard } from '#contract';
import type { PackageSpec } from '#core/handover';
import type { ProjectDocument } from '#core/project';
import { api, ApiProblem } from '../../../src/frame/api.ts';
import { NewPackage } from '../../../src/stages/handover/new-package.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({ control: [['K1', 5, 5, 10]], points: [['1', 1000, 2000, 50, 'KT1'], ['2', 1010, 2000, 51, 'KT1']] }); // prettier-ignore
afterEach(() => vi.restoreAllMocks());

async function form(earlier: Partial<PackageCard>[] = [], part: Partial<ProjectDocument> = {}) {
  vi.spyOn(api, 'packages').mockResolvedValue(earlier as PackageCard[]);
  const made = vi.spyOn(api, 'makePackage').mockResolvedValue({ id: 'x', manifest: {} as never });
  const doc = { ...given.doc, ...part };
  opened({ doc, tables: given.tables });
  draw(<NewPackage tables={given.tables} />);
  await waitFor(() => expect(api.packages).toHaveBeenCalled());
  return () => made.mock.calls.map(([id, revision, spec]) => ({ id, revision, spec }));
}
const create = () => userEvent.click(screen.getByRole('button', { name: 'Create the package' }));
const tick = (name: string) => userEvent.click(screen.getByRole('checkbox', { name }));
const sample = (): string => screen.getByLabelText('sample of the points as written').textContent;

describe('a new package', () => {
  it('asks for points, drawing and LandXML of the revision that is shown, in the project’s order', async () => {
    const asked = await form();
    await create();
    const [{ id, revision, spec }] = asked();
    expect([id, revision, spec.name, spec.unit]).toEqual(['p', 1, 'Design office', 'm']);
    expect(spec.files.map((f) => f.kind)).toEqual(['csv', 'dxf', 'landxml']);
    expect(spec.files[0]).toMatchObject({ order: ['P', 'E', 'N', 'Z', 'D'], decimals: 3, control: true });
    expect(spec).not.toHaveProperty('partial');
  });

  it('shows the first points as they will be written, and follows what is chosen', async () => {
    await form();
    expect(sample()).toMatch(/K1,5\.000,5\.000,10\.000/);
    await tick('with control');
    await userEvent.selectOptions(screen.getByLabelText('decimals of the points'), '2 decimals');
    expect(sample()).not.toContain('K1');
    expect(sample()).toContain('1,1000.00,2000.00,50.00,KT1');
  });

  it('cannot be empty, nor without a name', async () => {
    await form();
    for (const kind of ['Points as text', 'Drawing, DXF', 'LandXML 1.2']) await tick(kind);
    const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Create the package' });
    expect(screen.getByText('Choose at least one file.')).toBeTruthy();
    expect(button.disabled).toBe(true);
    await tick('Points as text');
    await userEvent.clear(screen.getByLabelText('name of the package'));
    expect(button.disabled).toBe(true);
  });

  it('is offered as last time, whatever was in it', async () => {
    const spec: PackageSpec = {
      name: 'Crew',
      unit: 'ft',
      coordinates: { kind: 'grid' },
      files: [{ kind: 'csv', order: ['P', 'N', 'E', 'Z'], decimals: 2, separator: ';', headings: false, control: false }],
    } as PackageSpec; // prettier-ignore
    const asked = await form([{ name: 'Crew', spec }]);
    await userEvent.clear(screen.getByLabelText('name of the package'));
    await userEvent.type(screen.getByLabelText('name of the package'), 'Crew');
    await userEvent.click(await screen.findByRole('button', { name: 'As last time' }));
    await create();
    expect(asked()[0].spec).toMatchObject(spec);
    expect(asked()[0].spec.files).toHaveLength(1);
  });

  it('says where last time’s coordinates are gone, and what it would go out in', async () => {
    const spec = { name: 'Design office', unit: 'm', coordinates: { kind: 'local', intake: 'gone' }, files: [] } as PackageSpec; // prettier-ignore
    await form([{ name: 'Design office', spec }]);
    await userEvent.click(await screen.findByRole('button', { name: 'As last time' }));
    expect(screen.getByRole('status').textContent).toMatch(/coordinates that this project no longer has\. It would go out in the project’s own/); // prettier-ignore
  });

  it('on ground lengths holds all files; in degrees only the points', async () => {
    const system = { kind: 'published', name: 'Test grid', code: null, definition: '+proj=tmerc +lon_0=15 +datum=WGS84', unit: 'm', area: null }; // prettier-ignore
    const asked = await form([], { basis: { ...given.doc.basis, system, factor: 0.9996 } as ProjectDocument['basis'] });
    const way = screen.getByLabelText('coordinates of the package');
    await userEvent.selectOptions(way, 'latitude and longitude on its datum');
    expect(screen.getByText('points as text only')).toBeTruthy();
    await create();
    await userEvent.selectOptions(way, 'ground lengths about the base point, factor 0.9996');
    await create();
    expect(asked().map(({ spec }) => [spec.coordinates.kind, spec.files.map((f) => f.kind)])).toEqual([
      ['geographic', ['csv']],
      ['ground', ['csv', 'dxf', 'landxml']],
    ]);
  });

  it('that cannot be made says why, and what of it could', async () => {
    const asked = await form();
    vi.mocked(api.makePackage).mockRejectedValueOnce(new ApiProblem(422, { problem: 'The surface has no triangles.', couldBe: ['points as text'] })); // prettier-ignore
    await create();
    expect((await screen.findByRole('alert')).textContent).toContain('The surface has no triangles.');
    await userEvent.click(screen.getByRole('button', { name: 'Make it with points as text only' }));
    expect(asked()[1].spec).toMatchObject({ partial: true });
  });

  it('holds one of several surfaces where one is chosen', async () => {
    const [ground] = given.doc.surfaces;
    const asked = await form([], { surfaces: [ground, { ...ground, id: 'pad', name: 'Pad', role: 'design' }] });
    await userEvent.selectOptions(screen.getByLabelText('surfaces in the LandXML file'), 'Pad');
    await userEvent.selectOptions(screen.getByLabelText('surface in the drawing'), 'of Pad');
    await userEvent.selectOptions(screen.getByLabelText('version of the drawing'), 'R12');
    await create();
    const [, drawing, xml] = asked()[0].spec.files;
    expect(xml).toMatchObject({ surfaces: ['pad'] });
    expect(drawing).toMatchObject({ version: 'R12', parts: { of: 'pad' } });
  });
});
