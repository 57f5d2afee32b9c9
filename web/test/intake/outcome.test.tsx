// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { TextLayout } from '#core/exchange';
import { Coincident, Compared, Result } from '../../src/intake/outcome.tsx';
import type { Tried } from '../../src/work/intake.worker.ts';
import { draw } from '../drawn.tsx';
import { opened } from '../opened.ts';
import { projectOf } from '../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
const TRIED = { problem: null, read: 3, underlay: 0, refusedCount: 0, refused: [], blank: 0, withoutElevation: 0, lowest: 1, highest: 2, extent: [0, 0, 10, 20], near: null, far: 0, known: [], twice: [], compared: null, placed: true, exchanged: false, x: new Float64Array(), y: new Float64Array(), sides: new Float64Array() } as Tried; // prettier-ignore
const LAYOUT = { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z'], unit: 'm' } as unknown as TextLayout; // prettier-ignore
const plain = (text: string): string => text.replace(/[\u2009\u00a0]/g, ' ');

describe('what a trial shows', () => {
  const setLayout = vi.fn();
  function result(tried: Partial<Tried> | null, layout = LAYOUT, trying: number | null = null): string {
    opened(given);
    setLayout.mockClear();
    const { container } = draw(<Result tried={tried && { ...TRIED, ...tried }} trying={trying} part={false} setPart={vi.fn()} layout={layout} setLayout={setLayout} />); // prettier-ignore
    return plain(container.textContent);
  }

  it('is how many points were read, where they are and how high', () => {
    expect(result({})).toContain('3 points read, 0 rows not readE 0.0 … 10.0, N 0.0 … 20.0, elevation 1.00 … 2.00 m');
  });

  it('is one point and one row as one, and points without elevation', () => {
    expect(result({ read: 1, refusedCount: 1, withoutElevation: 1 })).toContain('1 point read, 1 row not read, 1 without elevation'); // prettier-ignore
  });

  it('says what lies under the drawing besides', () => {
    expect(result({ read: 0, underlay: 1 })).toContain('0 rows not read; 1 entity under the drawing');
    expect(result({ underlay: 310 })).toContain('; 310 entities under the drawing');
  });

  it('is why a row was not read, with its number and what stands in it', () => {
    const refused = [{ row: 7, reason: 'the elevation “abc” is not a number', text: '7,1,2,abc' }];
    expect(result({ refused, refusedCount: 1 } as Partial<Tried>)).toContain('row 7: the elevation “abc” is not a number 7,1,2,abc'); // prettier-ignore
  });

  it('is degrees of a file in degrees, and nothing of places that cannot be shown yet', () => {
    const degrees = { ...LAYOUT, degrees: true } as TextLayout;
    expect(result({ placed: false, extent: [15.1, 50, 15.2, 50.1] }, degrees)).toContain('longitude 15.10000° … 15.20000°, latitude 50.00000°'); // prettier-ignore
    expect(result({ placed: false })).toContain('the points are shown once they are transformed');
  });

  it('is that latitude and longitude stand the wrong way round, with the way to swap them', async () => {
    result({ exchanged: true, far: 3 });
    expect(screen.getByRole('alert').textContent).toMatch(/^Latitude and longitude are swapped/);
    expect(screen.queryByText(/far from all others/)).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Swap them' }));
    expect(setLayout).toHaveBeenCalledWith({ ...LAYOUT, roles: ['P', 'N', 'E', 'Z'] });
  });

  it('is what lies far from all others', () => {
    expect(result({ far: 1 })).toContain('1 point lies far from all others and is outside the drawing; it will be asked about.'); // prettier-ignore
    expect(result({ far: 2 })).toContain('2 points lie far from all others and are outside');
  });

  it('is what the layout lacks, before any figure', () => {
    const text = result({}, { ...LAYOUT, roles: ['P', 'E', '_', '_'] } as unknown as TextLayout);
    expect(screen.getByRole('alert').textContent.length).toBeGreaterThan(10);
    expect(text).not.toContain('points read');
  });

  it('is progress while it reads', () => {
    expect(result(null, LAYOUT, 0.4)).toContain('reading …');
  });
});

describe('control against control that the project has', () => {
  const compared = (c: Tried['compared']): string => {
    opened(given);
    return plain(draw(<Compared tried={{ ...TRIED, compared: c }} />).container.textContent);
  };

  it('says how many are the same, new, or elsewhere and by how much', () => {
    const differ = [{ number: 'K1', plan: 0.25, height: NaN }, { number: 'K2', plan: 0.01, height: -0.5 }]; // prettier-ignore
    expect(compared({ same: 2, fresh: 1, differ } as Tried['compared'])).toBe('Against control that the project has: 2 the same, 1 new, 2 with other coordinates: K1 by 0.250 m; K2 by 0.010 m and −0.500 in height.'); // prettier-ignore
  });

  it('says nothing where there is nothing to compare', () => {
    expect(compared({ same: 0, fresh: 4, differ: [] } as Tried['compared'])).toBe('');
    expect(compared(null)).toBe('');
  });
});

describe('numbers that exist already', () => {
  const setEach = vi.fn();
  const setDecision = vi.fn();
  const numbers = (known: string[], twice: string[], each = {}) =>
    plain(draw(<Coincident {...{ known, twice, each, setEach, setDecision }} decision="both" />).container.textContent);

  it('are told as one or as many, of the project and of the file', () => {
    expect(numbers(['7'], [])).toMatch(/^number 7 exists in the project already/);
    expect(numbers(['7', '8'], ['9'])).toMatch(/^2 numbers exist in the project already, 9 occurs twice in the file/);
    expect(numbers([], ['1', '2'])).toMatch(/^2 occur twice in the file/);
  });

  it('are decided for all, or one by one, and go back to what holds for all', async () => {
    numbers(['7'], ['9'], { 9: 'merge' });
    await userEvent.selectOptions(screen.getByLabelText('what to do with numbers that exist already'), 'give the later new numbers'); // prettier-ignore
    expect(setDecision).toHaveBeenCalledWith('renumber');
    await userEvent.click(screen.getByRole('button', { name: 'one by one' }));
    await userEvent.selectOptions(screen.getByLabelText('number 7'), 'exclude the later');
    await userEvent.selectOptions(screen.getByLabelText('number 9'), 'as all');
    expect(setEach.mock.calls).toEqual([[{ 9: 'merge', 7: 'leave-out' }], [{}]]);
  });

  it('beyond two hundred are counted, not listed', async () => {
    numbers(Array.from({ length: 230 }, (_, i) => String(i)), ['0']); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'one by one' }));
    expect(screen.getAllByLabelText(/^number /)).toHaveLength(200);
    expect(screen.getByText('and 30 more, as all')).toBeTruthy();
  });
});
