// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { People, ProjectState } from '#contract';
import { api } from '../../../src/frame/api.ts';
import { useProject } from '../../../src/project-state/store.ts';
import { sheetHandle } from '../../../src/sheet/handle.ts';
import { PeopleLeaf } from '../../../src/stages/basis/people.tsx';
import { draw } from '../../drawn.tsx';
import { opened, stateOf } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
const PEOPLE: People = {
  members: [{ id: 'me', name: 'Ada Quill', email: '', role: 'owner' }, { id: 'ben', name: 'Ben Oak', email: '', role: 'crew' }], // prettier-ignore
  invitations: [{ id: 'i', role: 'viewer', madeBy: 'Ada Quill', expiresAt: '2026-06-12T08:00:00Z', usedBy: null } as never], // prettier-ignore
  mates: [{ id: 'cy', name: 'Cy Fern' }],
};
const MARK = { revision: 3, by: 'Cy Fern', at: '2026-06-05T08:00:00Z', note: 'all backsights', since: 1 };

beforeEach(() => {
  vi.spyOn(api, 'people').mockResolvedValue(PEOPLE);
  vi.spyOn(api, 'session').mockResolvedValue({ account: { id: 'me' } } as never);
  vi.spyOn(api, 'checked').mockResolvedValue({ mark: null, since: [] });
  useProject.setState({ refresh: vi.fn(() => Promise.resolve()) });
});
afterEach(() => vi.restoreAllMocks());
async function leaf(role: ProjectState['project']['role'] = 'owner', revision = 5, others = {}): Promise<void> {
  const state = { ...stateOf(given.doc, role), revision, settled: { revision } as never };
  opened(given, { role, state, others, tables: { ...given.tables, revision } });
  draw(<MemoryRouter><PeopleLeaf /></MemoryRouter>); // prettier-ignore
  await screen.findByText(/^Ada Quill/);
}

describe('who works in a project', () => {
  it('is given roles, taken out and taken in by its owner', async () => {
    const set = vi.spyOn(api, 'setRole').mockResolvedValue(PEOPLE);
    const removed = vi.spyOn(api, 'removePerson').mockResolvedValue(undefined);
    const added = vi.spyOn(api, 'addMate').mockResolvedValue(PEOPLE);
    await leaf();
    await userEvent.selectOptions(screen.getByLabelText('role of Ben Oak'), 'surveyor');
    await userEvent.click(screen.getByRole('button', { name: 'remove Ben Oak' }));
    await userEvent.selectOptions(screen.getByLabelText('role of the colleague'), 'checker');
    await userEvent.click(screen.getByRole('button', { name: 'Add' }));
    expect([set.mock.calls, removed.mock.calls, added.mock.calls]).toEqual([[['p', 'ben', 'surveyor']], [['p', 'ben']], [['p', 'cy', 'checker']]]); // prettier-ignore
  });

  it('is invited by a link, and an invitation that nobody took is withdrawn', async () => {
    vi.spyOn(api, 'invite').mockResolvedValue({ token: 'abc' });
    const withdrawn = vi.spyOn(api, 'withdraw').mockResolvedValue(undefined);
    await leaf();
    await userEvent.selectOptions(screen.getByLabelText('role of the invited'), 'crew');
    expect(screen.getByText('A crew sees only the packages made for the crew.')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Create a link' }));
    expect(api.invite).toHaveBeenCalledWith('p', 'crew', 7);
    expect((await screen.findByLabelText<HTMLInputElement>('link of the invitation')).value).toContain('abc');
    await userEvent.click(screen.getByRole('button', { name: 'withdraw' }));
    expect(withdrawn).toHaveBeenCalledWith('p', 'i');
  });

  it('is only read by others, who may leave', async () => {
    await leaf('checker');
    expect(screen.queryByLabelText('role of Ben Oak')).toBeNull();
    expect(screen.getByText(/^You are checker here: views, decides/)).toBeTruthy();
    expect(await screen.findByRole('button', { name: 'leave' })).toBeTruthy();
  });

  it('cannot be changed against a rule, and that is said', async () => {
    vi.spyOn(api, 'setRole').mockRejectedValue(new Error('A project keeps one owner.'));
    await leaf();
    await userEvent.selectOptions(screen.getByLabelText('role of Ada Quill'), 'viewer');
    expect((await screen.findByRole('alert')).textContent).toBe('A project keeps one owner.');
  });

  it('is here now, at a stage, and one goes where they look', async () => {
    const show = vi.fn();
    sheetHandle.current = { show } as unknown as typeof sheetHandle.current;
    await leaf('owner', 5, { ben: { account: 'ben', name: 'Ben Oak', stage: 'ground', place: { x: 3, y: 4 }, heard: 0 } }); // prettier-ignore
    expect(screen.getByText('Ben Oak, at Ground')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'go there' }));
    expect(show).toHaveBeenCalledWith(3, 4);
    sheetHandle.current = null;
  });
});

describe('who has checked what', () => {
  it('is nobody until somebody does, with what was looked at', async () => {
    const marked = vi.spyOn(api, 'markChecked').mockResolvedValue(undefined as never);
    await leaf('checker');
    expect(screen.getByText(/^No revision has been checked yet/)).toBeTruthy();
    await userEvent.type(screen.getByLabelText('what was checked'), 'closures and contours{Enter}');
    await waitFor(() => expect(marked).toHaveBeenCalledWith('p', 5, 'closures and contours'));
    await waitFor(() => expect(useProject.getState().refresh).toHaveBeenCalled());
  });

  it('says which changes a mark no longer covers', async () => {
    vi.mocked(api.checked).mockResolvedValue({ mark: MARK, since: [{ revision: 4, by: 'Ben Oak', what: 'moved point 7' } as never] }); // prettier-ignore
    await leaf();
    expect(await screen.findByText('One change since is not covered:')).toBeTruthy();
    expect(screen.getByText('Ben Oak moved point 7')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Mark revision 5 as checked' })).toBeTruthy();
  });

  it('has nothing to mark where nothing has changed since, or for whoever may not', async () => {
    vi.mocked(api.checked).mockResolvedValue({ mark: { ...MARK, revision: 5 }, since: [] });
    await leaf();
    expect(await screen.findByText(/Nothing has changed since\./)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Mark revision/ })).toBeNull();
  });

  it('is not for a viewer to say', async () => {
    await leaf('viewer');
    expect(screen.queryByLabelText('what was checked')).toBeNull();
  });
});
