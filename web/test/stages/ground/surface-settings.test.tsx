// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import type { SurfaceRecipe } from '#core/project';
import { SurfaceSettings } from '../../../src/stages/ground/surface-settings.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const project = projectOf({ points: [['1', 0, 0, 50], ['2', 10, 0, 51], ['3', 0, 10, 52]] }); // prettier-ignore
const { doc } = project;
const [ground] = doc.surfaces;
let page: ReturnType<typeof opened>;
beforeEach(() => {
  page = opened(project);
});

const settings = (over: Partial<SurfaceRecipe> = {}, problem: string | null = null, unit = doc.settings.unit) =>
  draw(<SurfaceSettings doc={{ ...doc, settings: { ...doc.settings, unit } }} recipe={{ ...ground, ...over }} contourProblem={problem} />); // prettier-ignore
const edit = (set: Partial<SurfaceRecipe>) => ({ op: 'surface.edit', id: 'ground', set });

describe('settings of a surface', () => {
  it('say what is the project’s, and only what a surface says itself can be given back', async () => {
    settings({ interval: 0.5 });
    expect(screen.getAllByText('as the project')).toHaveLength(2);
    await userEvent.click(screen.getByRole('button', { name: 'As the project' }));
    expect(written(page)).toEqual([edit({ interval: null, indexEvery: null })]);
  });

  it('are typed in the unit of the project and kept in metres', async () => {
    settings({ longestSide: 3.048 }, null, 'ft');
    const side = screen.getByLabelText<HTMLInputElement>('No side longer than');
    expect(side.value).toBe('10');
    await userEvent.clear(side);
    await userEvent.type(side, '20{Enter}');
    expect(written(page)).toEqual([edit({ longestSide: 6.096 })]);
  });

  it('refuse what is out of bounds, say why, and write nothing', async () => {
    settings();
    const one = screen.getByLabelText('Points are one within');
    await userEvent.clear(one);
    await userEvent.type(one, '12{Enter}');
    expect(screen.getByRole('status').textContent).toMatch(/^between 0.* and 10.* m$/);
    await userEvent.keyboard('{Escape}');
    expect(written(page)).toEqual([]);
  });

  it('take a limit of the sides away and set it again', async () => {
    settings({ longestSide: 25 });
    await userEvent.click(screen.getByRole('button', { name: 'No limit' }));
    settings({ longestSide: 'none' });
    await userEvent.click(screen.getByRole('button', { name: 'Limit them' }));
    expect(written(page)).toEqual([
      edit({ longestSide: 'none' }),
      edit({ longestSide: doc.settings.longestSide ?? 30 }),
    ]);
  });

  it('say how contours are drawn, or that there are none', async () => {
    settings();
    await userEvent.selectOptions(screen.getByLabelText('index contour every'), 'never');
    await userEvent.click(screen.getByLabelText('smoothed'));
    await userEvent.click(screen.getByRole('button', { name: 'No contours' }));
    expect(written(page)).toEqual([edit({ indexEvery: 0 }), edit({ smooth: true }), edit({ interval: 'none' })]);
  });

  it('show no fields of contours where there are none', () => {
    settings({ interval: 'none' });
    expect(screen.queryByLabelText('index contour every')).toBeNull();
    expect(screen.queryByLabelText('smoothed')).toBeNull();
    expect(screen.getByRole('button', { name: 'Draw them' })).toBeTruthy();
  });

  it('decide which of coincident points stays and which elevation counts at a meeting', async () => {
    settings();
    await userEvent.selectOptions(screen.getByLabelText('which of coincident points stays'), 'the lowest stays');
    await userEvent.selectOptions(screen.getByLabelText('elevation where breaklines meet'), 'the mean counts');
    await userEvent.selectOptions(screen.getByLabelText('what the surface is for'), 'design');
    expect(written(page)).toEqual([edit({ keep: 'lowest' }), edit({ meeting: 'mean' }), edit({ role: 'design' })]);
  });

  it('tell what is wrong with the contours', () => {
    settings({}, 'Contours every 0.001 m would be 40,000 levels.');
    expect(screen.getByRole('alert').textContent).toBe('Contours every 0.001 m would be 40,000 levels.');
  });
});

describe('the name of a surface', () => {
  const name = () => screen.getByLabelText<HTMLInputElement>('name of the surface');

  it('is taken on Enter, without blanks around it', async () => {
    settings();
    await userEvent.clear(name());
    await userEvent.type(name(), '  Ground of May {Enter}');
    expect(written(page)).toEqual([edit({ name: 'Ground of May' })]);
  });

  it('stays as it was where nothing is typed, and after Escape', async () => {
    settings();
    await userEvent.clear(name());
    await userEvent.tab();
    await userEvent.type(name(), 'x{Escape}');
    expect(name().value).toBe(ground.name);
    expect(written(page)).toEqual([]);
  });
});

it('a checker reads the settings and cannot change them', () => {
  opened(project, { role: 'checker' });
  settings();
  expect(screen.getByLabelText('name of the surface').closest('fieldset')!.disabled).toBe(true);
});
