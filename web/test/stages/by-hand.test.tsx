// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ProjectState } from '#contract';
import type { Change } from '#core/project';
import { useProject } from '../../src/project-state/store.ts';
import { useUnderHand } from '../../src/sheet/live/under-hand.ts';
import { EditByHand } from '../../src/stages/ground/by-hand.tsx';
import { draw } from '../drawn.tsx';
import { projectOf } from '../tables.ts';

// Nine shots, the ground rising a metre every 10 m to the east.
const { doc, tables } = projectOf({ points: Array.from({ length: 9 }, (_, i) => [String(i + 1), 10 * (i % 3), 10 * Math.floor(i / 3), 50 + (i % 3)]) }); // prettier-ignore
const RING = [5, 5, 15, 5, 15, 15, 5, 15];
const propose = vi.fn((_: string, __: Change) => Promise.resolve());
const tell = vi.fn();

beforeEach(() => {
  propose.mockClear();
  tell.mockClear();
  useUnderHand.setState({ now: null });
  useProject.setState({ state: { document: doc, project: { id: 'p', role: 'surveyor' } } as unknown as ProjectState, tables, busy: false, traced: null, selection: null, propose, tell }); // prettier-ignore
});

/** Chooses an edit, and draws the area that it is asked for. */
async function begin(kind: string): Promise<void> {
  draw(<EditByHand doc={doc} recipe={doc.surfaces[0]} />);
  await userEvent.selectOptions(screen.getByLabelText('edit by hand'), kind);
  const { traced } = useProject.getState();
  act(() => {
    useProject.setState({ traced: null });
    traced!.finish(RING);
  });
}

describe('an area that is raised', () => {
  it('is seen while its figure is typed, and can be taken by a mark in its middle', async () => {
    await begin('raise');
    const { now } = useUnderHand.getState();
    expect(now).toMatchObject({ surface: 'ground', upright: true, handle: { x: 10, y: 10, z: 51 }, by: { x: 0, y: 0, z: 0 }, edit: null }); // prettier-ignore
    await userEvent.type(screen.getByLabelText('by m, − lowers'), '0.35');
    expect(useUnderHand.getState().now).toMatchObject({ by: { z: 0.35 }, edit: { kind: 'raise', ring: RING, by: 0.35 } }); // prettier-ignore
  });

  it('has the figure that the hand gives it, and is proposed as a row', async () => {
    await begin('raise');
    act(() => useUnderHand.getState().now!.onDrag({ x: 0, y: 0, z: -1.25 }));
    expect(screen.getByLabelText<HTMLInputElement>('by m, − lowers').value).toBe('-1.250');
    await userEvent.click(screen.getByRole('button', { name: 'Preview' }));
    expect(propose.mock.calls[0]).toMatchObject(['raise or lower an area', { op: 'surface.row', surface: 'ground', row: { kind: 'raise', ring: RING, by: -1.25 } }]); // prettier-ignore
    expect(useUnderHand.getState().now).toBeNull();
  });

  it('is not proposed by a figure that cannot be read, which stays as typed', async () => {
    await begin('raise');
    await userEvent.type(screen.getByLabelText('by m, − lowers'), 'a bit{Enter}');
    expect(propose).not.toHaveBeenCalled();
    expect(tell.mock.calls[0][0]).toMatch(/^by m, − lowers: /);
    expect(screen.getByLabelText<HTMLInputElement>('by m, − lowers').value).toBe('a bit');
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(useUnderHand.getState().now).toBeNull();
  });
});

it('points of an area move together: those inside it, by their records', async () => {
  await begin('move-area');
  act(() => useUnderHand.getState().now!.onDrag({ x: 2, y: -0.5, z: 0 }));
  const { now } = useUnderHand.getState();
  expect(now).toMatchObject({ upright: false, edit: { kind: 'move', by: { x: 2, y: -0.5, z: 0 } } });
  const { surface } = { surface: tables.surfaces.get('ground')! };
  const vertices = now!.edit!.kind === 'move' ? now!.edit!.vertices : [];
  expect(vertices.map((v) => [surface.x[v], surface.y[v]])).toEqual([[10, 10]]);
  await userEvent.click(screen.getByRole('button', { name: 'Preview' }));
  expect(propose.mock.calls[0][1]).toMatchObject({ row: { kind: 'move', points: ['day:5'], by: { x: 2, y: -0.5, z: 0 } } }); // prettier-ignore
});

it('an area without a point of the surface is said to be so', async () => {
  draw(<EditByHand doc={doc} recipe={doc.surfaces[0]} />);
  await userEvent.selectOptions(screen.getByLabelText('edit by hand'), 'move-area');
  act(() => useProject.getState().traced!.finish([90, 90, 95, 90, 95, 95]));
  expect(tell).toHaveBeenCalledWith('No point of the surface lies in that area.');
  expect(useUnderHand.getState().now).toBeNull();
});
