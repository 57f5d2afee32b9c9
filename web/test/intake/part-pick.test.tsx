// @vitest-environment jsdom
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { PartPick } from '../../src/intake/part-pick.tsx';
import { whatIsImported } from '../../src/intake/what-is-imported.ts';
import type { Opened } from '../../src/work/intake.worker.ts';
import { draw } from '../drawn.tsx';

const surfaces = ['Formation', 'Subgrade', 'Topsoil'].map((name, i) => ({ name, vertices: 9, triangles: i + 1 }));
const opened = (more: Partial<Opened>) => ({ surfaces, surface: null, points: true, lines: { count: 0, taken: false }, ...more }) as Opened; // prettier-ignore

function shown(of: Opened, also: string[] = []) {
  const [onAlso, onChange] = [vi.fn(), vi.fn()];
  draw(<PartPick opened={of} also={also} onAlso={onAlso} onChange={onChange} />);
  return { onAlso, onChange };
}

afterEach(cleanup);

describe('what of a file is imported', () => {
  it('is one of its surfaces, with as many others as are ticked', async () => {
    const { onAlso, onChange } = shown(opened({ surface: 'Formation' }), ['Topsoil']);
    expect(screen.getByRole('option', { name: 'the surface “Formation”: 1 triangle' })).toBeTruthy();
    expect(screen.queryByRole('checkbox', { name: 'Formation' })).toBeNull();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Subgrade' }));
    expect(onAlso).toHaveBeenLastCalledWith(['Topsoil', 'Subgrade']);
    await userEvent.click(screen.getByRole('checkbox', { name: 'Topsoil' }));
    expect(onAlso).toHaveBeenLastCalledWith([]);
    await userEvent.selectOptions(screen.getByLabelText('what of the file is imported'), 'its points');
    expect(onChange).toHaveBeenLastCalledWith({});
  });

  it('is what is ticked of it, nothing where nothing was proposed', async () => {
    const drawing = { rows: [] } as unknown as Opened['drawing'];
    const { onChange } = shown(opened({ surface: 'Formation', drawing, part: { surface: 'Formation' } }));
    await userEvent.selectOptions(screen.getByLabelText('what of the file is imported'), 'what is ticked below');
    expect(onChange).toHaveBeenLastCalledWith({ taken: [] });
    cleanup();
    const taken = [{ layer: 'EDGE', kind: 'Breakline', as: 'breaklines' as const }];
    const again = shown(opened({ surface: 'Formation', drawing, part: { surface: 'Formation', taken } }));
    await userEvent.selectOptions(screen.getByLabelText('what of the file is imported'), 'what is ticked below');
    expect(again.onChange).toHaveBeenLastCalledWith({ taken });
  });

  it('asks for no other surfaces while its points are imported', () => {
    shown(opened({}));
    expect(screen.queryByRole('checkbox')).toBeNull();
  });

  it('is said on the button', () => {
    const of = opened({ surface: 'Formation' });
    expect(whatIsImported(of, 9, false)).toBe('the surface');
    expect(whatIsImported(of, 9, false, 2)).toBe('3 surfaces');
  });
});
