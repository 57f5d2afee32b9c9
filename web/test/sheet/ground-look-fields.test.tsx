// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, it, vi } from 'vitest';
import type { ProjectState } from '#contract';
import { newDocument, type Change, type NamedLook } from '#core/project';
import { useProject } from '../../src/project-state/store.ts';
import { FIRST_LOOK, useGroundLook } from '../../src/sheet/ground-look.ts';
import { GroundLookFields } from '../../src/sheet/ground-look-fields.tsx';
import { draw } from '../drawn.tsx';

const make = vi.fn((_: Change) => Promise.resolve(true));
const open = (looks: NamedLook[], role = 'surveyor'): void => {
  const document = newDocument();
  document.drawing.looks = looks;
  useProject.setState({ state: { document, project: { role } } as unknown as ProjectState, make, busy: false });
};
const STEEP: NamedLook = { id: 'a', name: 'Steep banks', ...FIRST_LOOK, tintedBy: 'slope', stretch: 3 };

beforeEach(() => {
  make.mockClear();
  useGroundLook.setState({ look: FIRST_LOOK });
});

it('changes how surfaces are seen, here and for no one else', async () => {
  open([]);
  draw(<GroundLookFields />);
  await userEvent.selectOptions(screen.getByLabelText('tints by'), 'aspect');
  await userEvent.click(screen.getByLabelText('shading in plan'));
  await userEvent.selectOptions(screen.getByLabelText('heights in 3D'), '5');
  expect(useGroundLook.getState().look).toEqual({ ...FIRST_LOOK, tintedBy: 'aspect', shaded: true, stretch: 5 });
  expect(make).not.toHaveBeenCalled();
});

it('keeps a look under a name that no other has, takes one, and deletes the one that is taken', async () => {
  open([STEEP]);
  draw(<GroundLookFields />);
  await userEvent.type(screen.getByLabelText('name of this look'), 'Steep banks{Enter}');
  const [first] = make.mock.calls.map(([c]) => c);
  expect(first).toMatchObject({ op: 'drawing.set', drawing: { looks: [STEEP, { name: 'Steep banks 2', tintedBy: 'elevation' }] } }); // prettier-ignore
  await userEvent.selectOptions(screen.getByLabelText('named look'), 'Steep banks');
  expect(useGroundLook.getState().look).toMatchObject({ tintedBy: 'slope', stretch: 3 });
  await userEvent.click(screen.getByRole('button', { name: 'Delete this look' }));
  expect(make.mock.calls.at(-1)![0]).toEqual({ op: 'drawing.set', drawing: { looks: [] } });
});

it('shows a viewer the looks, and nothing that changes the project', () => {
  open([STEEP], 'viewer');
  draw(<GroundLookFields />);
  expect(screen.getByLabelText('named look')).toBeTruthy();
  expect(screen.queryByLabelText('name of this look')).toBeNull();
});
