// @vitest-environment jsdom
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { GridFacts } from '#core/exchange';
import { purposeOf } from '../../src/intake/delivery/sort.ts';
import { GridNodes } from '../../src/intake/grid-nodes.tsx';
import type { Opened } from '../../src/work/intake.worker.ts';
import { draw } from '../drawn.tsx';

const grid: GridFacts = { columns: 1200, rows: 900, spacing: [0.5, 0.5], step: 3, steps: [1, 2, 3, 21], taken: 118_000, empty: 2_000 }; // prettier-ignore

afterEach(cleanup);

describe('a grid of elevations at its intake', () => {
  it('says how large it is, how close its nodes can be taken, and what comes of it', async () => {
    const onChange = vi.fn();
    const { container } = draw(<GridNodes grid={grid} unit="m" onChange={onChange} />);
    const said = container.textContent!.replaceAll(/\s/g, ' ');
    expect(said).toContain('An elevation grid of 1 200 × 900 nodes');
    expect(said).toContain(
      '118 000 ground points without numbers, elevations in the unit of the plan; 2 000 nodes have no elevation',
    );
    expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['every node, 0.50 m apart', 'every 2nd node, 1.00 m apart', 'every 3rd node, 1.50 m apart', 'every 21st node, 10.50 m apart']); // prettier-ignore
    await userEvent.selectOptions(screen.getByLabelText('nodes of the grid that are taken'), '1');
    expect(onChange).toHaveBeenLastCalledWith(1);
  });

  it('says both where columns and rows are not equally far apart', () => {
    draw(<GridNodes grid={{ ...grid, spacing: [0.5, 1], empty: 0 }} unit="ft" onChange={vi.fn()} />);
    expect(screen.getByRole('option', { name: 'every node, 0.50 × 1.00 ft apart' })).toBeTruthy();
    expect(document.body.textContent).not.toContain('no elevation');
  });

  it('in degrees says about how many metres its nodes are apart', () => {
    draw(<GridNodes grid={{ ...grid, spacing: [27.4, 30.9], degrees: true, empty: 0 }} unit="m" onChange={vi.fn()} />);
    expect(screen.getByRole('option', { name: 'every node, about 27 × 31 m apart' })).toBeTruthy();
    expect(document.body.textContent).toContain('in degrees, elevations in metres');
  });

  it('is taken for a surface of its own name', () => {
    expect(purposeOf('valley_dtm-2.tif', { surface: null, grid, guess: {} as Opened['guess'] })).toEqual({ as: 'design', surface: 'valley dtm 2' }); // prettier-ignore
  });
});
