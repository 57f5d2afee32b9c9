// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { act } from 'react';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Change, SurfaceRecipe, SurfaceRow } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import { Recipe } from '../../../src/stages/ground/recipe.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf, type Project } from '../../tables.ts';

// A square of lines coded KT1 around four bare shots.
const given = projectOf({
  points: [['1', 0, 0, 50, 'KT1'], ['2', 20, 0, 51, 'KT1'], ['3', 20, 20, 52, 'KT1'], ['4', 0, 20, 52, 'KT1'], ['5', 10, 10, 50], ['6', 12, 6, 50]], // prettier-ignore
});
const RAISE: SurfaceRow = { id: 'up', on: true, kind: 'raise', ring: [5, 5, 15, 5, 15, 15, 5, 15], by: 0.25 };
const SPOT: SurfaceRow = { id: 'spot', on: true, kind: 'spot', x: 4, y: 4, z: 49.5 };

function withRows(rows: SurfaceRow[], more: SurfaceRecipe[] = []): Project {
  const [ground] = given.doc.surfaces;
  const doc = { ...given.doc, surfaces: [{ ...ground, rows: [...ground.rows, ...rows] }, ...more] };
  return { ...given, doc, tables: tablesOf(doc, given.readOf) };
}

let page: ReturnType<typeof opened>;
function recipe(project: Project, role: 'surveyor' | 'viewer' = 'surveyor'): SurfaceRecipe {
  page = opened(project, { role });
  const [made] = project.doc.surfaces;
  draw(<Recipe doc={project.doc} recipe={made} account={project.tables.summary.surfaces[0].account} />);
  return made;
}
const ops = (): Change['op'][] => written(page).map((c) => c.op);
beforeEach(() => localStorage.clear());

describe('the rows of a recipe', () => {
  it('stand in their order, each with what it did', () => {
    recipe(withRows([RAISE, SPOT]));
    const list = screen.getByRole('list', { name: /^recipe of/ });
    const rows = within(list)
      .getAllByRole('listitem')
      .map((li) => li.textContent);
    expect(rows.at(-2)).toMatch(/^area raised by 0\.250 m2 points/);
    expect(rows.at(-1)).toMatch(/^spot height 49\.500 m/);
  });

  it('are switched off and deleted each on its own', async () => {
    const { id } = recipe(withRows([RAISE, SPOT]));
    await userEvent.click(screen.getByRole('checkbox', { name: /^use area raised/ }));
    await userEvent.click(screen.getByRole('button', { name: /^delete spot height/ }));
    expect(written(page)).toEqual([
      { op: 'surface.row', surface: id, row: { ...RAISE, on: false }, at: undefined },
      { op: 'surface.rowRemove', surface: id, id: 'spot' },
    ]);
  });

  it('are moved by one place by the row that is stood on, not past the ends', async () => {
    const { rows } = recipe(withRows([RAISE, SPOT]));
    await userEvent.click(screen.getByRole('button', { name: /^spot height/ }));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^move down: spot/ }).disabled).toBe(true);
    await userEvent.click(screen.getByRole('button', { name: /^move up: spot/ }));
    expect(written(page)).toMatchObject([{ op: 'surface.row', row: SPOT, at: rows.length - 2 }]);
  });

  it('come sixty at a time, and the rest by asking', async () => {
    recipe(withRows(Array.from({ length: 130 }, (_, i) => ({ ...SPOT, id: `s${i}`, x: i / 10 }))));
    const shown = () => within(screen.getByRole('list', { name: /^recipe of/ })).getAllByRole('listitem').length;
    expect(shown()).toBe(60);
    await userEvent.click(screen.getByRole('button', { name: /more rows$/ }));
    expect(shown()).toBe(120);
  });

  it('can be read and not changed by a viewer', () => {
    recipe(withRows([RAISE]), 'viewer');
    expect(screen.queryByRole('button', { name: /^delete/ })).toBeNull();
    expect(screen.queryByLabelText('add to the recipe')).toBeNull();
    expect(screen.getByRole('checkbox', { name: /^use area raised/ }).closest('fieldset')!.disabled).toBe(true);
  });
});

