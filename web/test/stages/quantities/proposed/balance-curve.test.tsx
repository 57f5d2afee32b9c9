// @vitest-environment jsdom
import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { proposedRecipe, proposedRows, type PadRow, type ProposedRow, type StripRow } from '#core/project';
import { balanced, cheapestLevel, levelCurve, type EarthPrices, type Levelled } from '#core/quantities';
import { groundBefore, levelledRow } from '#core/stages';
import type { Surface } from '#core/terrain';
import { useProject } from '../../../../src/project-state/store.ts';
import { Balancing } from '../../../../src/stages/quantities/proposed/balancing.tsx';
import { BalanceCurve } from '../../../../src/stages/quantities/proposed/balance-curve.tsx';
import { draw } from '../../../drawn.tsx';
import { opened } from '../../../opened.ts';
import { projectOf } from '../../../tables.ts';

const held = new Map<string, Levelled>();
vi.mock('../../../../src/work/workers.ts', () => ({
  sheetWork: () => ({
    holdProposed: (ground: Surface, before: ProposedRow[], row: PadRow) => Promise.resolve(void held.set(row.id, levelledRow(groundBefore(ground, before), row))), // prettier-ignore
    dropProposed: (row: string) => Promise.resolve(held.delete(row)),
    curve: (row: string, from: number, to: number) => Promise.resolve(levelCurve(held.get(row)!, from, to)),
    tryLevel: (row: string, level: number) => {
      const made = held.get(row)!.at(level);
      return Promise.resolve(made.ok ? { ...made.pad, pieces: made.pad.pieces() } : null);
    },
    balance: (row: string, factor: number) => {
      const found = balanced(held.get(row)!, factor);
      return Promise.resolve(found.ok ? { ok: true, level: found.balance.pad.level } : found);
    },
    cheapest: (row: string, prices: EarthPrices, from: number, to: number) => Promise.resolve(cheapestLevel(held.get(row)!, prices, from, to)?.level ?? null), // prettier-ignore
  }),
}));

