// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, useLocation } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { useProject } from '../../src/project-state/store.ts';
import { sheetHandle } from '../../src/sheet/handle.ts';
import { FindOrDo } from '../../src/workspace/find-or-do.tsx';
import { draw } from '../drawn.tsx';
import { opened } from '../opened.ts';
import { projectOf } from '../tables.ts';

const given = projectOf({ points: [['101', 0, 0, 50, 'KT1 BEG'], ['102', 9, 0, 50, 'KT1 END'], ['1011', 5, 5, 50, 'TR oak']] }); // prettier-ignore
const undo = vi.fn();
const show = vi.fn();
const Where = () => <p>at {useLocation().pathname}</p>;
beforeEach(() => {
  undo.mockClear();
  show.mockClear();
  sheetHandle.current = { show } as unknown as typeof sheetHandle.current;
  opened(given);
  draw(<MemoryRouter><FindOrDo doings={[{ name: 'Undo', key: 'Ctrl Z', run: undo }, { name: 'Redo', run: vi.fn(), enabled: false }]} /><Where /></MemoryRouter>); // prettier-ignore
});
const field = () => screen.getByRole<HTMLInputElement>('combobox', { name: 'find or do' });
const options = (): string[] => screen.queryAllByRole('option').map((o) => o.textContent);
const type = async (text: string): Promise<void> => {
  await userEvent.type(field(), text);
  // Points are looked through beside the typing.
  await act(() => new Promise((r) => setTimeout(r, 20)));
};

describe('one field for what is inside and what can be done', () => {
  it('finds points, the one whose number it is first', async () => {
    await type('101');
    expect(options().filter((o) => o.endsWith('point'))).toEqual(['101KT1 BEGpoint', '1011TR oakpoint']);
    await userEvent.keyboard('{Enter}');
    expect(useProject.getState().selection).toEqual({ kind: 'point', row: 0 });
    expect(show).toHaveBeenCalledWith(0, 0);
    expect(field().value).toBe('');
  });

  it('stays open for what is typed right after Escape', async () => {
    await type('101');
    await userEvent.keyboard('{Escape}');
    await type('oak');
    await act(() => new Promise((r) => setTimeout(r, 200)));
    expect(options()).toContain('1011TR oakpoint');
  });

  it('closes when one goes elsewhere', async () => {
    await type('oak');
    await userEvent.tab();
    expect(options()).toEqual([]);
  });

  it('finds by any word of a description', async () => {
    await type('oak');
    expect(options()).toContain('1011TR oakpoint');
  });

  it('does what is named, by arrows and Enter, and not what cannot be done now', async () => {
    await type('undo');
    expect(options().some((o) => o.startsWith('Redo'))).toBe(false);
    await userEvent.keyboard('{ArrowDown}{ArrowUp}{Enter}');
    expect(undo).toHaveBeenCalledOnce();
  });

  it('leads to a leaf by its name', async () => {
    await type('tolerances');
    await userEvent.keyboard('{Enter}');
    expect(screen.getByText('at /p/p/basis/tolerances')).toBeTruthy();
  });

  it('says where nothing matches, and keeps what was typed', async () => {
    await type('zzzz');
    expect(screen.getByText(/^Nothing in this project matches “zzzz”/)).toBeTruthy();
    await userEvent.keyboard('{Enter}');
    expect(field().value).toBe('zzzz');
    await userEvent.keyboard('{Escape}');
    expect([field().value, document.activeElement === field()]).toEqual(['', false]);
  });
});