describe('what else comes in', () => {
  const add = (what: string | RegExp) =>
    userEvent.selectOptions(screen.getByLabelText('add to the recipe'), screen.getByRole('option', { name: what }));

  it('is lines of certain codes, as what they are meant to be', async () => {
    const { id } = recipe(withRows([]));
    await add('lines of certain codes as breaklines');
    await userEvent.type(screen.getByLabelText('codes of the breaklines'), 'kb, dt;kb2{Enter}');
    await add('lines of certain codes, their points only');
    await userEvent.type(screen.getByLabelText('codes of the lines'), 'rg');
    await userEvent.click(screen.getByRole('button', { name: 'Add' }));
    expect(written(page)).toMatchObject([
      { op: 'surface.row', surface: id, row: { on: true, kind: 'lines', codes: ['KB', 'DT', 'KB2'] } },
      { row: { kind: 'lines', codes: ['RG'], pointsOnly: true } },
    ]);
  });

  it('is nothing where no code is typed, or where Escape leaves the field', async () => {
    recipe(withRows([]));
    await add('lines of certain codes as contours');
    await userEvent.type(screen.getByLabelText('codes of the contours'), ' ,{Enter}');
    await add('closed lines of certain codes as boundary');
    await userEvent.type(screen.getByLabelText('codes of the boundary'), 'KB{Escape}');
    expect(ops()).toEqual([]);
    expect(screen.queryByLabelText('codes of the boundary')).toBeNull();
  });

  it('is another surface, by its id, but never itself', async () => {
    const other = { ...given.doc.surfaces[0], id: 'old', name: 'Ground of April', role: 'other' as const, rows: [] };
    recipe(withRows([], [other]));
    expect(
      screen.queryByRole('option', { name: `points and breaklines of “${given.doc.surfaces[0].name}”` }),
    ).toBeNull();
    await add('points and breaklines of “Ground of April”');
    expect(written(page)).toMatchObject([{ op: 'surface.row', row: { kind: 'surface', surface: 'old', ring: null } }]);
  });

  it('is not offered twice where it can stand but once', () => {
    recipe(withRows([]));
    expect(screen.queryByRole('option', { name: 'breaklines by the code list' })).toBeNull();
    expect(screen.queryByRole('option', { name: 'points of all survey files' })).toBeNull();
  });
});

describe('boundaries and voids', () => {
  it('are drawn, and written when the ring is closed', async () => {
    const { id } = recipe(withRows([]));
    await userEvent.click(screen.getByRole('button', { name: 'Draw a void' }));
    const ring = [1, 1, 3, 1, 3, 3];
    act(() => useProject.getState().traced!.finish(ring));
    expect(written(page)).toMatchObject([{ op: 'surface.row', surface: id, row: { kind: 'void', ring } }]);
  });

  it('run along the closed line that is selected', async () => {
    const project = withRows([]);
    const line = { ...given.tables.linework.lines[0], closed: true };
    const tables = { ...project.tables, linework: { ...given.tables.linework, lines: [line] } };
    page = opened({ ...project, tables }, { selection: { kind: 'line', key: line.key } });
    draw(<Recipe doc={project.doc} recipe={project.doc.surfaces[0]} account={undefined} />);
    await userEvent.click(screen.getByRole('button', { name: `Boundary along ${line.key}` }));
    expect(written(page)).toEqual([{ op: 'boundary.set', ring: [0, 0, 20, 0, 20, 20, 0, 20], surface: 'ground' }]);
  });

  it('offer an island only where there is a void', () => {
    recipe(withRows([{ id: 'v', on: true, kind: 'void', ring: [5, 5, 15, 5, 15, 15] }]));
    expect(screen.getByRole('button', { name: 'Draw an island' })).toBeTruthy();
  });
});