// Ground that rises 1 in 10 to the east, with a pad of 10 m where it is 50 m.
const given = projectOf({ points: Array.from({ length: 36 }, (_, i) => [String(i + 1), 20 * (i % 6), 20 * Math.floor(i / 6), 45 + 2 * (i % 6)]) }); // prettier-ignore
const [ROW] = proposedRows(proposedRecipe({ id: 'pad', name: 'Pad' }, { kind: 'pad', surface: 'ground', ring: [45, 45, 55, 45, 55, 55, 45, 55], level: 50.5, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' })) as PadRow[]; // prettier-ignore
const set = vi.fn();
async function shown(row: PadRow = ROW): Promise<HTMLElement> {
  set.mockClear();
  opened(given);
  draw(<BalanceCurve ground={given.tables.surfaces.get('ground')!} before={[]} row={row} set={set} />);
  return screen.findByRole('slider', { name: 'level of the pad m' });
}

describe('the curve of a pad', () => {
  it('has a handle that keys move: cut, fill and the daylight line follow, Enter takes the level', async () => {
    const slider = await shown();
    expect(slider.getAttribute('aria-valuetext')).toMatch(/^50\.50 m, cut \d/);
    slider.focus();
    await userEvent.keyboard('{ArrowLeft}');
    await vi.waitFor(() => expect(slider.getAttribute('aria-valuetext')).toMatch(/^50\.49 m/));
    expect(useProject.getState().sketch!.courses!.length).toBeGreaterThan(0);
    expect(useProject.getState().sketch!.pieces!.length).toBeGreaterThan(0);
    await userEvent.keyboard('{Enter}');
    expect(set).toHaveBeenCalledWith(50.49);
    expect(useProject.getState().sketch).toBeNull();
  });

  it('is dragged: what is let go is taken', async () => {
    const slider = await shown();
    slider.getBoundingClientRect = () => ({ left: 0, top: 0, width: 510, height: 170 }) as DOMRect;
    Object.assign(slider, { setPointerCapture: () => {}, hasPointerCapture: () => true });
    // Half way across the chart is the level that the pad has.
    // jsdom's pointer events have no place.
    const hand = (type: string, clientX: number) => fireEvent(slider, new MouseEvent(type, { clientX, bubbles: true }));
    hand('pointerdown', 200);
    hand('pointermove', 220);
    hand('pointerup', 276);
    expect(set).toHaveBeenCalledOnce();
    expect(set.mock.lastCall![0]).toBeCloseTo(50.5, 2);
  });

  it('finds the cheapest level by the prices that are typed', async () => {
    await shown();
    await userEvent.click(screen.getByRole('button', { name: 'Cheapest level' }));
    await vi.waitFor(() => expect(set).toHaveBeenCalled());
    expect(set.mock.lastCall![0]).toBeCloseTo(50, 1);
    await userEvent.clear(screen.getByLabelText('price of fill'));
    await userEvent.type(screen.getByLabelText('price of fill'), '5');
    await userEvent.tab();
    await userEvent.click(screen.getByRole('button', { name: 'Cheapest level' }));
    await vi.waitFor(() => expect(set).toHaveBeenCalledTimes(2));
    expect(set.mock.lastCall![0]).toBeLessThan(49.9);
  });

  it('where the pad cannot be laid says so', async () => {
    opened(given);
    draw(<BalanceCurve ground={given.tables.surfaces.get('ground')!} before={[]} row={{ ...ROW, ring: [900, 0, 910, 0, 910, 10] }} set={set} />); // prettier-ignore
    expect(await screen.findByText('It cannot be laid at these levels.')).toBeTruthy();
  });

  it('of a later part is in the ground as the parts before it leave it', async () => {
    const levelOf = async (before: ProposedRow[]): Promise<number> => {
      set.mockClear();
      opened(given);
      const { unmount } = draw(<Balancing row={ROW} before={before} set={set} />);
      await userEvent.click(screen.getByRole('button', { name: 'Balance' }));
      await vi.waitFor(() => expect(set).toHaveBeenCalled());
      unmount();
      return set.mock.lastCall![0] as number;
    };
    expect(await levelOf([])).toBeCloseTo(50, 3);
    expect(await levelOf([{ id: 'soil', on: true, kind: 'offset', surface: 'ground', by: -0.4, ring: null }])).toBeCloseTo(49.6, 3); // prettier-ignore
  });

  it('of a bank or ditch is told by the elevation where its line begins', async () => {
    opened(given);
    const strip: StripRow = { id: 's', on: true, kind: 'strip', surface: 'ground', course: [{ x: 50, y: 20, z: 51 }, { x: 50, y: 80, z: 51 }], template: [{ offset: -2, height: 0 }, { offset: 2, height: 0 }], cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.01 }; // prettier-ignore
    draw(<BalanceCurve ground={given.tables.surfaces.get('ground')!} before={[]} row={strip} set={set} />);
    const slider = await screen.findByRole('slider', { name: 'elevation where its line begins m' });
    expect(slider.getAttribute('aria-valuetext')).toMatch(/^51\.00 m, cut \d/);
  });

  it('of two parts at once try each its own', async () => {
    opened(given);
    const ground = given.tables.surfaces.get('ground')!;
    const small: PadRow = { ...ROW, id: 'small', ring: [49, 49, 51, 49, 51, 51, 49, 51] };
    draw(<BalanceCurve ground={ground} before={[]} row={ROW} set={set} />);
    draw(<BalanceCurve ground={ground} before={[]} row={small} set={set} />);
    const [first, second] = await vi.waitFor(() => {
      const all = screen.getAllByRole('slider');
      expect(all).toHaveLength(2);
      return all;
    });
    first.focus();
    await userEvent.keyboard('{ArrowLeft}');
    await vi.waitFor(() => expect(first.getAttribute('aria-valuetext')).toMatch(/^50\.49 m/));
    const fillOf = (of: HTMLElement): number => Number(/fill ([\d.]+)/.exec(of.getAttribute('aria-valuetext')!)![1]);
    expect(fillOf(first)).toBeGreaterThan(5 * fillOf(second));
  });
});
