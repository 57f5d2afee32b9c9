// @vitest-environment jsdom
import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { RingActs } from '../../../src/stages/quantities/ring-acts.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({
  points: [
    ['1', 0, 0, 10, 'TOE'],
    ['2', 10, 10, 10, 'TOE'],
    ['3', 5, 5, 12, 'TOP'],
    ['4', 10, 0, 10, 'TOE remark'],
    ['5', 0, 10, 10, 'toe'],
  ],
});
const onRing = vi.fn();

describe('a boundary by its coordinates', () => {
  beforeEach(() => {
    onRing.mockClear();
    opened({ doc: { ...given.doc, settings: { ...given.doc.settings, order: 'NE' } }, tables: given.tables });
    draw(<RingActs purpose="the boundary of “Down”" draw="Draw a boundary" pick="a closed line" onRing={onRing} />);
  });
  const box = () => screen.getByLabelText('corners of the boundary of “Down”, north and east m a row');

  it('is read in the order of the project, told by its area, and taken', async () => {
    await userEvent.click(screen.getByRole('button', { name: 'Type …' }));
    fireEvent.change(box(), { target: { value: '20 10\n20 30\n40 30\n40 10' } });
    expect(screen.getByText(/4 corners, 400/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Apply' }));
    expect(onRing).toHaveBeenCalledWith([10, 20, 30, 20, 30, 40, 10, 40], null);
    expect(screen.queryByRole('textbox')).toBeNull();
  });

  it('that cannot be read says which row, and is not taken; what was typed stays', async () => {
    await userEvent.click(screen.getByRole('button', { name: 'Type …' }));
    fireEvent.change(box(), { target: { value: '20 10\n20\n40 30' } });
    expect(screen.getByRole('status').textContent).toMatch(/Row 2/);
    expect((screen.getByRole('button', { name: 'Apply' }) as HTMLButtonElement).disabled).toBe(true);
    expect((box() as HTMLTextAreaElement).value).toContain('40 30');
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(onRing).not.toHaveBeenCalled();
  });

  it('is filled with the points of a code, joined round their middle where they were taken crosswise', async () => {
    await userEvent.click(screen.getByRole('button', { name: 'Type …' }));
    const code = screen.getByLabelText(/^code of the points round/);
    await userEvent.type(code, 'TAP{Enter}');
    expect(screen.getByText(/^0 points have the code TAP/)).toBeTruthy();
    await userEvent.clear(code);
    await userEvent.type(code, 'toe{Enter}');
    expect(screen.getByText(/^4 points of TOE, joined by direction/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Apply' }));
    expect(onRing).toHaveBeenCalledWith([0, 0, 10, 0, 10, 10, 0, 10], null);
  });
});
