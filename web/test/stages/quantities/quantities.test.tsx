// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { act } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Comparison, ProjectDocument } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import { sheetHandle } from '../../../src/sheet/handle.ts';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { NewComparison } from '../../../src/stages/quantities/new-comparison.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// A level square of 20 m at 50 m; against 48 m all of it is cut, 800 m³, against 50.5 m fill, 200 m³.
const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 50], ['3', 0, 20, 50], ['4', 20, 20, 50]] }); // prettier-ignore
const CUT: Comparison = { id: 'c', name: 'Down to 48', surface: 'ground', against: { level: 48 }, within: null };
const FILL: Comparison = { id: 'f', name: 'Up to 50.5', surface: 'ground', against: { level: 50.5 }, within: null };
const LOST: Comparison = { id: 'l', name: 'Off the site', surface: 'ground', against: { level: 1 }, within: [90, 90, 95, 90, 95, 95] }; // prettier-ignore

let page: ReturnType<typeof opened>;
function quantities(comparisons: Comparison[], over: Partial<ProjectDocument['settings']> = {}, more = {}): void {
  const doc = { ...given.doc, comparisons, settings: { ...given.doc.settings, ...over } };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const rowOf = (name: string): string => screen.getByText(name, { selector: 'td *, td' }).closest('tr')!.textContent;
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');

describe('comparisons', () => {
  beforeEach(() => localStorage.clear());

  it('stand with cut, fill and cut − fill apart, in the unit of the project', () => {
    quantities([CUT, FILL]);
    const rows = within(screen.getByRole('table', { name: 'comparisons' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => thin(r.textContent))).toEqual(['Down to 48800.00.0800.0', 'Up to 50.50.0200.0−200.0']);
    expect(screen.getByRole('columnheader', { name: /Cut m³/ })).toBeTruthy();
  });

  it('are in cubic yards where the project says so, with the other unit beside', () => {
    quantities([CUT], { volumeUnit: 'yd3' });
    // 800 m³ / 0.9144³ = 1046.36 yd³, by the international yard.
    expect(thin(rowOf('Down to 48'))).toContain('1 046.4');
    expect(screen.getByText('cut m³').parentElement!.textContent).toContain('800.0');
  });

  it('say why there are no figures in their place', () => {
    quantities([LOST]);
    expect(rowOf('Off the site')).toMatch(/^Off the site.{12,}/);
    expect(rowOf('Off the site')).not.toMatch(/\d\.\d/);
  });

  it('say what against what, at which revision', () => {
    quantities([CUT]);
    expect(screen.getByText(/to level 48\.000 m; revision 1$/)).toBeTruthy();
  });

  it('that are chosen are brought into view, once, as soon as they are computed', () => {
    const fitTo = vi.fn();
    sheetHandle.current = { fitTo } as unknown as typeof sheetHandle.current;
    quantities([CUT], {}, { selection: { kind: 'comparison', id: 'c' } });
    expect(fitTo).not.toHaveBeenCalled();
    const pieces = new Map([['c', Float64Array.of(0, 0, 2, 20, 0, 2, 0, 20, 2)]]);
    act(() => useProject.setState({ tables: { ...useProject.getState().tables!, pieces } }));
    expect(fitTo.mock.calls).toEqual([[Float64Array.of(0, 20, 0), Float64Array.of(0, 0, 20)]]);
    sheetHandle.current = null;
  });

  it('get a boundary that is drawn, lose it, and go', async () => {
    quantities([CUT]);
    await userEvent.click(screen.getByRole('button', { name: 'Draw a boundary' }));
    const ring = [1, 1, 9, 1, 9, 9];
    act(() => useProject.getState().traced!.finish(ring));
    await userEvent.click(screen.getByRole('button', { name: 'Delete' }));
    expect(written(page)).toEqual([
      { op: 'comparison.set', comparison: { ...CUT, within: ring } },
      { op: 'comparison.remove', id: 'c' },
    ]);
  });

  it('are left as they are by whoever may only read', () => {
    quantities([CUT], {}, { role: 'viewer' });
    for (const name of ['Compare …', 'Delete', 'Draw a boundary'])
      expect(screen.queryByRole('button', { name })).toBeNull();
  });

  it('that do not exist yet are offered', () => {
    quantities([]);
    expect(screen.getByText(/Begin with “Compare”/)).toBeTruthy();
  });
});

describe('a new comparison', () => {
  const close = vi.fn();
  const form = (unit: 'm' | 'ft' = 'm') => {
    close.mockClear();
    const pad = { ...given.doc.surfaces[0], id: 'pad', name: 'Pad', role: 'design' as const };
    const doc = { ...given.doc, surfaces: [pad, ...given.doc.surfaces], settings: { ...given.doc.settings, unit } };
    page = opened({ ...given, doc });
    draw(<NewComparison onClose={close} />);
  };

  it('begins with the ground, whatever comes first in the list, and leaves the compared one out of the other side', () => {
    form();
    expect(screen.getByLabelText<HTMLSelectElement>('surface that is compared').value).toBe('ground');
    const against = within(screen.getByLabelText('against'))
      .getAllByRole('option')
      .map((o) => o.textContent);
    expect(against).toEqual(['Pad', 'a level', 'the base of its heap']);
  });

  it('with itself cannot be asked for: the other side falls back to a level', async () => {
    form();
    await userEvent.selectOptions(screen.getByLabelText('surface that is compared'), 'pad');
    expect(screen.getByLabelText<HTMLSelectElement>('against').value).toBe('');
  });

  it('to a level is typed in the project’s unit, echoed, and named for what it is', async () => {
    form('ft');
    await userEvent.selectOptions(screen.getByLabelText('against'), 'a level');
    await userEvent.type(screen.getByLabelText('level, ft'), '100');
    expect(screen.getByText(/^= 100/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    const [change] = written(page);
    expect(change).toMatchObject({ op: 'comparison.set', comparison: { surface: 'ground', within: null } });
    expect(change.op === 'comparison.set' && change.comparison.against).toEqual({ level: 30.48 });
    expect(close).toHaveBeenCalled();
  });

  it('with a level that is missing or cannot be read says so at the field, and writes nothing', async () => {
    form();
    await userEvent.selectOptions(screen.getByLabelText('against'), 'a level');
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    expect(screen.getByRole('alert').textContent).toBe('Type the level’s elevation.');
    await userEvent.type(screen.getByLabelText('level, m'), 'high');
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    expect(screen.getByRole('alert').textContent).toContain('high');
    expect([written(page), close.mock.calls]).toEqual([[], []]);
  });

  it('that is refused keeps what was typed', async () => {
    form();
    page.make.mockResolvedValue(false);
    await userEvent.type(screen.getByLabelText('name of the comparison'), 'May to April');
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    expect(written(page)).toMatchObject([{ comparison: { name: 'May to April', against: { surface: 'pad' } } }]);
    expect(screen.getByLabelText<HTMLInputElement>('name of the comparison').value).toBe('May to April');
    expect(close).not.toHaveBeenCalled();
  });
});
