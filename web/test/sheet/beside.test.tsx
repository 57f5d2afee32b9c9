// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, it } from 'vitest';
import type { ProjectState } from '#contract';
import { groundRecipe, newDocument } from '#core/project';
import { useProject } from '../../src/project-state/store.ts';
import { FirstLegend, SecondSideHead, useBesideStore, useSecondSide } from '../../src/sheet/beside.tsx';
import { FIRST_LOOK, useGroundLook } from '../../src/sheet/ground-look.ts';
import { draw } from '../drawn.tsx';

const Sides = () => {
  const second = useSecondSide(['ground']);
  return (
    <>
      <FirstLegend shown={['ground', 'other']} split={second !== null} />
      {second ? <SecondSideHead second={second} shown={['ground', 'other']} tints /> : <span>one side</span>}
    </>
  );
};

beforeEach(() => {
  localStorage.clear();
  const document = newDocument();
  document.surfaces.push({ ...groundRecipe({ id: 'other', name: 'Last month' }), role: 'other' });
  document.drawing.looks = [{ id: 'a', name: 'Steep banks', ...FIRST_LOOK, tintedBy: 'slope', stretch: 3 }];
  const summary = { surfaces: [{ id: 'ground', triangles: 3, lowest: 50, highest: 52 }, { id: 'other', triangles: 2, lowest: 49, highest: 60 }] }; // prettier-ignore
  useProject.setState({ id: 'p', state: { document, project: { id: 'p', role: 'surveyor' } } as unknown as ProjectState, tables: { summary } as never }); // prettier-ignore
  useGroundLook.setState({ look: FIRST_LOOK });
  useBesideStore.setState({ on: true, look: { ...FIRST_LOOK, tintedBy: 'slope' }, surface: {} });
});

it('the second side begins with the same surface by slope, and each side has its legend', () => {
  draw(<Sides />);
  expect(screen.getByLabelText<HTMLSelectElement>('surface of the second side').value).toBe('ground');
  expect(screen.getByLabelText<HTMLSelectElement>('look of the second side').value).toBe('slope');
  expect(screen.getByRole('group', { name: 'legend: slope %' })).toBeTruthy();
  // From the lowest of both surfaces to the highest.
  expect(screen.getByRole('group', { name: 'legend: elevation m' }).textContent).toContain('60.0');
  expect(screen.getByRole('group', { name: 'legend: elevation m' }).textContent).toContain('49.0');
});

it('another surface and a named look are kept for the project, and survive a reload', async () => {
  draw(<Sides />);
  await userEvent.selectOptions(screen.getByLabelText('surface of the second side'), 'Last month');
  await userEvent.selectOptions(screen.getByLabelText('look of the second side'), 'Steep banks');
  expect(useBesideStore.getState()).toMatchObject({ surface: { p: 'other' }, look: { tintedBy: 'slope', stretch: 3 } });
  expect(JSON.parse(localStorage.getItem('dunrik.beside')!)).toMatchObject({ on: true, surface: { p: 'other' } });
});

it('a surface that is gone gives way to the one that is shown', () => {
  useBesideStore.setState({ surface: { p: 'deleted' } });
  draw(<Sides />);
  expect(screen.getByLabelText<HTMLSelectElement>('surface of the second side').value).toBe('ground');
});

it('without it there is one side', () => {
  useBesideStore.setState({ on: false });
  draw(<Sides />);
  expect(screen.getByText('one side')).toBeTruthy();
});
