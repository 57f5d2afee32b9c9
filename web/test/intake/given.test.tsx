// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { Given, Intake } from '#core/project';
import { GivenForm } from '../../src/intake/given.tsx';
import { draw } from '../drawn.tsx';

const file = (purpose: Intake['purpose'], given?: Given) =>
  ({ id: 'a', fileName: 'points.csv', purpose, ...(given ? { given } : {}) }) as Intake;

const opened = (purpose: Intake['purpose'], given?: Given) => {
  const [set, leave] = [vi.fn<(given: Given | null) => void>(), vi.fn()];
  draw(<GivenForm intake={file(purpose, given)} unit="ft" onSet={set} onLeave={leave} />);
  return { set, leave };
};
const keep = () => userEvent.click(screen.getByRole('button', { name: 'Save' }));

describe('who gave a file', () => {
  it('is kept with accuracies in metres, whatever unit they are typed in', async () => {
    const { set } = opened('control');
    await userEvent.type(screen.getByLabelText('given by'), ' Survey office ');
    await userEvent.type(screen.getByLabelText('accuracy in plan'), '0.1');
    await userEvent.type(screen.getByLabelText('accuracy in height'), '0.005m');
    await keep();
    const given = set.mock.calls[0][0]!;
    expect(given).toMatchObject({ by: 'Survey office', date: null, source: '', standing: 'fixed' });
    expect(given.plan).toBeCloseTo(0.03048, 9);
    expect(given.height).toBeCloseTo(0.005, 9);
  });

  it('shows what is known, in the project’s unit, and nothing said is nothing kept', async () => {
    const { set } = opened('control', { by: 'P', date: '2026-03-01', source: '', standing: 'fixed', plan: 0.03048, height: null }); // prettier-ignore
    expect((screen.getByLabelText('accuracy in plan') as HTMLInputElement).value).toBe('0.1');
    await userEvent.clear(screen.getByLabelText('given by'));
    await userEvent.clear(screen.getByLabelText('date'));
    await userEvent.clear(screen.getByLabelText('accuracy in plan'));
    await keep();
    expect(set).toHaveBeenCalledWith(null);
  });

  it('is not kept with an accuracy that cannot be one; the field says why', async () => {
    const { set, leave } = opened('control');
    await userEvent.type(screen.getByLabelText('accuracy in plan'), 'good');
    await userEvent.type(screen.getByLabelText('accuracy in height'), '-1');
    await keep();
    expect(set).not.toHaveBeenCalled();
    expect(screen.getAllByRole('alert')).toHaveLength(2);
    expect(screen.getByLabelText('accuracy in height').getAttribute('aria-invalid')).toBe('true');
    await userEvent.keyboard('{Escape}');
    expect(leave).toHaveBeenCalled();
  });

  it('asks for standing and accuracy of control only', () => {
    opened('survey');
    expect(screen.queryByLabelText('standing')).toBeNull();
    expect(screen.queryByLabelText('accuracy in plan')).toBeNull();
  });
});
