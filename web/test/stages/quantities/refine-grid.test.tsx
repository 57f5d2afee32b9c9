// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Comparison } from '#core/project';
import { RefineGrid } from '../../../src/stages/quantities/refine-grid.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const refineGrid = vi.fn();
vi.mock('../../../src/work/workers.ts', () => ({ sheetWork: () => ({ refineGrid }) }));

const given = projectOf({ points: [['1', 0, 0, 10], ['2', 10, 0, 10], ['3', 10, 10, 10]] }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 9 }, within: null, methods: { cell: 1, spacing: 2 } }; // prettier-ignore
const set = vi.fn(() => Promise.resolve(true));

describe('a grid that is refined', () => {
  beforeEach(() => {
    vi.clearAllMocks();
    opened({ doc: { ...given.doc, comparisons: [DOWN] }, tables: { ...given.tables, pieces: new Map([['c', new Float64Array(9)]]) } }); // prettier-ignore
    draw(<RefineGrid comparison={DOWN} cell={1} set={set} />);
  });

  it('is halved to the share that is typed, its size taken and its last change told', async () => {
    refineGrid.mockResolvedValue({ cell: 0.25, change: 0.0004, reached: true });
    const share = screen.getByLabelText(/share of cut and fill/);
    await userEvent.clear(share);
    await userEvent.type(share, '0.05{Tab}');
    await userEvent.click(screen.getByRole('button', { name: 'Halve the cells' }));
    expect(refineGrid).toHaveBeenCalledWith(expect.any(Float64Array), 1, expect.closeTo(0.0005, 12));
    expect(set).toHaveBeenCalledWith({ methods: { cell: 0.25, spacing: 2 } });
    expect(screen.getByText(/Cells of 0.250 m: halving them last changed cut and fill by 0.040 %/)).toBeTruthy();
  });

  it('that does not come so far says so', async () => {
    refineGrid.mockResolvedValue({ cell: 0.01, change: 0.03, reached: false });
    await userEvent.click(screen.getByRole('button', { name: 'Halve the cells' }));
    expect(screen.getByText(/more cells than are computed: at 0.010 m .* 3.000 %.*stay as they are/)).toBeTruthy();
    expect(set).not.toHaveBeenCalled();
  });
});
