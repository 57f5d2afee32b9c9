// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { PointRule, PointSet } from '#core/project';
import { PointRuleFields } from '../../../src/cards/point-rule.tsx';
import { useProject } from '../../../src/project-state/store.ts';
import { PointSets } from '../../../src/stages/book/point-sets.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 50, 'KT1'], ['2', 10, 0, 55, 'GR'], ['3', 0, 10, 60, 'GR']] }); // prettier-ignore
const KERBS: PointSet = { id: 's', name: 'Kerbs', rule: { codes: ['KT'] }, byHandOnly: false, more: ['day:3'], without: [], ink: null, hidden: false }; // prettier-ignore

describe('a rule for points', () => {
  const change = vi.fn<(rule: PointRule) => void>();
  function rule(now: PointRule = {}, unit: 'm' | 'ft' = 'm') {
    change.mockClear();
    const page = opened({ ...given, doc: { ...given.doc, settings: { ...given.doc.settings, unit } } });
    draw(<PointRuleFields of="the set" rule={now} disabled={false} onChange={change} />);
    return page;
  }
  const type = async (label: string, text: string): Promise<void> => {
    await userEvent.clear(screen.getByLabelText(label));
    if (text) await userEvent.type(screen.getByLabelText(label), text);
    await userEvent.tab();
  };

  it('takes codes as people list them', async () => {
    rule();
    await type('codes of the set', 'kt, bt*;gr');
    expect(change).toHaveBeenLastCalledWith({ codes: ['KT', 'BT*', 'GR'] });
  });

  it('takes a range when both its ends are there, in the project’s unit', async () => {
    rule({}, 'ft');
    await type('elevations ft, from', '100');
    expect(change).not.toHaveBeenCalled();
    await type('elevations ft, to', '200');
    const [[{ elevations }]] = change.mock.calls;
    expect(elevations![0]).toBeCloseTo(30.48, 9);
    expect(elevations![1]).toBeCloseTo(60.96, 9);
  });

  it('stays as it is where a field is only passed through, though it shows rounded figures', async () => {
    rule({ elevations: [10.12345678, 20] }, 'ft');
    await userEvent.click(screen.getByLabelText('elevations ft, from'));
    await userEvent.tab();
    await userEvent.tab();
    expect(change).not.toHaveBeenCalled();
  });

  it('says what is no range, and keeps the rule as it was', async () => {
    const page = rule({ numbers: [1, 9] });
    await type('numbers, to', 'nine');
    expect(page.tell).toHaveBeenCalledWith('“1 … nine” is not a range of numbers.');
    expect(change).not.toHaveBeenCalled();
  });

  it('takes days as they are written in the standard, and no other', async () => {
    const page = rule();
    await type('dates, from', '2026-05-01');
    await type('dates, to', '31/05/2026');
    expect(page.tell).toHaveBeenCalledWith('“2026-05-01 … 31/05/2026” is not a range of dates.');
    await type('dates, to', '2026-05-31');
    expect(change.mock.calls).toEqual([[{ dates: ['2026-05-01', '2026-05-31'] }]]);
  });

  it('loses a part that is emptied, and keeps the others', async () => {
    rule({ codes: ['KT'], numbers: [1, 9] });
    await type('codes of the set', '');
    expect(change).toHaveBeenLastCalledWith({ numbers: [1, 9] });
  });

  it('is held to files and to an area that is drawn', async () => {
    rule({ codes: ['KT'] });
    await userEvent.click(screen.getByRole('checkbox'));
    expect(change).toHaveBeenLastCalledWith({ codes: ['KT'], files: ['day'] });
    await userEvent.click(screen.getByRole('button', { name: 'Draw it' }));
    act(() => useProject.getState().traced!.finish([0, 0, 5, 0, 5, 5]));
    expect(change).toHaveBeenLastCalledWith({ codes: ['KT'], area: [0, 0, 5, 0, 5, 5] });
  });
});

describe('point sets', () => {
  function sets(pointSets: PointSet[], role: 'surveyor' | 'viewer' = 'surveyor') {
    const page = opened({ ...given, doc: { ...given.doc, pointSets } }, { role });
    draw(<PointSets />);
    return page;
  }

  it('are explained where there is none, and begun with a name of their own', async () => {
    const page = sets([]);
    expect(screen.getByText(/^A set is a named choice of points/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Name a set' }));
    expect(written(page)).toMatchObject([{ op: 'points.set', set: { name: 'Set 1', rule: {}, hidden: false } }]);
  });

  it('are hidden, coloured, renamed and deleted as one change each', async () => {
    const page = sets([KERBS]);
    await userEvent.click(screen.getByLabelText('hidden'));
    await userEvent.selectOptions(screen.getByLabelText('ink of Kerbs'), screen.getAllByRole('option')[1]);
    await userEvent.click(screen.getByRole('button', { name: 'Kerbs' }));
    await userEvent.clear(screen.getByLabelText('name of the set'));
    await userEvent.type(screen.getByLabelText('name of the set'), 'Kerbs, east side');
    await userEvent.click(screen.getByRole('button', { name: 'delete Kerbs' }));
    expect(written(page)).toMatchObject([
      { id: 's', set: { ...KERBS, hidden: true } },
      { id: 's', set: { name: 'Kerbs', ink: expect.any(String) as string } },
      { id: 's', set: { name: 'Kerbs, east side', rule: KERBS.rule } },
      { id: 's', set: null },
    ]);
  });

  it('say what was added by hand, and give it back', async () => {
    const page = sets([KERBS]);
    await userEvent.click(screen.getByRole('button', { name: 'Kerbs' }));
    expect(screen.getByText(/^1 more, 0 without/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'By the rule alone' }));
    expect(written(page)).toMatchObject([{ set: { more: [], without: [] } }]);
  });

  it('are read and not changed by a viewer', () => {
    sets([KERBS], 'viewer');
    for (const name of ['Name a set', 'delete Kerbs'])
      expect(screen.getByRole<HTMLButtonElement>('button', { name }).disabled).toBe(true);
  });
});
