// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { PackageCard } from '#contract';
import { api } from '../../../src/frame/api.ts';
import { PackageLeaf } from '../../../src/stages/handover/package-leaf.tsx';
import { draw } from '../../drawn.tsx';
import { opened, stateOf } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
const CARD = {
  id: 'k',
  revision: 4,
  name: 'Crew of Friday',
  madeAt: '2026-06-05T08:00:00Z',
  madeBy: 'Ada Quill',
  size: 9000,
  spec: null,
  withdrawn: null,
  manifest: {
    basis: 'metres, east north, local ground',
    stopQueries: ['Point 7 stands 1 m high.'],
    notMade: [{ what: 'Drawing', why: 'it holds no arcs of that kind' }],
    files: [{ name: 'crew-r4.csv', what: 'points', bytes: 2100, sha256: '', readBack: { ok: true, counts: { points: 12 }, largestDeviation: 0.0004, notes: ['2 points without elevation'] } }], // prettier-ignore
  },
} as unknown as PackageCard;
afterEach(() => vi.restoreAllMocks());

function leaf(over: Partial<PackageCard> = {}, revision = 4, role: 'surveyor' | 'crew' = 'surveyor'): void {
  opened(given, { role, state: { ...stateOf(given.doc, role), revision } });
  draw(<PackageLeaf card={{ ...CARD, ...over }} />);
}
const said = (): string => screen.getByLabelText('package Crew of Friday').textContent;

describe('a package', () => {
  it('says what it is of, what it lacks and what reading it back showed', () => {
    leaf();
    expect(said()).toContain('metres, east north, local ground');
    expect(said()).toContain('made with 1 unresolved stop query, named in its manifest');
    expect(said()).toContain('without drawing: it holds no arcs of that kind');
    expect(said()).toContain('crew-r4.csv3 KBread back, off by at most 0.400 mm');
    expect(said()).toContain('2 points without elevation');
    expect(screen.getByTitle('12 points')).toBeTruthy();
  });

  it('tells how many changes came since, one as one', () => {
    leaf({}, 5);
    expect(said()).toContain('1 change since');
    leaf({ name: 'Another' }, 9);
    expect(screen.getByLabelText('package Another').textContent).toContain('5 changes since');
  });

  it('that may have gone out is withdrawn only with a reason', async () => {
    const withdraw = vi.spyOn(api, 'withdrawPackage').mockResolvedValue(undefined);
    leaf();
    await userEvent.click(screen.getByRole('button', { name: 'Withdraw …' }));
    await userEvent.click(screen.getByRole('button', { name: 'Withdraw it' }));
    expect(await screen.findByText('Say why it is withdrawn.')).toBeTruthy();
    expect(withdraw).not.toHaveBeenCalled();
    await userEvent.type(screen.getByLabelText('why it is withdrawn'), 'wrong backsight{Enter}');
    await waitFor(() => expect(withdraw).toHaveBeenCalledWith('p', 'k', 'wrong backsight'));
    await waitFor(() => expect(screen.queryByLabelText('why it is withdrawn')).toBeNull());
  });

  it('is deleted after a word of warning, and not by one click', async () => {
    const gone = vi.spyOn(api, 'deletePackage').mockRejectedValueOnce(new Error('It is being written.'));
    leaf();
    await userEvent.click(screen.getByRole('button', { name: 'Delete …' }));
    expect(screen.getByText(/If it has gone out, withdraw it instead/)).toBeTruthy();
    expect(gone).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'Delete it' }));
    expect((await screen.findByRole('alert')).textContent).toBe('It is being written.');
  });

  it('that was withdrawn says by whom and why, and is not handed out again', () => {
    leaf({ withdrawn: { at: '2026-06-06T08:00:00Z', by: 'Ben Oak', why: 'wrong backsight' } }, 9);
    expect(said()).toMatch(/withdrawn .* by Ben Oak: wrong backsight/);
    expect(screen.queryByRole('link')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Withdraw …' })).toBeNull();
    expect(said()).not.toContain('changes since');
  });

  it('is only fetched by the crew', () => {
    leaf({}, 4, 'crew');
    expect(screen.getByRole('link', { name: 'Download' }).getAttribute('href')).toBe('/api/projects/p/packages/k');
    expect(screen.queryByRole('button')).toBeNull();
  });
});
