// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { designRecipe, type Comparison } from '#core/project';
import { packPieces } from '#core/stages';
import { api } from '../../../src/frame/api.ts';
import { useProject } from '../../../src/project-state/store.ts';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// Ours: a level square of 20 m at 50 m. Theirs: the same, 0.1 m higher, and a place in the middle that they alone shot.
const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 50], ['3', 0, 20, 50], ['4', 20, 20, 50]] }); // prettier-ignore
const CUT: Comparison = { id: 'c', name: 'Down to 48', surface: 'ground', against: { level: 48 }, within: null };
const spot = (id: string, x: number, y: number, z: number) => ({ id, on: true, kind: 'spot' as const, x, y, z });
const THEIRS = { ...designRecipe({ id: 'theirs', name: 'Survey of the buyer' }, []), rows: [
  { id: 'in', on: true, kind: 'surface' as const, surface: 'ground', ring: null },
  { id: 'up', on: true, kind: 'raise' as const, ring: [-1, -1, 21, -1, 21, 21, -1, 21], by: 0.1 },
  spot('s', 10, 10, 51.2),
] }; // prettier-ignore

let page: ReturnType<typeof opened>;
function shown(comparison: Comparison, more = {}): void {
  const doc = { ...given.doc, surfaces: [...given.doc.surfaces, THEIRS], comparisons: [comparison] };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');
const rows = () => within(screen.getByRole('table', { name: 'why their number is another' })).getAllByRole('row').slice(1).map((r) => thin(r.textContent)); // prettier-ignore

describe('why the other side has another number', () => {
  it('begins with a surface that is theirs', async () => {
    shown(CUT);
    await userEvent.click(screen.getByRole('button', { name: 'Why has the other side another number …' }));
    expect(written(page)).toEqual([{ op: 'comparison.set', comparison: { ...CUT, theirs: { surface: 'theirs' } } }]);
  });

  it('never takes what both sides compare with for theirs', async () => {
    const design = { ...THEIRS, id: 'design', name: 'Design' };
    const doc = { ...given.doc, surfaces: [...given.doc.surfaces, design], comparisons: [{ ...CUT, against: { surface: 'design' } }] }; // prettier-ignore
    page = opened({ doc, tables: tablesOf(doc, given.readOf) });
    const { unmount } = draw(<Quantities />);
    const why = () =>
      screen.getByRole<HTMLButtonElement>('button', { name: 'Why has the other side another number …' });
    expect(why().disabled).toBe(true);
    expect(why().title).toMatch(/not in the project yet/);
    unmount();
    const more = { ...doc, surfaces: [...doc.surfaces, THEIRS] };
    page = opened({ doc: more, tables: tablesOf(more, given.readOf) });
    draw(<Quantities />);
    await userEvent.click(why());
    expect(written(page)).toEqual([{ op: 'comparison.set', comparison: { ...more.comparisons[0], theirs: { surface: 'theirs' } } }]); // prettier-ignore
  });

  it('is a table whose shares add up, from our volume to theirs and to their figure', () => {
    shown({ ...CUT, theirs: { surface: 'theirs', net: 1000 } });
    const table = rows();
    expect(table[0]).toBe('Ours800.00.0800.0');
    expect(table.find((r) => r.startsWith('Theirs 0.100 m higher'))).toContain('+40.0');
    // A pyramid of 1.2 m on 400 m².
    expect(table.find((r) => r.startsWith('With 1 point that only they have'))).toContain('+160.0');
    expect(table).toContain('Theirs1 000.00.01 000.0');
    expect(table.at(-1)).toBe('Their figure1 000.0');
    expect(screen.getByText(/with 4 points in common/)).toBeTruthy();
  });

  it('takes their level, their boundary and their figure', async () => {
    shown({ ...CUT, theirs: { surface: 'theirs' } });
    await userEvent.type(screen.getByLabelText('their level m'), '48,5');
    await userEvent.tab();
    await userEvent.type(screen.getByLabelText('their figure m³'), '1234.5');
    await userEvent.tab();
    await userEvent.selectOptions(screen.getByLabelText('their boundary'), 'whole');
    await userEvent.click(screen.getByRole('button', { name: 'Hide' }));
    expect(written(page).map((c) => (c.op === 'comparison.set' ? c.comparison.theirs : null))).toEqual([
      { surface: 'theirs', level: 48.5 },
      { surface: 'theirs', net: 1234.5 },
      { surface: 'theirs', within: 'whole' },
      undefined,
    ]);
  });

  it('offers the two surfaces as a comparison of their own, painted like any', async () => {
    shown({ ...CUT, theirs: { surface: 'theirs' } });
    await userEvent.click(screen.getByRole('button', { name: 'Compare the two surfaces' }));
    expect(written(page)).toMatchObject([{ op: 'comparison.set', comparison: { surface: 'ground', against: { surface: 'theirs' } } }]); // prettier-ignore
  });

  it('says why there is no split', () => {
    shown({ ...CUT, neither: 0.05, theirs: { surface: 'theirs' } });
    expect(screen.getByText(/^What counts as neither/)).toBeTruthy();
  });

  it('shows on the drawing where a cause acts, and says what comes instead where it cannot be told', async () => {
    shown({ ...CUT, theirs: { surface: 'theirs' } });
    const pieces = Float64Array.of(0, 0, 0.1, 20, 0, 0.1, 20, 20, 0.1);
    const asked = vi.spyOn(api, 'splitPieces').mockResolvedValueOnce(packPieces(pieces));
    const show = screen.getByRole('button', { name: /^show on the drawing: Theirs 0\.100 m higher/ });
    await userEvent.click(show);
    expect(asked).toHaveBeenCalledWith('p', 'c', 'shift');
    await waitFor(() => expect(useProject.getState().sketch?.pieces).toEqual(pieces));
    expect(useProject.getState().sketch!.about).toMatch(/^where this acts: Theirs 0\.100 m higher/);
    await userEvent.click(show);
    expect(useProject.getState().sketch).toBeNull();
    asked.mockRejectedValueOnce(new Error('Their surface is no longer in the project.'));
    await userEvent.click(screen.getByRole('button', { name: /^show on the drawing: With 1 point/ }));
    expect(await screen.findByText('Their surface is no longer in the project.')).toBeTruthy();
    // Causes without a share have nothing to show.
    expect(screen.queryByRole('button', { name: /Without our breaklines/ })).toBeNull();
  });
});
