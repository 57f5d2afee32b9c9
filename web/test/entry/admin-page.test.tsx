// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Account, AccountCard, AuditEntry } from '#contract';
import { AdminPage } from '../../src/entry/admin-page.tsx';
import { api } from '../../src/frame/api.ts';
import { draw } from '../drawn.tsx';

const ME = { id: 'me', name: 'Ada Quill', email: 'ada@example.org', isAdmin: true, isDemo: false } as Account;
const card = (over: Partial<AccountCard>): AccountCard => ({ ...ME, locked: false, madeAt: '', sessions: 1, projects: 2, ...over }); // prettier-ignore
const BEN = card({ id: 'ben', name: 'Ben Oak', email: 'ben@example.org', isAdmin: false });
const DEMO = card({ id: 'demo', name: 'Demo visitor', isDemo: true, isAdmin: false });
const entry = (id: number): AuditEntry => ({ id, at: '2026-06-05T08:00:00Z', what: 'signed in', name: 'Ben Oak', address: '10.0.0.7', detail: '', project: '' }); // prettier-ignore

beforeEach(() => {
  vi.spyOn(api, 'adminAccounts').mockResolvedValue([card({}), BEN, DEMO]);
  vi.spyOn(api, 'adminAudit').mockResolvedValue([entry(1)]);
  vi.spyOn(api, 'adminSessions').mockResolvedValue([{ id: 's', browser: '', since: '', seen: '' } as never]);
  vi.spyOn(api, 'adminPatch').mockResolvedValue(BEN);
});
afterEach(() => vi.restoreAllMocks());
const page = () => draw(<MemoryRouter><AdminPage account={ME} /></MemoryRouter>); // prettier-ignore
const manage = async (): Promise<void> => {
  page();
  await userEvent.click(await screen.findByRole('button', { name: 'manage Ben Oak' }));
};

describe('accounts of a server', () => {
  it('stand with what they are; nobody manages himself or the demo here', async () => {
    page();
    const table = await screen.findByRole('table', { name: 'accounts' });
    await within(table).findByText('Ben Oak');
    const rows = within(table).getAllByRole('row').slice(1).map((r) => r.textContent); // prettier-ignore
    expect(rows[0]).toMatch(/^Ada Quilladministrator.*you$/);
    expect(rows[2]).toMatch(/^Demo visitordemo.*closed by DUNRIK_DEMO=no$/);
    expect(screen.getAllByRole('button', { name: /^manage/ })).toHaveLength(1);
  });

  it('are found by name or address', async () => {
    page();
    await userEvent.type(screen.getByLabelText('find an account'), 'oak');
    await waitFor(() => expect(api.adminAccounts).toHaveBeenLastCalledWith('oak'));
  });

  it('are locked and made administrators, each by its own id', async () => {
    await manage();
    await userEvent.click(screen.getByRole('button', { name: 'Lock the account' }));
    await userEvent.click(screen.getByRole('button', { name: 'Make administrator' }));
    await waitFor(() => expect(vi.mocked(api.adminPatch).mock.calls).toEqual([['ben', { locked: true }], ['ben', { admin: true }]])); // prettier-ignore
  });

  it('get a link for a new password, shown with how long it holds', async () => {
    vi.spyOn(api, 'adminReset').mockResolvedValue({ token: 'abc' });
    await manage();
    await userEvent.click(screen.getByRole('button', { name: 'Create a link for a new password' }));
    expect((await screen.findByLabelText<HTMLInputElement>('link for a new password')).value).toMatch(/\/reset\/abc$/);
    expect(screen.getByText(/It works once, within 24 hours/)).toBeTruthy();
  });

  it('have sessions that are ended one by one', async () => {
    const end = vi.spyOn(api, 'adminEndSession').mockResolvedValue(undefined);
    await manage();
    expect(await screen.findByText(/^an unknown browser/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'End' }));
    expect(end).toHaveBeenCalledWith('ben', 's');
  });

  it('that could not be changed say why', async () => {
    vi.mocked(api.adminPatch).mockRejectedValueOnce(new Error('The last administrator stays one.'));
    await manage();
    await userEvent.click(screen.getByRole('button', { name: 'Lock the account' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The last administrator stays one.');
  });
});

describe('what happened at the doors', () => {
  it('comes two hundred at a time, the older ones by asking for what is before the last', async () => {
    vi.mocked(api.adminAudit).mockResolvedValueOnce(Array.from({ length: 200 }, (_, i) => entry(500 - i)));
    page();
    await userEvent.click(await screen.findByRole('button', { name: 'Older ones' }));
    await waitFor(() => expect(api.adminAudit).toHaveBeenLastCalledWith('', 301));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Older ones' })).toBeNull());
  });

  it('says where nothing matches', async () => {
    vi.mocked(api.adminAudit).mockResolvedValue([]);
    page();
    expect(await screen.findByText('No entry matches.')).toBeTruthy();
  });
});
