// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { AccountPage } from '../../src/entry/account-page.tsx';
import { SignIn } from '../../src/entry/sign-in.tsx';
import { api, ApiProblem } from '../../src/frame/api.ts';
import { MemoryRouter } from 'react-router';
import { draw } from '../drawn.tsx';

afterEach(() => vi.restoreAllMocks());
const page = (part: React.ReactNode) =>
  draw(
    <MemoryRouter>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        {part}
      </QueryClientProvider>
    </MemoryRouter>,
  );
const alerts = (): string[] => screen.queryAllByRole('alert').map((a) => a.textContent);

describe('the way in', () => {
  it('asks for what is missing beside its field, and sends nothing', async () => {
    const signIn = vi.spyOn(api, 'signIn');
    page(<SignIn demo={false} />);
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    await waitFor(() => expect(alerts()).toEqual(['Type your e-mail address.', 'Type your password.']));
    const email = screen.getByLabelText(/^e-mail/);
    expect(email.getAttribute('aria-invalid')).toBe('true');
    expect(document.getElementById(email.getAttribute('aria-describedby')!)?.textContent).toBe('Type your e-mail address.'); // prettier-ignore
    expect(signIn).not.toHaveBeenCalled();
  });

  it('sends what was typed, and says why it was refused without losing it', async () => {
    const signIn = vi.spyOn(api, 'signIn').mockRejectedValue(new ApiProblem(403, { problem: 'This address and this password do not belong together.' })); // prettier-ignore
    page(<SignIn demo={false} />);
    await userEvent.type(screen.getByLabelText(/^e-mail/), ' ina@example.org ');
    await userEvent.type(screen.getByLabelText(/^password/), 'not the one{Enter}');
    await waitFor(() => expect(alerts()).toEqual(['This address and this password do not belong together.']));
    expect(signIn).toHaveBeenCalledWith('ina@example.org', 'not the one');
    expect(screen.getByLabelText(/^password/)).toHaveProperty('value', 'not the one');
  });

  it('makes an account only with an address, a name and a password long enough', async () => {
    const create = vi.spyOn(api, 'createAccount');
    page(<SignIn demo={false} />);
    await userEvent.click(screen.getByRole('button', { name: 'Create an account' }));
    await userEvent.type(screen.getByLabelText(/^e-mail/), 'ina');
    await userEvent.type(screen.getByLabelText(/^password/), 'short');
    await userEvent.click(screen.getByRole('button', { name: 'Create the account' }));
    await waitFor(() => expect(alerts()).toEqual(['A name is needed.', 'This does not look like an e-mail address.', 'At least 12 characters, please.'])); // prettier-ignore
    expect(create).not.toHaveBeenCalled();
  });
});

describe('a new password', () => {
  it('is typed twice alike before it is sent', async () => {
    vi.spyOn(api, 'sessions').mockResolvedValue([]);
    const change = vi.spyOn(api, 'changePassword').mockResolvedValue(undefined);
    const account = { id: 'a', name: 'Ina Quillow', email: 'ina@example.org', isDemo: false, isAdmin: false };
    page(<AccountPage account={account} />);
    await userEvent.type(screen.getByLabelText('the one now'), 'the old one here');
    await userEvent.type(screen.getByLabelText(/^new, 12/), 'a heron on the weir');
    await userEvent.type(screen.getByLabelText('new, again'), 'a heron on the wier');
    await userEvent.click(screen.getByRole('button', { name: 'Change it' }));
    await waitFor(() => expect(alerts()).toEqual(['The new password was typed in two ways.']));
    expect(change).not.toHaveBeenCalled();
    await userEvent.clear(screen.getByLabelText('new, again'));
    await userEvent.type(screen.getByLabelText('new, again'), 'a heron on the weir{Enter}');
    await waitFor(() => expect(change).toHaveBeenCalledWith('the old one here', 'a heron on the weir'));
    expect(await screen.findByText('The password is changed; every other session has ended.')).toBeTruthy();
  });
});
