// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { CoordinateSystem } from '#core/basis';
import type { ProjectDocument } from '#core/project';
import { api } from '../../../src/frame/api.ts';
import { Meaning } from '../../../src/stages/basis/meaning.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({ points: [['7', 1000, 2000, 50], ['8', 1100, 2100, 60], ['8', 1200, 2100, 60]] }); // prettier-ignore
const GRID = { kind: 'published', name: 'Test grid 15', code: 'TEST:15', definition: '+proj=tmerc +lon_0=15 +datum=WGS84', unit: 'm', area: { south: 48, north: 51, west: -1, east: 18 } } as unknown as CoordinateSystem; // prettier-ignore
const factors = { latitude: 50, longitude: 15, convergence: 0.01, pointScale: 0.9996, elevationFactor: 0.99999, combined: 0.99959 }; // prettier-ignore
beforeEach(() => {
  vi.spyOn(api, 'factors').mockResolvedValue({ list: [{ factors, geoidHeight: 45.1 }, { factors, geoidHeight: null }, null] } as never); // prettier-ignore
});
afterEach(() => vi.restoreAllMocks());

function meaning(
  basis: Partial<ProjectDocument['basis']> = {},
  role: 'surveyor' | 'viewer' = 'surveyor',
  settings: Partial<ProjectDocument['settings']> = {},
) {
  // prettier-ignore
  const doc = { ...given.doc, basis: { ...given.doc.basis, ...basis }, settings: { ...given.doc.settings, ...settings } }; // prettier-ignore
  const page = opened({ doc, tables: given.tables }, { role });
  draw(<Meaning />);
  return page;
}
async function type(label: string, text: string): Promise<void> {
  await userEvent.clear(screen.getByLabelText(label));
  await userEvent.type(screen.getByLabelText(label), `${text}{Enter}`);
}
const plain = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');

describe('where on earth', () => {
  it('is nowhere until somebody says so', () => {
    meaning();
    expect(screen.getByText('local ground', { selector: 'b' })).toBeTruthy();
    expect(screen.getByText('On local ground there is no convergence and no point scale.')).toBeTruthy();
    expect(api.factors).not.toHaveBeenCalled();
  });

  it('is a published system with what it is meant for, and back by one button', async () => {
    const page = meaning({ system: GRID });
    expect(screen.getByText(/^It is meant for 48\.0° N to 51\.0° N and 1\.0° W to 18\.0° E;/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Local ground' }));
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'basis.set', basis: { system: { kind: 'local' } } });
  });

  it('asks for the year of coordinates whose datum moves', async () => {
    const page = meaning({ system: GRID });
    expect(screen.getByText('nobody has said which')).toBeTruthy();
    await type('epoch', '2026,5');
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'basis.set', basis: { epoch: 2026.5 } });
  });

  it('is read by a viewer, without a button to choose', () => {
    meaning({ system: GRID }, 'viewer');
    expect(screen.queryByRole('button', { name: 'Another system …' })).toBeNull();
    expect(screen.getByLabelText('epoch').closest('fieldset')!.disabled).toBe(true);
  });
});

describe('grid and ground', () => {
  it('tells the factors of the site’s middle and corners, outside where there are none', async () => {
    meaning({ system: GRID, factor: 0.9996 });
    const table = await screen.findByRole('table', { name: 'grid factors of the site' });
    const rows = within(table).getAllByRole('row').slice(1).map((r) => plain(r.textContent)); // prettier-ignore
    expect(rows[0]).toMatch(/^middle of the site.*0\.99960000.*0\.99999000.*0\.9995900045\.100$/);
    expect(rows[1]).toMatch(/none$/);
    expect(rows[2]).toBe('north-eastoutside');
    // Asked at the middle of what is used, at its mean elevation.
    expect(vi.mocked(api.factors).mock.calls[0][1][0]).toEqual([1100, 2050, expect.closeTo(170 / 3, 9)]);
  });

  it('says by how much the stated factor is off that of the place', async () => {
    meaning({ system: GRID, factor: 1 });
    expect(plain((await screen.findByText(/^The stated factor and the combined factor/)).textContent)).toBe(
      'The stated factor and the combined factor of the site’s middle differ by 410.0 ppm: 41.0 mm in 100 m. Is it the factor of this grid?',
    );
  });

  it('has a factor within reason, stated by somebody', async () => {
    const page = meaning();
    await type('project scale factor', '2');
    expect(screen.getByRole('status').textContent).toBe('between 0.9 and 1.1');
    await userEvent.keyboard('{Escape}');
    await type('project scale factor', '0,99987');
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'basis.set', basis: { factor: 0.99987 } });
    await type('who states the factor', ' the harbour board ');
    expect(written(page)).toEqual([{ op: 'basis.set', basis: { factorSource: 'the harbour board' } }]);
  });

  it.each([
    ['100 200', 'NE', { x: 60.96, y: 30.48 }],
    ['100; 200', 'EN', { x: 30.48, y: 60.96 }],
    ['7', 'EN', { x: 1000, y: 2000 }],
  ] as const)('has a base point by “%s” in %s', async (text, order, base) => {
    const page = meaning({}, 'surveyor', { unit: 'ft', order });
    await type('base point', text);
    const [change] = written(page);
    expect(change.op === 'basis.set' && change.basis.base).toEqual({ x: expect.closeTo(base.x, 9) as number, y: expect.closeTo(base.y, 9) as number }); // prettier-ignore
  });

  it.each([
    ['nowhere', '“nowhere” is neither two lengths nor the number of a point'],
    ['8', '2 points have the number 8: which is meant cannot be told.'],
  ])('has no base point by “%s”', async (text, said) => {
    const page = meaning();
    await type('base point', text);
    expect(screen.getByRole('status').textContent).toBe(said);
    expect(written(page)).toEqual([]);
  });
});
