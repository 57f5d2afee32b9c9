// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Snapped } from '../../src/project-state/snap.ts';
import { useProject, type Trace } from '../../src/project-state/store.ts';
import { TraceBar } from '../../src/sheet/trace-bar.tsx';
import { draw } from '../drawn.tsx';
import { opened } from '../opened.ts';
import { projectOf } from '../tables.ts';

const finished = vi.fn<(places: Snapped[]) => void>();
const told: string[] = [];
const asks = (course: Partial<Trace['course']>): void =>
  useProject.setState({
    traced: { purpose: 'a kerb', places: [], finish: () => {}, course: { most: null, finish: finished, ...course } },
    tell: (m) => void (m && told.push(m)),
  });
const type = async (first: string, second?: string): Promise<void> => {
  const [a, b] = screen.getAllByRole('textbox');
  await userEvent.clear(a);
  await userEvent.type(a, first);
  if (second !== undefined) {
    await userEvent.clear(b);
    await userEvent.type(b, second);
  }
  await userEvent.click(screen.getByRole('button', { name: 'Add' }));
};
const places = (): [number, number][] => useProject.getState().traced!.places.map((p) => [p.x, p.y]);

beforeEach(() => {
  finished.mockClear();
  told.length = 0;
  opened(projectOf({ points: [['10', 100, 200, 5], ['11', 130, 240, 6], ['twice', 1, 1, 1], ['twice', 2, 2, 2]] })); // prettier-ignore
});

describe('what is drawn by exact input', () => {
  it('goes on from the last place by distance and bearing, along and beside its last side', async () => {
    asks({});
    draw(<TraceBar />);
    await type('10', '90');
    expect(told).toEqual(['Point at a first place, or type its coordinates.']);
    await userEvent.click(screen.getByRole('button', { name: 'coordinates' }));
    await type('100', '200');
    await userEvent.click(screen.getByRole('button', { name: 'distance and bearing' }));
    await type('10', '90');
    await userEvent.click(screen.getByRole('button', { name: 'along and offset' }));
    await type('2', '3');
    expect(places().map(([x, y]) => [x.toFixed(6), y.toFixed(6)])).toEqual([['100.000000', '200.000000'], ['110.000000', '200.000000'], ['112.000000', '197.000000']]); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: /^Undo last point/ }));
    expect(places()).toHaveLength(2);
    await userEvent.click(screen.getByRole('button', { name: /^Finish/ }));
    expect(finished.mock.calls[0][0]).toHaveLength(2);
  });

  it('is a point by its number, where one has it', async () => {
    asks({ most: 1 });
    draw(<TraceBar />);
    // One place has nothing to be measured from.
    expect(screen.queryByRole('button', { name: 'distance and bearing' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'point number' }));
    expect(screen.getAllByRole('textbox')).toHaveLength(1);
    await type('twice');
    await type('99');
    expect(told).toEqual(['Several points have the number twice: point at the one that is meant.', 'No point that is used has the number 99.']); // prettier-ignore
    await type('11');
    expect(finished.mock.calls).toEqual([[[{ x: 130, y: 240, by: 'point', row: 1 }]]]);
    expect(useProject.getState().traced).toBeNull();
  });

  it('has no point’s number where it is pointed at freely, and says what it cannot read', async () => {
    asks({ most: 2, free: true });
    draw(<TraceBar />);
    expect(screen.queryByRole('button', { name: 'point number' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'coordinates' }));
    await type('ten', '5');
    expect(told).toHaveLength(1);
    expect(places()).toEqual([]);
  });
});
