// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { designRecipe, type Comparison, type Series } from '#core/project';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// A level square of 20 m at 50 m; a month later 1 m lower, two months later 1.5 m.
const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 50], ['3', 0, 20, 50], ['4', 20, 20, 50]] }); // prettier-ignore
const lower = (id: string, name: string, by: number) => ({ ...designRecipe({ id, name }, []), rows: [
  { id: 'in', on: true, kind: 'surface' as const, surface: 'ground', ring: null },
  { id: 'down', on: true, kind: 'raise' as const, ring: [-1, -1, 21, -1, 21, 21, -1, 21], by },
] }); // prettier-ignore
const OCTOBER = lower('october', 'Ground of 2026-10-01', -1);
const NOVEMBER = lower('november', 'Ground of 2026-10-31', -1.5);
const DOWN: Comparison = { id: 'c', name: 'Pit', surface: 'ground', against: { level: 48 }, within: null };
const SERIES: Series = { id: 's', name: 'Pit over time', within: null, base: { level: 48 }, surfaces: [{ surface: 'ground', date: '2026-09-01' }, { surface: 'october', date: '2026-10-01' }, { surface: 'november', date: '2026-10-31' }] }; // prettier-ignore

let page: ReturnType<typeof opened>;
function shown(series: Series[], more = {}): void {
  const doc = { ...given.doc, surfaces: [...given.doc.surfaces, OCTOBER, NOVEMBER], comparisons: [DOWN], series };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');
const rows = (table: string): string[] => within(screen.getByRole('table', { name: table })).getAllByRole('row').slice(1).map((r) => thin(r.textContent)); // prettier-ignore

describe('a comparison over time', () => {
  it('begins with its surface and those whose names have a date', async () => {
    shown([]);
    await userEvent.click(screen.getByRole('button', { name: 'Over time …' }));
    const [change] = written(page);
    const surfaces = change.op === 'series.set' ? change.series!.surfaces : [];
    expect(surfaces.map((s) => s.surface)).toEqual(['ground', 'october', 'november']);
    expect(surfaces[1].date).toBe('2026-10-01');
    expect(change).toMatchObject({ series: { name: 'Pit over time', base: { level: 48 } } });
  });

  it('stands date by date, with what came and went, a line and where it leads', async () => {
    shown([SERIES]);
    await userEvent.click(screen.getByText('Pit over time'));
    expect(rows('date by date').map((r) => r.replace(/Delete$/, ''))).toEqual([
      'Ground800.0400.0 m²',
      'Ground of 2026-10-01400.00.0400.0400.0 m²',
      'Ground of 2026-10-31200.00.0200.0400.0 m²',
    ]);
    expect(screen.getByRole('img', { name: 'volumes over time, chart' })).toBeTruthy();
    const said = thin(screen.getByText(/^By a straight line/).textContent);
    // −600 m³ over 60 days: 70 m³ a week; on 30 November another 300 less than the line’s middle is below nothing.
    expect(said).toMatch(/^By a straight line −70\.0 ± \d+\.\d m³ a week; on 2026-11-30 −133\.3 ± .* \(95 %\)/);
  });

  it('takes other dates, surfaces and another base, and goes', async () => {
    shown([{ ...SERIES, surfaces: SERIES.surfaces.slice(0, 2) }]);
    await userEvent.click(screen.getByText('Pit over time'));
    expect(screen.getByText(/Two dates say nothing of how sure that is/)).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('add a surface to the series'), 'november');
    await userEvent.selectOptions(screen.getByLabelText('base of the series'), 'first');
    await userEvent.click(screen.getByRole('button', { name: 'delete Ground of 2026-10-01 from the series' }));
    const series = written(page).map((c) => (c.op === 'series.set' ? c.series : null));
    expect(series[0]!.surfaces.at(-1)).toEqual({ surface: 'november', date: '2026-10-31' });
    expect(series[1]!.base).toBe('first');
    expect(series[2]!.surfaces).toEqual([{ surface: 'ground', date: '2026-09-01' }]);
  });
});
