// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Account, FollowingProject, TeamCard } from '#contract';
import { newStart, START_PARTS } from '#core/project';
import { Following } from '../../src/entry/following.tsx';
import { Teams } from '../../src/entry/teams.tsx';
import { api } from '../../src/frame/api.ts';
import { InvitationLink } from '../../src/frame/invitation.tsx';
import { draw } from '../drawn.tsx';

const ME = { id: 'me', name: 'Ada Quill', email: 'ada@example.org', isAdmin: false, isDemo: false } as Account;
const team = (role: 'owner' | 'member'): TeamCard => ({
  id: 't',
  name: 'Harbour crew',
  role,
  start: newStart(),
  members: [{ id: 'me', name: 'Ada Quill', email: '', role }, { id: 'ben', name: 'Ben Oak', email: '', role: 'member' }], // prettier-ignore
  invitations: [],
});
beforeEach(() => {
  vi.spyOn(api, 'projects').mockResolvedValue([]);
  vi.spyOn(api, 'layouts').mockResolvedValue([]);
  vi.spyOn(api, 'projectsOfTeam').mockResolvedValue([]);
});
afterEach(() => vi.restoreAllMocks());
async function page(teams: TeamCard[]): Promise<void> {
  vi.spyOn(api, 'teams').mockResolvedValue(teams);
  draw(<MemoryRouter><Teams account={ME} /></MemoryRouter>); // prettier-ignore
  await screen.findByText(teams.length ? 'Harbour crew' : /^You are in no team/);
}
const button = (name: string | RegExp) => screen.queryByRole('button', { name });

describe('teams', () => {
  it('are begun by a name', async () => {
    const created = vi.spyOn(api, 'createTeam').mockResolvedValue({ id: 'n' });
    await page([]);
    expect((button('Create') as HTMLButtonElement).disabled).toBe(true);
    await userEvent.type(screen.getByLabelText('name of a new team'), 'North office{Enter}');
    expect(created).toHaveBeenCalledWith('North office');
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('name of a new team').value).toBe(''));
  });

  it('are renamed by their owner; Escape leaves the name', async () => {
    const patched = vi.spyOn(api, 'patchTeam').mockResolvedValue(undefined);
    await page([team('owner')]);
    await userEvent.click(button('rename')!);
    await userEvent.type(screen.getByLabelText('new name of the team'), ' x{Escape}');
    await userEvent.click(button('rename')!);
    await userEvent.clear(screen.getByLabelText('new name of the team'));
    await userEvent.type(screen.getByLabelText('new name of the team'), 'Quay crew{Enter}');
    expect(patched.mock.calls).toEqual([['t', { name: 'Quay crew' }]]);
  });

  it('are left by a member, who removes nobody else and invites nobody', async () => {
    const left = vi.spyOn(api, 'leaveTeam').mockResolvedValue(undefined);
    await page([team('member')]);
    expect([button('remove'), button('rename'), button('Create a link')]).toEqual([null, null, null]);
    await userEvent.click(button('leave')!);
    expect(left).toHaveBeenCalledWith('t', 'me');
  });

  it('take people in by a link that is shown once, for so many days', async () => {
    const invited = vi.spyOn(api, 'inviteToTeam').mockResolvedValue({ token: 'abc' });
    await page([team('owner')]);
    await userEvent.selectOptions(screen.getByLabelText('days the link of Harbour crew holds'), '1 day');
    await userEvent.click(button('Create a link')!);
    expect(invited).toHaveBeenCalledWith('t', 1);
    expect((await screen.findByLabelText<HTMLInputElement>('link of the invitation')).value).toMatch(/\/invited\/abc$/);
  });

  it('that cannot be changed say why', async () => {
    vi.spyOn(api, 'leaveTeam').mockRejectedValue(new Error('A team keeps one owner.'));
    await page([team('owner')]);
    await userEvent.click(button('remove')!);
    expect((await screen.findByRole('alert')).textContent).toBe('A team keeps one owner.');
  });
});

describe('a link to hand over', () => {
  const copy = () => userEvent.click(screen.getByRole('button', { name: 'Copy' }));

  it('is copied, and says so', async () => {
    userEvent.setup();
    draw(<InvitationLink token="abc" onClose={vi.fn()} />);
    await copy();
    expect(await screen.findByRole('button', { name: 'Copied' })).toBeTruthy();
    expect(await navigator.clipboard.readText()).toMatch(/\/invited\/abc$/);
  });

  it('that could not be copied is marked to be copied by hand', async () => {
    draw(<InvitationLink token="abc" onClose={vi.fn()} />);
    const write = vi.spyOn(navigator.clipboard, 'writeText').mockRejectedValue(new Error('not allowed'));
    await copy();
    expect(await screen.findByText('not copied: it is marked, copy it by hand')).toBeTruthy();
    const field = screen.getByLabelText<HTMLInputElement>('link of the invitation');
    expect([field.selectionStart, field.selectionEnd]).toEqual([0, field.value.length]);
    expect(write).toHaveBeenCalledOnce();
  });
});

describe('projects that began before the team’s settings were changed', () => {
  const project = (id: string, over: Partial<FollowingProject> = {}): FollowingProject => ({ id, name: `Project ${id}`, revision: 4, differences: [{ part: START_PARTS[0], what: 'unit', here: 'metre', there: 'foot' }], ...over }); // prettier-ignore

  it('follow only where somebody ticks it, each at the revision that was looked at, and say what came of it', async () => {
    vi.mocked(api.projectsOfTeam).mockResolvedValue([project('a'), project('b'), project('same', { differences: [] })]);
    const follow = vi.spyOn(api, 'followStart').mockResolvedValueOnce({ revision: 5 }).mockRejectedValueOnce(new Error('Somebody changed it meanwhile.')); // prettier-ignore
    draw(<MemoryRouter><Following team="t" name="Harbour crew" /></MemoryRouter>); // prettier-ignore
    const boxes = await screen.findAllByRole('checkbox');
    expect(boxes).toHaveLength(2);
    for (const box of boxes) await userEvent.click(box);
    expect(screen.getAllByText('unit: metre → foot')).toHaveLength(2);
    await userEvent.click(screen.getByRole('button', { name: 'Follow in 2 projects' }));
    expect(follow.mock.calls).toEqual([['t', 'a', [START_PARTS[0]], 4], ['t', 'b', [START_PARTS[0]], 4]]); // prettier-ignore
    expect(await screen.findByText(/▲ Somebody changed it meanwhile\./)).toBeTruthy();
    expect(screen.getByText(/✓ follows; it can be undone/)).toBeTruthy();
  });
});
