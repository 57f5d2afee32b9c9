// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { KeptHandVolume } from '#core/project';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 50], ['3', 0, 20, 50]] }); // prettier-ignore
const KEPT: KeptHandVolume = { id: 'h', name: 'Trench', kind: 'areas', unit: 'm', text: '0 10 0\n10 18 1\n20 30 0', cell: 10, level: 0 }; // prettier-ignore
let page: ReturnType<typeof opened>;
function shown(handVolumes: KeptHandVolume[], more = {}, settings = {}): void {
  const doc = { ...given.doc, handVolumes, settings: { ...given.doc.settings, ...settings } };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');
const rows = (table: string): string[] => within(screen.getByRole('table', { name: table })).getAllByRole('row').slice(1).map((r) => thin(r.textContent)); // prettier-ignore

describe('a volume by hand', () => {
  it('is typed or pasted, says what it comes to, and is kept as it was typed', async () => {
    shown([]);
    await userEvent.click(screen.getByRole('button', { name: 'By hand …' }));
    const keep = screen.getByRole<HTMLButtonElement>('button', { name: 'Keep' });
    expect(keep.disabled).toBe(true);
    await userEvent.click(screen.getByLabelText('rows of the table'));
    await userEvent.paste('0 10 0\n10 x 1');
    expect(screen.getByRole('status').textContent).toMatch(/^Row 2: the cut area “x” is not an area/);
    expect(keep.disabled).toBe(true);
    await userEvent.clear(screen.getByLabelText('rows of the table'));
    await userEvent.click(screen.getByLabelText('rows of the table'));
    await userEvent.paste(KEPT.text);
    await userEvent.type(screen.getByLabelText('name of the volume'), 'Trench');
    expect(screen.getByText(/^cut/).textContent).toBe('cut 380.0, fill 10.0 m³');
    await userEvent.click(keep);
    const [change] = written(page);
    expect(change).toMatchObject({ op: 'volume.hand', volume: { name: 'Trench', kind: 'areas', unit: 'm', text: KEPT.text } }); // prettier-ignore
  });

  it('stands section by section, with both formulas', async () => {
    shown([KEPT], {}, { chainage: 'thousands' });
    expect(rows('volumes by hand')).toEqual(['Trench380.010.0370.0']);
    await userEvent.click(screen.getByText('Trench'));
    expect(rows('section by section')).toEqual([
      '0+000.0010.0 m²0.0 m²0.00.0',
      '0+010.0010.0018.0 m²1.0 m²140.05.0140.05.0',
      '0+020.0010.0030.0 m²0.0 m²240.05.0380.010.0',
    ]);
    expect(thin(screen.getByText(/^Prismoidal/).textContent)).toContain('cut 373.3, fill 13.3');
    await userEvent.click(screen.getByRole('button', { name: 'Delete' }));
    expect(written(page)).toEqual([{ op: 'volume.hand', id: 'h', volume: null }]);
  });

  it('of corner heights stands cell by cell, with what lacks a corner', async () => {
    shown([{ ...KEPT, kind: 'corners', text: '2 3 1\n1 2 -', level: 1 }]);
    await userEvent.click(screen.getByText('Trench'));
    expect(rows('cell by cell')).toEqual(['1, 11.002.001.000.001.00100.00.0']);
    expect(screen.getByText(/1 cell lacks a corner and is left out/)).toBeTruthy();
  });

  it('of section drawings shows them one at a time', async () => {
    shown([{ ...KEPT, kind: 'drawings', text: '0 -4 10 12\n0 4 11 10\n30 -4 10 12\n30 4 11 10' }]);
    await userEvent.click(screen.getByText('Trench'));
    expect(screen.getByRole('img', { name: 'section at 0.00' })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'next section' }));
    expect(screen.getByRole('img', { name: 'section at 30.00' })).toBeTruthy();
  });

  it('whose table cannot be worked says the row in the place of figures, and can be changed', async () => {
    shown([{ ...KEPT, text: '0 10 0\n0 11 0' }]);
    expect(rows('volumes by hand')[0]).toMatch(/^TrenchRows 1 and 2 give one chainage/);
    await userEvent.click(screen.getByText('Trench'));
    await userEvent.click(screen.getByRole('button', { name: 'Change the table' }));
    await userEvent.click(screen.getByLabelText('rows of the table'));
    await userEvent.keyboard('{End}');
    await userEvent.paste('\n10 10 0');
    await userEvent.clear(screen.getByLabelText('rows of the table'));
    await userEvent.paste('0 10 0\n5 11 0');
    await userEvent.click(screen.getByRole('button', { name: 'Keep' }));
    expect(written(page)).toMatchObject([{ op: 'volume.hand', id: 'h', volume: { text: '0 10 0\n5 11 0' } }]);
  });

  it('is read by whoever may only read', async () => {
    shown([KEPT], { role: 'viewer' });
    expect(screen.queryByRole('button', { name: 'By hand …' })).toBeNull();
    await userEvent.click(screen.getByText('Trench'));
    expect(screen.queryByRole('button', { name: 'Delete' })).toBeNull();
  });

  it('from corners is read off a surface or the contours that it was made of', async () => {
    shown([]);
    await userEvent.click(screen.getByRole('button', { name: 'By hand …' }));
    await userEvent.selectOptions(screen.getByLabelText('what is typed'), 'corner heights on a grid');
    await userEvent.selectOptions(screen.getByLabelText('surface that the corners are read off'), 'Ground');
    // Half a square of 20 m at 50 m, cells of 10 m: the corners beyond the hypotenuse are none.
    expect(screen.getByLabelText<HTMLTextAreaElement>('rows of the table').value).toBe('50.000\t-\t-\n50.000\t50.000\t-\n50.000\t50.000\t50.000'); // prettier-ignore
    expect(screen.getByText(/^3 rows of 3 corners; the north-west one is at/)).toBeTruthy();
    expect(thin(screen.getByText(/^cut/).textContent)).toBe('cut 5 000.0, fill 0.0 m³');
  });
});
