// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { type Comparison } from '#core/project';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// 20 m square of level ground at 52 m, cut to 50 m: 800 m³.
const given = projectOf({ points: [['1', 0, 0, 52], ['2', 20, 0, 52], ['3', 0, 20, 52], ['4', 20, 20, 52]] }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'To 50', surface: 'ground', against: { level: 50 }, within: null };
type Materials = NonNullable<Comparison['materials']>;
const SOIL: Materials[number] = { name: 'Soil', top: { depth: 0 } };
const ROCK: Materials[number] = { name: 'Rock', top: { depth: 1.5 }, factors: { cut: 1.6 } };

let page: ReturnType<typeof opened>;
function shown(comparison: Comparison, more = {}): void {
  const ground = given.doc.surfaces[0];
  const doc = { ...given.doc, comparisons: [comparison], surfaces: [ground, { ...ground, id: 'rock', name: 'Rock head', role: 'design' as const }] }; // prettier-ignore
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');
const said = (): (Materials | undefined)[] => written(page).map((c) => (c.op === 'comparison.set' ? c.comparison.materials : [])); // prettier-ignore

describe('the cut by material', () => {
  beforeEach(() => localStorage.clear());

  it('begins at the ground, and each one more lies deeper', async () => {
    shown(DOWN);
    await userEvent.click(screen.getByRole('button', { name: 'By material …' }));
    expect(said()).toEqual([[{ name: 'Material 1', top: { depth: 0 } }]]);
  });

  it('stands with its factors, and with what it is loose in all', async () => {
    shown({ ...DOWN, materials: [SOIL, ROCK], factors: { cut: 1.2, fill: 1 } });
    const part = screen.getByRole('group', { name: 'the cut by material' });
    const rows = [...within(part).getByRole('table').querySelectorAll('tbody tr')].map((r) => thin(r.textContent));
    expect(rows[0]).toContain('600.0400.0 m²720.0');
    expect(rows[1]).toContain('200.0400.0 m²320.0');
    expect(thin(part.textContent)).toContain('Loose in all: 1 040.0 m³.');
    await userEvent.click(within(part).getByRole('button', { name: 'Add a material below' }));
    expect(said()).toEqual([[SOIL, ROCK, { name: 'Material 3', top: { depth: 2.5 } }]]);
  });

  it('begins at a depth or a surface, has a name and a factor, and is deleted', async () => {
    shown({ ...DOWN, materials: [SOIL, ROCK] });
    await userEvent.selectOptions(screen.getByLabelText('top of Rock'), 'top: Rock head');
    const depth = screen.getByLabelText(/^depth of the top of Rock/);
    await userEvent.clear(depth);
    await userEvent.type(depth, '0,8');
    const factor = screen.getByLabelText('factor of Soil, loose');
    await userEvent.clear(factor);
    await userEvent.type(factor, '1.25');
    await userEvent.click(screen.getByRole('button', { name: 'delete Soil' }));
    expect(said()).toEqual([
      [SOIL, { ...ROCK, top: { surface: 'rock' } }],
      [SOIL, { ...ROCK, top: { depth: 0.8 } }],
      [{ ...SOIL, factors: { cut: 1.25 } }, ROCK],
      [ROCK],
    ]);
  });

  it('is read alone by whoever may not change it', () => {
    shown({ ...DOWN, materials: [SOIL] }, { role: 'viewer' });
    const part = screen.getByRole('group', { name: 'the cut by material' });
    expect(within(part).queryByRole('button')).toBeNull();
    expect(thin(part.textContent)).toContain('0.00 m');
  });
});
