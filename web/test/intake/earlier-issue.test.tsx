// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Compared, Told } from '#core/exchange';
import { plainIntake } from '#core/project';
import { EarlierIssue } from '../../src/intake/earlier-issue.tsx';
import { draw } from '../drawn.tsx';

const told = (layer: string, text = ''): Told => ({ kind: 'LINE', layer, text, x: 100, y: 200 });
const SAME: Compared = { unchanged: 7, added: [], removed: [], moved: [], changed: [], relayered: [], groups: [] };
const OTHER: Compared = {
  ...SAME,
  removed: [told('KERB')],
  moved: [{ ...told('WALL'), dx: 0.3, dy: 0.4, distance: 0.5 }],
  relayered: [{ ...told('NEW'), from: 'OLD', to: 'NEW' }],
  groups: [{ angle: Math.PI / 6, x: 0, y: 0, things: [told('HUT'), told('HUT', 'Hut 1')] }],
};

async function compared(got: Compared | { problem: string }, status = 200) {
  vi.stubGlobal('fetch', vi.fn(() => Promise.resolve(new Response(new Uint8Array([1, 2]), { status })))); // prettier-ignore
  const compare = vi.fn(() => Promise.resolve(got));
  draw(<EarlierIssue project="p" earlier={plainIntake('a', { fileName: 'issue-a.dxf', fileId: 'f1' })} unit="m" compare={compare} />); // prettier-ignore
  await userEvent.click(screen.getByRole('button', { name: 'Compare with issue-a.dxf' }));
  return compare;
}
afterEach(() => vi.unstubAllGlobals());

describe('the earlier issue of a drawing', () => {
  it('is fetched as it was received, and each difference is told with its place', async () => {
    const compare = await compared(OTHER);
    expect(await screen.findByText('Since issue-a.dxf: 1 removed, 1 moved, 2 rotated, 1 on another layer; 7 unchanged.')).toBeTruthy(); // prettier-ignore
    expect(fetch).toHaveBeenCalledWith('/api/projects/p/files/f1');
    expect([...(compare.mock.calls as unknown as [Uint8Array][])[0][0]]).toEqual([1, 2]);
    const rows = screen.getAllByRole('row').slice(1).map((r) => r.textContent); // prettier-ignore
    expect(rows[0]).toMatch(/^removedKERB100\.000200\.000$/);
    expect(rows).toContain('moved 0.500 mWALL100.000200.000');
    expect(rows).toContain('was on OLDNEW100.000200.000');
    expect(rows.at(-1)).toContain('rotated by 30.0000° with 1 otherHUTHut 1');
  });

  it('that is the same says so, without a table', async () => {
    await compared(SAME);
    expect(await screen.findByText('Since issue-a.dxf: nothing is different; 7 unchanged.')).toBeTruthy();
    expect(screen.queryByRole('table')).toBeNull();
  });

  it('that cannot be had or compared says why', async () => {
    await compared(SAME, 404);
    expect((await screen.findByRole('alert')).textContent).toContain('issue-a.dxf is not to be had');
  });
});
