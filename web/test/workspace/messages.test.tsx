// @vitest-environment jsdom
import { act, fireEvent, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useProject } from '../../src/project-state/store.ts';
import { Messages } from '../../src/workspace/messages.tsx';
import { draw } from '../drawn.tsx';

beforeEach(() => {
  vi.useFakeTimers();
  useProject.setState({ notice: null, problem: null, jobs: [], settling: null, state: null });
});
afterEach(() => void vi.useRealTimers());
const pass = (ms: number): void => act(() => void vi.advanceTimersByTime(ms));

describe('messages', () => {
  it('of what was done go by themselves; of what went wrong stay until they are closed', () => {
    useProject.setState({ notice: 'Undone: the boundary', problem: 'The server does not answer.' });
    draw(<Messages />);
    pass(3000);
    expect(screen.getByText('Undone: the boundary')).toBeTruthy();
    pass(30_000);
    expect(screen.queryByText('Undone: the boundary')).toBeNull();
    expect(screen.getByRole('alert').textContent).toContain('The server does not answer.');
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('stay while somebody is at them', () => {
    useProject.setState({ notice: 'Undone: the boundary' });
    draw(<Messages />);
    fireEvent.focus(screen.getByRole('button', { name: 'close' }));
    pass(60_000);
    expect(screen.getByText('Undone: the boundary')).toBeTruthy();
    fireEvent.blur(screen.getByRole('button', { name: 'close' }));
    pass(60_000);
    expect(screen.queryByText('Undone: the boundary')).toBeNull();
  });

  it('show long work with its share; only who may change sees how to cancel it', () => {
    useProject.setState({ jobs: [{ id: 'j', kind: 'intake', what: 'reading day.csv', share: 0.4, state: 'working', message: '' }] }); // prettier-ignore
    const { rerender } = draw(<Messages />);
    expect(screen.getByText('reading day.csv …')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Cancel' })).toBeNull();
    useProject.setState({ state: { project: { role: 'surveyor' } } as never });
    rerender(<Messages />);
    expect(screen.getByRole('button', { name: 'Cancel' })).toBeTruthy();
  });
});
