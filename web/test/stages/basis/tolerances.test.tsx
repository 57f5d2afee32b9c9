// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { settingsSchema, type ProjectDocument } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import { TOLERANCES, Tolerances } from '../../../src/stages/basis/tolerances.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// K1 was measured 0.2 m beside where control has it.
const given = projectOf({
  control: [['K1', 0, 0, 10], ['K2', 50, 0, 10]], // prettier-ignore
  points: [['K1', 0.2, 0, 10], ['K2', 50, 0, 10], ['3', 10, 10, 11]], // prettier-ignore
});

function tolerances(settings: Partial<ProjectDocument['settings']> = {}, role: 'surveyor' | 'viewer' = 'surveyor') {
  const doc = { ...given.doc, settings: { ...given.doc.settings, ...settings } };
  const page = opened({ doc, tables: tablesOf(doc, given.readOf) }, { role });
  draw(<Tolerances />);
  return page;
}
const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const PLAN = 'A point with the number of a control point may differ from it in plan by';
const SPREAD = 'Repeated readings of one target may differ by';
async function set(name: string, typed: string): Promise<void> {
  await userEvent.clear(field(name));
  await userEvent.type(field(name), `${typed}{Enter}`);
}

describe('tolerances', () => {
  it('say how many queries are outside each, and lead to the first', async () => {
    tolerances();
    const outside = screen.getAllByRole('button', { name: /outside now$/ });
    expect(outside.map((b) => b.textContent)).toContain('1 outside now');
    await userEvent.click(outside[0]);
    expect(useProject.getState().selection).toMatchObject({ kind: 'query' });
  });

  it('are previewed, named with their value, and kept in metres', async () => {
    const page = tolerances({ unit: 'ft', checkPlan: 0.03048 });
    expect(field(PLAN).value).toBe('0.1');
    await set(PLAN, '0.2');
    const [[title, change]] = page.propose.mock.calls;
    expect(title).toMatch(/^checks in plan: 0\.2000 ft$/);
    expect(change).toEqual({ op: 'settings.set', settings: { checkPlan: expect.closeTo(0.06096, 12) as number } });
  });

  it('of small angles are typed in seconds or milligon, kept in radians', async () => {
    const page = tolerances({ angle: 'dms', angleSpread: (5 / 3600 / 180) * Math.PI });
    expect(field(SPREAD).value).toBe('5');
    await set(SPREAD, '10');
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'settings.set', settings: { angleSpread: expect.closeTo((10 / 3600 / 180) * Math.PI, 15) as number } }); // prettier-ignore
  });

  it.each([
    [PLAN, '0'],
    [PLAN, 'near'],
    ['or fewer satellites than', '4.5'],
    ['A traverse closes within one part in', '10'],
  ])('do not take what is out of bounds: %s “%s”', async (name, typed) => {
    const page = tolerances();
    await set(name, typed);
    expect(screen.getByRole('status').textContent.length).toBeGreaterThan(8);
    expect(page.propose).not.toHaveBeenCalled();
  });

  it('without a limit say so and can be given one', async () => {
    const page = tolerances({ longestSide: null });
    expect(screen.getByText('no limit')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Limit it' }));
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'settings.set', settings: { longestSide: 30 } });
  });

  it('and the rule for backsights are changed the same way', async () => {
    const page = tolerances({ backsightRule: 'within' });
    await userEvent.selectOptions(screen.getByLabelText('rule for backsights'), 'always waits for a decision');
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'settings.set', settings: { backsightRule: 'ask' } });
  });

  it('are read by a viewer and not changed', () => {
    tolerances({}, 'viewer');
    expect(field(PLAN).closest('fieldset')!.disabled).toBe(true);
  });

  it('have limits that the document accepts, and none that it refuses', () => {
    for (const { key, min, max } of TOLERANCES)
      for (const value of [min, max]) {
        const read = settingsSchema.partial().safeParse({ [key]: value });
        expect([key, value, read.success]).toEqual([key, value, true]);
      }
  });
});
