// @vitest-environment jsdom
import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { proposedRecipe, proposedRows, type PadRow } from '#core/project';
import { cheapestLevel, layPad, levelCurve, type EarthPrices, type PadShape } from '#core/quantities';
import type { Surface } from '#core/terrain';
import { useProject } from '../../../../src/project-state/store.ts';
import { BalanceCurve } from '../../../../src/stages/quantities/proposed/balance-curve.tsx';
import { draw } from '../../../drawn.tsx';
import { opened } from '../../../opened.ts';
import { projectOf } from '../../../tables.ts';

let held: Surface;
vi.mock('../../../../src/work/workers.ts', () => ({
  sheetWork: () => ({
    holdGround: (ground: Surface) => Promise.resolve(void (held = ground)),
    curve: (shape: PadShape, from: number, to: number) => Promise.resolve(levelCurve(held, shape, from, to)),
    padAt: (shape: PadShape) => {
      const made = layPad(held, shape);
      return Promise.resolve(made.ok ? { ...made.pad, pieces: made.pad.pieces() } : null);
    },
    cheapest: (shape: PadShape, prices: EarthPrices, from: number, to: number) => Promise.resolve(cheapestLevel(held, shape, prices, from, to)?.level ?? null), // prettier-ignore
  }),
}));

// Ground that rises 1 in 10 to the east, with a pad of 10 m where it is 50 m.
const given = projectOf({ points: Array.from({ length: 36 }, (_, i) => [String(i + 1), 20 * (i % 6), 20 * Math.floor(i / 6), 45 + 2 * (i % 6)]) }); // prettier-ignore
const [ROW] = proposedRows(proposedRecipe({ id: 'pad', name: 'Pad' }, { kind: 'pad', surface: 'ground', ring: [45, 45, 55, 45, 55, 55, 45, 55], level: 50.5, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' })) as PadRow[]; // prettier-ignore
const set = vi.fn();
async function shown(row: PadRow = ROW): Promise<HTMLElement> {
  set.mockClear();
  opened(given);
  draw(<BalanceCurve ground={given.tables.surfaces.get('ground')!} row={row} set={set} />);
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
    draw(<BalanceCurve ground={given.tables.surfaces.get('ground')!} row={{ ...ROW, ring: [900, 0, 910, 0, 910, 10] }} set={set} />); // prettier-ignore
    expect(await screen.findByText('The pad cannot be laid at these levels.')).toBeTruthy();
  });
});
