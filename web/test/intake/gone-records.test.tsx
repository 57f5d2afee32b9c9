// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { GoneRecord } from '#core/sources';
import { GoneRecords } from '../../src/intake/gone-records.tsx';
import { draw } from '../drawn.tsx';

const shot: GoneRecord = { row: 7, number: '214', kind: 'shot', from: 'S2', code: 'KERB', time: '10:14', x: NaN, y: NaN }; // prettier-ignore
const point: GoneRecord = { row: 9, number: '12', kind: 'point', from: '', code: '', time: '', x: 10, y: 0.3048 };
let remaining: number[] = [];

function Asked({ count, unit = 'm' }: { count: number; unit?: 'm' | 'ft' }) {
  const [rows, setRows] = useState<number[]>([]);
  remaining = rows;
  return (
    <GoneRecords
      records={[shot, point]}
      count={count}
      earlier="day1.book"
      settings={{ unit, order: 'NE' }}
      remaining={rows}
      onChange={setRows}
    />
  );
}

describe('records that a later export has no more', () => {
  it('say what they are, in the project’s unit and order, and are marked one by one', async () => {
    draw(<Asked count={2} unit="ft" />);
    expect(screen.getByText('shot, from S2, KERB, 10:14')).toBeTruthy();
    expect(screen.getByText(/^point, 1.000 32.808 ft$/)).toBeTruthy();
    await userEvent.click(screen.getByRole('checkbox', { name: /^12/ }));
    expect(remaining).toEqual([9]);
    await userEvent.click(screen.getByRole('checkbox', { name: /^12/ }));
    expect(remaining).toEqual([]);
  });

  it('are all marked at once, and none again', async () => {
    draw(<Asked count={2} />);
    await userEvent.click(screen.getByRole('button', { name: 'all' }));
    expect(remaining).toEqual([7, 9]);
    await userEvent.click(screen.getByRole('button', { name: 'none' }));
    expect(remaining).toEqual([]);
  });

  it('beyond what can be listed are counted', () => {
    draw(<Asked count={800} />);
    expect(screen.getByText('and 798 more, which go')).toBeTruthy();
  });
});
