// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { useKeys } from '../../src/workspace/keys.tsx';
import { draw } from '../drawn.tsx';

let done: string[] = [];
beforeEach(() => (done = []));

function Page() {
  useKeys([
    { name: 'go to Quantities', key: '5', run: () => void done.push('5') },
    { name: 'apply', key: 'Enter', run: () => void done.push('Enter') },
    { name: 'undo', key: 'Ctrl Z', run: () => void done.push('undo') },
    { name: 'not now', key: 'T', enabled: false, run: () => void done.push('T') },
  ]);
  return (
    <>
      <input type="text" aria-label="a number" />
      <input type="checkbox" aria-label="drawn" />
      <button>Cancel</button>
    </>
  );
}

describe('single keys', () => {
  it('act outside fields, a ticked box included, and only what can be done now', async () => {
    draw(<Page />);
    await userEvent.keyboard('5t');
    await userEvent.click(screen.getByRole('checkbox'));
    await userEvent.keyboard('5{Control>}z{/Control}');
    expect(done).toEqual(['5', '5', 'undo']);
  });

  it('write where something is typed', async () => {
    draw(<Page />);
    await userEvent.type(screen.getByRole('textbox'), '515');
    expect(done).toEqual([]);
    expect(screen.getByRole<HTMLInputElement>('textbox').value).toBe('515');
  });

  it('leave a button its Enter', async () => {
    draw(<Page />);
    screen.getByRole('button').focus();
    await userEvent.keyboard('{Enter}');
    expect(done).toEqual([]);
    screen.getByRole('checkbox').focus();
    await userEvent.keyboard('{Enter}');
    expect(done).toEqual(['Enter']);
  });
});
